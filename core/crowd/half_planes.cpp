#include "core/crowd/half_planes.h"

#include <algorithm>
#include <cmath>

namespace dune::crowd {

namespace {

constexpr double kParallel = 1e-9;

/// The best point on line `i` within the circle and the half-planes before it. With `direction` the farthest point along
/// `wanted`, otherwise the point nearest to it.
bool onLine(const std::vector<HalfPlane>& planes, std::size_t i, double most, const Vec2& wanted, bool direction, Vec2& result) {
  const HalfPlane& line = planes[i];
  const double along = glm::dot(line.point, line.direction);
  const double inCircle = along * along + most * most - glm::dot(line.point, line.point);
  if (inCircle < 0) return false;
  const double root = std::sqrt(inCircle);
  double from = -along - root, to = -along + root;
  for (std::size_t k = 0; k < i; ++k) {
    const double bottom = cross(line.direction, planes[k].direction), top = cross(planes[k].direction, line.point - planes[k].point);
    if (std::abs(bottom) <= kParallel) {
      if (top < 0) return false;
      continue;
    }
    const double t = top / bottom;
    if (bottom >= 0)
      to = std::min(to, t);
    else
      from = std::max(from, t);
    if (from > to) return false;
  }
  const double t =
      direction ? (glm::dot(wanted, line.direction) > 0 ? to : from) : std::clamp(glm::dot(line.direction, wanted - line.point), from, to);
  result = line.point + line.direction * t;
  return true;
}

/// Keeps to the half-planes in order; returns the number of the first that could not be kept, or the count.
std::size_t solve(const std::vector<HalfPlane>& planes, double most, const Vec2& wanted, bool direction, Vec2& result) {
  const double length = glm::length(wanted);
  result = direction ? wanted * most : length > most ? wanted / length * most : wanted;
  for (std::size_t i = 0; i < planes.size(); ++i) {
    if (cross(planes[i].direction, result - planes[i].point) >= 0) continue;
    const Vec2 before = result;
    if (!onLine(planes, i, most, wanted, direction, result)) {
      result = before;
      return i;
    }
  }
  return planes.size();
}

/// From the first failed half-plane on: the velocity whose worst violation is least, walls never broken.
void least(const std::vector<HalfPlane>& planes, std::size_t hard, std::size_t begin, double most, Vec2& result) {
  double distance = 0;
  for (std::size_t i = begin; i < planes.size(); ++i) {
    if (cross(planes[i].direction, planes[i].point - result) <= distance) continue;
    std::vector<HalfPlane> projected(planes.begin(), planes.begin() + static_cast<std::ptrdiff_t>(std::min(hard, planes.size())));
    for (std::size_t k = hard; k < i; ++k) {
      const double bottom = cross(planes[i].direction, planes[k].direction);
      HalfPlane line;
      if (std::abs(bottom) <= kParallel) {
        if (glm::dot(planes[i].direction, planes[k].direction) > 0) continue;
        line.point = (planes[i].point + planes[k].point) * 0.5;
      } else {
        line.point = planes[i].point + planes[i].direction * (cross(planes[k].direction, planes[i].point - planes[k].point) / bottom);
      }
      const Vec2 d = planes[k].direction - planes[i].direction;
      if (glm::length(d) < kParallel) continue;
      line.direction = glm::normalize(d);
      projected.push_back(line);
    }
    const Vec2 before = result;
    if (solve(projected, most, leftOf(planes[i].direction), true, result) < projected.size()) result = before;
    distance = cross(planes[i].direction, planes[i].point - result);
  }
}

}  // namespace

Vec2 nearestAllowed(const std::vector<HalfPlane>& planes, std::size_t hard, const Vec2& wanted, double most) {
  Vec2 result;
  const std::size_t failed = solve(planes, most, wanted, false, result);
  if (failed < planes.size()) least(planes, hard, failed, most, result);
  return result;
}

}  // namespace dune::crowd
