#pragma once
// What the generator reads: the level together with what a person said about it.

#include <map>
#include <memory>
#include <optional>

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

/// A prism over a plan outline that gives the ground inside it a kind.
struct AreaVolume {
  int id = 0;
  std::string kind;  ///< the name of an AreaKind
  Polygon outline;   ///< plan space, at least three corners, either way round
  double bottom = 0, top = 0;
  std::string name{};  ///< what people call it; may be empty
  bool operator==(const AreaVolume&) const = default;
};

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
  std::vector<Role> roles;          ///< one an object
  std::optional<Box3> bounds;       ///< playable volume
  std::vector<Vec3> seeds;          ///< empty: all ground is kept
  LeastIsland leastIsland;          ///< smaller ones go
  std::vector<Vec3> used;           ///< places whose islands stay however small they are: ends of links, starts, goals
  double joinDistance = 0.05;       ///< ground parted by a smaller gap is one ground, metres
  std::vector<AreaKind> kinds;      ///< the first is what ground is without any volume
  std::vector<AreaVolume> volumes;  ///< later ones win
  bool findLinks = false;           ///< whether drops and jumps that the agent can take are found
  double linkSpacing = 0.25;        ///< between the places of the border at which one is tried, metres
};

/// The world of a level as it comes: everything is ground, one kind.
World plainWorld(std::shared_ptr<const Level> level);

}  // namespace dune::level
