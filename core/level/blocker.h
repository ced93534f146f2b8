#pragma once
// Simple solids that a person puts into the world to see what they would change: a crate here, a ramp there, a barrier that holds only
// some kinds of agent.

#include <span>

#include "core/level/world.h"

namespace dune::level {

enum class BlockerShape : std::uint8_t {
  box,
  ramp,
  cylinder,
  prism,  ///< over an outline drawn by hand
  floor,  ///< a flat sheet in an outline drawn by hand; where it cuts ground, a hole
};

struct Blocker {
  int id = 0;
  BlockerShape shape = BlockerShape::box;
  Vec3 at{};           ///< middle of its base, metres
  Vec3 size{1, 1, 1};  ///< width along its own x, height, depth along its own z, metres
  double turn = 0;     ///< about the y axis, degrees, counter-clockwise seen from above
  Role role = Role::obstacle;
  Polygon outline;                  ///< of a prism or a floor: at least three corners within -0.5 … 0.5 of its width and depth
  std::vector<std::string> agents;  ///< the kinds of agent that it is there for, by name; empty: for all

  std::string name() const { return "blocker " + std::to_string(id); }
  bool holds(const std::string& agent) const;
  bool operator==(const Blocker&) const = default;
};

/// Whether its base is an outline drawn by hand.
inline bool hasOutline(const Blocker& b) { return b.shape == BlockerShape::prism || b.shape == BlockerShape::floor; }
/// The blocker over other corners, which lie in the world at any heights: its base is as low as the lowest of them.
Blocker withCorners(Blocker blocker, std::span<const Vec3> corners);

constexpr double kLeastBlocker = 0.05, kMostBlocker = 1000;  // metres: sides of a blocker

/// The corners of its base in plan, in order around it; O(corners).
Polygon baseOf(const Blocker& blocker);
/// A closed solid; a floor is a flat sheet. A ramp rises along its own x.
Object solidOf(const Blocker& blocker);

/// The blockers as the objects of a level, in their order.
Level solidsOf(std::span<const Blocker> blockers);
/// The level with the blockers that are there for an agent as objects behind its own; the very same level without any.
std::shared_ptr<const Level> withBlockers(std::shared_ptr<const Level> level, std::span<const Blocker> blockers, const std::string& agent);

const char* shapeName(BlockerShape shape);

}  // namespace dune::level
