#include "core/route/link_feet.h"

#include <algorithm>

#include "core/route/field.h"
#include "core/route/search_ground.h"

namespace dune::route {

namespace {

auto placeInOrder(const Facet& t) { return std::pair(index(t.face), t.fan); }

}  // namespace

LinkFeet::LinkFeet(const Field& field, Heading heading) {
  const Facets& facets = field.facets();
  const nav::NavMesh& mesh = field.mesh();
  const auto& classOf = field.ground().simple().classOf;
  const auto classAt = [&](nav::FaceId f) { return classOf[mesh.area[index(f)]]; };
  const auto add = [&](std::uint32_t i, const nav::Place& from, const nav::Place& to, bool forward) {
    const Facet facet = facets.under(from), landing = facets.under(to);
    feet_.push_back({facet, landing, facets.lifted(facet, plan(from.position)), facets.lifted(landing, plan(to.position)), i, forward,
                     field.rules().costOf(mesh.links[i], from.position, to.position) / field.perMetre(from.face)});
    const LinkFoot& foot = feet_.back();
    const double steep = std::abs(foot.to.y - foot.at.y) / std::max(foot.length, 1e-9);
    (foot.to.y > foot.at.y ? up_ : down_) = std::max(foot.to.y > foot.at.y ? up_ : down_, steep);
  };
  for (std::uint32_t i = 0; i < mesh.links.size(); ++i) {
    const nav::Link& link = mesh.links[i];
    if (!field.rules().allows(link)) continue;
    for (const LinkLane& lane : field.layout().lanes(i)) {
      if (!field.passable(lane.from.face) || !field.passable(lane.to.face)) continue;
      const double perMetre = field.rules().perMetre(link), ground = field.perMetre(lane.from.face);
      plain_ = plain_ && classAt(lane.from.face) == classAt(lane.to.face) && perMetre >= ground;
      if (heading == Heading::from || !link.oneWay) add(i, lane.from, lane.to, true);
      if (heading == Heading::to || !link.oneWay) add(i, lane.to, lane.from, false);
      if (link.width() > 0)
        beside_ =
            std::max(beside_, kLaneSpacing + glm::length(link.toHalf - link.fromHalf) * kLaneSpacing / link.width() * perMetre / ground);
    }
  }
  std::ranges::stable_sort(feet_, {}, [](const LinkFoot& f) { return placeInOrder(f.facet); });
}

std::pair<std::size_t, std::size_t> LinkFeet::in(const Facet& t) const {
  const auto found = std::ranges::equal_range(feet_, placeInOrder(t), {}, [](const LinkFoot& f) { return placeInOrder(f.facet); });
  return {static_cast<std::size_t>(found.begin() - feet_.begin()), static_cast<std::size_t>(found.end() - feet_.begin())};
}

}  // namespace dune::route
