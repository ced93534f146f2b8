#include "core/flight/space.h"
#include "core/flight/tuning.h"

// Most of a long way lies in a few large free cells; what is left is swept in pieces, a few units each.

namespace dune::flight {

namespace {

/// Where the line a + t·way, within a box at some t before, is so far outside of it that the next place is in another one.
double leaves(const Box3& box, const Vec3& a, const Vec3& way, double outside) {
  double out = 2;
  for (int i = 0; i < 3; ++i) {
    if (way[i] > 0) out = std::min(out, (box.max[i] + outside - a[i]) / way[i]);
    if (way[i] < 0) out = std::min(out, (box.min[i] - outside - a[i]) / way[i]);
  }
  return out;
}

}  // namespace

/// Where several volumes meet, not all of a cell is within the one that it was measured in.
std::optional<Box3> Space::freeAround(const Vec3& p, std::ptrdiff_t& chunk) const {
  const NodeId n = covering(p, chunk);
  if (n == kNoNode || cells_[n].kind != Cell::Kind::free) return std::nullopt;
  const Box3 free = box(n);
  return free.contains(p) ? std::optional(free) : std::nullopt;
}

bool Space::clear(const Vec3& a, const Vec3& b, Obstacles::Which which) const {
  if (!volume_.contains(a, b)) return false;
  const Vec3 way = b - a;
  const double length = glm::length(way), radius = measure().swept(), unit = measure().unit();
  if (length < 2 * unit) return obstacles_.clear(a, b, radius, which);
  const double outside = tuning::kOutside * unit, step = unit / length, hair = outside / length;
  std::ptrdiff_t chunk = -1;
  double swept = -1;  // from where on the way is yet to be swept
  for (double t = 0; t < 1;) {
    if (const auto free = freeAround(a + way * (t + hair), chunk)) {
      if (swept >= 0 && !obstacles_.clear(a + way * swept, a + way * std::min(t, 1.0), radius, which)) return false;
      swept = -1;
      t = leaves(*free, a, way, outside);
      continue;
    }
    if (swept < 0) swept = std::max(t - 2 * hair, 0.0);
    t += step;
    if (t - swept > 16 * step) {  // what is in the way is mostly soon in the way
      if (!obstacles_.clear(a + way * swept, a + way * std::min(t, 1.0), radius, which)) return false;
      swept = std::min(t, 1.0);
    }
  }
  return swept < 0 || obstacles_.clear(a + way * swept, b, radius, which);
}

bool Space::open(const Vec3& a, const Vec3& b) const {
  const Vec3 way = b - a;
  const double outside = tuning::kOutside * measure().unit(), hair = outside / std::max(glm::length(way), 1e-9);
  std::ptrdiff_t chunk = -1;
  for (double t = 0; t < 1;) {
    const auto free = freeAround(a + way * (t + hair), chunk);
    if (!free) return false;
    t = leaves(*free, a, way, outside);
  }
  return true;
}

}  // namespace dune::flight
