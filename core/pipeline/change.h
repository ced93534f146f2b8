#pragma once
// What is different between two grounds: of one agent before and after a build, or of two agents.

#include "core/pipeline/difference.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// Ground gained or lost at one place.
struct ChangedPlace {
  bool gained = false;
  pipeline::PatchGroup ground;
  std::string cause;  ///< why the one has no ground here: a sentence part, "0.31 m from crate_1 with radius 0.40 m"; may be empty
};

struct ChangedRoute {
  int id;
  std::string sentence;  ///< "12.4 m → 15.1 m", "complete → partial"
};

struct Change {
  std::shared_ptr<const Ground> before, now;
  double gained = 0, lost = 0;       ///< m²
  std::vector<ChangedPlace> places;  ///< by area, largest first
  std::vector<ChangedRoute> routes;  ///< kept routes whose answer is another
};

/// Whether the files of both are read in the same units and with the same axis up. Where they are not, all ground has moved, and a
/// comparison says nothing.
bool sameUnits(const project::Project& a, const project::Project& b);

/// Compares two grounds and what they say to the kept routes. Fails only when cancelled.
Result<std::shared_ptr<const Change>> compare(std::shared_ptr<const Ground> before, std::shared_ptr<const Ground> now,
                                              const project::RoutesSection& routes, Job& job);

}  // namespace dune::pipeline
