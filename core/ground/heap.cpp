#include "core/ground/heap.h"

#include <algorithm>

#include "core/base/text.h"

namespace dune::ground {

namespace {

constexpr std::size_t kDeepest = 300;  // triangles over each other: a tower of a hundred storeys has less, and time grows with their cube
constexpr std::size_t kProbes = 64;    // triangles at which it is looked

}  // namespace

std::optional<Problem> findHeap(const Soup& soup, const level::World& world) {
  const auto& triangles = soup.triangles();
  if (triangles.size() <= kDeepest) return std::nullopt;
  const std::size_t every = std::max<std::size_t>(1, triangles.size() / kProbes);
  for (std::size_t i = 0; i < triangles.size(); i += every) {
    const Triangle& t = triangles[i];
    const Vec2 q = (t.q[0] + t.q[1] + t.q[2]) / 3.0;
    std::size_t deep = 0;
    for (const std::uint32_t k : soup.above().at(q)) {
      bool onEdge = false;
      deep += soup.covers(k, q, onEdge);
    }
    if (deep <= kDeepest) continue;
    return Problem{
        ProblemCode::overLimit,
        text("%d triangles lie over each other on one spot; up to %d can be measured.", static_cast<int>(deep), static_cast<int>(kDeepest)),
        text("object \"%s\" at %.2f, %.2f", world.level->objects[t.object].name.c_str(), q.x, -q.y),
        "marking the object as ignored and putting a simple blocker in its place."};
  }
  return std::nullopt;
}

}  // namespace dune::ground
