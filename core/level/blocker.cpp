#include "core/level/blocker.h"

#include <algorithm>
#include <set>

namespace dune::level {

namespace {

constexpr int kSides = 24;  // of a cylinder

Polygon unitOutline(const Blocker& b) {
  if (b.shape == BlockerShape::prism) {
    Polygon outline = b.outline;
    if (doubleArea(outline) < 0) std::reverse(outline.begin(), outline.end());
    return outline;
  }
  if (b.shape != BlockerShape::cylinder) return {{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}};
  Polygon circle;
  for (int i = 0; i < kSides; ++i) circle.push_back(Vec2{std::cos(2 * kPi * i / kSides), std::sin(2 * kPi * i / kSides)} * 0.5);
  return circle;
}

/// Ears of a counter-clockwise outline cut off one by one (Meisters 1975); outlines are short. Fewer triangles where it crosses itself.
std::vector<std::array<std::uint32_t, 3>> earsOf(const Polygon& outline) {
  std::vector<std::uint32_t> left(outline.size());
  for (std::uint32_t i = 0; i < left.size(); ++i) left[i] = i;
  std::vector<std::array<std::uint32_t, 3>> triangles;
  auto isEar = [&](std::size_t i) {
    const std::size_t n = left.size();
    const Vec2 &a = outline[left[(i + n - 1) % n]], &b = outline[left[i]], &c = outline[left[(i + 1) % n]];
    if (cross(b - a, c - b) <= 0) return false;
    return std::ranges::none_of(left, [&](std::uint32_t v) {
      const Vec2& p = outline[v];
      return p != a && p != b && p != c && cross(b - a, p - a) >= 0 && cross(c - b, p - b) >= 0 && cross(a - c, p - c) >= 0;
    });
  };
  while (left.size() >= 3) {
    std::size_t ear = 0;
    while (ear < left.size() && !isEar(ear)) ++ear;
    if (ear == left.size()) break;
    const std::size_t n = left.size();
    triangles.push_back({left[(ear + n - 1) % n], left[ear], left[(ear + 1) % n]});
    left.erase(left.begin() + static_cast<std::ptrdiff_t>(ear));
  }
  return triangles;
}

}  // namespace

bool Blocker::holds(const std::string& agent) const { return agents.empty() || std::ranges::count(agents, agent) > 0; }

Polygon baseOf(const Blocker& b) {
  const double angle = radians(b.turn);
  const Vec2 along{std::cos(angle), std::sin(angle)};
  Polygon base;
  for (const Vec2& p : unitOutline(b)) base.push_back(plan(b.at) + along * (p.x * b.size.x) + leftOf(along) * (p.y * b.size.z));
  return base;
}

Object solidOf(const Blocker& b) {
  const Polygon unit = unitOutline(b), base = baseOf(b);
  Object object;
  object.name = b.name();
  const auto n = static_cast<std::uint32_t>(base.size());
  for (const Vec2& p : base) object.vertices.push_back(lift(p, b.at.y));
  for (std::uint32_t i = 0; i < n; ++i) {
    const double rise = b.shape == BlockerShape::ramp ? unit[i].x + 0.5 : 1;
    object.vertices.push_back(lift(base[i], b.at.y + b.size.y * rise));
  }
  for (std::uint32_t i = 0; i < n; ++i) {
    const std::uint32_t j = (i + 1) % n;
    object.triangles.push_back({i, j, n + j});
    object.triangles.push_back({i, n + j, n + i});
  }
  for (const auto& t : earsOf(unit)) {
    object.triangles.push_back({t[0], t[2], t[1]});
    object.triangles.push_back({n + t[0], n + t[1], n + t[2]});
  }
  // The low side of a ramp has no height.
  std::erase_if(object.triangles, [&](const auto& t) {
    const auto &p = object.vertices[t[0]], &q = object.vertices[t[1]], &r = object.vertices[t[2]];
    return glm::length(glm::cross(q - p, r - p)) < 1e-12;
  });
  return object;
}

Level solidsOf(std::span<const Blocker> blockers) {
  Level level;
  for (const Blocker& b : blockers) level.objects.push_back(solidOf(b));
  return level;
}

std::shared_ptr<const Level> withBlockers(std::shared_ptr<const Level> level, std::span<const Blocker> blockers, const std::string& agent) {
  if (std::ranges::none_of(blockers, [&](const Blocker& b) { return b.holds(agent); })) return level;
  auto all = std::make_shared<Level>(*level);
  std::set<std::string> names;
  for (const Object& o : level->objects) names.insert(o.name);
  for (const Blocker& b : blockers) {
    if (!b.holds(agent)) continue;
    all->objects.push_back(solidOf(b));
    while (!names.insert(all->objects.back().name).second) all->objects.back().name += "'";
  }
  return all;
}

const char* shapeName(BlockerShape shape) {
  constexpr const char* kNames[] = {"box", "ramp", "cylinder", "prism"};
  return kNames[static_cast<std::size_t>(shape)];
}

}  // namespace dune::level
