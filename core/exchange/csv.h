#pragma once
// CSV tables: pairs of places, agents of a crowd.

#include "core/crowd/scene.h"

namespace dune::exchange {

/// Pairs of places, six numbers a line, no header; empty lines are skipped.
struct Pair {
  Vec3 from{}, to{};
};
Result<std::vector<Pair>> pairsFromCsv(const std::string& text);

/// Agents, one a line after a header with id,x,y,z,goal_x,goal_y,goal_z,radius,speed; also read are start_time, accel and
/// group. What is missing is taken from `like`. Places are of the bodies' origins: `originHeight` metres over the feet.
Result<std::vector<crowd::Walker>> walkersFromCsv(const std::string& text, const crowd::Walker& like, double originHeight = 0);

}  // namespace dune::exchange
