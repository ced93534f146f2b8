#include "core/exchange/mesh_files.h"

#include "core/base/file.h"

namespace dune::exchange {

Result<mesh::NavMesh> readMesh(const std::string& path) {
  auto bytes = readFile(path);
  if (!bytes) return bytes.problem();
  auto mesh = bytes->starts_with("DUNEMESH") ? meshFromBinary(*bytes) : meshFromJson(*bytes);
  if (!mesh) return mesh.problem().within(path);
  if (const auto wrong = mesh::checkStructure(mesh.value(), 1); !wrong.empty())
    return Problem{ProblemCode::damaged, "The mesh contradicts itself: " + wrong[0] + ".", path, "building it again."};
  return mesh;
}

Outcome writeMesh(const std::string& path, const mesh::NavMesh& mesh) {
  const std::string ending = endingOf(path);
  if (ending == ".dsmesh") return writeFile(path, meshToBinary(mesh));
  if (ending == ".json") return writeFile(path, meshToJson(mesh));
  if (ending == ".obj") return writeFile(path, meshToObj(mesh));
  if (ending == ".glb") return writeFile(path, meshToGlb(mesh));
  return Problem{ProblemCode::usage, "The ending '" + ending + "' is not one that a mesh can be written as.", path,
                 ".dsmesh, .json, .obj or .glb."};
}

}  // namespace dune::exchange
