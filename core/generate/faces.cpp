#include "core/generate/faces.h"

#include <algorithm>
#include <cmath>

namespace dune::generate {

double Faces::angleAt(const Loop& loop, std::size_t i) const {
  const std::size_t n = loop.size();
  const Vec2 at = toPlan(points[loop[i]]), a = toPlan(points[loop[(i + n - 1) % n]]) - at, b = toPlan(points[loop[(i + 1) % n]]) - at;
  return std::atan2(std::abs(cross(b, a)), glm::dot(a, b));
}

double Faces::leastAngle(const Loop& loop) const {
  double least = kPi;
  for (std::size_t i = 0; i < loop.size(); ++i) least = std::min(least, angleAt(loop, i));
  return least;
}

void Neighbours::enter(const Faces& faces, std::uint32_t number) {
  const Loop& loop = faces.loops[number];
  for (std::size_t i = 0; i < loop.size(); ++i) at_[{loop[i], loop[(i + 1) % loop.size()]}] = number;
}

std::uint32_t Neighbours::across(std::uint32_t from, std::uint32_t to) const {
  const auto found = at_.find({to, from});
  return found == at_.end() ? kNoLoop : found->second;
}

}  // namespace dune::generate
