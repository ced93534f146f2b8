#pragma once
// The crowd in the world: groups as drawn, what moves among them, the bodies of a run, and what one of them decides from.

#include "core/pipeline/crowd_run.h"
#include "window/scene/layers.h"
#include "window/session/workspace.h"

namespace dune::window {

/// The groups of the scene that is worked on.
std::vector<const project::CrowdGroup*> groupsOf(Workspace& workspace);
std::vector<const project::CrowdObstacle*> obstaclesOf(Workspace& workspace);
/// The kind of agent that a group's bodies are of.
const nav::Agent& kindOf(Workspace& workspace, const project::CrowdGroup& group);

/// From start to goal of each group.
DrawList groupsLayer(Workspace& workspace, std::vector<WorldLabel>& labels);
/// Tracks of what moves, and it itself at their begin.
DrawList tracksLayer(Workspace& workspace);
/// What moves, where it is at a time.
DrawList obstaclesLayer(const std::vector<crowd::MovingObstacle>& obstacles, double time);
/// The bodies at a frame; those that tilt lean with the face that they are on. Where `trails`, with where they were in the last seconds.
DrawList bodiesLayer(const std::shared_ptr<const pipeline::Run>& of, std::size_t frame, const std::vector<int>& chosen, bool trails);
/// What a body decides from: where it wants to go and goes, whom it heeds, and what its way to steer weighs.
DrawList insightLayer(const pipeline::Run& run, std::size_t frame, std::size_t body, const crowd::Insight& insight);

}  // namespace dune::window
