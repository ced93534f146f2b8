#include "core/ground/standing.h"

#include <algorithm>
#include <limits>

#include "core/ground/tuning.h"

namespace dune::ground {

Standing::Standing(const Soup& soup, const level::World& world, const nav::Agent& agent)
    : soup_(soup), world_(world), agent_(agent), maxSlope_(radians(agent.maxSlope) + tuning::kLimitSlack) {}

void Standing::stackAt(const Vec2& q, Stack& stack) const {
  stack.clear();
  for (const std::uint32_t i : soup_.above().at(q)) {
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
  stackAt(q, stack);
  column(stack, q, out);
  for (Surface& s : out) judge(s, q, out);
}

double Standing::nearest(const Vec2& q, double y, double reach) const {
  thread_local Stack stack;  // asked many thousand times a build
  stackAt(q, stack);
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
bool Standing::mayStand(const Surface& s, const Vec2& q, const std::vector<Surface>& column) const {
  if (!walkable(soup_.triangles()[s.triangle])) return false;
  if (world_.bounds && !world_.bounds->contains(lift(q, s.y))) return false;
  for (const Surface& above : column)
    if (const double room = above.y - s.y; room > tuning::kSameHeight && room < agent_.height - tuning::kLimitSlack) return false;
  return !cutter(s, column) && !solidAround(s, column);
}

bool Standing::stands(const Vec2& q, std::uint32_t triangle) const {
  thread_local Stack stack;
  thread_local std::vector<Surface> all;
  stackAt(q, stack), heights(stack, q, all);
  const auto own = std::ranges::find(all, triangle, &Surface::triangle);
  return own != all.end() && mayStand(*own, q, all);
}

bool Standing::standsButForSlope(const Vec2& q, std::uint32_t triangle) const {
  thread_local Stack stack;
  thread_local std::vector<Surface> all;
  stackAt(q, stack), column(stack, q, all);
  const auto own = std::ranges::find(all, triangle, &Surface::triangle);
  if (own == all.end()) return false;
  bool may = true;
  eachReason(*own, q, all, [&](Reason reason, double, std::uint32_t) {
    may &= reason == Reason::tooSteep;
    return !may;
  });
  return may;
}

void Standing::standable(const Vec2& q, std::vector<Surface>& out) const {
  surfaces(q, out);
  std::erase_if(out, [](const Surface& s) { return s.reason != Reason::none; });
  // Copies of one floor, and triangles that meet under q, count once.
  auto same = [](const Surface& a, const Surface& b) { return b.y - a.y <= tuning::kSameHeight; };
  out.erase(std::unique(out.begin(), out.end(), same), out.end());
}

/// Parity decides: a point is inside a closed piece when an odd number of its triangles lies above. Columns are short.
const Surface* Standing::solidAround(const Surface& s, const std::vector<Surface>& column) const {
  struct Crossed {
    std::int64_t solid;
    const Surface* first;
    bool odd;
  };
  thread_local std::vector<Crossed> crossed;
  crossed.clear();
  for (const Surface& above : column) {
    if (!above.owned || above.y - s.y <= tuning::kSameHeight) continue;
    const std::int64_t solid = soup_.solidOf(above.triangle);
    if (solid < 0) continue;
    const auto known = std::ranges::find(crossed, solid, &Crossed::solid);
    if (known != crossed.end())
      known->odd = !known->odd;
    else
      crossed.push_back({solid, &above, true});
  }
  const auto around = std::ranges::find(crossed, true, &Crossed::odd);
  return around == crossed.end() ? nullptr : around->first;
}

const Surface* Standing::cutter(const Surface& s, const std::vector<Surface>& column) const {
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
