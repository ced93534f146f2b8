#pragma once
// A level: named objects made of triangles, as read from a file, in metres with Y up.

#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/bounds.h"
#include "core/base/shared_array.h"
#include "core/level/raw_mesh.h"

namespace dune::level {

/// What an object counts as.
enum class Role : std::uint8_t {
  ground,    ///< can be walked on where it is flat enough, and stands in the way where it is not
  obstacle,  ///< is never walked on and stands in the way
  cuts,      ///< takes away the ground it lies on, in or just over, and is never walked on
  ignored,   ///< is not there at all
};

/// From a triangle on, what the file calls the material.
struct MaterialRun {
  std::string name;
  std::uint64_t first;  ///< triangle
  bool operator==(const MaterialRun&) const = default;
};

/// Copies share their corners and triangles.
struct Object {
  std::string name;  ///< unique within a level; repeated names get " (2)", " (3)" …
  SharedArray<Vec3> vertices;
  SharedArray<std::array<std::uint32_t, 3>> triangles;
  Role counts = Role::ground;            ///< what its file says that it is, where nobody says anything else
  std::vector<MaterialRun> materials{};  ///< ascending, the first from the first triangle on; a name is empty where the file has none
  std::string file{};                    ///< where a level is of several files: the name of its own, without folders and ending

  Box3 bounds() const {
    Box3 box;
    for (const Vec3& v : vertices) box.add(v);
    return box;
  }
};

struct Level {
  std::vector<Object> objects;
  std::vector<std::string> besides;                     ///< files that it was read from beside its own: sets of tiles, kept outlines
  std::vector<std::shared_ptr<const RawMesh>> given{};  ///< meshes from elsewhere, in the order of the document

  Box3 bounds() const {
    Box3 box;
    for (const Object& o : objects)
      for (const Vec3& v : o.vertices) box.add(v);
    return box;
  }
  std::size_t triangleCount() const {
    std::size_t n = 0;
    for (const Object& o : objects) n += o.triangles.size();
    return n;
  }
};

}  // namespace dune::level
