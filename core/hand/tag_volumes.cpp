#include "core/hand/tag_volumes.h"

#include <algorithm>

#include "core/hand/shape.h"
#include "core/nav/pieces.h"

namespace dune::hand {

namespace {

using nav::FaceId;

/// Picked faces that hang together.
std::vector<std::vector<FaceId>> pickedPieces(const nav::NavMesh& mesh, std::span<const FaceId> faces) {
  std::vector<char> picked(mesh.faceCount(), 0);
  for (const FaceId f : faces) picked[index(f)] = 1;
  const nav::Pieces pieces = nav::piecesOf(mesh, [&](FaceId f) { return picked[index(f)] != 0; });
  std::vector<std::vector<FaceId>> all(pieces.count);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (pieces.of[f] != nav::kNoPiece) all[pieces.of[f]].push_back(FaceId{f});
  return all;
}

level::AreaVolume volumeOf(const std::vector<Vec3>& outline, const Interval& heights, const std::string& tag) {
  level::AreaVolume volume;
  for (const Vec3& p : outline) volume.outline.push_back(plan(p));
  volume.bottom = heights.from, volume.top = heights.to, volume.tags = {tag};
  return volume;
}

Interval heightsOf(const nav::NavMesh& mesh, std::span<const FaceId> faces) {
  constexpr double kBeyond = 0.25;  // m
  Interval heights{mesh.cornerAt(faces[0], 0).y, mesh.cornerAt(faces[0], 0).y};
  for (const FaceId f : faces)
    for (const std::uint32_t v : mesh.cornersOf(f))
      heights.from = std::min(heights.from, mesh.vertices[v].y), heights.to = std::max(heights.to, mesh.vertices[v].y);
  return {heights.from - kBeyond, heights.to + kBeyond};
}

}  // namespace

std::vector<level::AreaVolume> volumesOver(const nav::NavMesh& mesh, std::span<const FaceId> faces, const std::string& tag) {
  std::vector<level::AreaVolume> volumes;
  for (const std::vector<FaceId>& piece : pickedPieces(mesh, faces)) {
    std::vector<std::vector<Vec3>> outlines;
    for (const FaceId f : piece) outlines.push_back(outlineOf(mesh, f));
    const Interval heights = heightsOf(mesh, piece);
    const std::vector<Vec3> around = heights.to - heights.from < mesh.agent.height ? outlineAround(outlines) : std::vector<Vec3>{};
    if (!around.empty()) {
      volumes.push_back(volumeOf(around, heights, tag));
      continue;
    }
    for (std::size_t i = 0; i < piece.size(); ++i) volumes.push_back(volumeOf(outlines[i], heightsOf(mesh, std::span(&piece[i], 1)), tag));
  }
  return volumes;
}

}  // namespace dune::hand
