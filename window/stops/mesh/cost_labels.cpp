#include "window/stops/mesh/cost_labels.h"

#include <algorithm>

#include "window/scene/theme.h"
#include "window/widgets/cost_text.h"

namespace dune::window {

namespace {

using nav::FaceId;

constexpr double kLeastArea = 1;         // m²: of a piece of ground that has a label
constexpr std::size_t kMostLabels = 40;  // the largest pieces

struct Piece {
  std::size_t kind;
  double area = 0, largest = -1;
  Vec3 at{};  // in the middle of its largest face
};

void add(Piece& piece, const nav::NavMesh& mesh, FaceId f) {
  const double area = nav::faceArea(mesh, f);
  piece.area += area;
  if (area <= piece.largest) return;
  piece.largest = area;
  Vec3 sum{0};
  for (const std::uint32_t v : mesh.cornersOf(f)) sum += mesh.vertices[v];
  piece.at = sum / static_cast<double>(mesh.cornerCount(f));
}

/// Ground of one kind, other than the plain one, that hangs together.
std::vector<Piece> piecesOf(const nav::NavMesh& mesh) {
  std::vector<Piece> pieces;
  std::vector<char> seen(mesh.faceCount(), 0);
  std::vector<FaceId> open;
  for (std::uint32_t first = 0; first < mesh.faceCount(); ++first) {
    if (seen[first] || mesh.area[first] == 0) continue;
    Piece piece{mesh.area[first]};
    seen[first] = 1;
    open.assign(1, FaceId{first});
    while (!open.empty()) {
      const FaceId f = open.back();
      open.pop_back();
      add(piece, mesh, f);
      for (const FaceId g : mesh.acrossOf(f))
        if (g != nav::kNoFace && !seen[index(g)] && mesh.area[index(g)] == piece.kind) seen[index(g)] = 1, open.push_back(g);
    }
    if (piece.area >= kLeastArea) pieces.push_back(piece);
  }
  return pieces;
}

}  // namespace

std::vector<WorldLabel> costLabels(const nav::NavMesh& mesh, const nav::Rules& rules) {
  std::vector<Piece> pieces = piecesOf(mesh);
  std::ranges::sort(pieces, std::ranges::greater{}, &Piece::area);
  pieces.resize(std::min(pieces.size(), kMostLabels));
  std::vector<WorldLabel> labels;
  for (const Piece& p : pieces)
    labels.push_back({raised(p.at, 0.1), shortCost(rules.of(p.kind)), rules.of(p.kind).forbidden ? theme().bad : theme().text});
  return labels;
}

}  // namespace dune::window
