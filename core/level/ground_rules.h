#pragma once
// Kinds of ground by what the level is modelled as: names of objects and of their materials.

#include <span>
#include <string>

#include "core/level/world.h"

namespace dune::level {

/// Ground on objects whose name fits a pattern, or on what is of a material whose name does, is of a kind.
struct GroundRule {
  std::string pattern;  ///< as of a RoleRule
  std::string kind;     ///< the name of an AreaKind
  bool operator==(const GroundRule&) const = default;
};

/// Which kind the ground of an object is, by the last rule that fits; a material's name goes before the object's in one rule and counts for
/// what is of it alone. Empty where no rule fits, or only rules whose kind is none of `kinds`. O(rules × materials).
std::vector<KindRun> kindRuns(const Object& object, std::span<const GroundRule> rules, std::span<const AreaKind> kinds);

/// How many objects a pattern is about, by their names or a material's. O(objects × materials).
std::size_t countFitting(const Level& level, const std::string& pattern);

/// The kinds of all objects of a level, as World has them; blockers and whatever else comes after `own` objects have none.
std::vector<std::vector<KindRun>> groundKinds(const Level& level, std::size_t own, std::span<const GroundRule> rules,
                                              std::span<const AreaKind> kinds);

}  // namespace dune::level
