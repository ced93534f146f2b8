#include "core/flight/around.h"

#include <cmath>

#include "core/flight/tighten.h"
#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

/// Where what is in the way between two places begins, ends and has its middle, and what is to the sides of it.
struct Aside {
  const Space& space;
  Vec3 from, goal, begin, end, middle, up, side;

  Aside(const Space& s, const Vec3& a, const Vec3& b) : space(s), from(a), goal(b) {
    const Vec3 straight = goal - from, ahead = glm::normalize(straight);
    begin = from + straight * clearShare(from, goal), end = goal - straight * clearShare(goal, from);
    middle = (begin + end) / 2.0;
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

  Vec3 aside(int direction, double off) const {
    const double angle = 2 * kPi * direction / tuning::kDirections;
    return (up * std::cos(angle) + side * std::sin(angle)) * off;
  }
  std::vector<Vec3> over(const Vec3& p) const { return {from, p, goal}; }
  std::vector<Vec3> along(const Vec3& off) const { return {from, begin + off, end + off, goal}; }

  bool clear(const std::vector<Vec3>& way) const {
    for (std::size_t i = 1; i < way.size(); ++i)
      if (!space.clear(way[i - 1], way[i])) return false;
    return true;
  }

  /// Puts a way made taut in place of another one, if it is shorter.
  void take(std::vector<Vec3> way, std::vector<Vec3>& best, double& least) const {
    tighten(space, way);
    if (const double length = lengthOf(space, way); length < least) least = length, best = std::move(way);
  }
};

}  // namespace

bool isRoundabout(const Space& space, std::span<const Vec3> way) {
  return way.size() > 2 && lengthOf(space, way) > tuning::kNearlyStraight * space.length(way.back() - way.front());
}

std::vector<Vec3> aroundOne(const Space& space, const Vec3& from, const Vec3& goal) {
  const double radius = space.measure().radius;
  if (glm::distance(from, goal) < radius) return {};
  const Aside aside(space, from, goal);
  const double most = tuning::kHardlyLonger * space.length(goal - from);
  for (const double off : tuning::kAsideTries) {
    std::vector<Vec3> best;
    double least = most;
    for (int k = 0; k < tuning::kDirections; ++k)
      if (std::vector<Vec3> over = aside.over(aside.middle + aside.aside(k, off * radius));
          lengthOf(space, over) <= most && aside.clear(over))
        aside.take(std::move(over), best, least);
    if (!best.empty()) return best;
  }
  return {};
}

namespace {

/// Corners of a way that go around the same thing: the numbers of the first and the last of them.
struct Turn {
  std::size_t first, last;
};

std::vector<Turn> turnsOf(const Space& space, std::span<const Vec3> way) {
  std::vector<Turn> turns;
  for (std::size_t i = 1; i + 1 < way.size(); ++i) {
    if (i > 1 && glm::distance(way[i - 1], way[i]) < tuning::kSameTurn * space.measure().radius)
      turns.back().last = i;
    else
      turns.push_back({i, i});
  }
  return turns;
}

/// The part of a way between two of its places, over the sides of what is in between; nothing where that is not shorter.
std::vector<Vec3> otherSide(const Space& space, std::span<const Vec3> part) {
  if (!isRoundabout(space, part)) return {};
  std::vector<Vec3> best;
  double least = lengthOf(space, part);
  const double most = tuning::kRoundabout * least;
  const Aside aside(space, part.front(), part.back());
  double shortest = tuning::kRoughlyLonger * least;
  std::vector<Vec3> rough;
  const auto consider = [&](std::vector<Vec3> way) {
    tightenRoughly(space, way);
    if (const double length = lengthOf(space, way); length < shortest) shortest = length, rough = std::move(way);
  };
  for (int k = 0; k < tuning::kDirections; ++k) {
    bool one = false, two = false;
    for (double off = tuning::kFirstAside * space.measure().radius; !one || !two; off *= tuning::kFartherOut) {
      const Vec3 by = aside.aside(k, off);
      std::vector<Vec3> over = aside.over(aside.middle + by), along = aside.along(by);
      if (!(lengthOf(space, over) <= most)) break;
      if (!one && aside.clear(over)) one = true, consider(std::move(over));
      if (!two && aside.clear(along)) two = true, consider(std::move(along));
    }
  }
  if (!rough.empty()) aside.take(std::move(rough), best, least);
  return best;
}

/// Whether other sides of what is between two places of a way made all of it shorter.
bool tryBetween(const Space& space, std::vector<Vec3>& way, std::size_t from, std::size_t to) {
  const std::vector<Vec3> other = otherSide(space, std::span(way).subspan(from, to - from + 1));
  if (other.empty()) return false;
  std::vector<Vec3> whole(way.begin(), way.begin() + static_cast<std::ptrdiff_t>(from));
  whole.insert(whole.end(), other.begin(), other.end());
  whole.insert(whole.end(), way.begin() + static_cast<std::ptrdiff_t>(to) + 1, way.end());
  tighten(space, whole);
  if (lengthOf(space, whole) >= lengthOf(space, way)) return false;
  way = std::move(whole);
  return true;
}

/// The same between any two turns with no more than so many between them.
bool tryParts(const Space& space, std::vector<Vec3>& way) {
  const std::vector<Turn> turns = turnsOf(space, way);
  for (std::size_t many = 1; many <= std::min(turns.size(), tuning::kMostTurns); ++many)
    for (std::size_t i = 0; i + many <= turns.size(); ++i) {
      const std::size_t from = i == 0 ? 0 : turns[i - 1].last, to = i + many == turns.size() ? way.size() - 1 : turns[i + many].first;
      if ((from > 0 || to + 1 < way.size()) && tryBetween(space, way, from, to)) return true;
    }
  return false;
}

}  // namespace

void tryOtherSides(const Space& space, std::vector<Vec3>& way) {
  if (!isRoundabout(space, way)) return;
  tryBetween(space, way, 0, way.size() - 1);
  for (int round = 0; round < tuning::kSideRounds && tryParts(space, way); ++round) {
  }
}

}  // namespace dune::flight
