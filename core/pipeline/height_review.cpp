#include "core/pipeline/height_review.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/pipeline/surfaces.h"

namespace dune::pipeline {

namespace {

constexpr double kOff = 0.25;          // m: risers are climbed by strips that lie off the level by less than that as a rule
constexpr double kBeside = 0.15;       // m in plan within which the level is looked for: borders run along edges
constexpr std::size_t kMostOnes = 30;  // findings

struct Off {
  double by;
  Vec3 at;
  std::string sentence;
};

/// Ground that ends elsewhere than the level's playable bounds say.
void reviewBounds(const Ground& ground, std::vector<review::Finding>& findings) {
  constexpr double kBeyond = 0.01;  // m
  const auto& bounds = ground.built->world.bounds;
  if (!bounds) return;
  double most = kBeyond;
  std::size_t corners = 0;
  Vec3 at{};
  for (const Vec3& p : ground.mesh.vertices) {
    const Vec3 inside = glm::clamp(p, bounds->min, bounds->max);
    const double by = glm::distance(plan(p), plan(inside));
    corners += by > kBeyond;
    if (by > most) most = by, at = p;
  }
  if (corners > 0)
    findings.push_back({"out-of-bounds", review::Severity::error,
                        text("%zu corners of the ground lie outside the playable bounds, by %.2f m at the most.", corners, most),
                        "Agents could walk there.", "building it again.", at, -1, -1, most, 0});
}

}  // namespace

std::vector<review::Finding> reviewHeights(const Ground& ground, Job& job) {
  Surfaces surfaces(ground.built);
  const nav::NavMesh& mesh = ground.mesh;
  const double step = mesh.agent.stepHeight;
  std::vector<Off> all;
  for (std::uint32_t f = 0; f < mesh.faceCount() && !job.cancelled(); ++f) {
    const Vec3 middle = nav::middleOf(mesh, nav::FaceId{f});
    Off worst{0, middle, {}};
    for (std::size_t i = 0; i <= mesh.cornerCount(nav::FaceId{f}); ++i) {
      const Vec3 at = i == 0 ? middle : glm::mix(middle, mesh.cornerAt(nav::FaceId{f}, i - 1), 0.8);
      const auto surface = surfaces.nearest(at, kBeside);
      const double by = surface ? at.y - surface->height : 2;
      if (std::abs(by) <= std::max(kOff, step) || std::abs(by) <= worst.by) continue;
      worst = {std::abs(by), at,
               !surface ? std::string("Ground has nothing of the level under it.")
                        : text(by > 0 ? "Ground floats %.2f m over %s." : "Ground lies %.2f m within %s.", std::abs(by),
                               surface->object.c_str())};
    }
    if (worst.by > 0) all.push_back(std::move(worst));
  }
  std::ranges::stable_sort(all, std::ranges::greater{}, &Off::by);
  std::vector<review::Finding> findings;
  for (std::size_t i = 0; i < std::min(all.size(), kMostOnes); ++i) {
    const bool rest = i + 1 == kMostOnes && all.size() > kMostOnes;
    findings.push_back({"off-level", review::Severity::error,
                        all[i].sentence + (rest ? text(" %zu more faces are like it.", all.size() - kMostOnes) : std::string()),
                        "Bodies on it hover or sink, and games do not find the face.",
                        "building it again, and telling us: it should not be.", all[i].at, -1, -1, all[i].by, std::max(kOff, step)});
  }
  reviewBounds(ground, findings);
  return findings;
}

}  // namespace dune::pipeline
