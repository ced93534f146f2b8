#pragma once
// The ways straight from bend to bend over prepared ground, in plan, with every edge of the mesh that they cross: they are parts of most
// ways, and following a line over the mesh takes longer than finding which.

#include "core/route/bend_table.h"
#include "core/route/way_point.h"

namespace dune::route {

class Stretches {
 public:
  /// Of all joins of a table. Of no use when the job was cancelled. O(joins · edges on their way).
  Stretches(const Field& field, const BendSight& sight, const BendTable& table, Job& job);

  /// Without its end, where the next stretch begins.
  std::span<const WayPoint> of(std::uint32_t join) const {
    return std::span(points_).subspan(first_[join], first_[join + 1] - first_[join]);
  }
  /// Where a bend lies on the mesh.
  const nav::Place& placeOf(std::uint32_t bend) const { return places_[bend]; }
  /// Bytes.
  std::size_t memory() const;

 private:
  std::vector<nav::Place> places_;    // one a bend
  std::vector<std::uint32_t> first_;  // one a join: its first point
  std::vector<WayPoint> points_;
};

}  // namespace dune::route
