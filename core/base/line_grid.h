#pragma once
// Lines of the plan by place, for who asks for those around one.

#include <span>
#include <vector>

#include "core/base/plan_grid.h"

namespace dune {

/// Of anything that runs from `a` to `b` in plan.
template <class Line>
class LineGrid {
 public:
  LineGrid() = default;
  /// `cell`: of the grid, metres. O(lines).
  LineGrid(std::vector<Line> lines, double cell) : lines_(std::move(lines)) {
    std::vector<Box2> boxes(lines_.size());
    for (std::size_t i = 0; i < boxes.size(); ++i) boxes[i].add(lines_[i].a), boxes[i].add(lines_[i].b);
    grid_ = PlanGrid(boxes, cell);
  }

  std::span<const Line> all() const { return lines_; }
  /// Calls `visit` for those whose boxes overlap one, in their order.
  template <class Visit>
  void eachNear(const Box2& box, Visit&& visit) const {
    thread_local std::vector<std::uint32_t> near;
    grid_.collect(box, near);
    for (const std::uint32_t i : near) visit(lines_[i]);
  }

 private:
  std::vector<Line> lines_;
  PlanGrid grid_;
};

}  // namespace dune
