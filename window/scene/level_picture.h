#pragma once
// What is drawn for a level, made beside the window's thread: its triangles, or those of a stand-in, and the edges that show its shape.

#include <array>
#include <memory>
#include <vector>

#include "core/base/job.h"
#include "core/level/level.h"

namespace dune::window {

struct LevelPicture {
  std::shared_ptr<const level::Level> level;  ///< itself, or a stand-in with the same objects where it is large
  /// One list an object: pairs of its vertices between which it folds or ends; none for a stand-in, whose folds are not true.
  std::vector<std::vector<std::array<std::uint32_t, 2>>> edges;
  std::shared_ptr<const level::Level> sketch;  ///< a coarser stand-in for while the view moves; null where the level is drawn itself
};

/// O(triangles log triangles). Without meaning when cancelled.
std::shared_ptr<const LevelPicture> pictureOf(const std::shared_ptr<const level::Level>& level, const Job& job);

}  // namespace dune::window
