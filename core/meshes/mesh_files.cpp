#include "core/meshes/mesh_files.h"

#include "core/base/file.h"

namespace dune::meshes {

Result<Content> readMesh(const std::string& path) {
  const auto bytes = readFile(path);
  if (!bytes) return bytes.problem();
  auto content = bytes->starts_with(meshfile::kMagic) ? meshfile::fromBytes(*bytes) : meshFromJson(*bytes);
  return content ? std::move(content) : content.problem().within(path);
}

Outcome writeMesh(const std::string& path, const Content& content) {
  const std::string ending = endingOf(path);
  if (ending == ".dsmesh") return writeFile(path, meshfile::toBytes(content));
  if (ending == ".json") return writeFile(path, meshToJson(content));
  if (ending == ".obj") return writeFile(path, meshToObj(content.mesh));
  if (ending == ".glb") return writeFile(path, meshToGlb(content.mesh));
  return Problem{ProblemCode::usage, "The ending '" + ending + "' is not one that a mesh can be written as.", path,
                 ".dsmesh, .json, .obj or .glb."};
}

}  // namespace dune::meshes
