#pragma once
// What tests measure of ways.

#include "core/route/field.h"
#include "core/route/way_point.h"

namespace dune::test {

/// In metres of ground of cost 1; of links what they cost.
inline double lengthOf(const route::Field& field, const std::vector<route::WayPoint>& way, route::Measure measure = route::Measure::space) {
  double length = 0;
  for (std::size_t i = 1; i < way.size(); ++i) {
    const Vec3 &a = way[i - 1].at, &b = way[i].at;
    if (const int link = way[i - 1].link; link >= 0)
      length += field.costOf(field.mesh().links[static_cast<std::size_t>(link)]);
    else
      length += measure == route::Measure::plan ? glm::distance(plan(a), plan(b)) : glm::distance(a, b);
  }
  return length;
}

}  // namespace dune::test
