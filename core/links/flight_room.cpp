#include "core/links/flight_room.h"

#include <algorithm>
#include <array>

namespace dune::links {

namespace {

constexpr double kThinner = 0.01;  // m that the body is thinner than it is: its ends stand at just its radius from walls
constexpr double kFeet = 0.02;     // m over the feet that count as ground in mid-flight
constexpr double kStep = 0.1;      // m of a part of a flight

/// Corners of a triangle cut between two heights, seen from above; in turn around it.
struct Seen {
  std::array<Vec2, 8> corner;
  std::size_t count = 0;
};

/// Cuts from corner to corner: what lies between stays, and where an edge passes one of the heights it is cut.
Seen between(const ground::Triangle& t, const Interval& heights) {
  Seen seen;
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 &p = t.p[i], &q = t.p[(i + 1) % 3];
    if (p.y >= heights.from && p.y <= heights.to) seen.corner[seen.count++] = plan(p);
    const bool up = p.y < q.y;
    for (const double y : {up ? heights.from : heights.to, up ? heights.to : heights.from})
      if ((p.y < y) != (q.y < y) && p.y != y && q.y != y) seen.corner[seen.count++] = plan(glm::mix(p, q, (y - p.y) / (q.y - p.y)));
  }
  return seen;
}

bool across(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  return cross(b - a, c - a) * cross(b - a, d - a) < 0 && cross(d - c, a - c) * cross(d - c, b - c) < 0;
}

/// Whether a convex figure comes nearer to a segment than `radius`. Of two that do not meet the nearest points are at a corner of one of
/// them.
bool isNear(const Seen& seen, const Vec2& a, const Vec2& b, double radius) {
  bool left = seen.count > 2, right = left;  // of all its edges: then a lies in it
  for (std::size_t i = 0; i < seen.count; ++i) {
    const Vec2 &c = seen.corner[i], &d = seen.corner[(i + 1) % seen.count];
    if (distanceToSegment(a, b, c) < radius || distanceToSegment(c, d, a) < radius || distanceToSegment(c, d, b) < radius ||
        across(a, b, c, d))
      return true;
    const double side = cross(d - c, a - c);
    left = left && side > 0, right = right && side < 0;
  }
  return left || right;
}

}  // namespace

/// How far the ground about a place where one stands may rise within the radius: as it leans there.
double FlightRoom::riseAround(const Vec3& feet) {
  double rise = 0, least = agent_.stepHeight;
  for (const std::uint32_t n : soup_.over(plan(feet), {feet.y - least, feet.y + least}, over_)) {
    const ground::Triangle& t = soup_.triangles()[n];
    if (t.upright || !t.covers(plan(feet)) || t.slope > radians(agent_.maxSlope)) continue;
    const double off = std::abs(t.heightAt(plan(feet)) - feet.y);
    if (off < least) least = off, rise = agent_.radius * std::tan(t.slope);
  }
  return rise;
}

void FlightRoom::divide(nav::LinkKind kind, const Vec3& from, const Vec3& to) {
  const struct End {
    Vec3 feet;
    double rise;
  } ends[] = {{from, riseAround(from)}, {to, riseAround(to)}};
  // How high the body begins: what it stands on or lands on may be under that.
  const auto bottom = [&](const Vec3& feet) {
    double y = feet.y + kFeet;
    for (const End& e : ends)
      if (glm::distance(plan(feet), plan(e.feet)) < 2 * agent_.radius + kStep)
        y = std::max(y, std::min(feet.y, e.feet.y) + agent_.stepHeight + e.rise);
    return y;
  };
  const std::vector<Vec3> flight = nav::flight(kind, from, to, agent_.radius);
  parts_.clear();
  for (std::size_t leg = 0; leg + 1 < flight.size(); ++leg) {
    const Vec3 &a = flight[leg], &b = flight[leg + 1];
    const int count = std::max(1, static_cast<int>(std::ceil(glm::distance(a, b) / kStep)));
    for (int i = 0; i < count; ++i) {
      const Vec3 p = glm::mix(a, b, static_cast<double>(i) / count), q = glm::mix(a, b, static_cast<double>(i + 1) / count);
      parts_.push_back({plan(p), plan(q), {std::min(bottom(p), bottom(q)), std::max(p.y, q.y) + agent_.height}});
    }
  }
}

bool FlightRoom::meets(std::uint32_t triangle) const {
  const ground::Triangle& t = soup_.triangles()[triangle];
  const Interval heights = t.heights();
  const Box2 box = t.box().grown(agent_.radius);
  for (const Part& part : parts_) {
    if (heights.to < part.body.from || heights.from > part.body.to) continue;
    Box2 way;
    way.add(part.a), way.add(part.b);
    if (box.overlaps(way) && isNear(between(t, part.body), part.a, part.b, agent_.radius - kThinner)) return true;
  }
  return false;
}

std::optional<std::uint32_t> FlightRoom::inTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to) {
  divide(kind, from, to);
  if (last_ && meets(*last_)) return soup_.triangles()[*last_].object;
  Interval all = parts_[0].body;
  for (const Part& p : parts_) all = {std::min(all.from, p.body.from), std::max(all.to, p.body.to)};
  near_.clear();
  soup_.along(plan(from), plan(to), agent_.radius, all, near_);
  for (const std::uint32_t n : near_)
    if (meets(n)) {
      last_ = n;
      return soup_.triangles()[n].object;
    }
  return std::nullopt;
}

}  // namespace dune::links
