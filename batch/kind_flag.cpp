#include "batch/kind_flag.h"

#include <algorithm>
#include <array>
#include <cstdio>

#include "core/base/number_text.h"

namespace dune::batch {

namespace {

constexpr std::array kColours{"#4f8fb3", "#b3574f", "#6f9a4a", "#9a6fb0", "#b39b4f", "#4fa596"};

struct KindText {
  level::GroundRule rule;
  std::optional<std::string> costs;  // as they are written
};

std::optional<KindText> parse(const std::string& text) {
  const std::size_t equals = text.rfind('=');
  if (equals == std::string::npos || equals == 0) return std::nullopt;
  const std::string said = text.substr(equals + 1);
  const std::size_t colon = said.find(':');
  if (said.empty() || colon == 0) return std::nullopt;
  KindText kind{{text.substr(0, equals), said.substr(0, colon)}, std::nullopt};
  if (colon != std::string::npos) kind.costs = said.substr(colon + 1);
  return kind;
}

bool setCosts(const std::optional<std::string>& costs, level::AreaKind& kind) {
  if (!costs) return true;
  const auto rule = ruleFrom(*costs);
  if (!rule) return false;
  kind.forbidden = rule->forbidden;
  if (!rule->forbidden) kind.cost = rule->cost, kind.entryCost = rule->entryCost;
  return true;
}

}  // namespace

std::optional<nav::KindRule> ruleFrom(const std::string& text) {
  if (text == "forbidden") return nav::KindRule{1, 0, true};
  const std::size_t colon = text.find(':');
  const auto cost = numberFrom(text.substr(0, colon));
  const auto entry = colon == std::string::npos ? std::optional(0.0) : numberFrom(text.substr(colon + 1));
  if (!cost || !(*cost > 0) || !entry || !(*entry >= 0)) return std::nullopt;
  return nav::KindRule{*cost, *entry, false};
}

std::optional<Problem> addKinds(const std::vector<std::string>& texts, level::World& world) {
  std::vector<level::GroundRule> rules;
  for (const std::string& text : texts) {
    const auto said = parse(text);
    level::AreaKind* kind = nullptr;
    if (said) {
      auto found = std::ranges::find(world.kinds, said->rule.kind, &level::AreaKind::name);
      if (found == world.kinds.end())
        found = world.kinds.insert(found, {said->rule.kind, kColours[(world.kinds.size() - 1) % kColours.size()], 1, 0, false});
      kind = &*found;
    }
    if (!kind || !setCosts(said->costs, *kind))
      return Problem{ProblemCode::usage, "'" + text + "' is not a pattern and a kind of ground with its costs.", "--kind",
                     "'liquid/*=water:3', 'mud*=mud:2:1' with 1 to enter, or 'lava*=lava:forbidden'."};
    rules.push_back(said->rule);
  }
  for (const level::GroundRule& rule : rules)
    if (level::countFitting(*world.level, rule.pattern) == 0)
      std::fprintf(stderr, "--kind: no object and no material has a name that fits '%s'.\n", rule.pattern.c_str());
  world.ground = level::groundKinds(*world.level, world.level->objects.size(), rules, world.kinds);
  return std::nullopt;
}

}  // namespace dune::batch
