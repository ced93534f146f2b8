#pragma once
// Whether hand work still fits the level that it was drawn on, and changes by hand asked of a ground.

#include "core/hand/edit.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// The heights of a ground's level.
hand::LevelAt levelOf(std::shared_ptr<const generate::Built> built);

/// Patches that could not be laid, and those of which the level has moved since. O(faces drawn by hand).
void reviewHandWork(const Ground& ground, std::size_t agent, std::vector<review::Finding>& findings);

/// A patch as far over the level as it was drawn; one that stays where it is, whose level is from now on the one that is there.
hand::Patch draped(hand::Patch patch, const hand::LevelAt& levelAt);
hand::Patch keptAsIs(hand::Patch patch, const hand::LevelAt& levelAt);

}  // namespace dune::pipeline
