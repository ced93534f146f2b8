#pragma once
// Findings that a project passes over, each with a reason that a person gave.

#include "core/project/project.h"
#include "core/review/findings.h"

namespace dune::pipeline {

/// Whether it is of the kind, at the place and about the body that are passed over.
bool mutes(const project::MutedFindings& muted, const review::Finding& finding);
/// Says of a finding why it is passed over, if it is; what was said before is forgotten. The first that fits counts. O(muted).
void mute(review::Finding& finding, const project::ReviewSection& section);
/// How much of all findings of its kind one passes over.
enum class MuteScope : std::uint8_t {
  here,       ///< within kMutedWithin of its place, whoever it is about
  agent,      ///< about its body, wherever
  everything  ///< all of its kind
};
constexpr double kMutedWithin = 2;  ///< metres
/// What passes a finding over, without an id.
project::MutedFindings muteOf(const review::Finding& finding, MuteScope scope, std::string reason);

}  // namespace dune::pipeline
