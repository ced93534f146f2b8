#pragma once
// Ways over prepared ground, written out.

#include "core/route/prepared.h"
#include "core/route/way_point.h"

namespace dune::route {

/// In space, every crossed edge a point.
std::vector<WayPoint> wayInSpace(const Prepared& prepared, const BendTable::Between& over, const Prepared::End& start,
                                 const Prepared::End& goal, Prepared::Scratch& scratch);
/// In plan, between two places of the mesh.
std::vector<WayPoint> wayInPlan(const Field& field, const Prepared& prepared, const BendTable::Between& over, const nav::Place& start,
                                const nav::Place& goal, Prepared::Scratch& scratch);

}  // namespace dune::route
