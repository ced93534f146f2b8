#include "core/level/ground_rules.h"

#include <algorithm>

#include "core/level/role_rules.h"

namespace dune::level {

std::vector<KindRun> kindRuns(const Object& object, std::span<const GroundRule> rules, std::span<const AreaKind> kinds) {
  const auto kindOf = [&](const std::string& material) {
    for (std::size_t i = rules.size(); i-- > 0;) {
      const auto kind = std::ranges::find(kinds, rules[i].kind, &AreaKind::name);
      if (kind != kinds.end() && (fits(rules[i].pattern, object) || (!material.empty() && fits(rules[i].pattern, material))))
        return static_cast<std::uint16_t>(kind - kinds.begin() + 1);
    }
    return kNoKind;
  };
  std::vector<KindRun> runs;
  const auto add = [&](std::uint64_t first, const std::string& material) {
    const std::uint16_t kind = kindOf(material);
    if (runs.empty() || runs.back().kind != kind) runs.push_back({first, kind});
  };
  if (object.materials.empty()) add(0, {});
  for (const MaterialRun& run : object.materials) add(run.first, run.name);
  if (runs.size() == 1 && runs.front().kind == kNoKind) runs.clear();
  return runs;
}

std::size_t countFitting(const Level& level, const std::string& pattern) {
  const std::vector<GroundRule> rule{{pattern, AreaKind{}.name}};
  const std::vector<AreaKind> kinds(1);
  return static_cast<std::size_t>(std::ranges::count_if(level.objects, [&](const Object& o) { return !kindRuns(o, rule, kinds).empty(); }));
}

std::vector<std::vector<KindRun>> groundKinds(const Level& level, std::size_t own, std::span<const GroundRule> rules,
                                              std::span<const AreaKind> kinds) {
  std::vector<std::vector<KindRun>> all;
  if (rules.empty()) return all;
  for (std::size_t o = 0; o < own; ++o) all.push_back(kindRuns(level.objects[o], rules, kinds));
  if (std::ranges::all_of(all, &std::vector<KindRun>::empty)) all.clear();
  return all;
}

}  // namespace dune::level
