#pragma once
// What is asked again of every new ground: the kept routes with what is expected of them, and the cards pinned to places.

#include "core/pipeline/expectations.h"
#include "core/pipeline/explainer.h"

namespace dune::pipeline {

struct KeptAnswer {
  int id;
  Ends ends;  ///< that were asked for
  route::PathAnswer answer;
  bool explained = false;                   ///< whether it was found out what would open a partial path
  std::vector<Unmet> unmet;                 ///< what was expected and does not hold
  std::optional<route::PathAnswer> before;  ///< of the ground before, where that was another way
};

struct CardAnswer {
  int id;
  Vec3 at;
  ground::Explanation explanation;
  std::string before;  ///< what it said of the ground before, where that was something else; else empty
};

struct Answers {
  std::shared_ptr<const Ground> ground;  ///< that was asked
  project::Project from;                 ///< the document whose questions these were
  std::vector<KeptAnswer> routes;        ///< those of the ground's kind of agent, and those of whichever is looked at
  std::vector<CardAnswer> cards;
};

/// Asks a ground about the project's routes and cards. What was asked of the same ground before is taken over, so that after a change
/// that needs no build only what is new is asked.
/// `kind`: the id of the kind of agent whose ground it is. With a job it is also found out what would open partial paths, which takes time;
/// without one answers that have yet to say that are given without.
Answers ask(const project::Project& project, std::shared_ptr<const Ground> ground, int kind, const Answers& before, Job* job = nullptr);

/// One for each expectation that does not hold.
/// Also for routes whose kind of agent is gone.
std::vector<review::Finding> routeFindings(const project::Project& project, const std::vector<KeptAnswer>& routes);

/// "12.4 m → 14.1 m", "complete → partial", "another way"; empty where a kept route's answer is as before.
std::string changeOf(const route::PathAnswer& before, const route::PathAnswer& now);

}  // namespace dune::pipeline
