#pragma once
// What of the level lies under a place: for the review of movement, which asks at few places.

#include <map>
#include <memory>
#include <mutex>

#include "core/generate/build.h"
#include "core/review/movement.h"

namespace dune::pipeline {

/// Keeps the triangles of the chunks that were asked about. From any thread.
class Surfaces {
 public:
  explicit Surfaces(std::shared_ptr<const generate::Built> built) : built_(std::move(built)) {}
  /// See review::Ground::surface. O(triangles over the place), and of the chunk once.
  std::optional<review::Surface> nearest(const Vec3& at, double radius);

 private:
  std::shared_ptr<const generate::Built> built_;
  std::mutex mutex_;
  std::map<ground::ChunkId, ground::Soup> soups_;
};

}  // namespace dune::pipeline
