#include "core/route/stretches.h"

#include "core/base/parallel.h"
#include "core/route/field.h"
#include "core/route/search_ground.h"
#include "core/route/trace_way.h"

namespace dune::route {

Stretches::Stretches(const Field& field, const BendSight& sight, const BendTable& table, Job& job) {
  constexpr double kReach = 0.3;  // metres from a corner to the mesh, which has it too
  const nav::NavMesh& simple = field.ground().mesh();
  for (const Bend& bend : sight.bends()) {
    const Vec3& at = simple.vertices[simple.corners[sight.facets().cornerNumber(bend.corner.facet, bend.corner.i)]];
    places_.push_back(field.locator().nearest(at, kReach));
  }
  std::vector<std::vector<WayPoint>> all(sight.bends().size());
  std::vector<std::uint32_t> count(table.joins().size(), 0);
  const bool done = parallelFor(job, all.size(), [&](std::size_t b) {
    const auto [first, end] = table.joinsFrom(static_cast<std::uint32_t>(b));
    for (std::uint32_t join = first; join < end; ++join) {
      const std::size_t before = all[b].size();
      traceStretch(field, places_[b], places_[table.joins()[join].to], all[b]);
      all[b].pop_back();
      count[join] = static_cast<std::uint32_t>(all[b].size() - before);
    }
  });
  if (!done) return;
  first_.assign(1, 0);
  for (const std::uint32_t c : count) first_.push_back(first_.back() + c);
  points_.reserve(first_.back());
  for (const std::vector<WayPoint>& part : all) points_.insert(points_.end(), part.begin(), part.end());
}

std::size_t Stretches::memory() const {
  return places_.capacity() * sizeof(places_[0]) + first_.capacity() * sizeof(first_[0]) + points_.capacity() * sizeof(points_[0]);
}

}  // namespace dune::route
