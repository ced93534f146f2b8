#pragma once
// The steps of a chunk's ground, by place.

#include <span>
#include <vector>

#include "core/base/plan_grid.h"
#include "core/ground/limits.h"

namespace dune::generate {

class Steps {
 public:
  /// O(steps).
  explicit Steps(std::vector<ground::StepLine> all);

  std::span<const ground::StepLine> all() const { return all_; }
  /// Whether any is nearer to a place than that, metres. O(steps around it).
  bool isNear(const Vec2& q, double within) const;
  /// Calls `visit` for those whose boxes overlap one.
  template <class Visit>
  void eachNear(const Box2& box, Visit&& visit) const {
    thread_local std::vector<std::uint32_t> near;
    grid_.collect(box, near);
    for (const std::uint32_t i : near) visit(all_[i]);
  }

 private:
  std::vector<ground::StepLine> all_;
  PlanGrid grid_;
};

}  // namespace dune::generate
