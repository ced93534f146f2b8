#pragma once
// What lies in gaps that are bridged is no ground: walls, low ceilings and ends that limit the floor down there limit nobody.
//
// A limit counts for all ground within the height of the agent, for slopes and stairs lead from one height to another. The floor of a gap
// between two boards of a deck lies that near, and the side of each board is a wall to it, that faces the ground on the other board.

#include <span>

#include "core/ground/limits.h"

namespace dune::ground {

/// The limits but for what of them limits ground under bridges over gaps, where an agent of this height has no headroom. Keeps their order.
/// O(limits and bridges that meet).
std::vector<Limit> withoutBridged(std::vector<Limit> limits, std::span<const Bridge> bridges, double agentHeight);

}  // namespace dune::ground
