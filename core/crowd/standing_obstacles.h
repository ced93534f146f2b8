#pragma once
// Which moving obstacles stand long enough that the ground under them is cut out, so that paths lead around them.

#include "core/crowd/floor.h"
#include "core/crowd/moving_obstacle.h"

namespace dune::crowd {

class StandingObstacles {
 public:
  /// Cuts out what stands at a time and covers nobody, gives back what goes again, and lists the footprints of all others. Bodies whose way
  /// leads through what was cut, and all where ground came back, ask for their way anew. O(obstacles × bodies); with O(faces) for a cut.
  void update(const std::vector<MovingObstacle>& obstacles, double now, std::vector<Floor>& floors, std::vector<Body>& bodies,
              std::vector<Footprint>& others);

 private:
  bool coversNobody(const Footprint& print, const std::vector<Body>& bodies) const;
  void cut(const std::vector<MovingObstacle>& obstacles, double now, Floor& floor, std::size_t mesh, std::vector<Body>& bodies,
           bool gaveBack) const;

  std::vector<char> cut_;  // one an obstacle
};

}  // namespace dune::crowd
