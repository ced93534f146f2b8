#include "core/pipeline/mend.h"

#include <algorithm>
#include <limits>

#include "core/hand/pick.h"
#include "core/hand/shape.h"
#include "core/pipeline/given_review.h"
#include "core/pipeline/hand_review.h"
#include "core/pipeline/remedy.h"

namespace dune::pipeline {

namespace {

using hand::Work;
using nav::FaceId;
using review::MendByHand;

constexpr double kNear = 0.3;  // m from the place of a finding

Problem nothingThere(const Vec3& at) { return {ProblemCode::unusable, "There is no ground any more.", hand::placeText(at), {}}; }

/// The largest of the faces at a place is drawn again, so that what else is there gives way.
Result<Work> cut(const hand::Editor& editor, const nav::NavMesh& mesh, const nav::Locator& locator, const Vec3& at) {
  Box2 box;
  box.add(plan(at));
  FaceId best = nav::kNoFace;
  double most = 0;
  for (const std::uint32_t f : locator.within(box)) {
    const FaceId face{f};
    if (!nav::coversPlan(mesh, face, plan(at)) || std::abs(nav::heightOn(mesh, face, plan(at)) - at.y) > hand::storeyHeight(mesh.agent))
      continue;
    if (const double area = nav::faceArea(mesh, face); area > most) most = area, best = face;
  }
  if (best == nav::kNoFace) return nothingThere(at);
  return editor.paint(std::vector{best}, mesh.area[nav::index(best)] == 0 ? std::string() : mesh.kindOf(best).name);
}

}  // namespace

Bench::Bench(std::shared_ptr<const Ground> ground, int agent)
    : ground_(std::move(ground)), agent_(agent), levelAt_(levelOf(ground_->built)) {}

void Bench::lay(const std::shared_ptr<const Work>& work) {
  if (work == work_) return;
  work_ = work;
  laid_ = hand::lay(ground_->built->mesh, *work, agent_, ground_->standing);
  locator_ = nav::Locator(laid_.mesh);
}

Result<Work> mended(const MendByHand& remedy, const hand::Editor& editor, const nav::NavMesh& mesh, const nav::Locator& locator) {
  const auto face = [&]() -> FaceId { return locator.nearest(remedy.at, kNear).face; };
  switch (remedy.what) {
    case MendByHand::What::drape:
      if (const FaceId f = face(); f != nav::kNoFace) return editor.drape(std::vector{f});
      break;
    case MendByHand::What::cut:
      return cut(editor, mesh, locator, remedy.at);
    case MendByHand::What::takeAway:
      if (const FaceId f = face(); f != nav::kNoFace) return editor.remove(hand::islandOf(mesh, f));
      break;
  }
  return nothingThere(remedy.at);
}

namespace {

bool takesAway(const review::Remedy& remedy) {
  const auto* byHand = std::get_if<MendByHand>(&remedy.change);
  return byHand && byHand->what == MendByHand::What::takeAway;
}

/// What is done whenever the file is read, everywhere. Whether there was any of it: what hand work is needed then is seen after that.
bool mendReading(project::Project& project, const std::vector<review::Finding>& findings) {
  bool any = false;
  for (const review::Finding& f : findings)
    if (const auto* given = std::get_if<review::MendGiven>(&f.remedy->change))
      apply({{}, review::MendGiven{given->mesh, {given->mend.what, {}}}}, project), any = true;
  return any;
}

/// What one look at the ground found, one after the other; each lays what the one before it changed.
void mendByHand(MendedAll& all, const std::vector<review::Finding>& findings, Bench& bench, Job& job) {
  all.firstLeft.reset();
  for (const review::Finding& f : findings) {
    if (job.cancelled()) return;
    const auto* byHand = std::get_if<MendByHand>(&f.remedy->change);
    if (!byHand) continue;
    bench.lay(all.project.hand);
    auto work = mended(*byHand, bench.editor(), bench.mesh(), bench.locator());
    if (work)
      all.project.hand = std::make_shared<const Work>(std::move(work.value()));
    else if (!all.firstLeft)
      all.firstLeft = work.problem();
  }
}

}  // namespace

Result<MendedAll> mendAll(project::Project project, std::shared_ptr<const level::Level> level, std::size_t agent, const std::string& code,
                          Job& job) {
  constexpr int kMostRounds = 6;
  MendedAll all{std::move(project)};
  std::shared_ptr<const Ground> ground;
  std::size_t most = 0;
  for (int round = 0; round <= kMostRounds; ++round) {
    auto made = makeGround(all.project, level, agent, ground, job);
    if (!made) return made.problem();
    ground = *made;
    if (!ground->given) return Problem{ProblemCode::usage, "The mesh of this kind of agent is built, and not from elsewhere.", {}, {}};
    std::vector<review::Finding> findings = ground->findings;
    std::erase_if(findings, [](const review::Finding& f) { return !f.remedy || !takesAway(*f.remedy); });
    reviewGiven(*ground, agent, findings, job, std::numeric_limits<std::size_t>::max());
    std::erase_if(findings, [&](const review::Finding& f) { return code.empty() ? f.remedy && takesAway(*f.remedy) : f.code != code; });
    all.left = findings.size(), most = std::max(most, all.left);
    std::erase_if(findings, [](const review::Finding& f) { return !f.remedy; });
    if (findings.empty() || round == kMostRounds) break;
    const project::Project before = all.project;
    if (!mendReading(all.project, findings)) {
      Bench bench(ground, all.project.agents->agents[agent].id);
      mendByHand(all, findings, bench, job);
    }
    if (job.cancelled()) return Job::cancelledProblem();
    if (all.project.same(before)) break;
  }
  all.done = most - all.left;
  return all;
}

}  // namespace dune::pipeline
