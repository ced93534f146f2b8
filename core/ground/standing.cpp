#include "core/ground/standing.h"

#include <algorithm>
#include <limits>

#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr Interval kAllHeights{-std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};

}  // namespace

Standing::Standing(const Soup& soup, const level::World& world, const nav::Agent& agent)
    : soup_(soup), world_(world), agent_(agent), maxSlope_(radians(agent.maxSlope) + tuning::kLimitSlack) {}

void Standing::stackAt(const Vec2& q, const Interval& heights, Stack& stack) const {
  stack.clear();
  const double from = heights.from - tuning::kCutBelow, to = heights.to + agent_.height;
  thread_local std::vector<std::uint32_t> many;
  for (const std::uint32_t i : soup_.over(q, {from, to}, many)) {
    if (const Interval& own = soup_.matters(i); own.to < from || own.from > to) continue;
    bool onEdge = false;
    if (soup_.covers(i, q, onEdge)) stack.push_back({i, !onEdge || soup_.triangles()[i].owns(q)});
  }
}

void Standing::heights(const Stack& stack, const Vec2& q, std::vector<Surface>& out) const {
  out.clear();
  for (const Over& over : stack)
    out.push_back({soup_.triangles()[over.triangle].heightAt(q), over.triangle, Reason::none, 0, 0, over.owned});
}

void Standing::column(const Stack& stack, const Vec2& q, std::vector<Surface>& out) const {
  heights(stack, q, out);
  std::sort(out.begin(), out.end(),
            [](const Surface& a, const Surface& b) { return a.y < b.y || (a.y == b.y && a.triangle < b.triangle); });
}

void Standing::surfaces(const Vec2& q, std::vector<Surface>& out) const {
  thread_local Stack stack;
  stackAt(q, kAllHeights, stack);
  column(stack, q, out);
  for (Surface& s : out) judge(s, q, out);
}

double Standing::nearest(const Vec2& q, double y, double reach) const {
  thread_local Stack stack;  // asked many thousand times a build
  stackAt(q, {y - reach, y + reach}, stack);
  return nearest(stack, q, y, reach);
}

double Standing::nearest(const Stack& stack, const Vec2& q, double y, double reach) const {
  const auto surface = nearestSurface(stack, q, y, reach);
  return surface ? surface->y : std::numeric_limits<double>::quiet_NaN();
}

std::optional<Surface> Standing::nearestSurface(const Stack& stack, const Vec2& q, double y, double reach) const {
  std::optional<Surface> best;
  const auto& triangles = soup_.triangles();
  const auto candidate = [&](const Over& o) {
    return std::abs(triangles[o.triangle].heightAt(q) - y) <= reach && walkable(triangles[o.triangle]);
  };
  if (std::ranges::none_of(stack, candidate)) return best;
  thread_local std::vector<Surface> all;
  heights(stack, q, all);
  for (const Surface& s : all) {
    const double off = std::abs(s.y - y);
    if (off > reach || (best && (off > std::abs(best->y - y) || (off == std::abs(best->y - y) && s.triangle > best->triangle)))) continue;
    if (mayStand(s, q, all)) best = s;
  }
  return best;
}

/// The same as judge() finding no reason, in the order in which most are told apart; the column need not be sorted.
bool Standing::mayStand(const Surface& s, const Vec2& q, const std::vector<Surface>& column, std::uint32_t* over) const {
  if (!walkable(soup_.triangles()[s.triangle])) return false;
  if (world_.bounds && !world_.bounds->contains(lift(q, s.y))) return false;
  for (const Surface& above : column)
    if (tooLow(above.y - s.y)) {
      if (over) *over = above.triangle;
      return false;
    }
  return !cutter(s, column) && !solidAround(s, column);
}

bool Standing::tooLow(double room) const { return room > tuning::kSameHeight && room < agent_.height - tuning::kLimitSlack; }

bool Standing::stands(const Vec2& q, std::uint32_t triangle) const {
  std::uint32_t over = kNothing;
  return stands(q, triangle, over);
}

bool Standing::stands(const Vec2& q, std::uint32_t triangle, std::uint32_t& over) const {
  thread_local Stack stack;
  thread_local std::vector<Surface> all;
  const double y = soup_.triangles()[triangle].heightAt(q);
  bool onEdge = false;
  if (over != kNothing && soup_.covers(over, q, onEdge) && tooLow(soup_.triangles()[over].heightAt(q) - y) &&
      soup_.covers(triangle, q, onEdge))
    return false;
  stackAt(q, {y, y}, stack), heights(stack, q, all);
  const auto own = std::ranges::find(all, triangle, &Surface::triangle);
  return own != all.end() && mayStand(*own, q, all, &over);
}

bool Standing::standsButForSlope(const Vec2& q, std::uint32_t triangle) const {
  thread_local Stack stack;
  thread_local std::vector<Surface> all;
  const double y = soup_.triangles()[triangle].heightAt(q);
  stackAt(q, {y, y}, stack), column(stack, q, all);
  const auto own = std::ranges::find(all, triangle, &Surface::triangle);
  if (own == all.end()) return false;
  bool may = true;
  eachReason(*own, q, all, [&](Reason reason, double, std::uint32_t) {
    may &= reason == Reason::tooSteep;
    return !may;
  });
  return may;
}

void Standing::standable(const Vec2& q, std::vector<Surface>& out) const { standable(q, kAllHeights, out); }

/// From high to low, with the solids in hand that a place is in: columns of a tower are long.
void Standing::standable(const Vec2& q, const Interval& range, std::vector<Surface>& out) const {
  out.clear();
  thread_local Stack stack;
  thread_local std::vector<Surface> all;
  stackAt(q, range, stack);
  const auto& triangles = soup_.triangles();
  const auto candidate = [&](const Surface& s) {
    return s.y >= range.from && s.y <= range.to && walkable(triangles[s.triangle]) &&
           (!world_.bounds || world_.bounds->contains(lift(q, s.y)));
  };
  column(stack, q, all);
  Crossings crossed;
  std::size_t above = all.size();  // the lowest that lies above
  for (std::size_t i = all.size(); i-- > 0;) {
    const Surface& s = all[i];
    if (s.y < range.from) break;
    for (; above > 0 && all[above - 1].y - s.y > tuning::kSameHeight; --above) crossed.add(all[above - 1], soup_);
    if (!candidate(s) || crossed.inside() || cutter(s, all)) continue;
    if (above == all.size() || all[above].y - s.y >= agent_.height - tuning::kLimitSlack) out.push_back(s);
  }
  std::ranges::reverse(out);
  // Copies of one floor, and triangles that meet under q, count once.
  auto same = [](const Surface& a, const Surface& b) { return b.y - a.y <= tuning::kSameHeight; };
  out.erase(std::unique(out.begin(), out.end(), same), out.end());
}

void Standing::Crossings::add(const Surface& s, const Soup& soup) {
  if (!s.owned) return;
  const std::int64_t solid = soup.solidOf(s.triangle);
  if (solid < 0) return;
  const auto known = std::ranges::find(in_, solid);
  if (known != in_.end())
    in_.erase(known);
  else
    in_.push_back(solid);
}

/// Parity decides: a point is inside a closed piece when an odd number of its triangles lies above.
const Surface* Standing::solidAround(const Surface& s, const std::vector<Surface>& column) const {
  if (!soup_.hasSolids()) return nullptr;
  thread_local Crossings crossed;
  crossed.clear();
  for (const Surface& above : column)
    if (above.y - s.y > tuning::kSameHeight) crossed.add(above, soup_);
  if (!crossed.inside()) return nullptr;
  // The first that lies above of the solid that was met first.
  for (const Surface& above : column)
    if (above.owned && above.y - s.y > tuning::kSameHeight && crossed.inside(soup_.solidOf(above.triangle))) return &above;
  return nullptr;
}

const Surface* Standing::cutter(const Surface& s, const std::vector<Surface>& column) const {
  if (!soup_.cuts()) return nullptr;
  for (const Surface& other : column)
    if (soup_.triangles()[other.triangle].role == level::Role::cuts && other.y > s.y - tuning::kCutBelow && other.y < s.y + agent_.height)
      return &other;
  return nullptr;
}

template <class Visit>
void Standing::eachReason(const Surface& s, const Vec2& q, const std::vector<Surface>& column, Visit&& visit) const {
  const auto& triangles = soup_.triangles();
  const Triangle& t = triangles[s.triangle];
  if (t.role != level::Role::ground && visit(Reason::notGround, 0.0, s.triangle)) return;
  if (world_.bounds && !world_.bounds->contains(lift(q, s.y)) && visit(Reason::outsideBounds, 0.0, s.triangle)) return;
  if (t.slope > maxSlope_ && visit(Reason::tooSteep, degrees(t.slope), s.triangle)) return;
  const Surface* shell = t.underside ? &s : solidAround(s, column);
  if (shell && visit(Reason::insideSolid, 0.0, shell->triangle)) return;
  const Surface* over = cutter(s, column);
  if (over && visit(Reason::cut, 0.0, over->triangle)) return;
  if (shell) return;  // within a solid its own shell is what is overhead
  for (const Surface& above : column) {
    const double room = above.y - s.y;
    if (room <= tuning::kSameHeight) continue;
    if (room < agent_.height - tuning::kLimitSlack) visit(Reason::headroom, room, above.triangle);
    return;  // the next surface up is the nearest
  }
}

void Standing::judge(Surface& s, const Vec2& q, const std::vector<Surface>& column) const {
  eachReason(s, q, column, [&](Reason reason, double measured, std::uint32_t by) {
    s.reason = reason, s.measured = measured, s.by = by;
    return true;
  });
}

std::vector<Surface> Standing::allReasons(const Vec2& q, const Surface& surface) const {
  std::vector<Surface> column, reasons;
  surfaces(q, column);
  eachReason(surface, q, column, [&](Reason reason, double measured, std::uint32_t by) {
    Surface s = surface;
    s.reason = reason, s.measured = measured, s.by = by;
    reasons.push_back(s);
    return false;
  });
  return reasons;
}

}  // namespace dune::ground
