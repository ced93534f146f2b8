#pragma once
// Findings about what counts: marks and rules that say something other than people think, and what a re-read level has that it had not.

#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// Nothing counts as ground; ignored objects that stand on ground; marks and rules that fit no object. O(ignored × triangles of the level).
std::vector<review::Finding> levelFindings(const project::Project& project, const level::Level& level);
/// The same, and files that do not look like metres with Y up.
std::vector<review::Finding> levelFindings(const project::Project& project, const LoadedLevel& level);

/// What is different between two readings of a level, by the names of objects.
struct LevelNews {
  std::vector<std::string> changed, fresh, gone;

  bool empty() const { return changed.empty() && fresh.empty() && gone.empty(); }
  /// "The level was read again; 2 changed: crate_1, crate_2; 1 gone: roof_3." Empty when nothing is different.
  std::string sentence() const;
};
LevelNews levelNews(const level::Level& before, const level::Level& now);

}  // namespace dune::pipeline
