#include "window/session/clipping.h"

#include "window/session/hand_made.h"

namespace dune::window {

namespace {

constexpr Vec3 kBeside{1, 0, 1};  // metres

// Where a thing is, and how it moves as a whole.
Vec3 anchorOf(const level::Blocker& b) { return b.at; }
Vec3 anchorOf(const level::AreaVolume& v) { return lift(v.outline.front(), v.bottom); }
Vec3 anchorOf(const links::HandLink& l) { return l.from; }
Vec3 anchorOf(const project::KeptRoute& r) { return r.from; }
Vec3 anchorOf(const project::Card& c) { return c.at; }
Vec3 anchorOf(const project::NamedPlace& p) { return p.at; }
Vec3 anchorOf(const project::CrowdGroup& g) { return g.start; }
Vec3 anchorOf(const project::CrowdObstacle& o) { return o.track.empty() ? Vec3{0} : o.track.front(); }

void shift(level::Blocker& b, const Vec3& by) { b.at += by; }
void shift(level::AreaVolume& v, const Vec3& by) {
  for (Vec2& corner : v.outline) corner += plan(by);
  v.bottom += by.y, v.top += by.y;
}
void shift(links::HandLink& l, const Vec3& by) { l.from += by, l.to += by; }
void shift(project::KeptRoute& r, const Vec3& by) { r.from += by, r.to += by; }
void shift(project::Card& c, const Vec3& by) { c.at += by; }
void shift(project::NamedPlace& p, const Vec3& by) { p.at += by; }
void shift(project::CrowdGroup& g, const Vec3& by) {
  g.start += by, g.startEnd += by, g.goal += by;
  for (Vec3& place : g.round) place += by;
}
void shift(project::CrowdObstacle& o, const Vec3& by) {
  for (Vec3& place : o.track) place += by;
}

}  // namespace

bool Clipping::copy(Workspace& w, ThingKind kind) {
  const auto take = [&](const auto* chosen) {
    if (chosen) thing_ = *chosen;
    return chosen != nullptr;
  };
  switch (kind) {
    case ThingKind::blocker:
      return take(chosenBlocker(w));
    case ThingKind::volume:
      return take(chosenVolume(w));
    case ThingKind::link:
      return take(chosenLink(w));
    case ThingKind::route:
      return take(chosenRoute(w));
    case ThingKind::card:
      return take(chosenCard(w));
    case ThingKind::place:
      return take(chosenPlace(w));
    case ThingKind::group:
      return take(chosenGroup(w));
    case ThingKind::obstacle:
      return take(chosenObstacle(w));
    default:
      return false;
  }
}

void Clipping::paste(Workspace& w, const std::optional<Vec3>& at) {
  std::visit(
      [&](auto& thing) {
        if constexpr (!std::is_same_v<std::decay_t<decltype(thing)>, std::monostate>) {
          shift(thing, at ? *at - anchorOf(thing) : kBeside);
          add(w, thing);
        }
      },
      thing_);
}

}  // namespace dune::window
