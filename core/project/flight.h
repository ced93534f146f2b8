#pragma once
// What a project says about flying: kinds of agent that fly, where they may, ways that are asked again after every build, and groups.

#include <string>
#include <vector>

#include "core/base/bounds.h"
#include "core/flight/flyer.h"
#include "core/project/agent_rule.h"

namespace dune::project {

/// A kind of agent that flies; what is computed for it goes by its id.
struct FlyerKind : flight::Flyer {
  int id = 0;  ///< above zero
  bool operator==(const FlyerKind&) const = default;
};

/// A box in which the middles of bodies may be, or one of air that costs something else, or is forbidden.
struct FlightVolume {
  int id = 0;
  std::string name;  ///< may be empty
  Box3 box{};
  std::string air{};  ///< by which kind of ground it costs or is forbidden; empty: it is one in which they may be
  bool operator==(const FlightVolume&) const = default;
};

/// A flight that is kept and asked again.
struct AskedFlight {
  int id = 0;
  std::string name;  ///< may be empty
  int flyer = 0;     ///< id of its kind
  Vec3 from{}, to{};
  bool operator==(const AskedFlight&) const = default;
};

/// Flyers that start around one place and go to around another.
struct FlyerGroup {
  int id = 0;
  std::string name;
  int flyer = 0;  ///< id of its kind
  int count = 1;
  Vec3 start{}, goal{};
  double spread = 0;          ///< of both, metres; 0: as near to each other as they have room
  std::vector<Vec3> round{};  ///< places after the goal, over and over; none: it stays at the goal
  bool inShape = false;       ///< they keep their places beside the first one
  bool operator==(const FlyerGroup&) const = default;
};

struct FlightSection {
  std::vector<FlyerKind> flyers;
  std::vector<FlightVolume> volumes;  ///< where none says where they may be: in the playable bounds, or where the level is
  std::vector<AskedFlight> flights;
  std::vector<FlyerGroup> groups;
  std::vector<AgentRule> rules{};  ///< what air of a kind is to a kind that flies; at most one for both
  bool operator==(const FlightSection&) const = default;
  bool any() const { return !flyers.empty() || !volumes.empty() || !flights.empty() || !groups.empty(); }
};

}  // namespace dune::project
