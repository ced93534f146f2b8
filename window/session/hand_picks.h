#pragma once
// What is picked on the ground to be changed by hand: faces, edges or corners, by where they are, so that they stay picked when the ground
// is laid anew.

#include <set>

#include "core/hand/edit.h"
#include "window/session/workspace.h"

namespace dune::window {

/// The key in the selection of what has its middle at a place; corners are their own.
std::string pickKey(const Vec3& at);

/// Picked on the ground as it is now; what is there no more is left out.
struct Picks {
  std::vector<nav::FaceId> faces;
  std::vector<hand::Edge> edges;
  std::vector<std::uint32_t> corners;
  std::vector<std::uint32_t> moved;  ///< the corners that go along when it is moved, each once, ascending
  bool any() const { return !faces.empty() || !edges.empty() || !corners.empty(); }
};
Picks picksOf(Workspace& workspace);
/// The same, found anew only when the ground or what is picked is another: asked with every movement of the mouse.
class PicksNow {
 public:
  const Picks& of(Workspace& workspace);

 private:
  std::shared_ptr<const pipeline::Ground> ground_;
  std::size_t changes_ = 0;
  Picks picks_;
};
Vec3 middleOf(const nav::NavMesh& mesh, const hand::Edge& edge);

/// Picks what is of a kind and has its middle at these places, and nothing of other kinds.
void pick(Workspace& workspace, ThingKind kind, std::set<std::string> keys);
void pick(Workspace& workspace, const nav::NavMesh& mesh, std::span<const nav::FaceId> faces);
void pick(Workspace& workspace, const nav::NavMesh& mesh, std::span<const hand::Edge> edges);
/// Picks nothing; of all kinds but one.
void dropPicks(Workspace& workspace, std::optional<ThingKind> but = std::nullopt);

/// Makes a change by hand as one step, and lays it. Why not, where it is refused. Where very much is picked it is made in the background,
/// and told in the line at the bottom when it is refused.
using HandChange = std::function<Result<hand::Work>(const hand::Editor&, const Picks&)>;  ///< from any thread
std::optional<Problem> changeByHand(Workspace& workspace, const QString& label, const HandChange& change);
/// Why a change would be refused, where it would be; nothing is changed. Not asked where very much is picked.
std::optional<Problem> refusalOf(Workspace& workspace, const hand::LevelAt& levelAt, const HandChange& change);
/// A strip of ground between the two picked edges, or a link up from the one to the other, see pipeline::withStrip().
std::optional<Problem> stripBetweenPicks(Workspace& workspace);
/// Gives the picked faces a tag, see pipeline::withTag().
std::optional<Problem> tagPicks(Workspace& workspace, const std::string& tag);
/// Moves what is picked, and it stays picked.
std::optional<Problem> movePicks(Workspace& workspace, const Vec3& by, bool follow);

}  // namespace dune::window
