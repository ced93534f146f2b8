#include "core/generate/label.h"

#include <algorithm>

namespace dune::generate {

void resolveLabels(nav::NavMesh& mesh, const std::vector<std::string>& tags) {
  const unsigned known = (1u << tags.size()) - 1;
  std::vector<std::uint8_t> tagged(mesh.faceCount(), 0);
  for (std::size_t f = 0; f < mesh.faceCount(); ++f) {
    std::uint16_t& label = mesh.area[f];
    if (label < mesh.kinds.size()) continue;
    tagged[f] = static_cast<std::uint8_t>((label >> 8) & known);
    label = label & 0xff;
    if (label >= mesh.kinds.size()) label = 0;
  }
  mesh.tags = tags;
  if (std::ranges::any_of(tagged, [](std::uint8_t t) { return t != 0; })) mesh.tagged = std::move(tagged);
}

}  // namespace dune::generate
