#include "core/level/blocker.h"

#include <algorithm>
#include <set>

#include "core/level/prism.h"

namespace dune::level {

namespace {

constexpr int kSides = 24;          // of a cylinder
constexpr double kHoleDepth = 0.1;  // metres: a hole reaches so far over and under where it was drawn

Polygon unitOutline(const Blocker& b) {
  if (hasOutline(b)) {
    Polygon outline = b.outline;
    if (doubleArea(outline) < 0) std::reverse(outline.begin(), outline.end());
    return outline;
  }
  if (b.shape != BlockerShape::cylinder) return {{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}};
  Polygon circle;
  for (int i = 0; i < kSides; ++i) circle.push_back(Vec2{std::cos(2 * kPi * i / kSides), std::sin(2 * kPi * i / kSides)} * 0.5);
  return circle;
}

}  // namespace

bool Blocker::holds(const std::string& agent) const { return agents.empty() || std::ranges::count(agents, agent) > 0; }

Blocker withCorners(Blocker b, std::span<const Vec3> corners) {
  Box3 box;
  for (const Vec3& c : corners) box.add(c);
  b.turn = 0;
  b.at = {box.centre().x, box.min.y, box.centre().z};
  b.size = {std::max(kLeastBlocker, box.size().x), b.size.y, std::max(kLeastBlocker, box.size().z)};
  b.outline.clear();
  for (const Vec3& c : corners) b.outline.push_back({(c.x - b.at.x) / b.size.x, (b.at.z - c.z) / b.size.z});
  return b;
}

Polygon baseOf(const Blocker& b) {
  const double angle = radians(b.turn);
  const Vec2 along{std::cos(angle), std::sin(angle)};
  Polygon base;
  for (const Vec2& p : unitOutline(b)) base.push_back(plan(b.at) + along * (p.x * b.size.x) + leftOf(along) * (p.y * b.size.z));
  return base;
}

Object solidOf(const Blocker& b) {
  Object object;
  object.name = b.name();
  const Polygon base = baseOf(b);
  if (b.shape == BlockerShape::floor) {
    if (b.role == Role::cuts)
      addPrism(object, base, b.at.y - kHoleDepth, b.at.y + kHoleDepth);
    else
      addSheet(object, base, b.at.y);
    return object;
  }
  addPrism(object, base, b.at.y, b.at.y + b.size.y);
  if (b.shape != BlockerShape::ramp) return object;
  // The low side of a ramp has no height: its upper corners lie on the lower ones.
  object.vertices.edit()[4].y = object.vertices.edit()[7].y = b.at.y;
  std::erase_if(object.triangles.edit(), [&](const auto& t) {
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
  constexpr const char* kNames[] = {"box", "ramp", "cylinder", "prism", "floor"};
  return kNames[static_cast<std::size_t>(shape)];
}

}  // namespace dune::level
