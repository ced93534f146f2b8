#include "core/links/flight_room.h"

#include <algorithm>

namespace dune::links {

namespace {

constexpr double kThinner = 0.01;  // m that the body is thinner than it is: its ends stand at just its radius from walls
constexpr double kFeet = 0.02;     // m over the feet that count as ground in mid-flight
constexpr double kStep = 0.1;      // m between two looks

/// How near the part of a triangle between two heights comes to a segment of the plan; infinite where there is none.
double distanceOf(const ground::Triangle& t, const Interval& heights, const Vec2& a, const Vec2& b) {
  std::vector<Vec3> part(t.p.begin(), t.p.end());
  clipByPlane(part, {0, 1, 0}, heights.to);
  clipByPlane(part, {0, -1, 0}, -heights.from);
  if (part.empty()) return std::numeric_limits<double>::infinity();
  Polygon seen;
  for (const Vec3& p : part) seen.push_back(plan(p));
  const Polygon hull = convexHull(std::move(seen));
  // Of two convex figures that do not meet, the nearest points are at a corner of one of them.
  double least = std::min(glm::distance(nearestOnConvex(hull, a), a), glm::distance(nearestOnConvex(hull, b), b));
  for (std::size_t i = 0; i < hull.size(); ++i) {
    least = std::min(least, distanceToSegment(a, b, hull[i]));
    const Vec2 &c = hull[i], &d = hull[(i + 1) % hull.size()];
    if (cross(b - a, c - a) * cross(b - a, d - a) < 0 && cross(d - c, a - c) * cross(d - c, b - c) < 0) return 0;
  }
  return least;
}

}  // namespace

/// How far the ground about a place where one stands may rise within the radius: as it leans there.
double FlightRoom::riseAround(const Vec3& feet) const {
  double rise = 0, least = agent_.stepHeight;
  for (const std::uint32_t n : soup_.over(plan(feet), {feet.y - least, feet.y + least}, over_)) {
    const ground::Triangle& t = soup_.triangles()[n];
    if (t.upright || !t.covers(plan(feet)) || t.slope > radians(agent_.maxSlope)) continue;
    const double off = std::abs(t.heightAt(plan(feet)) - feet.y);
    if (off < least) least = off, rise = agent_.radius * std::tan(t.slope);
  }
  return rise;
}

std::optional<std::uint32_t> FlightRoom::inTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to) const {
  const std::vector<Vec3> flight = nav::flight(kind, from, to, agent_.radius);
  const struct End {
    Vec3 feet;
    double rise;
  } ends[] = {{from, riseAround(from)}, {to, riseAround(to)}};
  const double radius = agent_.radius - kThinner;
  Interval all{flight[0].y, flight[0].y};
  for (const Vec3& p : flight) all = {std::min(all.from, p.y), std::max(all.to, p.y)};
  const Vec2 start = plan(from), end = plan(to);
  near_.clear();
  soup_.along(start, end, radius, {all.from, all.to + agent_.height}, near_);
  // How high over its feet the body begins, where what it stands on or lands on may be under it.
  const auto bottom = [&](const Vec3& feet) {
    double y = feet.y + kFeet;
    for (const End& e : ends)
      if (glm::distance(plan(feet), plan(e.feet)) < 2 * agent_.radius + kStep)
        y = std::max(y, std::min(feet.y, e.feet.y) + agent_.stepHeight + e.rise);
    return y;
  };
  for (std::size_t leg = 0; leg + 1 < flight.size(); ++leg) {
    const Vec3 &a = flight[leg], &b = flight[leg + 1];
    const int looks = std::max(1, static_cast<int>(std::ceil(glm::distance(a, b) / kStep)));
    for (int i = 0; i < looks; ++i) {
      const Vec3 p = glm::mix(a, b, static_cast<double>(i) / looks), q = glm::mix(a, b, static_cast<double>(i + 1) / looks);
      const Interval body{std::min(bottom(p), bottom(q)), std::max(p.y, q.y) + agent_.height};
      for (const std::uint32_t n : near_) {
        const ground::Triangle& t = soup_.triangles()[n];
        const Interval heights = t.heights();
        if (heights.to < body.from || heights.from > body.to) continue;
        if (distanceOf(t, body, plan(p), plan(q)) < radius) return t.object;
      }
    }
  }
  return std::nullopt;
}

}  // namespace dune::links
