#pragma once
// Scenes that are ready to be added: what crowds are usually tried with.

#include "core/project/project.h"

namespace dune::project {

enum class ReadyScene : std::uint8_t { ringSwap, meeting, door, target, thousands };
constexpr std::size_t kReadyScenes = 5;

const char* readySceneName(ReadyScene scene);
/// Adds its groups, and what they walk through, around a place, for bodies of a radius. They belong to the named scene.
void addReadyScene(Project& project, ReadyScene scene, const Vec3& at, double radius, const std::string& name);

}  // namespace dune::project
