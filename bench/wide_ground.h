#pragma once
// A wide terrain as a mesh, made straight away: a million faces take the generator minutes.

#include "core/nav/navmesh.h"

namespace dune::bench {

/// A square of `side` × `side` quads of about 2.35 m, each two triangles, with rolling heights and moved corners on the lattice, and a hole
/// of 3 to 30 quads in every 180.
nav::NavMesh wideGround(int side, std::uint64_t seed = 1);

}  // namespace dune::bench
