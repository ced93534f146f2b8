#pragma once
// What an object counts as, by its own mark or by rules on its name.

#include <map>
#include <span>
#include <string>

#include "core/level/world.h"

namespace dune::level {

/// Objects whose name fits a pattern, or whose one material's does, count as `role`, those that appear later in the file too.
struct RoleRule {
  std::string pattern;  ///< '*' stands for any letters, '?' for one; case does not matter
  Role role = Role::ground;
  bool operator==(const RoleRule&) const = default;
};

/// Whether the whole name fits the pattern. O(name × stars).
bool fits(const std::string& pattern, const std::string& name);

/// Whether a pattern is about an object: by its name, or with "file/" before that where a level is of several files.
bool fits(const std::string& pattern, const Object& object);

/// Whether a rule is about an object: so, or by the name of its one material.
bool fits(const RoleRule& rule, const Object& object);

/// The object's own mark if it has one, else the last rule that fits, else what its file says.
Role roleOf(const Object& object, const std::map<std::string, Role>& marks, std::span<const RoleRule> rules);

/// The word for a role in files and on screen: "ground", "obstacle", "cuts ground", "ignored".
const char* roleName(Role role);

}  // namespace dune::level
