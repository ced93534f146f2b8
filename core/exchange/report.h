#pragma once
// A report for people: one HTML file with everything in it.

#include <string>

#include "core/review/movement.h"

namespace dune::exchange {

struct ReportInput {
  std::string title;
  const nav::NavMesh& mesh;
  const std::vector<review::Finding>& findings;
  const trace::Trace* trace = nullptr;  ///< movement, where there is any
  review::MovementLimits limits{};
};

/// Findings by kind, each with number, cause and what to try; where they are, on a plan of the ground with how often bodies were where;
/// curves over time; the limits used. O(faces + samples).
std::string reportHtml(const ReportInput& input);

}  // namespace dune::exchange
