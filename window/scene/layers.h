#pragma once
// From results to draw lists: one function a kind of thing that is drawn. No GL.

#include <set>
#include <span>

#include "core/pipeline/answers.h"
#include "core/pipeline/change.h"
#include "window/scene/level_picture.h"
#include "window/scene/world_view.h"

namespace dune::window {

constexpr double kAbove = 0.03;  // m: lines over the ground
inline Vec3 raised(const Vec3& p, double by = kAbove) { return p + Vec3{0, by, 0}; }

/// The level; roles by colour when `byRole`, chosen objects in the accent colour.
DrawList levelLayer(const LevelPicture& picture, const std::vector<level::Role>& roles, const std::set<std::string>& chosen, bool byRole);
/// Some triangles of the level in the same colours.
DrawList detailLayer(const level::Level& level, std::span<const PickTree::Item> items, const std::vector<level::Role>& roles,
                     const std::set<std::string>& chosen, bool byRole);
/// A figure that is looked at beside the level, or that was put somewhere in it.
struct Standing {
  Vec3 feet{};
  Vec3 up{0, 1, 0};  ///< which way the body stands
};
/// A 1.8 m figure and the agent to scale next to it: beside the level, which fills the box, or where they were put.
DrawList figureLayer(const level::Level& level, const Box3& box, const nav::Agent& agent, const std::optional<Standing>& put,
                     std::vector<WorldLabel>& labels);
/// A line a metre at height 0, every fifth one stronger: something to draw on where no file says where things are.
DrawList sketchGrid(const Box3& box);
/// Colours of a ground, one a kind: its own, or by what it costs: greener what is cheap, darker what is
/// dear.
class GroundColours {
 public:
  GroundColours() = default;
  GroundColours(const nav::NavMesh& mesh, const nav::Rules& rules, bool fresh, bool costs = false);
  bool fresh() const { return fresh_; }
  std::uint32_t of(std::size_t kind) const { return kinds_[kind]; }

 private:
  std::vector<std::uint32_t> kinds_;
  bool fresh_ = true;
};
/// Faces in their colours, thick border, and thin inner edges when `edges`; only those of the numbers given, where they
/// are.
DrawList groundLayer(const nav::NavMesh& mesh, const nav::Rules& rules, const GroundColours& colours,
                     const std::optional<std::vector<std::uint32_t>>& faces = std::nullopt, bool edges = true);
/// A mesh's stand-in (coarse.h) in the same colours, with a coarser one where there is one.
DrawList coarseGroundLayer(const level::Level& standIn, const level::Level* sketch, const GroundColours& colours);
/// Another kind of agent's ground over this one's: a veil and its border in that agent's colour; by its stand-in where there is one.
DrawList comparedLayer(const nav::NavMesh& mesh, const level::Level* standIn);
/// Ground gained, hatched with crosses, and lost, hatched with bars, with a label at each larger place.
DrawList changeLayer(const pipeline::Change& change, int chosen, std::vector<WorldLabel>& labels);
/// The agent's footprint under the mouse: filled where it fits, struck out where not.
DrawList cursorLayer(const ground::Explanation& explanation, const nav::Agent& agent);

QColor kindColour(const std::string& colour);

}  // namespace dune::window
