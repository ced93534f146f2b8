#pragma once
// Findings about what counts: marks and rules that say something other than people think, and what a re-read level has that it had not.

#include "core/project/project.h"
#include "core/review/findings.h"

namespace dune::pipeline {

/// Nothing counts as ground; ignored objects that stand on ground; marks and rules that fit no object. O(ignored × triangles of the level).
std::vector<review::Finding> levelFindings(const project::Project& project, const level::Level& level);

/// One sentence about what is different between two readings of a level: "2 objects changed, 1 new, gone: roof_3". Empty when nothing is.
std::string levelNews(const level::Level& before, const level::Level& now);

}  // namespace dune::pipeline
