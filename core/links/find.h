#pragma once
// Drops and jumps that a build finds along the border of a mesh.
//
// 1. From places of the border a spacing apart, straight out (and at corners that stick out, between), one looks for ground right below and
//    beyond gaps, within the limits of the mesh's agent. Gaps are measured between the edges of the real ground.
// 2. Its flight is swept by the agent's body against the real triangles; both ends are on the mesh, so there is room to stand.
// 3. Ways beside each other between the same two straight stretches are one link, as wide as they reach. What one walks nearly as fast is
//    left out, and so is what another link does.

#include "core/base/job.h"
#include "core/ground/survey.h"
#include "core/nav/navmesh.h"

namespace dune::links {

constexpr int kFirstFound = 100001;  ///< the id of the first link that is found; hand-made ones count from 1

/// World and survey are those that the mesh was made from. The same bytes for any number of threads. Fails only when cancelled.
/// O(places · triangles near a flight).
Result<std::vector<nav::Link>> find(const nav::NavMesh& mesh, const level::World& world, const ground::Survey& survey, Job& job);

}  // namespace dune::links
