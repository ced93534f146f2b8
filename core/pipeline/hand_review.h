#pragma once
// Whether hand work still fits the level that it was drawn on, and changes by hand asked of a ground.

#include "core/hand/edit.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// The heights of a ground's level.
hand::LevelAt levelOf(std::shared_ptr<const generate::Built> built);

/// Patches that could not be laid, and those of which the level has moved since. O(faces drawn by hand).
void reviewHandWork(const Ground& ground, std::size_t agent, std::vector<review::Finding>& findings);

/// Draped again: faces of a patch lie as far over the level as they did. Kept: from now on its level is the one that is there.
void drapePatch(hand::Work& work, int patch, const hand::LevelAt& levelAt);
void keepPatch(hand::Work& work, int patch, const hand::LevelAt& levelAt);

}  // namespace dune::pipeline
