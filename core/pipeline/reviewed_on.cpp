#include "core/pipeline/reviewed_on.h"

#include "core/links/flight_room.h"
#include "core/pipeline/surfaces.h"

namespace dune::pipeline {

review::Ground reviewedOn(const Ground& ground) {
  const auto between = [&ground](const Vec3& from, const Vec3& to) -> std::string {
    Box2 box;
    box.add(plan(from)), box.add(plan(to));
    const ground::Soup soup = ground.built->soupNear(box.grown(2 * ground.mesh.agent.radius));
    links::FlightRoom room(soup, ground.mesh.agent);
    const auto object = room.inTheWay(nav::LinkKind::door, from, to);
    return object ? ground.built->world.level->objects[*object].name : std::string();
  };
  const auto surfaces = std::make_shared<Surfaces>(ground.built);
  const auto surface = [surfaces](const Vec3& at, double radius) { return surfaces->nearest(at, radius); };
  return {ground.mesh, ground.locator(), ground.field.get(), between, surface};
}

}  // namespace dune::pipeline
