#pragma once
// One limit of an agent tried over a range, and the widest and tallest agent that gets from one place to another.

#include "core/pipeline/ground.h"

namespace dune::pipeline {

enum class SweptLimit : std::uint8_t { radius, height, maxSlope, stepHeight };

double nav::Agent::*fieldOf(SweptLimit limit);

struct SweepPlan {
  SweptLimit limit = SweptLimit::radius;
  double from = 0, to = 1;  ///< metres or degrees
  int steps = 12;           ///< values asked, both ends among them; 2 to 100
};

struct SweepPoint {
  double value = 0;
  double reachable = 0;        ///< m²: see Sweep
  std::vector<bool> complete;  ///< one a route that was asked
};

/// Where a kept route stops, or begins, to be complete.
struct Threshold {
  std::size_t route;  ///< index into the routes that were asked
  double value;       ///< the last value on the side on which the route is complete, found to a 2000th of the range
  bool above;         ///< complete above it; else below
  Vec3 at{};          ///< where the route is stopped first on the other side
  std::string cause;  ///< why it is stopped there: "a step of 0.42 m …"; may be empty
  std::string brief;  ///< the same without the limit
};

struct Sweep {
  project::Project from;
  project::RoutesSection routes;  ///< that were asked: those of the kind of agent
  SweepPlan plan;
  std::vector<SweepPoint> points;  ///< by growing value
  std::vector<Threshold> thresholds;
  std::string measure;  ///< what `reachable` is: "ground reached from the seeds", "… from the routes' starts", "the largest island"
};

/// Builds at every value and, by bisection, around every change of a route. Values that make no sense for an agent are usage problems.
Result<std::shared_ptr<const Sweep>> sweep(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent,
                                           const SweepPlan& plan, Job& job);

struct Tightest {
  double most = 0;    ///< the largest radius, or height, that passes, to 5 mm; 0 when not even the least does
  bool open = false;  ///< even the most that is tried passes
  Vec3 at{};          ///< where a larger one is stopped first; where nobody passes, where even the least is
  std::string cause;  ///< why it is stopped there: "0.45 m from stall_north with radius 0.45 m"; may be empty
  std::string brief;  ///< the same without the limit
};

struct Passing {
  Tightest radius;  ///< with the agent's height
  Tightest height;  ///< with the agent's radius
};

/// The widest and the tallest agent, with the other limits of the agent given, that still gets from one place to the other. Some twenty
/// builds; what is known of the level itself is found out once.
Result<Passing> widestPassing(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent,
                              const Vec3& from, const Vec3& to, Job& job);

}  // namespace dune::pipeline
