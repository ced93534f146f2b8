#include "core/pipeline/muting.h"

#include <algorithm>

namespace dune::pipeline {

bool mutes(const project::MutedFindings& m, const review::Finding& f) {
  if (m.code != f.code || (m.agent >= 0 && m.agent != f.agent)) return false;
  return !m.at || glm::distance(*m.at, f.at) <= m.within;
}

void mute(review::Finding& f, const project::ReviewSection& section) {
  const auto by = std::ranges::find_if(section.muted, [&](const project::MutedFindings& m) { return mutes(m, f); });
  f.muted = by == section.muted.end() ? std::string() : by->reason.empty() ? std::string("no reason given") : by->reason;
}

project::MutedFindings muteOf(const review::Finding& f, MuteScope scope, std::string reason) {
  project::MutedFindings m{0, f.code, std::nullopt, 0, -1, std::move(reason)};
  if (scope == MuteScope::here) m.at = f.at, m.within = kMutedWithin;
  if (scope == MuteScope::agent) m.agent = f.agent;
  return m;
}

}  // namespace dune::pipeline
