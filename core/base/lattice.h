#pragma once
// The plan lattice and the exact predicates on it.
//
// Every corner of the mesh lies on a lattice of 1/1024 m in plan. Lattice coordinates are integers of at most 2^26
// (65 km), so the signs of orientation (degree 2) and of the in-circle test (degree 4) are exact in 64 and 128 bit
// integers. Signs of geometry are decided here and nowhere else.

#include <compare>
#include <cstdint>
#include <span>

#include "core/base/vec.h"

namespace dune {

constexpr double kLatticeStep = 1.0 / 1024.0;  // metres; a power of two, so lattice to metres and back loses nothing
constexpr std::int64_t kLatticeMax = std::int64_t{1} << 26;

/// A lattice point in plan space (u = x, v = -z).
struct LatticePoint {
  std::int64_t u = 0, v = 0;
  auto operator<=>(const LatticePoint&) const = default;
};

struct LatticeBox {
  LatticePoint min, max;
  /// Which sides p lies on, as bits: 1 left, 2 right, 4 bottom, 8 top; 0 when on none.
  int sidesAt(const LatticePoint& p) const {
    return (p.u == min.u ? 1 : 0) | (p.u == max.u ? 2 : 0) | (p.v == min.v ? 4 : 0) | (p.v == max.v ? 8 : 0);
  }
};

/// The lattice point nearest to q. Requires |q| below 65 km.
LatticePoint toLattice(const Vec2& q);
inline Vec2 toPlan(const LatticePoint& p) { return {static_cast<double>(p.u) * kLatticeStep, static_cast<double>(p.v) * kLatticeStep}; }
/// A height rounded to the lattice step, so that text and binary files hold exactly the same number.
double roundHeight(double y);

/// +1 when a, b, c turn left, -1 when they turn right, 0 when they lie on one line. Exact.
int orientation(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c);
/// +1 when d lies inside the circle through a, b, c (which turn left), -1 outside, 0 on it. Exact.
int inCircle(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c, const LatticePoint& d);
/// Whether p lies on the closed segment ab. Exact.
bool onSegment(const LatticePoint& a, const LatticePoint& b, const LatticePoint& p);
/// Whether the open segments ab and cd cross in one inner point of both. Exact.
bool properlyCross(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c, const LatticePoint& d);
/// Whether corners turn left, or go straight on, once around, each at another place than the one before. Exact.
bool isConvex(std::span<const LatticePoint> corners);
/// The crossing of the lines ab and cd, rounded to the lattice. Requires that they are not parallel.
LatticePoint crossing(const LatticePoint& a, const LatticePoint& b, const LatticePoint& c, const LatticePoint& d);

}  // namespace dune
