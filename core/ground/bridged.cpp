#include "core/ground/bridged.h"

#include <algorithm>

#include "core/base/plan_grid.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr double kCellOfBridges = 1.0;  // metres
constexpr double kBesideBridge = 2e-3;  // m: how far outside of a bridge a limit may lie, along whose side it runs
constexpr double kWhole = 1e-2;         // m: shorter pieces are taken out of a limit only as all of it, for it may only end at a bridge
constexpr double kUnder = 1e-2;         // m: how far ground lies under a bridge at least
constexpr double kNearlyAll = 0.9;      // of a limit

/// The part of a limit under one half of a bridge.
class Under {
 public:
  Under(const Limit& limit, double agentHeight) : l_(limit), agentHeight_(agentHeight), length_(glm::distance(l_.a, l_.b)) {}

  std::optional<Interval> part(const Triangle& bridge) const {
    Interval t{0, 1};
    for (std::size_t i = 0; i < 3; ++i) {
      const double a = inside(bridge, i, l_.a), b = inside(bridge, i, l_.b);
      if (a < 0 && b < 0) return std::nullopt;
      if (a < 0) t.from = std::max(t.from, a / (a - b));
      if (b < 0) t.to = std::min(t.to, a / (a - b));
    }
    if (t.to <= t.from) return std::nullopt;
    return isUnder(bridge, t.from) && isUnder(bridge, t.to) && isBeforeIt(bridge, t) ? std::optional(t) : std::nullopt;
  }

 private:
  /// How far a place lies on the inner side of one of the bridge's sides, or less than kBesideBridge outside, times the side's length.
  static double inside(const Triangle& bridge, std::size_t i, const Vec2& p) {
    const Vec2 side = bridge.q[(i + 1) % 3] - bridge.q[i];
    return cross(side, p - bridge.q[i]) + kBesideBridge * glm::length(side);
  }
  /// Whether the ground that is limited lies under the bridge: of a limit along its side, on this side of it.
  bool isBeforeIt(const Triangle& bridge, const Interval& t) const {
    const Vec2 middle = (bridge.q[0] + bridge.q[1] + bridge.q[2]) / 3.0, way = l_.b - l_.a;
    if (cross(way, middle - l_.a) > 0) return true;
    const Vec2 before = glm::mix(l_.a, l_.b, (t.from + t.to) / 2) + leftOf(way) * (1.5 * kBesideBridge / length_);
    return inside(bridge, 0, before) > 0 && inside(bridge, 1, before) > 0 && inside(bridge, 2, before) > 0;
  }
  bool isUnder(const Triangle& bridge, double t) const {
    const double above = bridge.heightAt(glm::mix(l_.a, l_.b, t)) - glm::mix(l_.ya, l_.yb, t);
    return above > kUnder && above < agentHeight_;
  }

  const Limit& l_;
  double agentHeight_, length_;
};

void addPart(const Limit& l, double from, double to, std::vector<Limit>& left) {
  if ((to - from) * glm::distance(l.a, l.b) < tuning::kLeastEnd) return;
  Limit part = l;
  if (from > 0) part.a = glm::mix(l.a, l.b, from), part.ya = glm::mix(l.ya, l.yb, from);
  if (to < 1) part.b = glm::mix(l.a, l.b, to), part.yb = glm::mix(l.ya, l.yb, to);
  left.push_back(part);
}

/// What of a limit is left without some parts.
void addWithout(const Limit& l, std::vector<Interval>& parts, std::vector<Limit>& left) {
  std::ranges::sort(parts, {}, &Interval::from);
  const double length = glm::distance(l.a, l.b), least = std::min(kWhole / length, kNearlyAll);
  double at = 0;
  for (std::size_t i = 0; i < parts.size(); ++i) {
    Interval whole = parts[i];
    while (i + 1 < parts.size() && parts[i + 1].from <= whole.to) whole.to = std::max(whole.to, parts[++i].to);
    if (whole.to - whole.from < least) continue;
    addPart(l, at, whole.from, left);
    at = whole.to;
  }
  addPart(l, at, 1, left);
}

}  // namespace

std::vector<Limit> withoutBridged(std::vector<Limit> limits, std::span<const Bridge> bridges, double agentHeight) {
  std::vector<Triangle> halves;
  std::vector<Box2> boxes;
  for (const Bridge& b : bridges) {
    if (!b.overGap) continue;
    for (const auto& corners : b.halves())
      if (const auto half = makeTriangle(corners); half && !half->upright)
        halves.push_back(*half), boxes.push_back(half->box().grown(kBesideBridge));
  }
  if (halves.empty()) return limits;
  const PlanGrid grid(boxes, kCellOfBridges);
  std::vector<Limit> left;
  left.reserve(limits.size());
  std::vector<std::uint32_t> near;
  std::vector<Interval> parts;
  for (const Limit& l : limits) {
    parts.clear();
    if (l.kind != LimitKind::bounds) {
      Box2 box;
      box.add(l.a), box.add(l.b);
      grid.collect(box, near);
      const Under under(l, agentHeight);
      for (const std::uint32_t i : near)
        if (const auto part = under.part(halves[i])) parts.push_back(*part);
    }
    if (parts.empty())
      left.push_back(l);
    else
      addWithout(l, parts, left);
  }
  return left;
}

}  // namespace dune::ground
