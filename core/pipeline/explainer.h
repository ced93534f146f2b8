#pragma once
// "Why is there (no) ground here?" asked of a build, place after place.

#include "core/ground/explain.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// Keeps the triangles around the last place, so that a cursor that moves is answered at once. For one thread.
class Explainer {
 public:
  ground::Explanation at(const std::shared_ptr<const generate::Built>& built, const Vec3& place);
  /// Asked of a ground, it is also said when no seed reaches the place.
  ground::Explanation at(const Ground& ground, const Vec3& place);

 private:
  std::shared_ptr<const generate::Built> built_;
  ground::ChunkId low_, high_;
  std::optional<ground::Soup> soup_;
};

/// The same without a build: only what lies around the place is looked at, unless there are seeds, which need all of the ground.
Result<ground::Explanation> explainPlace(const level::World& world, const nav::Agent& agent, const Vec3& place, Job& job);

}  // namespace dune::pipeline
