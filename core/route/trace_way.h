#pragma once
// From the bends of a way on the simple ground to the way over the mesh: its heights, and every face it crosses.

#include <vector>

#include "core/route/field.h"
#include "core/route/settle_way.h"
#include "core/route/way_point.h"

namespace dune::route {

/// `bends`: where the way begins, turns and ends, and the ends of its links, with faces and links of the simple ground. Each stretch
/// between two of them is straight and on one kind of ground, and is walked over the mesh, from `start` to `goal`. O(faces crossed).
std::vector<WayPoint> traceWay(const Field& field, const std::vector<WayStep>& bends, const nav::Place& start, const nav::Place& goal);
/// Adds a way that is straight and on the start's kind of ground.
void traceStretch(const Field& field, const nav::Place& start, const nav::Place& goal, std::vector<WayPoint>& way);

}  // namespace dune::route
