#pragma once
// Stand-ins for a level, and for ground, that are too large to draw whole at every movement of the eye.

#include <memory>

#include "core/base/job.h"
#include "core/level/level.h"
#include "core/nav/locator.h"

namespace dune::window {

constexpr std::size_t kMostDrawn = 120'000;    // triangles
constexpr std::size_t kMostSketched = 20'000;  // triangles, while the view moves and there is no graphics card

/// The level itself when it is small; else one with the same objects of about `most` triangles at the most. Vertices are gathered in
/// cells, and one stands for all of its cell (vertex clustering: Rossignac & Borrel 1993): in the middle of them in plan and as low as
/// the lowest, so that the stand-in seldom covers what lies on the true surface. O(triangles) a round, some rounds. Without meaning when
/// cancelled.
std::shared_ptr<const level::Level> coarseLevel(const std::shared_ptr<const level::Level>& level, const Job& job,
                                                std::size_t most = kMostDrawn);

/// Null when the mesh has at most `most` triangles, else a stand-in for its faces, an object a kind of ground; as high as the highest, so
/// that it is over the stand-in for the level.
std::shared_ptr<const level::Level> coarseGround(const nav::NavMesh& mesh, const Job& job, std::size_t most = kMostDrawn / 4);

/// The same of a stand-in for ground; null when it is small enough.
std::shared_ptr<const level::Level> coarserGround(const level::Level& standIn, const Job& job, std::size_t most = kMostSketched / 2);

/// The numbers of the faces that meet a box of the plan, ascending; nothing when they have more than `most` corners. O(found).
std::optional<std::vector<std::uint32_t>> facesWithin(const nav::NavMesh& mesh, const nav::Locator& locator, const Box2& plan,
                                                      std::size_t most);

}  // namespace dune::window
