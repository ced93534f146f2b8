#pragma once
// What lies between a start and a goal that cannot be reached from there: the smallest change that opens a way.
//
// 1. Where allowing forbidden ground is enough, it is the way with the least of that; what it crosses is said, stretch by stretch.
// 2. Else grounds that do not hang together are bridged: of all chains of gaps from island to island the one that is shortest in all
//    (Dijkstra over islands; a gap is as long as two borders are apart in space; usable links cost nothing).

#include "core/base/job.h"
#include "core/route/field.h"

namespace dune::route {

struct Opening {
  bool gap = true;         ///< between two islands; else forbidden ground
  Vec3 from{}, to{};       ///< where the ground ends, and where it goes on
  double length = 0;       ///< metres
  std::uint16_t kind = 0;  ///< the forbidden one
};

/// In the order of the way; empty where nothing short enough opens one, for gaps over `kMostGap` are not looked at, and when cancelled.
/// O(faces + border edges × those within kMostGap).
std::vector<Opening> openingsBetween(const Field& field, const nav::Place& start, const nav::Place& goal, Job& job);

constexpr double kMostGap = 8;  ///< metres

/// "4.2 m of sinking sand", "a gap of 0.62 m with a rise of 0.31 m".
std::string wordsOf(const Opening& opening, const nav::NavMesh& mesh);

}  // namespace dune::route
