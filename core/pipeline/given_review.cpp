#include "core/pipeline/given_review.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/pipeline/height_review.h"
#include "core/review/shape_review.h"

namespace dune::pipeline {

namespace {

using review::Finding;
using review::MendByHand;
using review::Remedy;
using review::Severity;

struct LeftOutKind {
  hand::LeftOut::Why why;
  const char *code, *sentence, *reason, *advice;
};
constexpr LeftOutKind kLeftOut[] = {
    {hand::LeftOut::Why::looksDown, "inverted-face", "A face of %.2f m² looks down and is no ground.",
     "Its corners go round the other way than those of the others.", "turning its corners round."},
    {hand::LeftOut::Why::noArea, "flat-face", "A face of %.2f m² has no area seen from above and is left out.",
     "It is upright, or its corners lie on one line.", "nothing where it is a wall; else correcting it where it was made."},
    {hand::LeftOut::Why::crossesItself, "crossed-face", "A face of %.2f m² crosses itself and is left out.",
     "Its corners are not in their order around it.", "drawing it by hand, or correcting it where it was made."},
};

void reviewLeftOut(const hand::TakeNotes& notes, std::size_t most, std::vector<Finding>& findings) {
  for (const LeftOutKind& kind : kLeftOut) {
    std::vector<const hand::LeftOut*> all;
    for (const hand::LeftOut& l : notes.leftOut)
      if (l.why == kind.why) all.push_back(&l);
    std::ranges::stable_sort(all, std::ranges::greater{}, &hand::LeftOut::area);
    const bool looksDown = kind.why == hand::LeftOut::Why::looksDown;
    for (std::size_t i = 0; i < std::min(all.size(), most); ++i) {
      const bool rest = i + 1 == most && all.size() > most;
      Finding f{kind.code,
                looksDown ? Severity::error : Severity::hint,
                text(kind.sentence, all[i]->area) + (rest ? text(" %zu more are like it.", all.size() - most) : std::string()),
                kind.reason,
                kind.advice,
                all[i]->at};
      f.measured = all[i]->area;
      findings.push_back(std::move(f));
    }
  }
}

/// What can still be done: not what was done there, or everywhere, and left it.
std::optional<Remedy> mendOf(const char* label, hand::Mend mend, const project::GivenMesh& given, std::size_t mesh) {
  const bool done = std::ranges::any_of(given.mends, [&](const hand::Mend& m) { return m == mend || m == hand::Mend{mend.what, {}}; });
  return done ? std::nullopt : std::optional(Remedy{label, review::MendGiven{mesh, mend}});
}

std::optional<Remedy> remedyFor(const Finding& f, const project::GivenMesh& given, std::size_t mesh, int agent) {
  using What = hand::Mend::What;
  if (f.code == "inverted-face") return mendOf("Turn it round", {What::turn, f.at}, given, mesh);
  if (f.code == "needless-faces") return mendOf("Join flat neighbours", {What::join, {}}, given, mesh);
  if (f.code == "needle-face") return mendOf("Close it up", {What::thin, f.at}, given, mesh);
  if (f.code == "open-seam") return mendOf("Join the borders", {What::close, f.at}, given, mesh);
  if (f.code == "overlapping-faces") return Remedy{"Cut the smaller one", MendByHand{MendByHand::What::cut, f.at, agent}};
  if (f.code == "off-level") return Remedy{"Drape it", MendByHand{MendByHand::What::drape, f.at, agent}};
  if (f.code == "island") return Remedy{"Take it away", MendByHand{MendByHand::What::takeAway, f.at, agent}};
  return std::nullopt;
}

}  // namespace

void reviewGiven(const Ground& ground, std::size_t agent, std::vector<Finding>& findings, Job& job, std::size_t most) {
  const int id = ground.from.agents->agents[agent].id;
  const project::LevelSection& section = *ground.from.level;
  const std::size_t mesh = project::givenFor(section, id).value_or(0);
  reviewLeftOut(*ground.given, most, findings);
  review::ShapeLimits limits;
  limits.most = most;
  std::ranges::move(review::reviewShape(review::rawOf(ground.mesh), limits), std::back_inserter(findings));
  if (!ground.built->world.level->objects.empty()) std::ranges::move(reviewHeights(ground, job), std::back_inserter(findings));
  for (Finding& f : findings) {
    if (f.code == "off-level") f.advice = "draping it.";  // it was not we who made it
    if (!f.remedy) f.remedy = remedyFor(f, section.given[mesh], mesh, id);
  }
}

}  // namespace dune::pipeline
