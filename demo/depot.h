#pragma once
// Saltwind Depot: a made-up supply yard in a salt desert, the level and project that the examples, tests and pictures use.

#include "core/project/project.h"
#include "demo/glb_writer.h"

namespace dune::demo {

GlbWriter depotLevel();
/// The project over it; its level file is "saltwind-depot.glb" beside it. Holds honest mistakes: bodies larger than the mesh
/// was built for, a link whose landing hangs in the air, and a canal end that nothing leads to.
project::Project depotProject();

}  // namespace dune::demo
