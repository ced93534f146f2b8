#pragma once
// How far a place is from the nearest limit, exactly.

#include <optional>

#include "core/base/plan_grid.h"
#include "core/ground/limits.h"

namespace dune::ground {

class Clearance {
 public:
  Clearance() = default;
  Clearance(std::vector<Limit> limits, double agentHeight);

  struct Nearest {
    double distance;      ///< plan distance, metres
    std::uint32_t limit;  ///< index into limits()
    Vec2 at;              ///< the nearest point of it
  };
  /// The limit nearest to plan position q on ground at height y, no farther than `within`; nothing when there is none.
  std::optional<Nearest> nearest(const Vec2& q, double y, double within) const;

  const std::vector<Limit>& limits() const { return limits_; }
  const PlanGrid& grid() const { return grid_; }

 private:
  std::vector<Limit> limits_;
  PlanGrid grid_;
  double agentHeight_ = 0;
};

}  // namespace dune::ground
