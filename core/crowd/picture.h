#pragma once
// Everybody as they were at the begin of a step: what all decide from.

#include "core/crowd/narrows.h"
#include "core/crowd/point_grid.h"

namespace dune::crowd {

/// Another body, seen by one.
struct Seen {
  std::size_t number;
  Vec2 at, velocity;
  double distance;
};

struct Picture {
  std::vector<BodyState> shown;    ///< as the world outside sees them: faces are those of the whole mesh
  std::vector<nav::Place> places;  ///< on the ground as it is now
  std::vector<Vec3> goals;
  std::vector<double> waited;  ///< s without getting on
  std::vector<double> inTurn;  ///< s of waiting before a narrow place
  std::vector<double> left;    ///< m to the next corner
  std::vector<int> priority;   ///< more goes first
  std::vector<Vec2> aims;      ///< velocities that were wanted, and free of others
  std::vector<Vec2> wants;     ///< to the next corner; zero for who has arrived
  std::vector<std::optional<Narrow>> narrows;
  std::vector<char> there;           ///< whether it has begun
  std::vector<char> beenThere;       ///< at its goal, and is still near
  std::vector<char> settled;         ///< as near to its goal as it gets
  std::vector<char> presses;         ///< has not got on for long
  std::vector<Footprint> obstacles;  ///< that move, or stand where they are not cut out of the ground
  double bodyHeight = 1.8;
  double largest = 0;      ///< m, radius
  double storeyApart = 0;  ///< m: farther apart in height, bodies do not meet

  void resize(std::size_t bodies) {
    shown.resize(bodies), places.resize(bodies), goals.resize(bodies), waited.resize(bodies), inTurn.resize(bodies), left.resize(bodies),
        priority.resize(bodies), aims.resize(bodies), wants.resize(bodies), narrows.resize(bodies), there.resize(bodies),
        beenThere.resize(bodies), settled.resize(bodies), presses.resize(bodies);
  }
  /// Of the same priority, who has not been at its goal goes first; else who is nearer to the next corner of its way, so that nobody waits
  /// for one who waits for him.
  bool goesFirst(std::size_t a, std::size_t b) const {
    if (priority[a] != priority[b]) return priority[a] > priority[b];
    if (beenThere[a] != beenThere[b]) return beenThere[b];
    return left[a] != left[b] ? left[a] < left[b] : a < b;
  }
  /// All that walk within reach, on the same storey; not those on links. In the same order always.
  template <class Visit>
  void eachNeighbour(std::size_t self, double reach, Visit&& visit) const {
    eachAround(self, plan(shown[self].at), reach, visit);
  }
  /// The same within reach of a place; distances are from there.
  template <class Visit>
  void eachAround(std::size_t self, const Vec2& here, double reach, Visit&& visit) const {
    const double height = shown[self].at.y, square = reach * reach * (1 + 1e-9);
    grid_.around(here, reach, [&](std::uint32_t begin, std::uint32_t end) {
      for (std::uint32_t i = begin; i < end; ++i) {
        const Met& other = met_[i];
        const Vec2 way = other.at - here;
        if (glm::dot(way, way) > square || other.number == self || std::abs(other.height - height) > storeyApart) continue;
        const double distance = glm::length(way);
        if (distance <= reach) visit(Seen{other.number, other.at, other.velocity, distance});
      }
    });
  }
  /// Makes everybody found by place, once all is shown.
  void index();
  /// All obstacles within reach of a body, on its storey.
  template <class Visit>
  void eachObstacle(std::size_t self, double reach, Visit&& visit) const {
    const Vec3& at = shown[self].at;
    for (const Footprint& print : obstacles)
      if (print.high > at.y + kUnderfoot && print.low < at.y + bodyHeight && print.distance(plan(at)) <= reach) visit(print);
  }

 private:
  static constexpr double kUnderfoot = 0.05;  // m: lower things are stepped over
  /// What is asked of a neighbour most often, side by side for those that are beside each other.
  struct Met {
    Vec2 at, velocity;
    double height;       // infinite for who cannot be met
    std::size_t number;  // of the body
  };
  PointGrid grid_;
  std::vector<Vec2> points_;
  std::vector<Met> met_;  // in the order of the grid
};

}  // namespace dune::crowd
