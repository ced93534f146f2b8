#include "core/route/layout.h"

#include <algorithm>

namespace dune::route {

using nav::FaceId;

Adjacency::Adjacency(const nav::NavMesh& mesh) : mesh_(mesh) {
  pairEdges();
  findLanes();
  from_ = sortLinks(false), into_ = sortLinks(true);
}

Adjacency::ByFace Adjacency::sortLinks(bool into) const {
  ByFace sorted;
  sorted.start.assign(mesh_.faceCount() + 1, 0);
  const auto eachEnd = [&](auto&& visit) {
    for (std::uint32_t i = 0; i < mesh_.links.size(); ++i) {
      const nav::Link& link = mesh_.links[i];
      visit(into ? link.toFace : link.fromFace, LinkEnd{i, true});
      if (!link.oneWay) visit(into ? link.fromFace : link.toFace, LinkEnd{i, false});
    }
  };
  eachEnd([&](FaceId f, LinkEnd) { ++sorted.start[index(f) + 1]; });
  for (std::size_t i = 1; i < sorted.start.size(); ++i) sorted.start[i] += sorted.start[i - 1];
  sorted.links.resize(sorted.start.back());
  std::vector<std::uint32_t> next(sorted.start.begin(), sorted.start.end() - 1);
  eachEnd([&](FaceId f, LinkEnd end) { sorted.links[next[index(f)]++] = end; });
  return sorted;
}

/// Where none is wide, nothing has to be looked for.
void Adjacency::findLanes() {
  const bool wide = std::ranges::any_of(mesh_.links, [](const nav::Link& l) { return l.width() > 0; });
  const nav::Locator locator = wide ? nav::Locator(mesh_) : nav::Locator();
  for (const nav::Link& link : mesh_.links) lanes_.push_back(lanesOf(locator, link));
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
