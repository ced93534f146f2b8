#include "window/stops/links/links_picture.h"

#include "window/scene/theme.h"

namespace dune::window {

namespace {

/// Chevrons along a flight where it is one way, lozenges where both.
void marks(DrawList& list, const std::vector<Vec3>& flight, bool oneWay, std::uint32_t colour) {
  for (const double t : {0.3, 0.55, 0.8}) {
    const double at = t * static_cast<double>(flight.size() - 1);
    const auto i = std::min(static_cast<std::size_t>(at), flight.size() - 2);
    const Vec3 p = glm::mix(flight[i], flight[i + 1], at - static_cast<double>(i)), d = flight[i + 1] - flight[i];
    if (glm::length(d) < 1e-6) continue;
    const Vec3 ahead = glm::normalize(d);
    Vec3 side = glm::cross(ahead, Vec3{0, 1, 0});
    side = glm::length(side) < 0.05 ? Vec3{1, 0, 0} : glm::normalize(side);
    const double s = 0.2;
    if (oneWay) {
      list.line(p + ahead * s, p - ahead * s + side * s, 2.5, colour);
      list.line(p + ahead * s, p - ahead * s - side * s, 2.5, colour);
    } else {
      list.triangle(p + ahead * s, p + side * (0.6 * s), p - ahead * s, colour);
      list.triangle(p + ahead * s, p - ahead * s, p - side * (0.6 * s), colour);
    }
  }
}

}  // namespace

DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  for (const links::HandLink& l : links.links) {
    const bool broken = ground && links::withId(ground->broken, l.id);
    const bool beyond = ground && links::withId(ground->beyond, l.id);
    const QColor colour = l.id == chosen ? theme().accent : broken ? theme().brokenLink : beyond ? theme().quiet : theme().link;
    const std::uint32_t ink = packed(colour, 1);
    const std::vector<Vec3> flight = nav::flight(l.kind, raised(l.from, 0.08), raised(l.to, 0.08), ground ? ground->mesh.agent.radius : 0.4);
    for (std::size_t i = 0; i + 1 < flight.size(); ++i) list.dashed(flight[i], flight[i + 1], 0.12, l.id == chosen ? 4 : 3, ink);
    list.picks.push_back({thing(ThingKind::link, l.id), flight});
    marks(list, flight, l.oneWay, ink);
    list.circle(raised(l.from), 0.25, 2, ink);
    list.circle(raised(l.to), 0.25, 2, ink);
    if (beyond)
      labels.push_back({raised(l.to, 0.4), QObject::tr("not for %1").arg(QString::fromStdString(ground->mesh.agent.name)), theme().quiet});
    if (broken) labels.push_back({raised(l.to, 0.4), QStringLiteral("broken"), theme().brokenLink});
  }
  return list;
}

}  // namespace dune::window
