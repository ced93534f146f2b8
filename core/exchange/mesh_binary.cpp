// The header guards what the schema cannot: kind, version and checksum. The FlatBuffers verifier guards every offset, and
// checkStructure() (in readMesh) what the numbers say.

#include <cstring>

#include "core/exchange/mesh_files.h"
#include "core/mesh/navmesh.h"
#include "navmesh_generated.h"
#define XXH_INLINE_ALL
#include "xxhash.h"

namespace dune::exchange {

namespace {

using mesh::FaceId;

constexpr char kMagic[] = "DUNEMESH";
constexpr std::size_t kHeader = 24;

struct Header {
  char magic[8];
  std::uint32_t version;
  std::uint32_t zero;
  std::uint64_t checksum;
};
static_assert(sizeof(Header) == kHeader);

Problem damaged(const std::string& what, const std::string& where) {
  return {ProblemCode::damaged, what, where, "building the mesh again."};
}

fb::Vec3 point(const Vec3& p) { return {p.x, p.y, p.z}; }
Vec3 pointFrom(const fb::Vec3& p) { return {p.x(), p.y(), p.z()}; }

level::Agent agentFrom(const fb::Agent& a) {
  level::Agent agent;
  agent.name = a.name()->str();
  agent.radius = a.radius(), agent.height = a.height(), agent.maxSlope = a.max_slope(), agent.stepHeight = a.step_height();
  agent.maxDrop = a.max_drop(), agent.maxJump = a.max_jump(), agent.speed = a.speed(), agent.acceleration = a.acceleration();
  agent.turnRate = a.turn_rate(), agent.arriveWithin = a.arrive_within();
  agent.crouchHeight = a.crouch_height(), agent.crouchCost = a.crouch_cost();
  agent.passWithin = a.pass_within(), agent.originHeight = a.origin_height(), agent.tilts = a.tilts();
  return agent;
}

}  // namespace

std::string meshToBinary(const mesh::NavMesh& mesh) {
  flatbuffers::FlatBufferBuilder builder(1 << 16);
  const level::Agent& a = mesh.agent;
  const auto name = builder.CreateString(a.name);
  const auto agent =
      fb::CreateAgent(builder, name, a.radius, a.height, a.maxSlope, a.stepHeight, a.maxDrop, a.maxJump, a.speed, a.acceleration,
                      a.turnRate, a.arriveWithin, a.crouchHeight, a.crouchCost, a.passWithin, a.originHeight, a.tilts);
  std::vector<flatbuffers::Offset<fb::AreaKind>> areas;
  for (const level::AreaKind& k : mesh.areas) {
    const auto kindName = builder.CreateString(k.name), colour = builder.CreateString(k.colour);
    areas.push_back(fb::CreateAreaKind(builder, kindName, colour, k.cost, k.entryCost, k.forbidden));
  }
  std::vector<fb::Vec3> vertices;
  for (const Vec3& v : mesh.vertices) vertices.push_back(point(v));
  std::vector<std::uint32_t> across;
  for (const FaceId f : mesh.across) across.push_back(index(f));
  std::vector<fb::Link> links;
  for (const mesh::Link& l : mesh.links)
    links.emplace_back(point(l.from), point(l.to), l.cost, l.radius, l.id, index(l.fromFace), index(l.toFace), l.area,
                       static_cast<fb::LinkKind>(l.kind), l.oneWay);
  const auto areaList = builder.CreateVector(areas);
  const auto vertexList = builder.CreateVectorOfStructs(vertices);
  const auto start = builder.CreateVector(mesh.start), corners = builder.CreateVector(mesh.corners),
             acrossList = builder.CreateVector(across);
  const auto areaOf = builder.CreateVector(mesh.area);
  const auto island = builder.CreateVector(mesh.island);
  const auto linkList = builder.CreateVectorOfStructs(links);
  builder.Finish(fb::CreateNavMesh(builder, agent, areaList, vertexList, start, corners, acrossList, areaOf, island, linkList));
  Header header{};
  std::memcpy(header.magic, kMagic, 8);
  header.version = kMeshVersion;
  header.checksum = XXH3_64bits(builder.GetBufferPointer(), builder.GetSize());
  std::string bytes(kHeader + builder.GetSize(), '\0');
  std::memcpy(bytes.data(), &header, kHeader);
  std::memcpy(bytes.data() + kHeader, builder.GetBufferPointer(), builder.GetSize());
  return bytes;
}

Result<mesh::NavMesh> meshFromBinary(const std::string& bytes) {
  if (bytes.size() < kHeader)
    return damaged("The file ends inside its header: " + std::to_string(bytes.size()) + " of 24 bytes are there.",
                   "byte " + std::to_string(bytes.size()));
  Header header;
  std::memcpy(&header, bytes.data(), kHeader);
  if (std::memcmp(header.magic, kMagic, 8) != 0)
    return Problem{ProblemCode::notOurs, "This is not a .dsmesh file.", "byte 0", "a mesh written by Dune Step."};
  if (header.version > static_cast<std::uint32_t>(kMeshVersion))
    return Problem{ProblemCode::tooNew,
                   "The mesh has version " + std::to_string(header.version) + "; this program reads up to version " +
                       std::to_string(kMeshVersion) + ".",
                   "byte 8", "a newer Dune Step."};
  const std::string body = bytes.substr(kHeader);  // a copy, so that the buffer is aligned as its reader expects
  if (XXH3_64bits(body.data(), body.size()) != header.checksum)
    return damaged("The checksum does not fit the content: the file was cut short or changed.", "byte 16");
  flatbuffers::Verifier verifier(reinterpret_cast<const std::uint8_t*>(body.data()), body.size());
  if (!fb::VerifyNavMeshBuffer(verifier)) return damaged("The content does not follow the schema.", "byte 24");
  const fb::NavMesh& file = *fb::GetNavMesh(body.data());
  mesh::NavMesh mesh;
  mesh.agent = agentFrom(*file.agent());
  for (const fb::AreaKind* k : *file.areas()) {
    mesh.areas.push_back({k->name()->str(), k->colour()->str(), k->cost(), k->entry_cost(), k->forbidden()});
    if (!(k->cost() > 0) || !(k->entry_cost() >= 0))
      return damaged("The cost of area " + k->name()->str() + " is not above zero.", "areas");
  }
  for (const fb::Vec3* v : *file.vertices()) mesh.vertices.push_back(pointFrom(*v));
  mesh.start.assign(file.face_start()->begin(), file.face_start()->end());
  mesh.corners.assign(file.corners()->begin(), file.corners()->end());
  for (const std::uint32_t f : *file.across()) mesh.across.push_back(FaceId{f});
  mesh.area.assign(file.area()->begin(), file.area()->end());
  mesh.island.assign(file.island()->begin(), file.island()->end());
  if (mesh.start.empty()) return damaged("There is no list of faces.", "face_start");
  for (const fb::Link* l : *file.links()) {
    const bool fits = l->from_face() < mesh.faceCount() && l->to_face() < mesh.faceCount() && l->area() >= 0 &&
                      static_cast<std::size_t>(l->area()) < mesh.areas.size() && l->kind() <= fb::LinkKind::MAX;
    if (!fits) return damaged("Link " + std::to_string(l->id()) + " names a face, area or kind that does not exist.", "links");
    mesh.links.push_back({l->id(), static_cast<mesh::LinkKind>(l->kind()), pointFrom(l->from()), pointFrom(l->to()), FaceId{l->from_face()},
                          FaceId{l->to_face()}, l->one_way(), l->cost(), l->area(), l->radius()});
  }
  return mesh;
}

}  // namespace dune::exchange
