#include "window/stops/links/links_picture.h"

#include "window/scene/theme.h"
#include "window/session/found_links.h"

namespace dune::window {

namespace {

constexpr double kLift = 0.08;  // m over the ground

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

/// Both sides of what a wide link goes over, filled thinly, and the stretches that it joins.
void band(DrawList& list, const links::HandLink& l, double radius, const QColor& colour) {
  if (l.fromHalf == Vec3{} && l.toHalf == Vec3{}) return;
  const auto side = [&](double t) {
    return nav::flight(l.kind, raised(l.from + l.fromHalf * t, kLift), raised(l.to + l.toHalf * t, kLift), radius);
  };
  const std::vector<Vec3> a = side(-1), b = side(1);
  const std::uint32_t fill = packed(colour, 0.22F), ink = packed(colour, 1);
  for (std::size_t i = 0; i + 1 < a.size(); ++i) list.triangle(a[i], a[i + 1], b[i], fill), list.triangle(b[i], a[i + 1], b[i + 1], fill);
  list.line(a.front(), b.front(), 3, ink);
  list.line(a.back(), b.back(), 3, ink);
}

class LinksPicture {
 public:
  LinksPicture(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, std::vector<WorldLabel>& labels)
      : ground_(ground), links_(links), chosen_(chosen), labels_(labels), radius_(ground ? ground->mesh.agent.radius : 0.4) {
    list_.lift = 2e-4;
  }

  void drawn() {
    for (const links::HandLink& l : links_.links) {
      const bool broken = ground_ && links::withId(ground_->broken, l.id);
      const bool beyond = ground_ && (links::withId(ground_->beyond, l.id) || std::ranges::count(ground_->notFor, l.id) > 0);
      const QColor colour = l.id == chosen_ ? theme().accent : broken ? theme().brokenLink : beyond ? theme().quiet : theme().link;
      const std::vector<Vec3> flight = one(l, colour, l.id == chosen_ ? 4 : 3);
      for (const Vec3& end : {l.from, l.to}) list_.circle(raised(end), 0.25, 2, packed(colour, 1));
      marks(list_, flight, l.oneWay, packed(colour, 1));
      if (beyond) say(l.to, QObject::tr("not for %1").arg(QString::fromStdString(ground_->mesh.agent.name)), theme().quiet);
      if (broken) say(l.to, QObject::tr("broken"), theme().brokenLink);
    }
  }

  /// Those that the build found: without circles, for nobody put their ends.
  void found() {
    if (!ground_) return;
    for (const nav::Link& l : ground_->mesh.links) {
      if (!l.generated) continue;
      const QColor colour = l.id == chosen_ ? theme().accent : theme().link;
      const std::vector<Vec3> flight = one(links::drawnLike(l, l.id), colour, l.id == chosen_ ? 4 : 1.5);
      marks(list_, flight, l.oneWay, packed(colour, 1));
    }
  }

  void refused() {
    for (std::size_t i = 0; i < links_.refused.size(); ++i) {
      const links::RefusedLink& r = links_.refused[i];
      const int id = kFirstRefused + static_cast<int>(i);
      const QColor colour = id == chosen_ ? theme().accent : theme().quiet;
      one({id, r.kind, r.from, r.to, true, 0, r.fromHalf, r.toHalf}, colour, 2);
      const Vec3 at = raised((r.from + r.to) * 0.5, 0.3), x{0.25, 0, 0.25}, z{0.25, 0, -0.25};
      list_.line(at - x, at + x, 3, packed(colour, 1)), list_.line(at - z, at + z, 3, packed(colour, 1));
      if (id == chosen_) say(r.to, QObject::tr("refused"), theme().accent);
    }
  }

  DrawList take() { return std::move(list_); }

 private:
  std::vector<Vec3> one(const links::HandLink& l, const QColor& colour, double width) {
    const std::vector<Vec3> flight = nav::flight(l.kind, raised(l.from, kLift), raised(l.to, kLift), radius_);
    for (std::size_t i = 0; i + 1 < flight.size(); ++i) list_.dashed(flight[i], flight[i + 1], 0.12, width, packed(colour, 1));
    list_.picks.push_back({thing(ThingKind::link, l.id), flight});
    band(list_, l, radius_, colour);
    return flight;
  }
  void say(const Vec3& at, const QString& text, const QColor& colour) { labels_.push_back({raised(at, 0.4), text, colour}); }

  const pipeline::Ground* ground_;
  const project::LinksSection& links_;
  int chosen_;
  std::vector<WorldLabel>& labels_;
  double radius_;
  DrawList list_;
};

}  // namespace

DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, bool here,
                    std::vector<WorldLabel>& labels) {
  LinksPicture picture(ground, links, chosen, labels);
  picture.found();
  if (here) picture.refused();
  picture.drawn();
  return picture.take();
}

}  // namespace dune::window
