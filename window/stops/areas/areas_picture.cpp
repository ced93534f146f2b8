#include "window/stops/areas/areas_picture.h"

#include "window/scene/theme.h"

namespace dune::window {

namespace {

const level::AreaKind* kindNamed(const project::AreasSection& areas, const std::string& name) {
  for (const level::AreaKind& k : areas.kinds)
    if (k.name == name) return &k;
  return nullptr;
}

std::string nameOf(const level::AreaVolume& v) {
  if (!v.name.empty() || (!v.kind.empty() && v.tags.empty())) return v.name.empty() ? v.kind : v.name;
  std::string words = v.kind;
  for (const std::string& tag : v.tags) words += (words.empty() ? "" : ", ") + tag;
  return words;
}

}  // namespace

DrawList areasLayer(const project::AreasSection& areas, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  for (const level::AreaVolume& v : areas.volumes) {
    const level::AreaKind* kind = kindNamed(areas, v.kind);
    const QColor colour = v.id == chosen   ? theme().accent
                          : kind           ? kindColour(kind->colour).darker(theme().dark ? 90 : 130)
                          : v.kind.empty() ? theme().quiet
                                           : theme().bad;
    Vec2 middle{0};
    const double base = std::max(v.bottom, std::min(0.0, v.top));
    for (std::size_t i = 0, n = v.outline.size(); i < n; ++i) {
      const Vec2 &a = v.outline[i], &b = v.outline[(i + 1) % n];
      for (const double y : {base + kAbove, v.top})
        list.line(lift(a, y), lift(b, y), v.id == chosen ? 3 : 1.8, packed(colour, y == v.top ? 0.55 : 1));
      list.line(lift(a, base), lift(a, v.top), 1, packed(colour, 0.55));
      middle += a / static_cast<double>(n);
    }
    PickLine pick{thing(ThingKind::volume, v.id), {}};
    for (const double y : {base + kAbove, v.top}) {
      for (const Vec2& q : v.outline) pick.points.push_back(lift(q, y));
      pick.points.push_back(lift(v.outline[0], y));
    }
    list.picks.push_back(std::move(pick));
    labels.push_back({lift(middle, base + 0.1), QString::fromStdString(nameOf(v)), colour});
  }
  return list;
}

}  // namespace dune::window
