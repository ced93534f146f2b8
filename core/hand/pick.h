#pragma once
// What of a mesh lies nearest to a place: for clicks and scripts.

#include "core/hand/edit.h"

namespace dune::hand {

/// The first face over or under a place by less than a metre; none where there is none. O(faces): for whoever has no locator.
nav::FaceId faceUnder(const nav::NavMesh& mesh, const Vec3& at);
/// The number of the corner nearest to a place; nothing within `within` metres.
std::optional<std::uint32_t> cornerNear(const nav::NavMesh& mesh, const nav::Locator& locator, const Vec3& at, double within);
/// The side of a face nearest to a place, of the two of an inner edge that of the lower face; its face is none where nothing is near.
Edge edgeNear(const nav::NavMesh& mesh, const nav::Locator& locator, const Vec3& at, double within);
/// All faces that hang together with one over their edges, it included, ascending.
std::vector<nav::FaceId> islandOf(const nav::NavMesh& mesh, nav::FaceId face);
/// Those and their neighbours, ascending.
std::vector<nav::FaceId> grown(const nav::NavMesh& mesh, std::span<const nav::FaceId> faces);
/// Places in their order around their middle, counter-clockwise seen from above.
std::vector<Vec3> aroundMiddle(std::vector<Vec3> places);
/// The sides along which the ground ends, from one on until it comes round.
std::vector<Edge> borderLoop(const nav::NavMesh& mesh, const Edge& edge);

}  // namespace dune::hand
