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
  return findings;
}

}  // namespace dune::pipeline
