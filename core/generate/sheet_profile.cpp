#include "core/generate/sheet_profile.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/ground/line_split.h"

namespace dune::generate {

namespace {

constexpr double kLeastSplit = 0.01;  // m between places on a side where the ground may bend

}  // namespace

bool isNearStep(const LineGrid<ground::StepLine>& steps, const Vec2& q, double within) {
  bool near = false;
  steps.eachNear(Box2(q, q).grown(within), [&](const ground::StepLine& s) { near = near || distanceToSegment(s.a, s.b, q) < within; });
  return near;
}

/// Where the ground may bend under a line, from 0 to 1.
std::vector<double> SheetProfile::splitsOf(const Vec2& a, const Vec2& b, double least, const Interval& heights) const {
  std::vector<double> splits = ground::splitParameters(in_.standing.soup(), a, b, 0, least, heights);
  const std::size_t count = splits.size();
  Box2 box;
  box.add(a), box.add(b);
  constexpr double kOnEnd = 1e-6;  // of a crease
  in_.creases.eachNear(box.grown(kLatticeStep), [&](const Crease& c) {
    const auto t = crossingParameter(a, b, c.a, c.b), on = crossingParameter(c.a, c.b, a, b);
    if (t && on && *t > 0 && *t < 1 && *on >= -kOnEnd && *on <= 1 + kOnEnd) splits.push_back(*t);
  });
  return splits.size() == count ? splits : ground::keptApart(std::move(splits), glm::distance(a, b), least);
}

void SheetProfile::edge(const LatticePoint& from, const LatticePoint& to, std::vector<LatticePoint>& more) {
  const Vec2 a = toPlan(from), b = toPlan(to);
  const double length = glm::distance(a, b);
  if (length < 2 * tuning::kLeastApart) return;
  std::vector<Point> points{{from, heights_.at(a)}};
  const double rise = in_.standing.agent().height + length * heights_.steepest();
  for (const double t : splitsOf(a, b, tuning::kLeastApart, {points[0].y - rise, points[0].y + rise})) {
    const LatticePoint p = toLattice(glm::mix(a, b, t));
    if (t <= 0 || t >= 1 || isNearStep(in_.steps, toPlan(p), 2 * kBesideJump)) continue;
    // Pieces of a level end there, and something else may show through between them.
    if (!jumpsAt(toPlan(p), (b - a) / length, heights_.sheet())) points.push_back({p, heights_.at(toPlan(p))});
  }
  points.push_back({to, heights_.at(b)});
  refine(points, 0, points.size() - 1, more);
}

void SheetProfile::side(const LatticePoint& from, const LatticePoint& to, std::int32_t sheet, std::vector<LatticePoint>& more) {
  const Vec2 a = toPlan(from), b = toPlan(to);
  std::vector<Point> points{{from, heights_.at(a, sheet)}};
  const double rise = in_.standing.agent().height + glm::distance(a, b) * heights_.steepest();
  const auto splits = splitsOf(a, b, kLeastSplit, {points[0].y - rise, points[0].y + rise});
  const double aside = kBesideJump / glm::distance(a, b);
  const auto add = [&](double t) {
    if (t <= 0 || t >= 1) return;
    const LatticePoint p = toLattice(glm::mix(a, b, t));
    points.push_back({p, heights_.at(toPlan(p), sheet)});
  };
  for (const double t : splits)
    if (!jumpsAt(toPlan(toLattice(glm::mix(a, b, t))), (b - a) / glm::distance(a, b), sheet))
      add(t);
    else
      add(t - aside), add(t + aside);
  for (const double t : {aside, 2 * aside}) add(t), add(1 - t);  // the side may end on a tip
  std::ranges::sort(points, {}, [&](const Point& p) { return glm::distance(a, toPlan(p.p)); });
  points.push_back({to, heights_.at(b, sheet)});
  refine(points, 0, points.size() - 1, more);
}

/// Whether the ground along a side has two heights at a place, or at that place alone another one, as at the tip of a box: with a corner
/// on it the whole side would rise to there. Asked of the side itself: a step that only ends there is known to one of the two chunks, and
/// the other would come to other corners.
bool SheetProfile::jumpsAt(const Vec2& q, const Vec2& along, std::int32_t sheet) {
  const auto [low, high] =
      std::minmax({heights_.at(q - along * kBesideJump, sheet), heights_.at(q, sheet), heights_.at(q + along * kBesideJump, sheet)});
  return high - low > 2 * kBesideJump * heights_.steepest() + kSeamJump;
}

/// Between two points of a profile: takes the one farthest from the straight line until none is off by more than allowed.
void SheetProfile::refine(const std::vector<Point>& points, std::size_t first, std::size_t last, std::vector<LatticePoint>& more) const {
  const Vec2 a = toPlan(points[first].p);
  const double whole = glm::distance(a, toPlan(points[last].p));
  double most = tuning::kFitError;
  std::size_t worst = first;
  for (std::size_t i = first + 1; i < last; ++i) {
    const double off = std::abs(points[i].y - glm::mix(points[first].y, points[last].y, glm::distance(a, toPlan(points[i].p)) / whole));
    if (off > most) most = off, worst = i;
  }
  if (worst == first) return;
  more.push_back(points[worst].p);
  refine(points, first, worst, more);
  refine(points, worst, last, more);
}

}  // namespace dune::generate
