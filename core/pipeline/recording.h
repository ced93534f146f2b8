#pragma once
// Movement recorded elsewhere, looked at as a run of ours is.

#include "core/pipeline/crowd_run.h"

namespace dune::pipeline {

/// Reads a recording and reviews it on a ground; where it seems to be read in a wrong way, that is all that is found. Fails where the file
/// is no recording, or when cancelled.
Result<std::shared_ptr<const Run>> openRecording(const project::Project& project, std::shared_ptr<const Ground> ground,
                                                 const std::string& path, Job& job, const trace::Reading& reading = {});

}  // namespace dune::pipeline
