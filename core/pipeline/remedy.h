#pragma once
// Does to a document what a finding proposes.

#include "core/project/project.h"
#include "core/review/findings.h"

namespace dune::pipeline {

/// The document with the remedy applied; what the remedy speaks of and is not there any more changes nothing.
void apply(const review::Remedy& remedy, project::Project& project);

}  // namespace dune::pipeline
