#include "window/stops/mesh/cost_labels.h"

#include <algorithm>

#include "core/nav/pieces.h"
#include "window/scene/theme.h"
#include "window/widgets/cost_text.h"

namespace dune::window {

namespace {

using nav::FaceId;

constexpr double kLeastArea = 1;         // m²: of a piece of ground that has a label
constexpr std::size_t kMostLabels = 40;  // the largest pieces

struct Piece {
  std::size_t kind = 0;
  double area = 0, largest = -1;
  Vec3 at{};  // in the middle of its largest face
};

/// Ground of one kind, other than the plain one, that hangs together; the larger pieces, by size.
std::vector<Piece> largerPieces(const nav::NavMesh& mesh) {
  const nav::Pieces pieces = nav::piecesOf(
      mesh, [&](FaceId f) { return mesh.area[index(f)] != 0; },
      [&](FaceId f, FaceId g) { return mesh.area[index(f)] == mesh.area[index(g)]; });
  std::vector<Piece> all(pieces.count);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    if (pieces.of[f] == nav::kNoPiece) continue;
    Piece& piece = all[pieces.of[f]];
    const double area = nav::faceArea(mesh, FaceId{f});
    piece.kind = mesh.area[f], piece.area += area;
    if (area > piece.largest) piece.largest = area, piece.at = nav::middleOf(mesh, FaceId{f});
  }
  std::erase_if(all, [](const Piece& p) { return p.area < kLeastArea; });
  std::ranges::sort(all, std::ranges::greater{}, &Piece::area);
  all.resize(std::min(all.size(), kMostLabels));
  return all;
}

}  // namespace

std::vector<WorldLabel> costLabels(const nav::NavMesh& mesh, const nav::Rules& rules) {
  std::vector<WorldLabel> labels;
  for (const Piece& p : largerPieces(mesh))
    labels.push_back({raised(p.at, 0.1), shortCost(rules.of(p.kind)), rules.of(p.kind).forbidden ? theme().bad : theme().text});
  return labels;
}

}  // namespace dune::window
