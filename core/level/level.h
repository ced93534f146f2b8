#pragma once
// A level: named objects made of triangles, as read from a file, in metres with Y up.

#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/bounds.h"

namespace dune::level {

struct Object {
  std::string name;  ///< unique within a level; repeated names get " (2)", " (3)" …
  std::vector<Vec3> vertices;
  std::vector<std::array<std::uint32_t, 3>> triangles;

  Box3 bounds() const {
    Box3 box;
    for (const Vec3& v : vertices) box.add(v);
    return box;
  }
};

struct Level {
  std::vector<Object> objects;

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
