#pragma once
// CSV tables: pairs of places, agents of a crowd.

#include "core/crowd/scene.h"

namespace dune::exchange {

/// Pairs of places, six numbers a line, no header; empty lines are skipped.
struct Pair {
  Vec3 from{}, to{};
};
Result<std::vector<Pair>> pairsFromCsv(const std::string& text);

/// A kind of agent that a table may name.
struct CrowdKind {
  std::string name;
  crowd::Walker like;       ///< what a table leaves out
  double originHeight = 0;  ///< metres from the feet to the origin, whose places a table names
};
struct CrowdTable {
  std::vector<crowd::Walker> walkers;
  std::vector<crowd::SteeringSettings> steerings;  ///< that they name by number
};
/// Agents, one a line after a header with id,x,y,z,goal_x,goal_y,goal_z,radius,speed; also read are start_time, accel, group, priority,
/// model (a way to steer by name), kind (by name; a walker's mesh is its number) and goal_agent (the id of one that is followed instead;
/// empty cells follow nobody), rules. What is missing is taken from the first kind.
/// `rules`: names that the column rules may say; the mesh of who names the first one is 1, and so on. Without any, rules go by the kind.
Result<CrowdTable> crowdFromCsv(const std::string& text, const std::vector<CrowdKind>& kinds, const std::vector<std::string>& rules = {});

}  // namespace dune::exchange
