#pragma once
// CSV tables: pairs of places, agents of a crowd, traces.

#include "core/crowd/run.h"

namespace dune::exchange {

/// Pairs of places, six numbers a line, no header; empty lines are skipped.
struct Pair {
  Vec3 from{}, to{};
};
Result<std::vector<Pair>> pairsFromCsv(const std::string& text);

/// Agents, one a line after a header with id,x,y,z,goal_x,goal_y,goal_z,radius,speed; also read are start_time and accel.
/// What is missing is taken from `like`.
Result<std::vector<crowd::Walker>> walkersFromCsv(const std::string& text, const crowd::Walker& like);

/// The places in a table are those of the bodies' origins: `originHeight` metres over the feet.
std::string traceToCsv(const crowd::Trace& trace, double originHeight = 0);
/// A trace; t,id,x,y,z are enough, the rest is derived. Bodies that are missing at a time are held where they were last.
Result<crowd::Trace> traceFromCsv(const std::string& text, double originHeight = 0);

}  // namespace dune::exchange
