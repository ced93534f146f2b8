#include "window/session/latest.h"

#include <algorithm>

namespace dune::window {

bool holds(const pipeline::Ground& ground, const Now& now) {
  return now.level && ground.source == now.level && pipeline::holds(ground, now.project, now.agent, now.scope);
}

bool holds(const pipeline::Run& run, const Now& now) {
  if (!run.recording.empty()) return now.ground && run.ground == now.ground && holds(*now.ground, now);
  // Where others than the kind that is worked on walked too, none of the kinds may be another since.
  const bool alone = std::ranges::all_of(run.grounds, [&](const auto& ground) { return ground == run.ground; });
  if (!alone && !(*run.from.agents == *now.project.agents)) return false;
  return now.ground && run.ground == now.ground && holds(*now.ground, now) && pipeline::sameCrowd(run.from, now.project);
}

bool holds(const pipeline::Answers& answers, const Now& now) {
  if (!now.ground || answers.ground != now.ground) return false;
  const project::Project& then = answers.from;
  return (then.routes == now.project.routes || *then.routes == *now.project.routes) &&
         (then.places == now.project.places || *then.places == *now.project.places) &&
         (then.cards == now.project.cards || *then.cards == *now.project.cards);
}

}  // namespace dune::window
