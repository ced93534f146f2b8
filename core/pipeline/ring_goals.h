#pragma once
// Places round a target for those who are sent there, one for each.

#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// Gives each body a goal `radius` metres from a target: evenly spaced on a circle, each on the side on which it begins, so that none has
/// to cross the others' ways. Who would come to stand behind a wall, or on another, gets ground of its own that is as nearly as far from
/// the target; the target itself where there is none. O(bodies log bodies) on open ground, else O(bodies² + ground around).
void sendAround(std::span<crowd::Walker> bodies, const Ground& ground, const Vec3& target, double radius);

}  // namespace dune::pipeline
