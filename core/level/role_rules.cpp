#include "core/level/role_rules.h"

#include <cctype>

namespace dune::level {

namespace {

bool sameLetter(char a, char b) { return std::tolower(static_cast<unsigned char>(a)) == std::tolower(static_cast<unsigned char>(b)); }

}  // namespace

bool fits(const std::string& pattern, const std::string& name) {
  // The last star is the only one that ever needs to take more letters.
  std::size_t p = 0, n = 0, star = std::string::npos, taken = 0;
  while (n < name.size()) {
    if (p < pattern.size() && (pattern[p] == '?' || (pattern[p] != '*' && sameLetter(pattern[p], name[n])))) {
      ++p, ++n;
    } else if (p < pattern.size() && pattern[p] == '*') {
      star = p++, taken = n;
    } else if (star != std::string::npos) {
      p = star + 1, n = ++taken;
    } else {
      return false;
    }
  }
  while (p < pattern.size() && pattern[p] == '*') ++p;
  return p == pattern.size();
}

bool fits(const std::string& pattern, const Object& object) {
  return fits(pattern, object.name) || (!object.file.empty() && fits(pattern, object.file + "/" + object.name));
}

bool fits(const RoleRule& rule, const Object& object) {
  return fits(rule.pattern, object) || (object.materials.size() == 1 && fits(rule.pattern, object.materials[0].name));
}

Role roleOf(const Object& object, const std::map<std::string, Role>& marks, std::span<const RoleRule> rules) {
  if (const auto own = marks.find(object.name); own != marks.end()) return own->second;
  for (std::size_t i = rules.size(); i-- > 0;)
    if (fits(rules[i], object)) return rules[i].role;
  return object.counts;
}

const char* roleName(Role role) {
  constexpr const char* kNames[] = {"ground", "obstacle", "cuts ground", "ignored"};
  return kNames[static_cast<std::size_t>(role)];
}

}  // namespace dune::level
