#pragma once
// From a project's groups to what a crowd simulates: who begins where, goes where, on which ground, and how it steers.

#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// The grounds of a project's kinds of agent, one each in their order; nothing where one is not built.
using KindGrounds = std::vector<std::shared_ptr<const Ground>>;

constexpr double kOffGround = 2;      ///< m that a start or goal may be off the ground
constexpr double kBodiesApart = 2.3;  ///< radii between the middles of bodies of a group, where they are put and sent

struct CrowdScene {
  std::vector<crowd::Walker> walkers;
  crowd::SceneOptions options;
  std::vector<std::shared_ptr<const Ground>> grounds;  ///< those that walkers name by number
  std::vector<const route::Field*> fields;             ///< of these
  std::vector<review::Finding> findings;               ///< what cannot be as it was asked for
};

/// The scene of a name. `agent`: the kind that groups are of which name none. `instead`: how all groups steer, in place of what they say.
/// Fails when a group has no ground to walk on, or goes after something that is not there. O(bodies²) at worst, for starts that overlap.
Result<CrowdScene> makeScene(const project::Project& project, const KindGrounds& grounds, std::size_t agent, const std::string& scene,
                             const std::optional<crowd::SteeringSettings>& instead = std::nullopt);

}  // namespace dune::pipeline
