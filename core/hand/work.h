#pragma once
// What a person changed on a mesh by hand, by position: kept in the document, and laid over whatever a build makes.
//
// A patch says which ground it stands in place of, and which faces are there instead. So it outlives every build: with other limits, or of
// another level, the ground around it is cut where the patch is, and stitched to it.

#include <algorithm>
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/base/vec.h"

namespace dune::hand {

/// A face drawn by hand: convex and counter-clockwise seen from above.
struct Face {
  std::vector<Vec3> corners;
  std::string kind{};              ///< name of a kind of ground; empty: the first
  std::optional<double> ground{};  ///< height of the level under its middle when it was drawn, where there was any
  bool operator==(const Face&) const = default;
};

struct Patch {
  int id = 0;
  std::vector<int> agents{};                 ///< ids of the kinds of agent whose mesh it is for; none: all
  std::vector<std::vector<Vec3>> instead{};  ///< convex faces of a mesh, whose ground is taken out
  std::vector<Face> faces{};                 ///< and what is there now
  bool isFor(int agent) const { return agents.empty() || std::ranges::count(agents, agent) > 0; }
  bool operator==(const Patch&) const = default;
};

/// A line on the ground that nobody crosses, though there is ground on both sides; or only from the left of from → to to its right.
struct Part {
  std::vector<int> agents{};
  Vec3 from{}, to{};
  bool oneWay = false;
  std::array<bool, 2> toBorder{};  ///< whether it went to the border of the ground at its ends: it does so wherever that is
  bool isFor(int agent) const { return agents.empty() || std::ranges::count(agents, agent) > 0; }
  bool operator==(const Part&) const = default;
};

struct Work {
  std::vector<Patch> patches{};
  std::vector<Part> parts{};
  bool any() const { return !patches.empty() || !parts.empty(); }
  bool operator==(const Work&) const = default;
};

}  // namespace dune::hand
