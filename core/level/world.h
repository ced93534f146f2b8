#pragma once
// What the generator reads: the level together with what a person said about it.

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/plan_geometry.h"
#include "core/level/level.h"
#include "core/nav/rules.h"

namespace dune::level {

/// A kind of ground.
struct AreaKind {
  std::string name = "ground";
  std::string colour = "#d98e32";  ///< "#rrggbb"
  double cost = 1;                 ///< per metre, above zero
  double entryCost = 0;            ///< once, when a path enters, zero or more
  bool forbidden = false;
  nav::KindRule rule() const { return {cost, entryCost, forbidden}; }
  bool operator==(const AreaKind&) const = default;
};

/// What kinds of ground cost, and where they may not be walked on.
nav::Rules rulesOf(const std::vector<AreaKind>& kinds);
/// The same of an agent: where it crouches, with the kind for low ground that its meshes have last.
nav::Rules rulesFor(const std::vector<AreaKind>& kinds, const nav::Agent& agent);
/// The kind of ground where an agent must crouch.
AreaKind lowGround(const nav::Agent& agent);

/// Of what kind the ground is from a triangle of an object on: the number of the kind and one more, or kNoKind.
struct KindRun {
  std::uint64_t first;
  std::uint16_t kind;
  bool operator==(const KindRun&) const = default;
};
constexpr std::uint16_t kNoKind = 0;

/// A prism over a plan outline that gives the ground inside it a kind, and tags.
struct AreaVolume {
  int id = 0;
  std::string kind;  ///< the name of an AreaKind; empty: the ground is of the kind that it is of without the volume
  Polygon outline;   ///< plan space, at least three corners, either way round
  double bottom = 0, top = 0;
  std::string name{};               ///< what people call it; may be empty
  std::vector<std::string> tags{};  ///< free words that go out with the mesh
  bool operator==(const AreaVolume&) const = default;
};

/// The different tags of volumes, ascending; a mesh can have no more than nav::kMostTags.
std::vector<std::string> tagNames(const std::vector<AreaVolume>& volumes);
/// Those of all volumes that hold a place: bit i is for the i-th of tagNames(). O(volumes).
std::uint8_t tagsAt(const std::vector<AreaVolume>& volumes, const std::vector<std::string>& names, const Vec3& at);

/// The volume that gives the ground at a place its kind, the last of those that hold it and name a kind that exists; null where none does.
struct World;
const AreaVolume* volumeAt(const World& world, const Vec3& at);
/// The number of a kind by its name; of the first kind where there is none of that name.
std::size_t kindNumber(const World& world, const std::string& name);

constexpr double kMostIsland = 10000;  // m² and m

/// Which islands are too small to be meant: tops of crates, walls and lamps.
struct LeastIsland {
  double area = 0;   ///< m²; 0: all are kept
  double width = 0;  ///< m, as of a strip of the same area and border; 0: all are kept
  bool any() const { return area > 0 || width > 0; }
  bool operator==(const LeastIsland&) const = default;
};

struct World {
  std::shared_ptr<const Level> level;
  std::vector<Role> roles;                   ///< one an object
  std::optional<Box3> bounds;                ///< playable volume
  std::vector<Vec3> seeds;                   ///< empty: all ground is kept
  LeastIsland leastIsland;                   ///< smaller ones go
  std::vector<Vec3> used;                    ///< places whose islands stay however small they are: ends of links, starts, goals
  double joinDistance = 0.05;                ///< ground parted by a smaller gap is one ground, metres
  std::vector<AreaKind> kinds;               ///< the first is what ground is without any volume
  std::vector<AreaVolume> volumes;           ///< later ones win
  std::vector<std::string> tags;             ///< tagNames() of them, once a build has begun
  std::vector<std::vector<KindRun>> ground;  ///< kinds by triangles, one entry an object; volumes go before them
  bool findLinks = false;                    ///< whether drops and jumps that the agent can take are found
  double linkSpacing = 0.25;                 ///< between the places of the border at which one is tried, metres
};

/// What an object's own kind of ground is at one of its triangles, as of a KindRun. O(log n).
std::uint16_t groundKind(const World& world, std::size_t object, std::uint64_t triangle);

/// The world of a level as it comes: everything is ground, one kind.
World plainWorld(std::shared_ptr<const Level> level);

}  // namespace dune::level
