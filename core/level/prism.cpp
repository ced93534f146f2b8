#include "core/level/prism.h"

#include <algorithm>

namespace dune::level {

namespace {

constexpr double kStraight = 1e-9;  // sine of a turn

/// Whether the corner `i` of what is left can be cut off: it turns left and holds no other corner.
bool isEar(std::span<const Vec2> outline, const std::vector<std::uint32_t>& left, std::size_t i) {
  const std::size_t n = left.size();
  const Vec2 &a = outline[left[(i + n - 1) % n]], &b = outline[left[i]], &c = outline[left[(i + 1) % n]];
  if (cross(b - a, c - b) <= 0) return false;
  return std::ranges::none_of(left, [&](std::uint32_t v) {
    const Vec2& p = outline[v];
    return p != a && p != b && p != c && cross(b - a, p - a) >= 0 && cross(c - b, p - b) >= 0 && cross(a - c, p - c) >= 0;
  });
}

/// Without corners that turn nowhere, which would leave the sides and the cap of a solid with different edges.
Polygon withoutStraight(std::span<const Vec2> outline) {
  Polygon kept;
  for (const Vec2& p : outline)
    if (kept.empty() || p != kept.back()) kept.push_back(p);
  for (bool dropped = true; dropped && kept.size() > 3;) {
    dropped = false;
    for (std::size_t i = 0; i < kept.size() && kept.size() > 3; ++i) {
      const Vec2 in = kept[i] - kept[(i + kept.size() - 1) % kept.size()], out = kept[(i + 1) % kept.size()] - kept[i];
      if (std::abs(cross(in, out)) > kStraight * (glm::length(in) * glm::length(out))) continue;
      kept.erase(kept.begin() + static_cast<std::ptrdiff_t>(i--));
      dropped = true;
    }
  }
  return kept;
}

}  // namespace

std::vector<std::array<std::uint32_t, 3>> trianglesOf(std::span<const Vec2> outline) {
  std::vector<std::uint32_t> left(outline.size());
  for (std::uint32_t i = 0; i < left.size(); ++i) left[i] = i;
  if (doubleArea(outline) < 0) std::reverse(left.begin(), left.end());
  std::vector<std::array<std::uint32_t, 3>> triangles;
  for (std::size_t at = 0, tried = 0; left.size() >= 3 && tried < left.size();) {
    const std::size_t n = left.size();
    at %= n;
    if (!isEar(outline, left, at)) {
      ++at, ++tried;
      continue;
    }
    triangles.push_back({left[(at + n - 1) % n], left[at], left[(at + 1) % n]});
    left.erase(left.begin() + static_cast<std::ptrdiff_t>(at));
    tried = 0;
  }
  return triangles;
}

void addSheet(Object& object, std::span<const Vec2> corners, double y) {
  const Polygon outline = withoutStraight(corners);
  const auto base = static_cast<std::uint32_t>(object.vertices.size());
  for (const Vec2& p : outline) object.vertices.edit().push_back(lift(p, y));
  for (const auto& t : trianglesOf(outline)) object.triangles.edit().push_back({base + t[0], base + t[1], base + t[2]});
}

void addPrism(Object& object, std::span<const Vec2> corners, double bottom, double top) {
  const Polygon outline = withoutStraight(corners);
  const auto base = static_cast<std::uint32_t>(object.vertices.size()), n = static_cast<std::uint32_t>(outline.size());
  const bool clockwise = doubleArea(outline) < 0;
  for (const double y : {bottom, top})
    for (const Vec2& p : outline) object.vertices.edit().push_back(lift(p, y));
  for (std::uint32_t i = 0; i < n; ++i) {
    std::uint32_t a = base + i, b = base + (i + 1) % n;
    if (clockwise) std::swap(a, b);
    object.triangles.edit().push_back({a, b, b + n});
    object.triangles.edit().push_back({a, b + n, a + n});
  }
  for (const auto& t : trianglesOf(outline)) {
    object.triangles.edit().push_back({base + t[0], base + t[2], base + t[1]});
    object.triangles.edit().push_back({base + n + t[0], base + n + t[1], base + n + t[2]});
  }
}

}  // namespace dune::level
