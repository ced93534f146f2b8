#pragma once
// What flies, in the world: volumes, cells cut at a height, ways with their heights, bodies that lean.

#include "core/flight/fleet.h"
#include "window/scene/layers.h"

namespace dune::window {

/// The edges of the volumes, the chosen one stronger.
void addVolumes(DrawList& list, const std::vector<Box3>& boxes, const Box3* chosen);
/// The cells of a space that a height cuts, coloured by how much room is around; at most so many.
void addCells(DrawList& list, const flight::Space& space, double height);
/// A way as a band, with lines down to what lies below its corners.
void addFlight(DrawList& list, const flight::Space& space, const flight::Way& way, std::vector<WorldLabel>& labels);
/// A body as it is: a flat hull with a nose.
void addFlyer(DrawList& list, const flight::Flyer& kind, const Vec3& at, double heading, double bank, double pitch, const QColor& colour);

}  // namespace dune::window
