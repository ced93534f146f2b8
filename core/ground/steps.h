#pragma once
// Steep ground that is a step: bevels, chamfers, noses, rounded edges, half-sunk stones, low banks.
//
// Over an upright riser within the step height ground goes on; the same must hold for one that leans. A steep stretch belongs to the
// ground where the rise from the ground below it to the ground above it, along the line of steepest climb, is within the step height.

#include "core/base/job.h"
#include "core/ground/standing.h"

namespace dune::ground {

/// The parts of steep triangles within a box of the plan that are steps, as strips that lie on them. The soup must hold all triangles
/// nearer to the box than stepReach(agent). Finds less when cancelled. O(steep triangles × triangles near them).
std::vector<Bridge> findSteps(const Soup& soup, const level::World& world, const nav::Agent& agent, const Box2& within, const Job& job);

/// How far to either side of a steep place one looks for the ground that it leads from and to, metres in plan.
double stepReach(const nav::Agent& agent);

}  // namespace dune::ground
