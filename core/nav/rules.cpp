#include "core/nav/rules.h"

#include <cmath>

namespace dune::nav {

namespace {
constexpr double kMostCost = 1e6;  // a metre: what is dearer is forbidden; sums of costs stay far from the end of doubles
}

std::optional<Problem> checkRules(const NavMesh& mesh, const Rules& rules) {
  for (std::size_t i = 0; i < rules.kinds.size(); ++i) {
    const KindRule& rule = rules.kinds[i];
    const std::string where = "areas[" + std::to_string(i) + "]" + (i < mesh.kinds.size() ? " " + mesh.kinds[i].name : "");
    if (!std::isfinite(rule.cost) || !(rule.cost > 0) || rule.cost > kMostCost)
      return Problem{ProblemCode::damaged, "A cost per metre is not a number above zero.", where, "a cost above 0, at most 1000000."};
    if (!std::isfinite(rule.entryCost) || !(rule.entryCost >= 0) || rule.entryCost > kMostCost)
      return Problem{ProblemCode::damaged, "A cost to enter is not a number of zero or more.", where, "a cost from 0 to 1000000."};
  }
  return std::nullopt;
}

double forbiddenArea(const NavMesh& mesh, const Rules& rules) {
  double sum = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (!rules.passable(mesh, FaceId{f})) sum += faceArea(mesh, FaceId{f});
  return sum;
}

}  // namespace dune::nav
