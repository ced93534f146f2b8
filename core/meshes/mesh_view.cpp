// Mesh files to look at in any 3D program; they are written, never read back.

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>

#include "core/base/bounds.h"
#include "core/base/number_text.h"
#include "core/meshes/mesh_files.h"

namespace dune::meshes {

namespace {

using Json = nlohmann::ordered_json;
using nav::FaceId;

std::string number(double x) {
  std::string text;
  appendNumber(text, x, 10);
  return text;
}

void append(std::string& bytes, const void* data, std::size_t size) { bytes.append(static_cast<const char*>(data), size); }
void append32(std::string& bytes, std::uint32_t x) { append(bytes, &x, 4); }

/// Faces of one kind of ground and the same tags.
struct Alike {
  std::uint16_t kind;
  std::uint8_t tags;
  auto operator<=>(const Alike&) const = default;
};

Alike alikeAt(const nav::NavMesh& mesh, FaceId f) { return {mesh.area[index(f)], mesh.tagsOf(f)}; }

/// "g" and the tags, in which a blank would begin another one.
std::string groupLine(const nav::NavMesh& mesh, FaceId f) {
  std::string line = "g";
  for (std::string tag : nav::tagNamesOf(mesh, f)) {
    std::ranges::replace_if(
        tag, [](unsigned char c) { return c <= ' '; }, '_');
    line += " " + tag;
  }
  return (line.size() > 1 ? line : "g navmesh") + "\n";
}

std::string oneLine(std::string name) {
  std::ranges::replace_if(
      name, [](unsigned char c) { return c < ' '; }, ' ');
  return name;
}

float channel(const std::string& colour, std::size_t at) {
  const auto value = colour.size() == 7 ? std::strtoul(colour.substr(at, 2).c_str(), nullptr, 16) : 128;
  return static_cast<float>(std::pow(static_cast<double>(value) / 255, 2.2));  // the file has linear light
}

Json materialOf(const nav::NavMesh& mesh, FaceId f) {
  const nav::Kind& kind = mesh.kindOf(f);
  Json material{
      {"name", kind.name},
      {"pbrMetallicRoughness",
       {{"baseColorFactor", {channel(kind.colour, 1), channel(kind.colour, 3), channel(kind.colour, 5), 1}}, {"metallicFactor", 0}}}};
  if (const auto tags = nav::tagNamesOf(mesh, f); !tags.empty()) material["extras"] = {{"tags", tags}};
  return material;
}

}  // namespace

std::string meshToObj(const nav::NavMesh& mesh) {
  std::string text = "# navigation mesh, metres, Y up; materials are kinds of ground, groups are tags\no navmesh\n";
  for (const Vec3& v : mesh.vertices) text += "v " + number(v.x) + " " + number(v.y) + " " + number(v.z) + "\n";
  std::optional<Alike> before;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const Alike now = alikeAt(mesh, FaceId{f});
    if (!mesh.tags.empty() && (!before || before->tags != now.tags)) text += groupLine(mesh, FaceId{f});
    if (!before || before->kind != now.kind) text += "usemtl " + oneLine(mesh.kindOf(FaceId{f}).name) + "\n";
    before = now;
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
  std::map<Alike, std::vector<FaceId>> groups;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) groups[alikeAt(mesh, FaceId{f})].push_back(FaceId{f});
  Json j{{"asset", {{"version", "2.0"}, {"generator", "Dune Step"}}}, {"scene", 0}, {"scenes", {{{"nodes", {0}}}}}};
  if (groups.empty()) {
    j["nodes"] = {{{"name", "navmesh"}}};
  } else {
    Json accessors = Json::array({{{"bufferView", 0},
                                   {"componentType", 5126},
                                   {"count", mesh.vertices.size()},
                                   {"type", "VEC3"},
                                   {"min", {box.min.x, box.min.y, box.min.z}},
                                   {"max", {box.max.x, box.max.y, box.max.z}}}});
    Json primitives = Json::array(), materials = Json::array();
    for (const auto& [alike, faces] : groups) {
      const std::size_t first = binary.size();
      for (const FaceId f : faces)
        for (std::size_t i = 1; i + 1 < mesh.cornerCount(f); ++i)
          for (const std::size_t k : {std::size_t{0}, i, i + 1}) append32(binary, mesh.cornersOf(f)[k]);
      primitives.push_back({{"attributes", {{"POSITION", 0}}}, {"indices", accessors.size()}, {"material", materials.size()}, {"mode", 4}});
      accessors.push_back({{"bufferView", 1},
                           {"byteOffset", first - indexOffset},
                           {"componentType", 5125},
                           {"count", (binary.size() - first) / 4},
                           {"type", "SCALAR"}});
      materials.push_back(materialOf(mesh, faces[0]));
    }
    j["nodes"] = {{{"name", "navmesh"}, {"mesh", 0}}};
    j["meshes"] = {{{"name", "navmesh"}, {"primitives", primitives}}};
    j["materials"] = materials;
    j["buffers"] = {{{"byteLength", binary.size()}}};
    j["bufferViews"] = {{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", indexOffset}},
                        {{"buffer", 0}, {"byteOffset", indexOffset}, {"byteLength", binary.size() - indexOffset}}};
    j["accessors"] = accessors;
  }
  std::string text = j.dump(-1, ' ', false, Json::error_handler_t::replace);
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
