#pragma once
// What tells a finding from others in another build or run.

#include <string>

#include "core/base/vec.h"

namespace dune::review {

struct Finding;

/// Its kind, its body, and its place to half a metre: the number that was measured is not of it.
std::string subjectOf(const std::string& code, int agent, const Vec3& at);
std::string subjectOf(const Finding& finding);

}  // namespace dune::review
