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
  std::vector<std::string> costs;  // as they are written
};

std::optional<KindText> parse(const std::string& text) {
  const std::size_t equals = text.rfind('=');
  if (equals == std::string::npos || equals == 0) return std::nullopt;
  std::vector<std::string> parts{""};
  for (const char c : text.substr(equals + 1)) c == ':' ? parts.emplace_back() : parts.back() += c;
  if (parts[0].empty() || parts.size() > 3) return std::nullopt;
  return KindText{{text.substr(0, equals), parts[0]}, {parts.begin() + 1, parts.end()}};
}

bool setCosts(const std::vector<std::string>& costs, level::AreaKind& kind) {
  if (costs.empty()) return true;
  if (costs.size() == 1 && costs[0] == "forbidden") return kind.forbidden = true;
  const auto cost = numberFrom(costs[0]);
  const auto entry = costs.size() > 1 ? numberFrom(costs[1]) : std::optional(0.0);
  if (!cost || !(*cost > 0) || !entry || !(*entry >= 0)) return false;
  kind.cost = *cost, kind.entryCost = *entry, kind.forbidden = false;
  return true;
}

}  // namespace

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
