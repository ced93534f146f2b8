#pragma once
// Movement recorded elsewhere, looked at as a run of ours is.

#include "core/pipeline/crowd_run.h"

namespace dune::pipeline {

/// Reads a recording and reviews it on a ground. Fails where the file is no recording, or when cancelled.
Result<std::shared_ptr<const Run>> openRecording(const project::Project& project, std::shared_ptr<const Ground> ground,
                                                 const std::string& path, Job& job);

}  // namespace dune::pipeline
