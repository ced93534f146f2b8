#pragma once
// What is written into a mesh file.

#include "core/meshfile/mesh_file.h"
#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// A ground with the rules of every kind of agent of its project.
meshfile::Content contentOf(const Ground& ground);

}  // namespace dune::pipeline
