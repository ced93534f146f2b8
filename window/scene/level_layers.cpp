#include "window/scene/layers.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

/// What an object is filled with; nothing where it is an outline only.
std::optional<std::uint32_t> fillOf(const level::Object& object, level::Role role, const std::set<std::string>& chosen, bool byRole) {
  // What is not there is an outline only, but where its role is what one looks at.
  if (role == level::Role::ignored && !byRole) return std::nullopt;
  QColor colour = theme().level;
  if (byRole && role == level::Role::obstacle) colour = theme().obstacle;
  if (byRole && role == level::Role::cuts) colour = theme().cuts;
  if (role == level::Role::ignored) colour = theme().ignored;
  if (chosen.count(object.name)) colour = theme().chosen;
  return packed(colour, role == level::Role::ignored ? 0.35 : 1);
}

void addTriangle(const level::Object& object, std::size_t number, std::uint32_t colour, DrawList& list) {
  const auto& t = object.triangles[number];
  list.triangle(object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]], colour);
}

DrawList filled(const level::Level& level, const std::vector<level::Role>& roles, const std::set<std::string>& chosen, bool byRole) {
  DrawList list;
  for (std::size_t o = 0; o < level.objects.size(); ++o) {
    const level::Object& object = level.objects[o];
    const auto fill = fillOf(object, roles[o], chosen, byRole);
    for (std::size_t t = 0; fill && t < object.triangles.size(); ++t) addTriangle(object, t, *fill, list);
  }
  return list;
}

}  // namespace

DrawList levelLayer(const LevelPicture& picture, const std::vector<level::Role>& roles, const std::set<std::string>& chosen, bool byRole) {
  DrawList list = filled(*picture.level, roles, chosen, byRole);
  list.lit = true;
  for (std::size_t o = 0; o < picture.level->objects.size(); ++o) {
    const level::Object& object = picture.level->objects[o];
    const std::uint32_t ink = packed(theme().text, roles[o] == level::Role::ignored ? 0.15 : 0.32);
    for (const auto& [a, b] : picture.edges[o]) list.line(object.vertices[a], object.vertices[b], 1.1, ink);
  }
  if (picture.sketch) list.sketch = filled(*picture.sketch, roles, chosen, byRole).triangles;
  return list;
}

DrawList detailLayer(const level::Level& level, std::span<const PickTree::Item> items, const std::vector<level::Role>& roles,
                     const std::set<std::string>& chosen, bool byRole) {
  DrawList list;
  list.lit = true;
  list.triangles.reserve(items.size() * 3);
  for (const PickTree::Item& item : items) {
    const level::Object& object = level.objects[item.object];
    if (const auto fill = fillOf(object, roles[item.object], chosen, byRole)) addTriangle(object, item.triangle, *fill, list);
  }
  return list;
}

namespace {

/// Beside the level, at the corner that looks at a new view, on the height of the nearest ground there.
Vec3 besideLevel(const level::Level& level, const Box3& box) {
  double ground = box.min.y, nearest = 1e300;
  const Vec3 corner{box.max.x, 0, box.max.z};
  for (const level::Object& o : level.objects) {
    const Box3 b = o.bounds();
    const Vec3 p{std::clamp(corner.x, b.min.x, b.max.x), 0, std::clamp(corner.z, b.min.z, b.max.z)};
    const double d = glm::distance(p, corner);
    if (d < nearest) nearest = d, ground = b.size().y > 2 && b.min.y > -0.5 ? b.min.y : b.max.y;
  }
  constexpr double kGap = 1.2;
  return {box.max.x + kGap, ground, box.max.z};
}

}  // namespace

DrawList figureLayer(const level::Level& level, const Box3& box, const nav::Agent& agent, const std::optional<Standing>& put,
                     std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lit = true;
  constexpr double kPerson = 1.8, kPersonRadius = 0.28, kBetween = 0.4;  // metres
  const Vec3 beside = besideLevel(level, box);
  const Vec3 person = put ? put->feet + Vec3{agent.radius + kPersonRadius + kBetween, 0, 0} : beside - Vec3{0, 0, 1.5};
  const Standing kind = put.value_or(Standing{beside - Vec3{0, 0, 7}});
  list.body(person, kPersonRadius, kPerson, packed(theme().quiet, 1));
  list.body(kind.feet, agent.radius, agent.height, packed(theme().agent[0], 1), agent.tilts ? kind.up : Vec3{0, 1, 0});
  labels.push_back({person + Vec3{0, kPerson + 0.1, 0}, QStringLiteral("1.8 m"), theme().quiet});
  labels.push_back({kind.feet + Vec3{0, agent.height + 0.1, 0}, QString::fromStdString(agent.name), theme().agent[0]});
  return list;
}

DrawList sketchGrid(const Box3& box) {
  DrawList list;
  constexpr double kBeyond = 10;  // metres
  const Vec2 low = glm::floor(Vec2{box.min.x, box.min.z} - kBeyond), high = glm::ceil(Vec2{box.max.x, box.max.z} + kBeyond);
  auto ink = [&](double at) { return packed(theme().quiet, std::fmod(std::abs(at), 5) < 0.5 ? 0.5 : 0.16); };
  for (double x = low.x; x <= high.x; ++x) list.line({x, 0, low.y}, {x, 0, high.y}, 1, ink(x));
  for (double z = low.y; z <= high.y; ++z) list.line({low.x, 0, z}, {high.x, 0, z}, 1, ink(z));
  return list;
}

}  // namespace dune::window
