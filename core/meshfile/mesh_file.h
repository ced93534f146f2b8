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

struct Content {
  nav::NavMesh mesh;
  nav::Rules rules;  ///< one kind a kind of the mesh
};

/// Reads a .dsmesh. Everything is checked before it is believed: kind, version, checksum, schema, and what the numbers say.
Result<Content> read(const std::string& path);
Result<Content> fromBytes(std::string_view bytes);
std::string toBytes(const Content& content);

/// The content, or what its numbers say that cannot be.
Result<Content> checked(Content content);

}  // namespace dune::meshfile
