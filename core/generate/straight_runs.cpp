#include "core/generate/straight_runs.h"

#include <algorithm>
#include <array>

#include "core/generate/face_shape.h"

namespace dune::generate {

void dissolveStraightCorners(Faces& faces, std::span<const LatticePoint> pinned) {
  const double within = faces.flat / 4;
  std::vector<std::array<int, 2>> uses(faces.points.size(), {0, 0});  // faces, faces in which it is straight
  for (const Loop& loop : faces.loops)
    for (std::size_t i = 0; i < loop.size(); ++i) {
      ++uses[loop[i]][0];
      uses[loop[i]][1] += straightAt(loop, faces.lattice(), faces.place(), i, within);
    }
  std::vector<char> going(faces.points.size(), 0);
  for (std::uint32_t v = 0; v < going.size(); ++v)
    going[v] = uses[v][0] > 0 && uses[v][0] <= 2 && uses[v][0] == uses[v][1] && !std::ranges::binary_search(pinned, faces.points[v]);
  for (bool more = true; more;) {
    more = false;
    for (const Loop& loop : faces.loops)
      more |= keepBent(
          loop.size(), [&](std::size_t i) { return loop[i]; }, faces.place(), going, within);
  }
  for (Loop& loop : faces.loops) std::erase_if(loop, [&](std::uint32_t v) { return going[v] != 0; });
}

}  // namespace dune::generate
