#pragma once
// An arrow in the world.

#include "window/scene/draw_list.h"

namespace dune::window {

void arrow(DrawList& list, const Vec3& from, const Vec3& to, double width, std::uint32_t colour);

}  // namespace dune::window
