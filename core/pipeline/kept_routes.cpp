#include "core/pipeline/kept_routes.h"

#include <algorithm>

namespace dune::pipeline {

Ends endsOf(const project::Project& project, const level::Level& level, const project::KeptRoute& route) {
  Ends ends{route.from, route.to, {}};
  const auto find = [&](const std::string& name, Vec3& at) {
    if (name.empty()) return;
    const auto& places = project.places->places;
    if (const auto place = std::ranges::find(places, name, &project::NamedPlace::name); place != places.end()) {
      at = place->at;
      return;
    }
    const auto object = std::ranges::find(level.objects, name, &level::Object::name);
    if (object == level.objects.end()) {
      ends.missing.push_back(name);
      return;
    }
    Box3 box;
    for (const Vec3& v : object->vertices) box.add(v);
    if (!box.empty()) at = {box.centre().x, box.min.y, box.centre().z};
  };
  find(route.fromName, ends.from), find(route.toName, ends.to);
  return ends;
}

project::RoutesSection routesOf(const project::Project& project, const level::Level& level, int kind) {
  project::RoutesSection asked;
  for (const project::KeptRoute& r : project.routes->routes) {
    if (!isAsked(r, kind)) continue;
    const Ends ends = endsOf(project, level, r);
    asked.routes.push_back(r);
    asked.routes.back().from = ends.from, asked.routes.back().to = ends.to;
  }
  return asked;
}

}  // namespace dune::pipeline
