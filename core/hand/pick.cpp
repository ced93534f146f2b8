#include "core/hand/pick.h"

#include <cmath>
#include <set>

#include "core/base/polyline.h"

namespace dune::hand {

using nav::FaceId;

namespace {

Box2 around(const Vec3& at, double within) {
  Box2 box;
  box.add(plan(at));
  return box.grown(within);
}

}  // namespace

nav::FaceId faceUnder(const nav::NavMesh& mesh, const Vec3& at) {
  constexpr double kOver = 1;  // m
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (const nav::FaceId face{f}; nav::coversPlan(mesh, face, plan(at)) && std::abs(nav::heightOn(mesh, face, plan(at)) - at.y) < kOver)
      return face;
  return nav::kNoFace;
}

std::optional<std::uint32_t> cornerNear(const nav::NavMesh& mesh, const nav::Locator& locator, const Vec3& at, double within) {
  std::optional<std::uint32_t> best;
  double least = within;
  for (const std::uint32_t f : locator.within(around(at, within)))
    for (const std::uint32_t v : mesh.cornersOf(FaceId{f}))
      if (const double d = glm::distance(mesh.vertices[v], at); d < least || (d == least && (!best || v < *best))) least = d, best = v;
  return best;
}

Edge edgeNear(const nav::NavMesh& mesh, const nav::Locator& locator, const Vec3& at, double within) {
  Edge best;
  double least = within;
  for (const std::uint32_t f : locator.within(around(at, within)))
    for (std::uint32_t i = 0; i < mesh.cornerCount(FaceId{f}); ++i) {
      const double d = distanceToLine(endsOf(mesh, {FaceId{f}, i}), at);
      if (d < least) least = d, best = {FaceId{f}, i};
    }
  return best;
}

std::vector<FaceId> islandOf(const nav::NavMesh& mesh, FaceId face) {
  std::vector<FaceId> found;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (mesh.island[f] == mesh.island[index(face)]) found.push_back(FaceId{f});
  return found;
}

std::vector<FaceId> grown(const nav::NavMesh& mesh, std::span<const FaceId> faces) {
  std::set<FaceId> all(faces.begin(), faces.end());
  for (const FaceId f : faces)
    for (const FaceId g : mesh.acrossOf(f))
      if (g != nav::kNoFace) all.insert(g);
  return {all.begin(), all.end()};
}

std::vector<Vec3> aroundMiddle(std::vector<Vec3> places) {
  Vec2 middle{0};
  for (const Vec3& p : places) middle += plan(p) / static_cast<double>(places.size());
  std::ranges::sort(places, {}, [&](const Vec3& p) { return std::atan2(plan(p).y - middle.y, plan(p).x - middle.x); });
  return places;
}

std::vector<Edge> borderLoop(const nav::NavMesh& mesh, const Edge& edge) {
  std::vector<Edge> loop;
  if (edge.face == nav::kNoFace || mesh.acrossOf(edge.face)[edge.side] != nav::kNoFace) return loop;
  Edge at = edge;
  do {
    loop.push_back(at);
    // Around the end of the side, over inner edges, to the next where the ground ends.
    const std::uint32_t end = mesh.cornersOf(at.face)[(at.side + 1) % mesh.cornerCount(at.face)];
    at.side = static_cast<std::uint32_t>((at.side + 1) % mesh.cornerCount(at.face));
    for (std::size_t turns = 0; mesh.acrossOf(at.face)[at.side] != nav::kNoFace && turns < mesh.faceCount(); ++turns) {
      at.face = mesh.acrossOf(at.face)[at.side];
      const auto corners = mesh.cornersOf(at.face);
      at.side = static_cast<std::uint32_t>(std::ranges::find(corners, end) - corners.begin());
    }
  } while (at != edge && loop.size() <= mesh.corners.size());
  return loop;
}

}  // namespace dune::hand
