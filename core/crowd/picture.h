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
  std::vector<Footprint> obstacles;  ///< that move, or stand where they are not cut out of the ground
  PointGrid grid;
  double bodyHeight = 1.8;
  double largest = 0;      ///< m, radius
  double storeyApart = 0;  ///< m: farther apart in height, bodies do not meet

  void resize(std::size_t bodies) {
    shown.resize(bodies), places.resize(bodies), goals.resize(bodies), waited.resize(bodies), inTurn.resize(bodies), left.resize(bodies),
        priority.resize(bodies), aims.resize(bodies), wants.resize(bodies), narrows.resize(bodies), there.resize(bodies),
        beenThere.resize(bodies);
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
    grid.around(here, reach, [&](std::uint32_t i) {
      const BodyState& other = shown[i];
      if (i == self || !there[i] || !places[i].valid() || other.state == State::link || other.state == State::offMesh) return;
      if (std::abs(other.at.y - shown[self].at.y) > storeyApart) return;
      const Vec2 at = plan(other.at);
      const double distance = glm::distance(at, here);
      if (distance <= reach) visit(Seen{i, at, plan(other.velocity), distance});
    });
  }
  /// All obstacles within reach of a body, on its storey.
  template <class Visit>
  void eachObstacle(std::size_t self, double reach, Visit&& visit) const {
    const Vec3& at = shown[self].at;
    for (const Footprint& print : obstacles)
      if (print.high > at.y + kUnderfoot && print.low < at.y + bodyHeight && print.distance(plan(at)) <= reach) visit(print);
  }

 private:
  static constexpr double kUnderfoot = 0.05;  // m: lower things are stepped over
};

}  // namespace dune::crowd
