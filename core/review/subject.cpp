#include "core/review/subject.h"

#include "core/review/findings.h"

namespace dune::review {

std::string subjectOf(const std::string& code, int agent, const Vec3& at) {
  constexpr double kCell = 0.5;  // metres
  std::string text = code + ' ' + std::to_string(agent);
  for (const double v : {at.x, at.y, at.z}) text += ' ' + (std::isfinite(v) ? std::to_string(std::lround(v / kCell)) : std::string("-"));
  return text;
}

std::string subjectOf(const Finding& f) { return subjectOf(f.code, f.agent, f.at); }

}  // namespace dune::review
