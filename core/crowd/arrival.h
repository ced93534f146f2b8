#pragma once
// When a goal that others stand on is as near as one gets.

#include "core/crowd/picture.h"

namespace dune::crowd {

/// Whether bodies that have arrived stand on a body's goal, and it is as near as these let it come.
bool goalIsTaken(const Picture& picture, const std::vector<Body>& bodies, std::size_t self);

}  // namespace dune::crowd
