#include "core/flight/around.h"

#include <cmath>

#include "core/flight/tighten.h"
#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

/// The middle of what is in the way between two places, and what is to the sides of it.
struct Aside {
  const Space& space;
  Vec3 from, goal, middle, up, side;

  Aside(const Space& s, const Vec3& a, const Vec3& b) : space(s), from(a), goal(b) {
    const Vec3 straight = goal - from, ahead = glm::normalize(straight);
    middle = from + straight * ((clearShare(from, goal) + 1 - clearShare(goal, from)) / 2);
    side = glm::normalize(glm::cross(ahead, std::abs(ahead.y) < 0.9 ? Vec3(0, 1, 0) : Vec3(1, 0, 0)));
    up = glm::cross(side, ahead);
  }

  /// How far from a one gets straight towards b, as a share of the way; nearly.
  double clearShare(const Vec3& a, const Vec3& b) const {
    double low = 0, high = 1;
    for (int i = 0; i < 10; ++i) {
      const double half = (low + high) / 2;
      (space.clear(a, a + (b - a) * half) ? low : high) = half;
    }
    return low;
  }

  Vec3 place(int direction, double off) const {
    const double angle = 2 * kPi * direction / tuning::kDirections;
    return middle + (up * std::cos(angle) + side * std::sin(angle)) * off;
  }
  double lengthOver(const Vec3& p) const { return space.length(p - from) + space.length(goal - p); }
  bool clearOver(const Vec3& p) const { return space.clear(from, p) && space.clear(p, goal); }

  /// Puts the taut way over a place in place of another one, if it is shorter.
  void tryOver(const Vec3& p, std::vector<Vec3>& best, double& least) const {
    std::vector<Vec3> way{from, p, goal};
    tighten(space, way);
    if (const double length = lengthOf(space, way); length < least) least = length, best = std::move(way);
  }
};

}  // namespace

std::vector<Vec3> aroundOne(const Space& space, const Vec3& from, const Vec3& goal) {
  const double radius = space.measure().radius;
  if (glm::distance(from, goal) < radius) return {};
  const Aside aside(space, from, goal);
  const double most = tuning::kHardlyLonger * space.length(goal - from);
  for (const double off : tuning::kAsideTries) {
    std::vector<Vec3> best;
    double least = most;
    for (int k = 0; k < tuning::kDirections; ++k)
      if (const Vec3 over = aside.place(k, off * radius); aside.lengthOver(over) <= most && aside.clearOver(over))
        aside.tryOver(over, best, least);
    if (!best.empty()) return best;
  }
  return {};
}

void tryOtherSides(const Space& space, std::vector<Vec3>& way) {
  double least = lengthOf(space, way);
  const double most = tuning::kRoundabout * least;
  if (way.size() < 3 || least <= tuning::kNearlyStraight * space.length(way.back() - way.front())) return;
  const Aside aside(space, way.front(), way.back());
  for (int k = 0; k < tuning::kDirections; ++k)
    for (double off = space.measure().radius;; off *= tuning::kFartherOut) {
      const Vec3 over = aside.place(k, off);
      if (!(aside.lengthOver(over) <= most)) break;
      if (!aside.clearOver(over)) continue;
      aside.tryOver(over, way, least);
      break;
    }
}

}  // namespace dune::flight
