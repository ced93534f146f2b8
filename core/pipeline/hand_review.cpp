#include "core/pipeline/hand_review.h"

#include <cmath>

#include "core/base/text.h"
#include "core/pipeline/surfaces.h"

namespace dune::pipeline {

namespace {

constexpr double kMoved = 0.05;  // m that the level may have moved

Vec3 middleOf(const hand::Face& face) {
  Vec3 sum{0};
  for (const Vec3& c : face.corners) sum += c;
  return sum / static_cast<double>(face.corners.size());
}

void reviewPatch(const hand::Patch& patch, const hand::LevelAt& levelAt, std::vector<review::Finding>& findings) {
  double worst = 0;
  bool gone = false;
  Vec3 at{};
  for (const hand::Face& face : patch.faces) {
    const auto moved = hand::movedSince(face, levelAt);
    if (!moved) continue;
    const double by = std::isnan(*moved) ? INFINITY : std::abs(*moved);
    if (by <= kMoved || by <= worst) continue;
    worst = by, at = middleOf(face), gone = std::isinf(by);
  }
  if (worst <= kMoved) return;
  hand::Work one{{patch}, {}};
  drapePatch(one, patch.id, levelAt);
  const std::string what =
      gone ? text("Patch %d was drawn where the level has changed: it lies on something that was not there, or is gone.", patch.id)
           : text("The level under patch %d has moved by %.2f m since it was drawn.", patch.id, worst);
  findings.push_back({"patch-moved", review::Severity::warning, what,
                      "The level was read again, and is not what it was when this ground was drawn by hand.",
                      "draping it again, keeping it as it is, or giving it up, under Mesh.", at});
  review::Finding& f = findings.back();
  f.measured = gone ? 0 : worst, f.limit = kMoved;
  if (!gone) f.remedy = review::Remedy{"Drape again", review::ReplacePatch{patch.id, std::make_shared<hand::Patch>(one.patches[0])}};
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
  for (const hand::NotLaid& n : ground.notLaid)
    findings.push_back({"patch-not-laid", review::Severity::error, text("Patch %d cannot be laid: %s.", n.patch, n.why.c_str()),
                        "The ground around it is not what it was when it was drawn.", "giving it up under Mesh, and drawing it anew.",
                        n.at});
  const hand::LevelAt levelAt = levelOf(ground.built);
  for (const hand::Patch& patch : project.hand->patches)
    if (patch.isFor(id)) reviewPatch(patch, levelAt, findings);
}

void drapePatch(hand::Work& work, int patch, const hand::LevelAt& levelAt) {
  for (hand::Patch& p : work.patches) {
    if (p.id != patch) continue;
    for (hand::Face& face : p.faces) {
      const auto moved = hand::movedSince(face, levelAt);
      if (!moved || std::isnan(*moved)) continue;
      for (Vec3& c : face.corners) c.y += *moved;
      face.ground += *moved;
    }
  }
}

void keepPatch(hand::Work& work, int patch, const hand::LevelAt& levelAt) {
  for (hand::Patch& p : work.patches) {
    if (p.id != patch) continue;
    for (hand::Face& face : p.faces) {
      const auto now = levelAt(middleOf(face));
      face.onGround = now.has_value(), face.ground = now ? *now : 0;
    }
  }
}

}  // namespace dune::pipeline
