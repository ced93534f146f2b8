#include "core/links/flight_room.h"

#include <algorithm>
#include <array>

namespace dune::links {

namespace {

constexpr double kThinner = 0.01;        // m that the body is thinner than it is: its ends stand at just its radius from walls
constexpr double kFeet = 0.02;           // m over the feet that count as ground in mid-flight
constexpr double kStep = 0.1;            // m of a part of a flight
constexpr std::ptrdiff_t kTogether = 5;  // parts that are looked at as one first

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
    if ((p.y < heights.from && q.y < heights.from) || (p.y > heights.to && q.y > heights.to)) continue;
    for (const double y : {up ? heights.from : heights.to, up ? heights.to : heights.from})
      if ((p.y < y) != (q.y < y) && p.y != y && q.y != y) seen.corner[seen.count++] = plan(glm::mix(p, q, (y - p.y) / (q.y - p.y)));
  }
  return seen;
}

bool across(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  return cross(b - a, c - a) * cross(b - a, d - a) < 0 && cross(d - c, a - c) * cross(d - c, b - c) < 0;
}

/// Whether all of it lies farther than `radius` to one side of a segment's line, or beyond one of its ends.
bool isBeside(const Seen& seen, const Vec2& a, const Vec2& b, double radius) {
  const Vec2 line = b - a;
  const double length = glm::length(line), reach = radius * length, end = length * length + reach;
  bool left = true, right = true, before = true, behind = true;
  for (std::size_t i = 0; i < seen.count; ++i) {
    const Vec2 off = seen.corner[i] - a;
    const double aside = cross(line, off), ahead = glm::dot(line, off);
    left = left && aside > reach, right = right && aside < -reach;
    before = before && ahead < -reach, behind = behind && ahead > end;
  }
  return length > 0 && (left || right || before || behind);
}

/// Whether a convex figure comes nearer to a segment than `radius`. Of two that do not meet the nearest points are at a corner of one of
/// them.
bool isNear(const Seen& seen, const Vec2& a, const Vec2& b, double radius) {
  if (isBeside(seen, a, b, radius)) return false;
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

/// Calls visit(part) for all in turn, until it returns false.
template <class Visit>
void FlightRoom::divide(nav::LinkKind kind, const Vec3& from, const Vec3& to, Visit&& visit) {
  if (!(begun_.feet == from)) begun_ = {from, riseAround(from)};  // many flights begin at one place
  std::optional<double> landing;                                  // how far the ground rises there: often something is in the way before
  const double beside = 2 * agent_.radius + kStep, square = beside * beside;
  const auto isBeside = [&](const Vec2& feet, const Vec3& end) { return glm::dot(feet - plan(end), feet - plan(end)) < square; };
  // How high the body begins: what it stands on or lands on may be under that.
  const auto bottom = [&](const Vec3& feet) {
    double y = feet.y + kFeet;
    if (isBeside(plan(feet), from)) y = std::max(y, std::min(feet.y, from.y) + agent_.stepHeight + begun_.rise);
    if (!isBeside(plan(feet), to)) return y;
    if (!landing) landing = riseAround(to);
    return std::max(y, std::min(feet.y, to.y) + agent_.stepHeight + *landing);
  };
  nav::flight(kind, from, to, agent_.radius, flight_);
  for (std::size_t leg = 0; leg + 1 < flight_.size(); ++leg) {
    const Vec3 &a = flight_[leg], &b = flight_[leg + 1];
    const int count = std::max(1, static_cast<int>(std::ceil(glm::distance(a, b) / kStep)));
    const bool upright = plan(a) == plan(b);  // then its parts are one over the other
    std::optional<Part> whole;
    Vec3 p = a;
    double low = bottom(p);
    for (int i = 0; i < count; ++i) {
      const Vec3 q = glm::mix(a, b, static_cast<double>(i + 1) / count);
      const double next = bottom(q);
      const Part part{plan(p), plan(q), {std::min(low, next), std::max(p.y, q.y) + agent_.height}};
      p = q, low = next;
      if (!upright && !visit(part)) return;
      if (upright && !whole) whole = part;
      if (upright) whole->body = {std::min(whole->body.from, part.body.from), std::max(whole->body.to, part.body.to)};
    }
    if (whole && !visit(*whole)) return;
  }
}

FlightRoom::Blocker FlightRoom::blocker(std::uint32_t number) const {
  const ground::Triangle& t = soup_.triangles()[number];
  return {&t, t.box().grown(agent_.radius), t.heights()};
}

bool FlightRoom::meets(const Blocker& b, const Part& part) const {
  if (b.heights.to < part.body.from || b.heights.from > part.body.to) return false;
  Box2 way;
  way.add(part.a), way.add(part.b);
  return b.box.overlaps(way) && isNear(between(*b.triangle, part.body), part.a, part.b, agent_.radius - kThinner);
}

/// One that holds some that follow each other: what it does not meet none of them does.
FlightRoom::Part FlightRoom::together(std::vector<Part>::const_iterator from, std::vector<Part>::const_iterator to) {
  Part all{from->a, (to - 1)->b, from->body};
  for (; from != to; ++from) all.body = {std::min(all.body.from, from->body.from), std::max(all.body.to, from->body.to)};
  return all;
}

/// Beside which metres of the flight, seen from above, a triangle lies; nothing where it is farther away than the radius.
std::optional<Interval> FlightRoom::beside(const Blocker& b) const {
  Interval along{INFINITY, -INFINITY}, aside = along;
  for (const Vec3& p : b.triangle->p) {
    const Vec2 off = plan(p) - start_;
    const double ahead = glm::dot(off, direction_), left = cross(direction_, off);
    along = {std::min(along.from, ahead), std::max(along.to, ahead)}, aside = {std::min(aside.from, left), std::max(aside.to, left)};
  }
  const double reach = agent_.radius + kThinner;
  if (aside.from > reach || aside.to < -reach || along.from > length_ + reach || along.to < -reach) return std::nullopt;
  return Interval{along.from - reach, along.to + reach};
}

/// Only the parts beside which the triangle lies are looked at.
bool FlightRoom::meets(const Blocker& b) const {
  const auto along = beside(b);
  if (!along) return false;
  const auto ahead = [&](const Vec2& p) { return glm::dot(p - start_, direction_); };
  const auto before = [&](const Part& part, double least) { return ahead(part.b) < least; };
  const auto first = std::lower_bound(parts_.begin(), parts_.end(), along->from, before);
  for (auto some = first; some != parts_.end() && ahead(some->a) <= along->to;) {
    const auto end = some + std::min<std::ptrdiff_t>(kTogether, parts_.end() - some);
    if (meets(b, together(some, end)) && std::any_of(some, end, [&](const Part& part) { return meets(b, part); })) return true;
    some = end;
  }
  return false;
}

void FlightRoom::takeLine(const Vec3& from, const Vec3& to) {
  divided_ = {};
  start_ = plan(from), length_ = glm::distance(start_, plan(to));
  direction_ = length_ > 0 ? (plan(to) - start_) / length_ : Vec2{1, 0};
}

/// Divides the flight along the line that was taken, but stops where it meets what was in the way last; whether it did.
bool FlightRoom::divideUntilLast(const Asked& flight) {
  parts_.clear();
  bool met = false;
  divide(flight.kind, flight.from, flight.to, [&](const Part& part) {
    parts_.push_back(part);
    met = last_ && meets(*last_, part);
    return !met;
  });
  divided_ = met ? Asked{} : flight;
  return met;
}

bool FlightRoom::sameInTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to) {
  takeLine(from, to);
  return last_ && beside(*last_) && divideUntilLast({kind, from, to});
}

std::optional<std::uint32_t> FlightRoom::inTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to) {
  const Asked flight{kind, from, to};
  if (divided_ != flight) {
    takeLine(from, to);
    if (divideUntilLast(flight)) return last_->triangle->object;
  }
  Interval all = parts_[0].body;
  for (const Part& p : parts_) all = {std::min(all.from, p.body.from), std::max(all.to, p.body.to)};
  near_.clear();
  soup_.along(plan(from), plan(to), agent_.radius, all, near_);
  for (const std::uint32_t n : near_)
    if (const Blocker b = blocker(n); meets(b)) {
      last_ = b;
      return b.triangle->object;
    }
  return std::nullopt;
}

}  // namespace dune::links
