#pragma once
// What is asked again of every new ground: the kept routes, and the cards pinned to places.

#include "core/pipeline/explainer.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

struct KeptAnswer {
  int id;
  route::PathAnswer answer;
};

struct CardAnswer {
  int id;
  Vec3 at;
  ground::Explanation explanation;
  std::string before;  ///< what it said of the ground before, where that was something else; else empty
};

struct Answers {
  std::shared_ptr<const Ground> ground;  ///< that was asked
  std::vector<KeptAnswer> routes;
  std::vector<CardAnswer> cards;
};

/// Asks a ground about the project's routes and cards. What was asked of the same ground before is taken over, so that after a change
/// that needs no build only what is new is asked.
Answers ask(const project::Project& project, std::shared_ptr<const Ground> ground, const Answers& before);

}  // namespace dune::pipeline
