#include "core/route/layout.h"

namespace dune::route {

using nav::FaceId;

Adjacency::Adjacency(const nav::NavMesh& mesh) : mesh_(mesh) {
  pairEdges();
  linkStart_.assign(mesh.faceCount() + 1, 0);
  auto eachEnd = [&](auto&& visit) {
    for (std::uint32_t i = 0; i < mesh.links.size(); ++i) {
      visit(mesh.links[i].fromFace, LinkEnd{i, true});
      if (!mesh.links[i].oneWay) visit(mesh.links[i].toFace, LinkEnd{i, false});
    }
  };
  eachEnd([&](FaceId f, LinkEnd) { ++linkStart_[index(f) + 1]; });
  for (std::size_t i = 1; i < linkStart_.size(); ++i) linkStart_[i] += linkStart_[i - 1];
  links_.resize(linkStart_.back());
  std::vector<std::uint32_t> next(linkStart_.begin(), linkStart_.end() - 1);
  eachEnd([&](FaceId f, LinkEnd end) { links_[next[index(f)]++] = end; });
}

void Adjacency::pairEdges() {
  beyond_.assign(mesh_.corners.size(), 0);
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    const auto across = mesh_.acrossOf(FaceId{f});
    const auto corners = mesh_.cornersOf(FaceId{f});
    for (std::size_t i = 0; i < across.size(); ++i) {
      if (across[i] == nav::kNoFace) continue;
      const auto theirs = mesh_.acrossOf(across[i]);
      const auto vertices = mesh_.cornersOf(across[i]);
      std::uint32_t back = 0;  // it begins at the corner where it ends here
      while (theirs[back] != FaceId{f} || vertices[back] != corners[(i + 1) % corners.size()]) ++back;
      beyond_[mesh_.start[f] + i] = back;
    }
  }
}

}  // namespace dune::route
