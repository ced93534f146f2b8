#include "core/ground/gap.h"

#include <algorithm>
#include <cmath>

#include "core/ground/line_split.h"
#include "core/ground/tuning.h"

namespace dune::ground {

Gap::Gap(const Standing& standing, const Vec2& a, const Vec2& b, const Vec2& here, double join, const Interval& heights)
    : standing_(standing), a_(a), b_(b), here_(here), join_(join) {
  const Soup& soup = standing.soup();
  soup.along(a, b, join, heights, near_);
  std::erase_if(near_, [&](std::uint32_t i) { return !standing.walkable(soup.triangles()[i]) || soup.triangles()[i].upright; });
  // Between two of them the edges that one crosses on the way are the same.
  const Vec2 along = b - a;
  const double length = glm::length(along);
  splits_ = splitParameters(soup, a, b, join, tuning::kLeastEnd, heights);
  for (const std::uint32_t i : near_)
    for (const Vec2& q : soup.triangles()[i].q) {
      const double t = glm::dot(q - a, along) / (length * length), depth = glm::dot(a - q, here);
      if (t > 0 && t < 1 && depth > -tuning::kBeside && depth < join) splits_.push_back(t);
    }
  splits_ = keptApart(std::move(splits_), length, tuning::kLeastEnd);
}

std::vector<Vec2> Gap::placesBetween(const Vec2& p, const Vec2& q) const {
  std::vector<Vec2> places;
  for (const double t : splits_)
    if (const Vec2 at = glm::mix(a_, b_, t); glm::dot(at - p, q - p) > 0 && glm::dot(at - q, p - q) > 0) places.push_back(at);
  return places;
}

std::optional<Gap::Ground> Gap::beyond(const Vec2& q, double y, double reach) const {
  const Vec2 far = q - here_ * join_;
  if (const double there = standing_.nearest(far, y, reach); !std::isnan(there)) return Ground{join_, there};
  return between(q, y, reach, 0.5);
}

std::optional<Gap::Ground> Gap::edgeBeyond(const Vec2& q, double y, double reach) const { return between(q, y, reach, 0); }

/// `part`: where between the edges that are crossed before and after the ground its depth is taken.
std::optional<Gap::Ground> Gap::between(const Vec2& q, double y, double reach, double part) const {
  const Vec2 far = q - here_ * join_;
  std::vector<double> crossings{0, 1};
  for (const std::uint32_t i : near_) {
    const Triangle& triangle = standing_.soup().triangles()[i];
    for (std::size_t e = 0; e < 3; ++e)
      if (const auto s = crossingParameter(q, far, triangle.q[e], triangle.q[(e + 1) % 3]); s && *s > 0 && *s < 1) crossings.push_back(*s);
  }
  if (crossings.size() == 2) return std::nullopt;  // one place tells of all, and was asked
  std::sort(crossings.begin(), crossings.end());
  for (std::size_t i = 1; i < crossings.size(); ++i) {
    const double s = (crossings[i - 1] + crossings[i]) / 2;
    if ((crossings[i] - crossings[i - 1]) * join_ < tuning::kLeastEnd) continue;
    if (const double there = standing_.nearest(glm::mix(q, far, s), y, reach); !std::isnan(there))
      return Ground{glm::mix(crossings[i - 1], crossings[i], part) * join_, there};
  }
  return std::nullopt;
}

}  // namespace dune::ground
