#include "core/flight/half_spaces.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace dune::flight {

namespace {

constexpr double kMet = 1e-9;    // what a bound may be missed by
constexpr double kPlain = 1e-5;  // normals that differ by less have one direction

double leastOf(const Bound& bound, double slack) { return bound.least - (bound.hard ? 0 : slack); }

/// The bounds that hold the point where it is: at most three, of directions that do not lie in a plane.
class Held {
 public:
  int size() const { return count_; }
  /// What is left of a direction that none of them forbids, and how much of each it takes.
  Vec3 free(const Vec3& direction, double (&shares)[3]) const {
    Vec3 rest = direction;
    double along[3] = {};
    for (int i = 0; i < count_; ++i) along[i] = glm::dot(axis_[i], rest), rest -= axis_[i] * along[i];
    for (int i = count_ - 1; i >= 0; --i) {
      double share = along[i];
      for (int j = i + 1; j < count_; ++j) share -= lean_[j][i] * shares[j];
      shares[i] = share / lean_[i][i];
    }
    return rest;
  }
  double pressure(int i) const { return pressure_[i]; }
  void press(const double (&shares)[3], double by) {
    for (int i = 0; i < count_; ++i) pressure_[i] = std::max(pressure_[i] - by * shares[i], 0.0);
  }
  void add(const Vec3& normal, double pressure) { normal_[count_] = normal, pressure_[count_++] = pressure, lean(); }
  void drop(int i) {
    for (--count_; i < count_; ++i) normal_[i] = normal_[i + 1], pressure_[i] = pressure_[i + 1];
    lean();
  }

 private:
  /// Axes of their own by Gram and Schmidt, and the normals in these.
  void lean() {
    for (int i = 0; i < count_; ++i) {
      Vec3 rest = normal_[i];
      for (int j = 0; j < i; ++j) lean_[i][j] = glm::dot(axis_[j], rest), rest -= axis_[j] * lean_[i][j];
      lean_[i][i] = glm::length(rest), axis_[i] = rest / lean_[i][i];
    }
  }

  int count_ = 0;
  Vec3 normal_[3], axis_[3];
  double lean_[3][3] = {};
  double pressure_[3] = {};
};

/// Moves a point until it meets a bound, letting go of others that no longer hold it; whether it could.
bool meet(Vec3& at, const Bound& bound, double least, Held& held) {
  for (double pressure = 0;;) {
    double shares[3] = {};
    const Vec3 rest = held.free(bound.normal, shares);
    const double turn = glm::dot(rest, rest);
    const bool can = held.size() < 3 && turn > kPlain * kPlain;
    const double whole = can ? (least - glm::dot(bound.normal, at)) / turn : std::numeric_limits<double>::infinity();
    int loose = -1;
    double by = whole;
    for (int i = 0; i < held.size(); ++i)
      if (shares[i] > 1e-12 && held.pressure(i) / shares[i] < by) by = held.pressure(i) / shares[i], loose = i;
    if (!can && loose < 0) return false;
    if (can) at += rest * by;
    held.press(shares, by), pressure += by;
    if (loose < 0) return held.add(bound.normal, pressure), true;
    held.drop(loose);
  }
}

}  // namespace

std::optional<Vec3> nearestPoint(const Vec3& p, std::span<const Bound> bounds, double slack) {
  Vec3 at = p;
  Held held;
  for (std::size_t round = 0; round < 8 * bounds.size() + 8; ++round) {
    const Bound* worst = nullptr;
    double missing = kMet;
    for (const Bound& b : bounds)
      if (const double m = leastOf(b, slack) - glm::dot(b.normal, at); m > missing) missing = m, worst = &b;
    if (!worst) return at;
    if (!meet(at, *worst, leastOf(*worst, slack), held)) return std::nullopt;
  }
  return std::nullopt;  // rounding goes in a circle
}

namespace {

/// The same no longer than `most`: the nearest point of as much less of what is wanted as makes it short enough.
std::optional<Vec3> nearestShort(const Vec3& wanted, double most, std::span<const Bound> bounds, double slack) {
  const auto whole = nearestPoint(wanted, bounds, slack);
  if (!whole || glm::length(*whole) <= most) return whole;
  auto best = nearestPoint(Vec3(0), bounds, slack);
  if (!best || glm::length(*best) > most) return std::nullopt;
  double low = 0, high = 1;
  for (int i = 0; i < 24; ++i) {
    const double share = (low + high) / 2;
    const auto v = nearestPoint(wanted * share, bounds, slack);
    if (v && glm::length(*v) <= most)
      low = share, best = v;
    else
      high = share;
  }
  return best;
}

}  // namespace

Vec3 nearestWithin(const Vec3& wanted, double most, std::span<const Bound> bounds) {
  if (const auto v = nearestShort(wanted, most, bounds, 0)) return *v;
  // Twice the largest velocity loosens every bound that velocities can hold; halving finds how little is enough.
  double low = 0, high = 2 * most;
  auto best = nearestShort(wanted, most, bounds, high);
  if (!best) return Vec3(0);
  for (int i = 0; i < 8; ++i) {
    const double slack = (low + high) / 2;
    if (const auto v = nearestShort(wanted, most, bounds, slack))
      best = v, high = slack;
    else
      low = slack;
  }
  return *best;
}

}  // namespace dune::flight
