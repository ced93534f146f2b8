#include "core/pipeline/hand_review.h"

#include <cmath>
#include <utility>

#include "core/base/plan_geometry.h"
#include "core/base/text.h"
#include "core/pipeline/surfaces.h"

namespace dune::pipeline {

namespace {

constexpr double kMoved = 0.05;  // m that the level may have moved

review::Remedy givenUp(int patch) { return {"Give up", review::ReplacePatch{patch, nullptr}}; }

/// `standing`: where it takes the ground away nothing is asked of the level.
void reviewPatch(const hand::Patch& patch, const hand::LevelAt& levelAt, const hand::Standing& standing, const nav::Agent& agent,
                 std::vector<review::Finding>& findings) {
  double worst = 0;
  bool gone = false;
  Vec3 at{};
  for (const hand::Face& face : patch.faces) {
    const Vec3 middle = meanOf(face.corners);
    if (std::ranges::any_of(standing.solids, [&](const hand::Solid& s) { return hand::takes(s, middle, agent); })) continue;
    const auto now = levelAt(middle);
    if (!now && !face.ground) continue;
    const double by = now && face.ground ? std::abs(*now - *face.ground) : INFINITY;
    if (by <= kMoved || by <= worst) continue;
    worst = by, at = middle, gone = std::isinf(by);
  }
  if (worst <= kMoved) return;
  const std::string what =
      gone ? text("Patch %d was drawn where the level has changed: it lies on something that was not there, or is gone.", patch.id)
           : text("The level under patch %d has moved by %.2f m since it was drawn.", patch.id, worst);
  findings.push_back({"patch-moved", review::Severity::warning, what,
                      "The level was read again, and is not what it was when this ground was drawn by hand.",
                      gone ? "keeping it as it is, or giving it up." : "draping it again, keeping it as it is, or giving it up.", at});
  review::Finding& f = findings.back();
  f.measured = gone ? 0 : worst, f.limit = kMoved;
  const auto replaced = [&](const char* label, hand::Patch by) {
    return review::Remedy{label, review::ReplacePatch{patch.id, std::make_shared<hand::Patch>(std::move(by))}};
  };
  f.instead = {replaced("Keep as is", keptAsIs(patch, levelAt)), givenUp(patch.id)};
  f.remedy = replaced("Drape again", draped(patch, levelAt));
  if (gone) f.remedy = std::exchange(f.instead.front(), f.instead.back()), f.instead.pop_back();
}

}  // namespace

hand::LevelAt levelOf(std::shared_ptr<const generate::Built> built) {
  return [surfaces = std::make_shared<Surfaces>(std::move(built))](const Vec3& at) -> std::optional<double> {
    const auto found = surfaces->nearest(at, 0);
    return found ? std::optional(found->height) : std::nullopt;
  };
}

void reviewHandWork(const Ground& ground, std::size_t agent, std::vector<review::Finding>& findings) {
  const project::Project& project = ground.from;
  const int id = project.agents->agents[agent].id;
  for (const hand::NotLaid& n : ground.notLaid) {
    findings.push_back({"patch-not-laid", review::Severity::error, text("Patch %d cannot be laid whole.", n.patch),
                        "A face of it touches two grounds that lie over each other, nearer than a storey.",
                        "giving it up, and drawing it anew.", n.at});
    findings.back().remedy = givenUp(n.patch);
  }
  const hand::LevelAt levelAt = levelOf(ground.built);
  for (const hand::Patch& patch : project.hand->patches)
    if (patch.isFor(id)) reviewPatch(patch, levelAt, ground.standing, ground.mesh.agent, findings);
}

hand::Patch draped(hand::Patch patch, const hand::LevelAt& levelAt) {
  for (hand::Face& face : patch.faces) {
    const auto now = levelAt(meanOf(face.corners));
    if (!now || !face.ground) continue;
    for (Vec3& c : face.corners) c.y += *now - *face.ground;
    face.ground = now;
  }
  return patch;
}

hand::Patch keptAsIs(hand::Patch patch, const hand::LevelAt& levelAt) {
  for (hand::Face& face : patch.faces) face.ground = levelAt(meanOf(face.corners));
  return patch;
}

}  // namespace dune::pipeline
