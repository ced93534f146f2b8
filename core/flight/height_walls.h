#pragma once
// The heights over ground that a kind of agent keeps, as walls in the air.
//
// 1. Least height: straight under no part of the body is ground nearer than that. What it may not enter is every triangle of ground swept
//    up by that height; in the way are the lids of these, and sides over the edges at which ground ends.
// 2. Greatest height: straight under every part of the body the level is, under its underside at most that far. Where it may be is every
//    triangle of the level swept up; in the way is the skin of all these together: of each one's lid and sides what lies within no other.
// 3. They are triangles as all others, so all that is exact for walls is exact for heights.
// 4. They part what is too low or too high from what is not. On which side of them one is, heightAt() says.

#include "core/base/job.h"
#include "core/flight/flyer.h"
#include "core/flight/obstacles.h"

namespace dune::flight {

/// Adds the walls to barriers of the level, all in metres. False when cancelled, or when they take more than the job's memory.
/// O(n log n + pairs that lie over each other within the greatest height).
bool addHeightWalls(std::vector<Barrier>& barriers, const Flyer& flyer, const Job& job);

struct HeightAt {
  enum class Is : std::uint8_t { fine, low, high } is = Is::fine;
  double height = 0;         ///< of its underside over what counts, straight under its middle, metres; infinite where nothing is
  std::uint32_t object = 0;  ///< what that is
};

/// Of a flyer whose middle is at a place of the stretched space, among the obstacles there. O(log n).
HeightAt heightAt(const Obstacles& obstacles, const Flyer& flyer, const Vec3& p);

}  // namespace dune::flight
