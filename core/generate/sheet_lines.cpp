#include "core/generate/sheet_lines.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/generate/tuning.h"

namespace dune::generate {

namespace {

constexpr double kTouches = 1.5 * kLatticeStep;

/// The strip stops a little before the end of its step; where more of the step lies in the chunk beyond, just at the chunk's side. Where
/// not, it stops a little before the side, for the chunk beyond knows of no strip there: corners on the side have to be the same for both.
Vec2 stripEnd(const LatticeBox& chunk, const Vec2& end, const Vec2& outward, const Vec2& aside, bool goesOn) {
  const Vec2 p = end + aside, low = toPlan(chunk.min), high = toPlan(chunk.max);
  constexpr double kOnSide = 1e-9, kTowards = 0.2;
  for (int axis = 0; axis < 2; ++axis) {
    const double sideAt = outward[axis] > 0 ? high[axis] : low[axis],
                 before = outward[axis] > 0 ? -2 * tuning::kStepStrip : 2 * tuning::kStepStrip;
    if (std::abs(outward[axis]) > kTowards && std::abs(end[axis] - sideAt) < kOnSide)
      return p + outward * ((sideAt + (goesOn ? 0 : before) - p[axis]) / outward[axis]);
  }
  return p - outward * tuning::kStepStrip;
}

/// Where a line ends that comes to a step at an angle: before it comes into the strip over that, which is as steep as any, and in which a
/// corner of it would be on the lower ground or the upper one by chance. `end`, moved on by as much.
Vec2 beforeStrips(const SheetInput& input, const Interval& heights, Vec2 end, const Vec2& inward) {
  constexpr double kSteep = 0.1, kRounded = 1e-9;            // of the sine of the angle; metres
  if (input.chunk.sidesAt(toLattice(end)) != 0) return end;  // the same for both chunks
  input.steps.eachNear(Box2(end, end).grown(tuning::kStepStrip), [&](const ground::StepLine& step) {
    const Vec2 by = step.b - step.a;
    const double storey = 2 * input.standing.agent().stepHeight, length = glm::length(by);
    if (step.low > heights.to + storey || step.high < heights.from - storey || length < tuning::kLeastStripped) return;
    if (distanceToSegment(step.a, step.b, end) > tuning::kStepStrip - kRounded) return;
    const double off = cross(by, end - step.a) / length, away = cross(by, inward) / length;
    if (std::abs(away) > kSteep) end += inward * ((std::copysign(tuning::kStepStrip, away) - off) / away);
  });
  return end;
}

/// A line between strips; nothing where less of it is left than a strip is wide.
void addBetweenStrips(const SheetInput& input, SheetLine line, std::vector<SheetLine>& lines) {
  const Vec2 along = glm::normalize(line.b - line.a);
  const double rise = line.changes * glm::distance(line.a, line.b) / 2;
  const Interval heights{line.low - rise, line.high + rise};
  line.a = beforeStrips(input, heights, line.a, along), line.b = beforeStrips(input, heights, line.b, -along);
  if (glm::dot(line.b - line.a, along) > tuning::kStepStrip) lines.push_back(line);
}

/// Two lines beside a step: between them a steep strip, outside them the two levels as they are.
void addStep(const SheetInput& input, const ground::StepLine& step, std::vector<SheetLine>& lines) {
  const double length = glm::distance(step.a, step.b), w = tuning::kStepStrip;
  if (length < tuning::kLeastStripped) return;
  const Vec2 along = (step.b - step.a) / length, left = leftOf(along);
  for (const double side : {-w, w}) {
    const Vec2 a = stripEnd(input.chunk, step.a, -along, left * side, step.goesOnAtA),
               b = stripEnd(input.chunk, step.b, along, left * side, step.goesOnAtB);
    if (glm::dot(b - a, along) > w) addBetweenStrips(input, {a, b, step.low, step.high, 0, edge::step, {}}, lines);
  }
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

/// Whether the ground goes on over a side of a triangle as ground of the same kind.
bool goesOn(const ground::Standing& standing, std::uint32_t triangle, int side) {
  const ground::Soup& soup = standing.soup();
  const std::uint16_t kind = soup.triangles()[triangle].kind;
  if (triangle >= soup.weldedCount()) return false;
  return std::ranges::any_of(soup.across(triangle, side), [&](std::uint32_t n) {
    return n != triangle && soup.triangles()[n].kind == kind && standing.walkable(soup.triangles()[n]);
  });
}

/// Where ground of one kind goes through ground of another.
void addShore(const ground::Triangle& a, const ground::Triangle& b, double steepest, std::vector<SheetLine>& lines) {
  if (const auto c = creaseOf(a, b))
    lines.push_back({c->a, c->b, std::min(c->ya, c->yb), std::max(c->ya, c->yb), steepest, edge::area, {}});
}

/// Lines where ground of one kind ends by what the level is modelled as, and where it dips under ground of another kind.
void addKinds(const SheetInput& input, double steepest, std::vector<SheetLine>& lines) {
  const ground::Soup& soup = input.standing.soup();
  if (!soup.hasKinds()) return;
  const Box2 within = Box2(toPlan(input.chunk.min), toPlan(input.chunk.max)).grown(kLatticeStep);
  std::vector<std::uint32_t> near;
  for (std::uint32_t i = 0; i < soup.triangles().size(); ++i) {
    const ground::Triangle& t = soup.triangles()[i];
    if (t.upright || !input.standing.walkable(t) || !t.box().overlaps(within)) continue;
    const double storey = input.standing.agent().stepHeight;
    soup.near(t.box(), {t.heights().from - storey, t.heights().to + storey}, near);
    const auto other = [&](std::uint32_t n) { return soup.triangles()[n].kind != t.kind && input.standing.walkable(soup.triangles()[n]); };
    std::erase_if(near, [&](std::uint32_t n) { return !other(n); });
    if (near.empty()) continue;
    for (int e = 0; e < 3; ++e) {
      const auto next = static_cast<std::size_t>((e + 1) % 3), at = static_cast<std::size_t>(e);
      const double low = std::min(t.p[at].y, t.p[next].y), high = std::max(t.p[at].y, t.p[next].y);
      if (!goesOn(input.standing, i, e)) lines.push_back({t.q[at], t.q[next], low, high, steepest, edge::area, {}});
    }
    for (const std::uint32_t n : near)
      if (n > i) addShore(t, soup.triangles()[n], steepest, lines);
  }
}

}  // namespace

std::vector<SheetLine> sheetLines(const SheetInput& input, double steepest) {
  std::vector<SheetLine> lines;
  for (const level::AreaVolume& volume : input.standing.world().volumes)
    for (std::size_t i = 0, n = volume.outline.size(); i < n; ++i)
      lines.push_back({volume.outline[i], volume.outline[(i + 1) % n], volume.bottom, volume.top, steepest, edge::area, {}});
  addKinds(input, steepest, lines);
  for (const ground::StepLine& step : input.steps.all()) addStep(input, step, lines);
  for (const ground::FoldLine& fold : input.folds)
    addBetweenStrips(input, {fold.a, fold.b, fold.y, fold.y, steepest, edge::step, {}}, lines);
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
