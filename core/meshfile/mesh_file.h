#pragma once
// Our binary mesh file, .dsmesh: a mesh and the rules of its agent, versioned and checksummed, for loading fast. What a game links.
//
// Example:
//   auto content = meshfile::read("yard.dsmesh");
//   if (!content) say(content.problem().text());
//   const route::Field field(content->mesh, content->rules);

#include <string_view>

#include "core/nav/rules.h"

namespace dune::meshfile {

constexpr int kVersion = 1;
constexpr char kMagic[] = "DUNEMESH";

/// What another agent thinks of the mesh.
struct NamedRules {
  std::string name;
  nav::Rules rules;
};

struct Content {
  nav::NavMesh mesh;
  nav::Rules rules;                 ///< one kind a kind of the mesh
  std::vector<NamedRules> named{};  ///< besides, by the names of those who have them

  /// The rules of that name; null when there are none.
  const nav::Rules* rulesNamed(std::string_view name) const {
    for (const NamedRules& n : named)
      if (n.name == name) return &n.rules;
    return nullptr;
  }
};

/// Reads a .dsmesh. Everything is checked before it is believed: kind, version, checksum, schema, and what the numbers say.
Result<Content> read(const std::string& path);
Result<Content> fromBytes(std::string_view bytes);
std::string toBytes(const Content& content);

/// The content, or what its numbers say that cannot be.
Result<Content> checked(Content content);

}  // namespace dune::meshfile
