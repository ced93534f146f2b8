#pragma once
// What flies, in the world: volumes, cells cut at a height, ways with their heights, bodies that lean.

#include "core/flight/fleet.h"
#include "core/project/flight.h"
#include "window/scene/layers.h"
#include "window/session/flown.h"

namespace dune::window {

/// The edges of a volume, the chosen one stronger; `sides`: takes its sides, which one sees through. May be null.
void addVolume(DrawList& list, const Box3& box, const QColor& colour, bool chosen, DrawList* sides);
/// The cells of a space that a height cuts, coloured by how much room is around; at most so many.
void addCells(DrawList& list, const flight::Space& space, double height);
/// Where a group starts and where it goes.
void addGroup(DrawList& list, const project::FlyerGroup& group, bool chosen, std::vector<WorldLabel>& labels);
/// A way as a band, with lines down to what lies below its corners.
void addFlight(DrawList& list, const flight::Space& space, const flight::Way& way, std::vector<WorldLabel>& labels);
/// What those who fly make way for, so many seconds after the first time of a run.
void addWalkers(DrawList& list, const pipeline::Run& run, double time);
/// A body as it is: a flat hull with a nose.
void addFlyer(DrawList& list, const flight::Flyer& kind, const Vec3& at, double heading, double bank, double pitch, const QColor& colour);

}  // namespace dune::window
