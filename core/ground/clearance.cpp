#include "core/ground/clearance.h"

namespace dune::ground {

namespace {
constexpr double kCellHint = 1.0;  // metres; most questions reach less far
}

Clearance::Clearance(std::vector<Limit> limits, double agentHeight) : limits_(std::move(limits)), agentHeight_(agentHeight) {
  std::vector<Box2> boxes(limits_.size());
  for (std::size_t i = 0; i < boxes.size(); ++i) boxes[i].add(limits_[i].a), boxes[i].add(limits_[i].b);
  grid_ = PlanGrid(boxes, kCellHint);
}

std::optional<Clearance::Nearest> Clearance::nearest(const Vec2& q, double y, double within) const {
  std::optional<Nearest> best;
  Box2 point;
  point.add(q);
  // Look near first: almost every answer is found in the first ring, and the last ring is exact.
  for (double reach = std::min(within, 1.0);; reach = std::min(within, reach * 4)) {
    for (const std::uint32_t i : grid_.collect(point.grown(reach))) {
      if (!limits_[i].countsAt(q, y, agentHeight_) || !limits_[i].facing(q)) continue;
      const Vec2 at = nearestOnSegment(limits_[i].a, limits_[i].b, q);
      const double d = glm::distance(at, q);
      if (d <= within && (!best || d < best->distance)) best = Nearest{d, i, at};
    }
    if (reach >= within || (best && best->distance <= reach)) return best;
  }
}

}  // namespace dune::ground
