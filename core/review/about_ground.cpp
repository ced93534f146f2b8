// Whether a body is where there is ground for it: off it, through walls, too near to them, on what it may not walk on.

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/base/text.h"
#include "core/nav/walk.h"
#include "core/review/body_review.h"

namespace dune::review {

namespace {

constexpr double kStorey = 1;     // m above or below a body within which ground is its own
constexpr double kOffLink = 1;    // s that it may be near the edge at the end of a link
constexpr double kOver = 0.05;    // m in plan from ground that it is still over or under: places are but floats, and ways run along borders
constexpr double kAtEdge = 0.01;  // m
constexpr double kStandsOn = 0.1;                 // m in height between feet and what they stand on
constexpr double kFarOff = 5;                     // m from the ground that are still measured
constexpr double kCorner = 1.3, kCornerMore = 1;  // times, and m: how much longer a way around may be that was but a corner cut

}  // namespace

BodyReview::Standing BodyReview::standingAt(const Moment& m) const {
  const nav::Place under = ground_.locator.under(m.at, kStorey);
  const double off = under.valid() ? std::abs(under.position.y - m.at.y) : kFarOff;
  if (off <= limits_.offGround) return {under, off, true};
  const nav::Place near = ground_.locator.nearest(m.at, kFarOff);
  if (!near.valid()) return {near, kFarOff, false};
  const double aside = glm::distance(plan(near.position), plan(m.at)), above = std::abs(near.position.y - m.at.y);
  // Its centre is beside the ground, but it may still touch it: then it is too near to a wall. Over other ground it is right at an edge, a
  // float's width beyond it, or off its ground.
  const bool beside =
      under.valid() ? aside < kAtEdge && above < kOver : aside <= std::max(radius_, limits_.offGround) && above <= limits_.offGround;
  if (beside || !under.valid()) return {near, glm::distance(near.position, m.at), beside};
  return {under, off, false};
}

double BodyReview::wallDistance(const Vec3& at, const Standing& standing, double most) const {
  const double beside = glm::distance(plan(standing.place.position), plan(at));
  if (beside > 1e-6) return std::max(0.0, agent().radius - beside);
  if (most <= agent().radius) return most;
  nav::borderAround(ground_.mesh, standing.place, most - agent().radius, nullptr, border_);
  double nearest = most - agent().radius;
  for (const nav::BorderEdge& e : border_) nearest = std::min(nearest, distanceToSegment(e.a, e.b, plan(at)));
  return agent().radius + nearest;
}

void BodyReview::lookAtGround(const Span& span) {
  std::vector<Standing> standing;
  for (std::size_t i = span.first; i <= span.last; ++i) standing.push_back(standingAt(moment(i)));
  const auto of = [&](std::size_t i) -> const Standing& { return standing[i - span.first]; };
  Event touch, forbidden;
  std::uint16_t kind = 0;
  double free = moment(span.first).t - kOffLink;  // s until when it is just off a link, whose ends may lie at a wall or an edge
  const auto tellTouch = [&] {
    const Event e = std::exchange(touch, {});
    if (e.open && !toldBetween(e.begin - track_.interval, e.last + track_.interval, {"through-wall"})) tellTouched(e);
  };
  for (std::size_t i = span.first; i <= span.last; ++i) {
    const Moment& m = moment(i);
    if (touch.over(m.t)) tellTouch();
    if (forbidden.over(m.t)) tellForbidden(std::exchange(forbidden, {}), kind);
    if (!of(i).on) {
      std::size_t last = i;
      for (std::size_t k = i + 1; k <= span.last && moment(k).t - moment(last).t <= Event::kBreak; ++k)
        if (!of(k).on) last = k;
      if (tellExcursion(i, last, standing, span)) touch = {}, free = moment(last).t + kOffLink;
      i = last;
      continue;
    }
    if (i > span.first && of(i - 1).on && of(i - 1).place.face != of(i).place.face)
      (void)throughWall(of(i - 1).place, of(i).place, i - 1, i);
    const double missing = radius_ - wallDistance(m.at, of(i), radius_);
    if (missing > limits_.wallTouch && m.t > free) touch.add(m.t, missing, m.at);
    if (!mayBeOn(m, of(i).place))
      kind = ground_.mesh.area[index(of(i).place.face)], forbidden.add(m.t, m.t - (forbidden.open ? forbidden.begin : m.t), m.at);
  }
  tellTouch();
  tellForbidden(forbidden, kind);
  lookAtHeight(span, standing);
}

void BodyReview::lookAtHeight(const Span& span, const std::vector<Standing>& standing) {
  constexpr std::size_t kLookedAt = 12;  // moments of an event: looking at the level takes long
  if (!ground_.surface) return;
  const auto suspicious = [&](std::size_t i) {
    const Standing& s = standing[i - span.first];
    return s.on && s.off > limits_.floats && s.off <= limits_.offGround &&
           glm::distance(plan(s.place.position), plan(moment(i).at)) < kOver;
  };
  for (std::size_t i = span.first; i <= span.last; ++i) {
    if (!suspicious(i)) continue;
    std::vector<std::size_t> all;
    for (std::size_t k = i; k <= span.last && moment(k).t - moment(i).t <= Event::kBreak; ++k)
      if (suspicious(k)) all.push_back(i = k);
    Event e;
    std::size_t looked = 0, off = 0;
    bool above = false;
    for (std::size_t k = 0; k < all.size(); k += std::max<std::size_t>(1, all.size() / kLookedAt), ++looked) {
      const Moment& m = moment(all[k]);
      const auto surface = ground_.surface(m.at, radius_);
      const double by = surface ? m.at.y - surface->height : 0;
      if (std::abs(by) <= limits_.floats) continue;
      ++off;
      if (!e.open || std::abs(by) > e.worst) above = by > 0;
      e.add(m.t, std::abs(by), m.at);
    }
    if (!e.open || off * 2 < looked) continue;
    e.begin = moment(all.front()).t, e.last = moment(all.back()).t;
    // On its way up to where it is told, and down again.
    if (toldBetween(e.begin - Event::kBreak, e.last + Event::kBreak, {"left-ground", "through-wall"})) continue;
    add("left-ground", Severity::error, e, limits_.floats,
        above ? text("Agent %d floats %.2f m above the level for %.1f s.", body().id, e.worst, e.seconds())
              : text("Agent %d sinks %.2f m into the level for %.1f s.", body().id, e.worst, e.seconds()),
        "Its height is not that of what lies under it: perhaps its places are not those of its feet.",
        "the height of its origin, or how it is put on the ground.");
  }
}

/// Ways run along the border of forbidden ground.
bool BodyReview::mayBeOn(const Moment& m, const nav::Place& place) const {
  if (!ground_.field || ground_.field->passable(place.face)) return true;
  for (const Vec3& by : kAround)
    if (const nav::Place under = ground_.locator.under(m.at + by, kStorey); under.valid() && ground_.field->passable(under.face))
      return true;
  return false;
}

void BodyReview::tellTouched(const Event& e) {
  const bool wide = radius_ > agent().radius + limits_.wallTouch;
  add("wall-touched", Severity::error, e, limits_.wallTouch,
      text("Agent %d is %.2f m inside a wall's clearance: %.2f m from it with radius %.2f m.", body().id, e.worst, radius_ - e.worst,
           radius_),
      wide ? text("Its ground was built for a radius of %.2f m.", agent().radius)
           : "It left its path or was pushed: the ground ends its radius before the wall.",
      wide ? "building the mesh for this radius." : "looking at what moved it at this time.");
}

void BodyReview::tellForbidden(const Event& e, std::uint16_t kind) {
  if (!e.open) return;
  add("on-forbidden", Severity::error, e, 0,
      text("Agent %d is on %s for %.1f s, where %s may not walk.", body().id, ground_.mesh.kinds[kind].name.c_str(), e.seconds(),
           agent().name.c_str()),
      "Its rules forbid this kind of ground.", "another rule, or looking at who sent it there.");
}

bool BodyReview::tellExcursion(std::size_t first, std::size_t last, const std::vector<Standing>& standing, const Span& span) {
  const auto of = [&](std::size_t i) -> const Standing& { return standing[i - span.first]; };
  if (first > span.first && last < span.last) {
    const Moment &before = moment(first - 1), &after = moment(last + 1);
    if (crossed(before, after)) return true;
    if (throughWall(of(first - 1).place, of(last + 1).place, first - 1, last + 1)) return false;
  }
  Event e;
  std::size_t worst = first;
  for (std::size_t i = first; i <= last; ++i) {
    if (!of(i).on && (!e.open || of(i).off > e.worst)) worst = i;
    e.add(moment(i).t, of(i).on ? 0 : of(i).off, moment(i).at);
  }
  const nav::Place& ground = of(worst).place;
  const bool over = ground.valid() && glm::distance(plan(ground.position), plan(moment(worst).at)) < kOver;
  const bool above = over && moment(worst).at.y > ground.position.y;
  const auto surface = ground_.surface ? ground_.surface(moment(worst).at, radius_) : std::nullopt;
  const bool stands = surface && std::abs(surface->height - moment(worst).at.y) < kStandsOn;
  add("left-ground", Severity::error, e, limits_.offGround,
      !over   ? text("Agent %d left the ground by %.2f m for %.1f s.", body().id, e.worst, e.seconds())
      : above ? text("Agent %d floats %.2f m above the ground for %.1f s.", body().id, e.worst, e.seconds())
              : text("Agent %d is %.2f m under the ground for %.1f s.", body().id, e.worst, e.seconds()),
      stands ? text("It stands on %s, where there is no ground for %s.", surface->object.c_str(), agent().name.c_str())
      : over ? "Its height is not that of the ground under it: perhaps its places are not those of its feet."
             : "There is no ground for it there: it was pushed or moved off the mesh, or its way is no link that the mesh knows.",
      stands ? "asking why there is no ground there, or looking at how it got there."
      : over ? "the height of its origin, or looking at what moved it."
             : "looking at what moved it at this time, or a link.");
  return false;
}

/// Whether a border that is crossed one way lies between two places.
bool BodyReview::overBorder(const Vec3& from, const Vec3& to) const {
  const Vec3 middle = (from + to) * 0.5;
  const double near = glm::distance(from, to) / 2 + 2 * nav::kOverBorder;
  return std::ranges::any_of(ground_.mesh.links, [&](const nav::Link& l) {
    return nav::isOneWayBorder(l) && glm::distance(nav::nearestOnStretch(l.from, l.fromHalf, middle), middle) <= near;
  });
}

bool BodyReview::throughWall(const nav::Place& in, const nav::Place& out, std::size_t first, std::size_t last) {
  if (!ground_.field || !in.valid() || !out.valid()) return false;
  const nav::Ray ray = nav::castRay(ground_.mesh, in, plan(out.position));
  if (ray.reached && std::abs(ray.end.position.y - out.position.y) < kStorey) return false;
  const auto way = bestWay(in.position, out.position);
  const double straight = glm::distance(in.position, out.position);
  if (way && way->length <= straight * kCorner + std::max(kCornerMore, 2 * radius_)) return false;
  if (overBorder(in.position, out.position) && crossed(moment(first), moment(last))) return false;
  const Event e = Event::lasting(moment(first).t, moment(last).t, straight, (moment(first).at + moment(last).at) * 0.5);
  const std::string object = ground_.between ? ground_.between(in.position, out.position) : std::string();
  const std::string around = way ? text("the way around is %.1f m", way->length) : std::string("there is no way around");
  add("through-wall", Severity::error, e, 0,
      text("Agent %d went %.2f m through %s, in at %.2f, %.2f and out at %.2f, %.2f: %s.", body().id, straight,
           object.empty() ? "what is no ground" : object.c_str(), in.position.x, in.position.z, out.position.x, out.position.z,
           around.c_str()),
      "What moved it did not stop at the end of the ground.",
      "looking at what moved it at this time, or a link if there is a way through.");
  return true;
}

}  // namespace dune::review
