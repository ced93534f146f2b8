#pragma once
// When a goal that others stand on is as near as one gets.

#include "core/crowd/floor.h"
#include "core/crowd/picture.h"

namespace dune::crowd {

/// What a body still wants that has come as near to its goal as those who have arrived there let it: nothing, or to close up where there is
/// room. Nothing at all while nobody stands on its goal, or it can come nearer.
std::optional<Vec2> wantedAtTakenGoal(const Picture& picture, std::vector<Body>& bodies, std::size_t self, const Floor& floor);

}  // namespace dune::crowd
