#include "core/ground/follow.h"

#include <algorithm>

#include "core/ground/line_split.h"
#include "core/ground/tuning.h"

namespace dune::ground {

bool isSameStorey(const Standing& standing, const Vec2& q, double found, double known) {
  const double apart = storeysApart(standing.agent());
  if (std::abs(found - known) < apart) return true;
  for (const double far : {tuning::kBesideCrack, standing.world().joinDistance})  // beside a crack, and beside where wider ones meet
    for (const Vec2& aside : {Vec2{far, 0}, Vec2{-far, 0}, Vec2{0, far}, Vec2{0, -far}})
      if (!std::isnan(standing.nearest(q + aside, known, std::abs(found - known) - 0.5 * apart))) return false;
  return true;
}

namespace {

constexpr double kLevel = 1e-3;  // rad

/// The height at the end of a line that stays on one level triangle, with nothing over it on its way: most do in buildings. A floor may go
/// on below a ramp that the ground has climbed on to, and be ground again farther on; then nothing is said. Where ground slants it seldom
/// has another storey, and what follows is as quick.
std::optional<double> staysOn(const Standing& standing, const Vec2& from, const Followed& start, const Vec2& to) {
  const Soup& soup = standing.soup();
  const Triangle& own = soup.triangles()[start.triangle];
  bool onEdge = false;
  if (own.slope > kLevel || !soup.covers(start.triangle, to, onEdge)) return std::nullopt;
  const double y = own.heightAt(to), high = std::max(start.y, y);
  if (std::isnan(standing.nearest(to, y, tuning::kSameHeight))) return std::nullopt;
  thread_local std::vector<std::uint32_t> near;
  soup.along(from, to, tuning::kLeastEnd, {high + tuning::kSameHeight, high + standing.agent().height}, near);
  return near.empty() ? std::optional(y) : std::nullopt;
}

}  // namespace

Followed follow(const Standing& standing, const Vec2& from, const Followed& start, const Vec2& to) {
  if (const auto y = staysOn(standing, from, start, to)) return {*y, start.triangle};
  const auto& triangles = standing.soup().triangles();
  const double reach = standing.agent().stepHeight + 0.02;
  Followed now = start;
  // Along the way the ground can climb by no more than the steepest slope and a step at a time; twice that is generous.
  const double climb = 2 * (glm::distance(from, to) * std::max(1.0, steepestRise(standing.agent())) + reach);
  // Where there is one ground only, it is the one, for the ground between both places does not end; unless it is the storey below, and
  // the place lies a hair beside this one.
  thread_local std::vector<Surface> column;
  const Interval within{start.y - climb, start.y + climb};
  standing.standable(to, within, column);
  if (column.size() == 1 && std::abs(column[0].y - start.y) <= climb / 2 && isSameStorey(standing, to, column[0].y, start.y))
    return {column[0].y, column[0].triangle};
  const auto splits = splitParameters(standing.soup(), from, to, 0, tuning::kLeastEnd, {within.from, within.to + standing.agent().height});
  for (std::size_t i = 0; i + 1 < splits.size(); ++i) {
    const Vec2 begin = glm::mix(from, to, splits[i]), end = glm::mix(from, to, splits[i + 1]);
    standing.standable((begin + end) * 0.5, within, column);
    const Surface* best = nullptr;
    double bestRise = reach;
    for (const Surface& s : column)
      if (const double rise = std::abs(triangles[s.triangle].heightAt(begin) - now.y); rise <= bestRise) best = &s, bestRise = rise;
    if (best) now = {triangles[best->triangle].heightAt(end), best->triangle};
  }
  return now;
}

}  // namespace dune::ground
