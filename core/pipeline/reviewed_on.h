#pragma once
// A ground as movement on it is reviewed.

#include "core/pipeline/ground.h"
#include "core/review/movement.h"

namespace dune::pipeline {

/// Keeps a reference: the ground must outlive it.
review::Ground reviewedOn(const Ground& ground);

}  // namespace dune::pipeline
