#include "core/base/lattice.h"

#include <cassert>

namespace dune {

namespace {

__extension__ using Int128 = __int128;

int sign(Int128 x) { return (x > 0) - (x < 0); }

std::int64_t cross(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c) {
  // Differences stay below 2^27, products below 2^54.
  return (b.u - a.u) * (c.v - a.v) - (b.v - a.v) * (c.u - a.u);
}

}  // namespace

LatticePoint toLattice(const Vec2& q) { return {std::llround(q.x / kLatticeStep), std::llround(q.y / kLatticeStep)}; }

double roundHeight(double y) { return std::round(y / kLatticeStep) * kLatticeStep; }

int orientation(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c) {
  const std::int64_t area = cross(a, b, c);
  return (area > 0) - (area < 0);
}

int inCircle(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c, const LatticePoint& d) {
  const std::int64_t au = a.u - d.u, av = a.v - d.v, bu = b.u - d.u, bv = b.v - d.v, cu = c.u - d.u, cv = c.v - d.v;
  const std::int64_t a2 = au * au + av * av, b2 = bu * bu + bv * bv, c2 = cu * cu + cv * cv;
  const Int128 det = Int128{a2} * (bu * cv - bv * cu) + Int128{b2} * (cu * av - cv * au) + Int128{c2} * (au * bv - av * bu);
  return sign(det);
}

bool onSegment(const LatticePoint& a, const LatticePoint& b, const LatticePoint& p) {
  if (cross(a, b, p) != 0) return false;
  const std::int64_t along = (p.u - a.u) * (b.u - a.u) + (p.v - a.v) * (b.v - a.v);
  const std::int64_t length = (b.u - a.u) * (b.u - a.u) + (b.v - a.v) * (b.v - a.v);
  return along >= 0 && along <= length;
}

bool properlyCross(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c, const LatticePoint& d) {
  return orientation(a, b, c) * orientation(a, b, d) < 0 && orientation(c, d, a) * orientation(c, d, b) < 0;
}

bool isConvex(std::span<const LatticePoint> corners) {
  const std::size_t n = corners.size();
  const auto down = [](const LatticePoint& p, const LatticePoint& q) { return q.v < p.v || (q.v == p.v && q.u < p.u); };
  int turns = 0;  // times that the direction goes from downwards to upwards: once around a convex face
  for (std::size_t i = 0; i < n; ++i) {
    const LatticePoint &a = corners[i], &b = corners[(i + 1) % n], &c = corners[(i + 2) % n];
    if (a == b || orientation(a, b, c) < 0) return false;
    turns += down(a, b) && !down(b, c);
  }
  return turns <= 1;
}

LatticePoint crossing(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c, const LatticePoint& d) {
  const std::int64_t top = cross(c, d, a);
  const std::int64_t bottom = top - cross(c, d, b);
  assert(bottom != 0);
  auto at = [&](std::int64_t from, std::int64_t to) {
    // Rounded division of (to - from) * top / bottom, half away from zero.
    Int128 n = Int128{to - from} * top, m = bottom;
    if (m < 0) n = -n, m = -m;
    const Int128 half = n >= 0 ? m / 2 : -(m / 2);
    return from + static_cast<std::int64_t>((n + half) / m);
  };
  return {at(a.u, b.u), at(a.v, b.v)};
}

}  // namespace dune
