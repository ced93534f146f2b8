#include "core/generate/sheet_lines.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/generate/tuning.h"

namespace dune::generate {

namespace {

constexpr double kTouches = 1.5 * kLatticeStep;

/// The strip stops a little before the end of its step, or, where the chunk cut the step, just at the chunk's side.
Vec2 stripEnd(const LatticeBox& chunk, const Vec2& end, const Vec2& outward, const Vec2& aside) {
  const Vec2 p = end + aside, low = toPlan(chunk.min), high = toPlan(chunk.max);
  constexpr double kOnSide = 1e-9, kTowards = 0.2;
  for (int axis = 0; axis < 2; ++axis) {
    const double sideAt = outward[axis] > 0 ? high[axis] : low[axis];
    if (std::abs(outward[axis]) > kTowards && std::abs(end[axis] - sideAt) < kOnSide)
      return p + outward * ((sideAt - p[axis]) / outward[axis]);
  }
  return p - outward * tuning::kStepStrip;
}

/// Two lines beside a step: between them a steep strip, outside them the two levels as they are.
void addStep(const LatticeBox& chunk, const ground::StepLine& step, std::vector<SheetLine>& lines) {
  const double length = glm::distance(step.a, step.b), w = tuning::kStepStrip;
  if (length < 4 * w) return;
  const Vec2 along = (step.b - step.a) / length, left = leftOf(along);
  for (const double side : {-w, w})
    lines.push_back({stripEnd(chunk, step.a, -along, left * side),
                     stripEnd(chunk, step.b, along, left * side),
                     step.low,
                     step.high,
                     0,
                     edge::step,
                     {}});
}

/// Where a line crosses a segment, or comes so near to its ends, or ends so near to it, that it may once ends are rounded.
std::vector<LatticePoint> meetings(const LatticePoint& from, const LatticePoint& to, const SheetLine& line) {
  const Vec2 a = toPlan(from), b = toPlan(to);
  std::vector<LatticePoint> places;
  if (distanceToSegment(line.a, line.b, a) < kTouches) places.push_back(from);
  if (distanceToSegment(line.a, line.b, b) < kTouches) places.push_back(to);
  const auto add = [&](const Vec2& q) {
    if (glm::distance(q, a) >= kTouches && glm::distance(q, b) >= kTouches) places.push_back(toLattice(q));
  };
  for (const Vec2& end : {line.a, line.b})
    if (distanceToSegment(a, b, end) < kTouches) add(nearestOnSegment(a, b, end));
  const auto t = crossingParameter(a, b, line.a, line.b);
  if (places.empty() && t && *t > 0 && *t < 1)
    if (const Vec2 q = glm::mix(a, b, *t); glm::dot(q - line.a, q - line.b) <= 0) add(q);
  return places;
}

}  // namespace

std::vector<SheetLine> sheetLines(const SheetInput& input, double steepest) {
  std::vector<SheetLine> lines;
  for (const level::AreaVolume& volume : input.standing.world().volumes)
    for (std::size_t i = 0, n = volume.outline.size(); i < n; ++i)
      lines.push_back({volume.outline[i], volume.outline[(i + 1) % n], volume.bottom, volume.top, steepest, edge::area, {}});
  for (const ground::StepLine& step : input.steps) addStep(input.chunk, step, lines);
  for (const ground::FoldLine& fold : input.folds) lines.push_back({fold.a, fold.b, fold.y, fold.y, steepest, edge::step, {}});
  return lines;
}

void crossCut(std::vector<SheetLine>& lines, const LatticePoint& from, const LatticePoint& to, const Heights& heights,
              std::vector<LatticePoint>& corners) {
  for (SheetLine& line : lines) {
    const double more = heights.perMetre * glm::distance(line.a, line.b);
    if (line.low > heights.high + more || line.high < heights.low - more) continue;
    for (const LatticePoint& p : meetings(from, to, line)) {
      line.through.push_back(p);
      if (p != from && p != to) corners.push_back(p);
    }
  }
}

void constrain(Triangulation& plan, const SheetLine& line, const Box2& box) {
  const auto inside = clipToBox(line.a, line.b, box);
  if (!inside) return;
  std::vector<LatticePoint> stops = line.through;
  for (const double t : {inside->from, inside->to}) {
    const Vec2 end = glm::mix(line.a, line.b, t);
    if (std::ranges::none_of(line.through, [&](const LatticePoint& p) { return glm::distance(toPlan(p), end) < 2 * kTouches; }))
      stops.push_back(toLattice(end));
  }
  const Vec2 along = line.b - line.a;
  std::ranges::sort(stops, {}, [&](const LatticePoint& p) { return std::pair(glm::dot(toPlan(p) - line.a, along), p); });
  for (std::size_t i = 1; i < stops.size(); ++i)
    if (stops[i - 1] != stops[i]) plan.constrain(stops[i - 1], stops[i], line.mask);
}

}  // namespace dune::generate
