#pragma once
// Everybody as they were at the begin of a step: what all decide from.

#include "core/base/plan_grid.h"
#include "core/crowd/narrows.h"

namespace dune::crowd {

/// Another body, seen by one.
struct Seen {
  std::size_t number;
  Vec2 at, velocity;
  double distance;
};

struct Picture {
  std::vector<BodyState> shown;
  std::vector<double> waited;  ///< s without getting on
  std::vector<double> left;    ///< m to the next corner
  std::vector<Vec2> aims;      ///< velocities that were wanted, and free of others
  std::vector<Vec2> wants;     ///< to the next corner; zero for who has arrived
  std::vector<std::optional<Narrow>> narrows;
  PlanGrid grid;
  double storeyApart = 0;  ///< m: farther apart in height, bodies do not meet

  void resize(std::size_t bodies) {
    shown.resize(bodies), waited.resize(bodies), left.resize(bodies), aims.resize(bodies), wants.resize(bodies), narrows.resize(bodies);
  }
  /// Who is nearer to the next corner of its way goes first, so that nobody waits for one who waits for him.
  bool goesFirst(std::size_t a, std::size_t b) const { return left[a] != left[b] ? left[a] < left[b] : a < b; }
  /// All that walk within reach, on the same storey; not those on links.
  template <class Visit>
  void eachNeighbour(std::size_t self, double reach, Visit&& visit) const {
    Box2 box;
    const Vec2 here = plan(shown[self].at);
    box.add(here);
    thread_local std::vector<std::uint32_t> found;
    grid.collect(box.grown(reach), found);
    for (const std::uint32_t i : found) {
      const BodyState& other = shown[i];
      if (i == self || other.face == nav::kNoFace || other.state == State::link || other.state == State::offMesh) continue;
      if (std::abs(other.at.y - shown[self].at.y) > storeyApart) continue;
      const Vec2 at = plan(other.at);
      visit(Seen{i, at, plan(other.velocity), glm::distance(at, here)});
    }
  }
};

}  // namespace dune::crowd
