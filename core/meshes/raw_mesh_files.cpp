#include "core/meshes/raw_mesh_files.h"

#include <algorithm>
#include <array>
#include <optional>

#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/meshes/mesh_files.h"

namespace dune::meshes {

namespace {

Problem bad(std::size_t line, const std::string& what) {
  return {ProblemCode::damaged, what, "line " + std::to_string(line), "an OBJ with lines \"v x y z\" and \"f a b c\"."};
}

std::string_view nextWord(std::string_view& line) {
  const std::size_t begin = line.find_first_not_of(" \t\r");
  if (begin == std::string_view::npos) return line = {}, std::string_view();
  line.remove_prefix(begin);
  const std::size_t end = std::min(line.find_first_of(" \t\r"), line.size());
  const std::string_view word = line.substr(0, end);
  line.remove_prefix(end);
  return word;
}

/// Of "7/1/2" the 7; below zero it counts from the last one.
std::optional<std::uint32_t> cornerOf(std::string_view word, std::size_t corners) {
  const auto number = numberFrom(word.substr(0, word.find('/')));
  if (!number || *number != std::floor(*number)) return std::nullopt;
  const double index = *number > 0 ? *number - 1 : static_cast<double>(corners) + *number;
  return index >= 0 && index < static_cast<double>(corners) ? std::optional(static_cast<std::uint32_t>(index)) : std::nullopt;
}

}  // namespace

Result<level::RawMesh> rawFromObj(std::string_view text) {
  level::RawMesh mesh;
  std::string material;
  for (std::size_t number = 1; !text.empty(); ++number) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    std::string_view line = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    const std::string_view what = nextWord(line);
    if (what == "v") {
      Vec3 p{};
      for (int axis = 0; axis < 3; ++axis) {
        const auto value = numberFrom(nextWord(line));
        if (!value || !std::isfinite(*value)) return bad(number, "A corner has no three numbers.");
        p[axis] = *value;
      }
      mesh.corners.push_back(p);
    } else if (what == "usemtl") {
      line.remove_prefix(std::min(line.find_first_not_of(" \t"), line.size()));
      material = line.substr(0, line.find_last_not_of(" \t\r") + 1);
    } else if (what == "f") {
      std::vector<std::uint32_t> face;
      for (std::string_view word = nextWord(line); !word.empty(); word = nextWord(line)) {
        const auto corner = cornerOf(word, mesh.corners.size());
        if (!corner) return bad(number, "A face names the corner '" + std::string(word) + "', which is not there.");
        face.push_back(*corner);
      }
      if (face.size() < 3) return bad(number, "A face has fewer than three corners.");
      mesh.faces.push_back(std::move(face)), mesh.kinds.push_back(material);
    }
  }
  if (mesh.faces.empty()) return bad(1, "There are no faces.");
  return mesh;
}

namespace {

level::RawMesh rawOfOurs(const nav::NavMesh& mesh) {
  level::RawMesh raw{{mesh.vertices.begin(), mesh.vertices.end()}, {}, {}};
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const auto corners = mesh.cornersOf(nav::FaceId{f});
    raw.faces.emplace_back(corners.begin(), corners.end());
    raw.kinds.push_back(mesh.kindOf(nav::FaceId{f}).name);
  }
  raw.tags = mesh.tags, raw.tagged = mesh.tagged;
  return raw;
}

level::RawMesh rawOfTriangles(const level::Level& level) {
  level::RawMesh raw;
  for (const level::Object& object : level.objects) {
    const auto first = static_cast<std::uint32_t>(raw.corners.size());
    raw.corners.insert(raw.corners.end(), object.vertices.begin(), object.vertices.end());
    for (const auto& t : object.triangles) raw.faces.push_back({first + t[0], first + t[1], first + t[2]});
  }
  return raw;
}

/// The polygons of an OBJ; a level's reader would make triangles of them.
Result<level::RawMesh> readPolygons(const std::string& path, const level::ImportOptions& options) {
  const auto text = readFile(path);
  if (!text) return text.problem();
  auto raw = rawFromObj(*text);
  if (!raw) return raw.problem().within(path);
  for (Vec3& p : raw->corners) {
    p = level::placed(p, options);
    if (std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)}) > level::kFarthest)
      return Problem{ProblemCode::unusable, "A corner lies more than 60 km from the origin.", path, "another unit."};
  }
  return raw;
}

}  // namespace

bool isMeshFile(const std::string& path) {
  constexpr std::array<std::string_view, 7> kKnown{".obj", ".gltf", ".glb", ".ply", ".stl", ".dsmesh", ".json"};
  return std::ranges::count(kKnown, endingOf(path)) > 0;
}

bool isOurMesh(const std::string& path) { return endingOf(path) == ".dsmesh" || endingOf(path) == ".json"; }

Result<level::RawMesh> readRawMesh(const std::string& path, const level::ImportOptions& options, Job& job) {
  if (!isMeshFile(path))
    return Problem{ProblemCode::notOurs, "This is not a file that can hold a mesh.", path,
                   ".obj, .glb, .gltf, .ply, .stl, .dsmesh or .json."};
  if (endingOf(path) == ".obj") return readPolygons(path, options);
  if (isOurMesh(path)) {
    const auto content = readMesh(path);
    if (!content) return content.problem();
    return rawOfOurs(content->mesh);
  }
  const auto read = level::importLevel(path, options, job);
  if (!read) return read.problem();
  return rawOfTriangles(**read);
}

}  // namespace dune::meshes
