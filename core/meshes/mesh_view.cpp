// Mesh files to look at in any 3D program; they are written, never read back.

#include <cstring>
#include <nlohmann/json.hpp>

#include "core/base/bounds.h"
#include "core/base/number_text.h"
#include "core/meshes/mesh_files.h"

namespace dune::meshes {

namespace {

using nav::FaceId;

std::string number(double x) {
  std::string text;
  appendNumber(text, x, 10);
  return text;
}

void append(std::string& bytes, const void* data, std::size_t size) { bytes.append(static_cast<const char*>(data), size); }
void append32(std::string& bytes, std::uint32_t x) { append(bytes, &x, 4); }

}  // namespace

std::string meshToObj(const nav::NavMesh& mesh) {
  std::string text = "# navigation mesh, metres, Y up\no navmesh\n";
  for (const Vec3& v : mesh.vertices) text += "v " + number(v.x) + " " + number(v.y) + " " + number(v.z) + "\n";
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    text += "f";
    for (const std::uint32_t c : mesh.cornersOf(FaceId{f})) text += " " + std::to_string(c + 1);
    text += "\n";
  }
  return text;
}

std::string meshToGlb(const nav::NavMesh& mesh) {
  std::string binary;
  Box3 box;
  for (const Vec3& v : mesh.vertices) {
    const float p[3] = {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
    append(binary, p, sizeof p);
    box.add({p[0], p[1], p[2]});
  }
  const std::size_t indexOffset = binary.size();
  std::uint32_t indices = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::size_t i = 1; i + 1 < mesh.cornerCount(FaceId{f}); ++i, indices += 3)
      for (const std::size_t k : {std::size_t{0}, i, i + 1}) append32(binary, mesh.cornersOf(FaceId{f})[k]);
  nlohmann::ordered_json j{{"asset", {{"version", "2.0"}, {"generator", "Dune Step"}}}, {"scene", 0}, {"scenes", {{{"nodes", {0}}}}}};
  if (indices > 0) {
    j["nodes"] = {{{"name", "navmesh"}, {"mesh", 0}}};
    j["meshes"] = {{{"name", "navmesh"}, {"primitives", {{{"attributes", {{"POSITION", 0}}}, {"indices", 1}, {"mode", 4}}}}}};
    j["buffers"] = {{{"byteLength", binary.size()}}};
    j["bufferViews"] = {{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", indexOffset}},
                        {{"buffer", 0}, {"byteOffset", indexOffset}, {"byteLength", binary.size() - indexOffset}}};
    j["accessors"] = {{{"bufferView", 0},
                       {"componentType", 5126},
                       {"count", mesh.vertices.size()},
                       {"type", "VEC3"},
                       {"min", {box.min.x, box.min.y, box.min.z}},
                       {"max", {box.max.x, box.max.y, box.max.z}}},
                      {{"bufferView", 1}, {"componentType", 5125}, {"count", indices}, {"type", "SCALAR"}}};
  } else {
    j["nodes"] = {{{"name", "navmesh"}}};
  }
  std::string text = j.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
  text.resize((text.size() + 3) / 4 * 4, ' ');
  std::string glb = "glTF";
  append32(glb, 2);
  append32(glb, static_cast<std::uint32_t>(12 + 8 + text.size() + (binary.empty() ? 0 : 8 + binary.size())));
  append32(glb, static_cast<std::uint32_t>(text.size()));
  glb += "JSON" + text;
  if (!binary.empty()) {
    append32(glb, static_cast<std::uint32_t>(binary.size()));
    glb += std::string("BIN\0", 4) + binary;
  }
  return glb;
}

}  // namespace dune::meshes
