#include <functional>
#include <nlohmann/json.hpp>

#include "core/exchange/mesh_files.h"
#include "core/links/attach.h"
#include "core/project/agent_json.h"

namespace dune::exchange {

namespace {

using Json = nlohmann::ordered_json;
using mesh::FaceId;

constexpr std::size_t kMostItems = 50'000'000;

Json point(const Vec3& p) { return Json::array({p.x, p.y, p.z}); }
Vec3 pointFrom(const Json& j) { return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()}; }

FaceId faceFrom(const Json& j) {
  const auto n = j.get<std::int64_t>();
  if (n < -1 || n >= 0xffffffff) throw std::out_of_range("a face number is out of range");
  return n < 0 ? mesh::kNoFace : FaceId{static_cast<std::uint32_t>(n)};
}

Json faceJson(FaceId f) { return f == mesh::kNoFace ? Json(-1) : Json(index(f)); }

void facesFrom(const Json& faces, mesh::NavMesh& mesh) {
  for (const Json& f : faces) {
    const Json &v = f.at("v"), &n = f.at("n");
    if (v.size() != n.size()) throw std::out_of_range("a face has different numbers of corners and neighbours");
    for (const Json& c : v) mesh.corners.push_back(c.get<std::uint32_t>());
    for (const Json& g : n) mesh.across.push_back(faceFrom(g));
    mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
    mesh.area.push_back(f.value("area", std::uint16_t{0}));
    mesh.island.push_back(f.value("island", std::uint32_t{0}));
  }
}

mesh::Link linkFrom(const Json& j, const mesh::NavMesh& mesh) {
  mesh::Link link;
  link.id = j.at("id").get<int>();
  const auto kind = links::kindNamed(j.at("kind").get<std::string>());
  if (!kind) throw std::out_of_range("a link's kind is not known");
  link.kind = *kind;
  link.from = pointFrom(j.at("from"));
  link.to = pointFrom(j.at("to"));
  link.fromFace = faceFrom(j.at("fromFace"));
  link.toFace = faceFrom(j.at("toFace"));
  link.oneWay = j.value("oneWay", false);
  link.cost = j.value("cost", 0.0);
  link.area = j.value("area", 0);
  link.radius = j.value("radius", 0.4);
  const bool fits = index(link.fromFace) < mesh.faceCount() && index(link.toFace) < mesh.faceCount() && link.area >= 0 &&
                    static_cast<std::size_t>(link.area) < mesh.areas.size();
  if (!fits) throw std::out_of_range("a link's face or area is not in the list");
  return link;
}

mesh::NavMesh parse(const Json& j) {
  mesh::NavMesh mesh;
  mesh.agent = project::agentFrom(j.at("agent"));
  for (const Json& a : j.at("areas")) {
    level::AreaKind kind{a.at("name").get<std::string>(), a.value("colour", std::string("#d98e32")), a.at("cost").get<double>(),
                         a.value("entryCost", 0.0), a.value("forbidden", false)};
    if (!(kind.cost > 0) || !(kind.entryCost >= 0)) throw std::out_of_range("an area's cost is not above zero");
    mesh.areas.push_back(std::move(kind));
  }
  const Json& vertices = j.at("vertices");
  if (vertices.size() > kMostItems) throw std::out_of_range("there are too many vertices");
  for (const Json& v : vertices) mesh.vertices.push_back(pointFrom(v));
  facesFrom(j.at("faces"), mesh);
  if (const auto links = j.find("links"); links != j.end())
    for (const Json& l : *links) mesh.links.push_back(linkFrom(l, mesh));
  return mesh;
}

}  // namespace

Result<mesh::NavMesh> meshFromJson(const std::string& text) {
  try {
    const Json j = Json::parse(text);
    if (!j.is_object() || j.value("format", std::string()) != "dune-step navmesh")
      return Problem{ProblemCode::notOurs, "This is not a Dune Step mesh: \"format\" does not say \"dune-step navmesh\".", "",
                     "a mesh written by Dune Step."};
    if (const int version = j.value("version", 0); version > kMeshVersion)
      return Problem{
          ProblemCode::tooNew,
          "The mesh has version " + std::to_string(version) + "; this program reads up to version " + std::to_string(kMeshVersion) + ".",
          "/version", "a newer Dune Step."};
    return parse(j);
  } catch (const std::exception& e) {  // the library throws on text that is no JSON, and on missing or wrong fields
    return Problem{ProblemCode::damaged, std::string("The mesh cannot be read: ") + e.what(), "", "building it again."};
  }
}

std::string meshToJson(const mesh::NavMesh& mesh) {
  // Rows of their own for vertices and faces: small enough, and a difference between two files can be read.
  std::string text = "{\"format\": \"dune-step navmesh\", \"version\": " + std::to_string(kMeshVersion) +
                     ",\n \"agent\": " + project::agentJson(mesh.agent).dump() + ",\n \"areas\": [";
  auto list = [&](std::size_t count, const std::function<Json(std::size_t)>& item) {
    for (std::size_t i = 0; i < count; ++i) text += (i ? ",\n  " : "\n  ") + item(i).dump();
    text += "]";
  };
  list(mesh.areas.size(), [&](std::size_t i) -> Json {
    const level::AreaKind& k = mesh.areas[i];
    return {{"id", i}, {"name", k.name}, {"cost", k.cost}, {"entryCost", k.entryCost}, {"colour", k.colour}, {"forbidden", k.forbidden}};
  });
  text += ",\n \"vertices\": [";
  list(mesh.vertices.size(), [&](std::size_t i) { return point(mesh.vertices[i]); });
  text += ",\n \"faces\": [";
  list(mesh.faceCount(), [&](std::size_t i) -> Json {
    const FaceId f{static_cast<std::uint32_t>(i)};
    Json v = Json::array(), n = Json::array();
    for (const std::uint32_t c : mesh.cornersOf(f)) v.push_back(c);
    for (const FaceId g : mesh.acrossOf(f)) n.push_back(faceJson(g));
    return {{"v", v}, {"n", n}, {"area", mesh.area[i]}, {"island", mesh.island[i]}};
  });
  text += ",\n \"links\": [";
  list(mesh.links.size(), [&](std::size_t i) -> Json {
    const mesh::Link& l = mesh.links[i];
    return {{"id", l.id},
            {"kind", links::kindName(l.kind)},
            {"from", point(l.from)},
            {"to", point(l.to)},
            {"fromFace", faceJson(l.fromFace)},
            {"toFace", faceJson(l.toFace)},
            {"oneWay", l.oneWay},
            {"cost", l.cost},
            {"area", l.area},
            {"radius", l.radius}};
  });
  text += "}\n";
  return text;
}

}  // namespace dune::exchange
