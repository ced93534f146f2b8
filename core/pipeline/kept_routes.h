#pragma once
// The kept routes of a document as they are asked: whose they are, and where their ends are by now.

#include "core/level/level.h"
#include "core/project/project.h"

namespace dune::pipeline {

/// Where a route begins and ends by now.
struct Ends {
  Vec3 from{}, to{};
  std::vector<std::string> missing;  ///< names that nothing has any more; the end is where it was
  bool operator==(const Ends&) const = default;
};
/// A named place counts before an object of the level; an object's end is at the middle of its underside. O(places + objects).
Ends endsOf(const project::Project& project, const level::Level& level, const project::KeptRoute& route);

/// Whether a kind of agent is asked a route: its own, and those of whichever is looked at.
inline bool isAsked(const project::KeptRoute& route, int kind) { return route.agent == 0 || route.agent == kind; }
/// The routes that a kind of agent is asked, each with its ends where they are by now.
project::RoutesSection routesOf(const project::Project& project, const level::Level& level, int kind);

}  // namespace dune::pipeline
