#pragma once
// Ways over prepared ground, written out.

#include "core/route/prepared.h"
#include "core/route/settle_way.h"
#include "core/route/way_point.h"

namespace dune::route {

/// In space: every crossed edge a point.
std::vector<WayPoint> wayInSpace(const Prepared& prepared, const BendTable::Between& over, const Prepared::End& start,
                                 const Prepared::End& goal, Prepared::Scratch& scratch);
/// In plan: its ends and bends, between two places of the simple ground.
std::vector<WayStep> stepsInPlan(const Prepared& prepared, const BendTable::Between& over, const nav::Place& start, const nav::Place& goal,
                                 Prepared::Scratch& scratch);

}  // namespace dune::route
