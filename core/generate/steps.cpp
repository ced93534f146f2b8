#include "core/generate/steps.h"

#include "core/base/plan_geometry.h"

namespace dune::generate {

Steps::Steps(std::vector<ground::StepLine> all) : all_(std::move(all)) {
  constexpr double kCell = 1;  // m
  std::vector<Box2> boxes;
  for (const ground::StepLine& s : all_) {
    Box2& box = boxes.emplace_back();
    box.add(s.a), box.add(s.b);
  }
  grid_ = PlanGrid(boxes, kCell);
}

bool Steps::isNear(const Vec2& q, double within) const {
  bool near = false;
  eachNear(Box2(q, q).grown(within), [&](const ground::StepLine& s) { near = near || distanceToSegment(s.a, s.b, q) < within; });
  return near;
}

}  // namespace dune::generate
