#include "core/pipeline/reviewed_on.h"

#include "core/links/flight_room.h"

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
  return {ground.mesh, ground.locator(), ground.field.get(), between};
}

}  // namespace dune::pipeline
