// The header guards what the schema cannot: kind, version and checksum. The FlatBuffers verifier guards every offset, and
// checkStructure() (in checked()) what the numbers say.

#include "core/meshfile/mesh_file.h"

#include "core/base/file.h"
#include "core/meshfile/header.h"
#include "core/nav/structure.h"
#include "navmesh_generated.h"

namespace dune::meshfile {

namespace {

using nav::FaceId;

constexpr FileKind kMesh{kMagic, kVersion, ".dsmesh", "mesh"};

Problem damaged(const std::string& what, const std::string& where) { return damagedFile(kMesh, what, where); }

fb::Vec3 point(const Vec3& p) { return {p.x, p.y, p.z}; }
Vec3 pointFrom(const fb::Vec3& p) { return {p.x(), p.y(), p.z()}; }

nav::Agent agentFrom(const fb::Agent& a) {
  nav::Agent agent;
  agent.name = a.name()->str();
  agent.radius = a.radius(), agent.height = a.height(), agent.maxSlope = a.max_slope(), agent.stepHeight = a.step_height();
  agent.maxDrop = a.max_drop(), agent.maxJump = a.max_jump(), agent.speed = a.speed(), agent.acceleration = a.acceleration();
  agent.turnRate = a.turn_rate(), agent.arriveWithin = a.arrive_within();
  agent.crouchHeight = a.crouch_height(), agent.crouchCost = a.crouch_cost();
  agent.passWithin = a.pass_within(), agent.originHeight = a.origin_height(), agent.tilts = a.tilts();
  agent.maxRise = a.max_rise();
  return agent;
}

using Named = flatbuffers::Offset<fb::NamedRules>;

flatbuffers::Offset<flatbuffers::Vector<std::uint8_t>> linkBytes(flatbuffers::FlatBufferBuilder& builder, const nav::Rules& rules) {
  std::vector<std::uint8_t> links;
  for (const bool may : rules.links) links.push_back(may);
  return builder.CreateVector(links);
}

Named namedRules(flatbuffers::FlatBufferBuilder& builder, const NamedRules& named, std::size_t kinds) {
  std::vector<double> cost, entry;
  std::vector<std::uint8_t> forbidden;
  for (std::size_t k = 0; k < kinds; ++k) {
    const nav::KindRule& rule = named.rules.of(k);
    cost.push_back(rule.cost), entry.push_back(rule.entryCost), forbidden.push_back(rule.forbidden);
  }
  const auto name = builder.CreateString(named.name);
  const auto costs = builder.CreateVector(cost), entries = builder.CreateVector(entry);
  const auto forbids = builder.CreateVector(forbidden), links = linkBytes(builder, named.rules);
  return fb::CreateNamedRules(builder, name, costs, entries, forbids, links);
}

template <class Bools>
bool takeLinks(const Bools& from, nav::Rules& rules) {
  if (from.size() != nav::kLinkKinds) return false;
  for (std::uint32_t k = 0; k < nav::kLinkKinds; ++k) rules.links[k] = from.Get(k) != 0;
  return true;
}

/// Nothing where the lists do not fit each other.
std::optional<NamedRules> namedFrom(const fb::NamedRules& r, std::size_t kinds) {
  if (r.cost()->size() != kinds || r.entry_cost()->size() != kinds || r.forbidden()->size() != kinds) return std::nullopt;
  NamedRules named{r.name()->str(), {}};
  for (std::uint32_t k = 0; k < kinds; ++k)
    named.rules.kinds.push_back({r.cost()->Get(k), r.entry_cost()->Get(k), r.forbidden()->Get(k) != 0});
  return takeLinks(*r.links(), named.rules) ? std::optional(std::move(named)) : std::nullopt;
}

}  // namespace

std::string toBytes(const Content& content) {
  const nav::NavMesh& mesh = content.mesh;
  flatbuffers::FlatBufferBuilder builder(1 << 16);
  const nav::Agent& a = mesh.agent;
  const auto name = builder.CreateString(a.name);
  const auto agent =
      fb::CreateAgent(builder, name, a.radius, a.height, a.maxSlope, a.stepHeight, a.maxDrop, a.maxJump, a.speed, a.acceleration,
                      a.turnRate, a.arriveWithin, a.crouchHeight, a.crouchCost, a.passWithin, a.originHeight, a.tilts, a.maxRise);
  std::vector<flatbuffers::Offset<fb::AreaKind>> areas;
  for (std::size_t i = 0; i < mesh.kinds.size(); ++i) {
    const nav::Kind& k = mesh.kinds[i];
    const nav::KindRule& rule = content.rules.of(i);
    const auto kindName = builder.CreateString(k.name), colour = builder.CreateString(k.colour);
    areas.push_back(fb::CreateAreaKind(builder, kindName, colour, rule.cost, rule.entryCost, rule.forbidden));
  }
  std::vector<fb::Vec3> vertices;
  for (const Vec3& v : mesh.vertices) vertices.push_back(point(v));
  std::vector<std::uint32_t> across;
  for (const FaceId f : mesh.across) across.push_back(index(f));
  std::vector<fb::Link> links;
  for (const nav::Link& l : mesh.links)
    links.emplace_back(point(l.from), point(l.to), l.cost, l.radius, l.id, index(l.fromFace), index(l.toFace), l.area,
                       static_cast<fb::LinkKind>(l.kind), l.oneWay);
  std::vector<fb::LinkMore> more;
  for (std::uint32_t i = 0; i < mesh.links.size(); ++i)
    if (const nav::Link& l = mesh.links[i]; l.generated || l.fromHalf != Vec3{} || l.toHalf != Vec3{} || l.perMetre != 1 || l.seconds != 0)
      more.emplace_back(point(l.fromHalf), point(l.toHalf), l.perMetre, l.seconds, i, l.generated);
  const auto areaList = builder.CreateVector(areas);
  const auto vertexList = builder.CreateVectorOfStructs(vertices);
  const auto start = builder.CreateVector(mesh.start), corners = builder.CreateVector(mesh.corners),
             acrossList = builder.CreateVector(across);
  const auto areaOf = builder.CreateVector(mesh.area);
  const auto island = builder.CreateVector(mesh.island);
  const auto linkList = builder.CreateVectorOfStructs(links);
  const auto moreList = more.empty() ? 0 : builder.CreateVectorOfStructs(more);
  std::vector<Named> named;
  for (const NamedRules& n : content.named) named.push_back(namedRules(builder, n, mesh.kinds.size()));
  const auto namedList = named.empty() ? 0 : builder.CreateVector(named);
  const bool allLinks = content.rules.links == nav::Rules{}.links;
  const auto allowed = allLinks ? 0 : linkBytes(builder, content.rules);
  const auto tags = mesh.tags.empty() ? 0 : builder.CreateVectorOfStrings(mesh.tags);
  const auto tagged = mesh.tagged.empty() ? 0 : builder.CreateVector(mesh.tagged);
  builder.Finish(fb::CreateNavMesh(builder, agent, areaList, vertexList, start, corners, acrossList, areaOf, island, linkList, moreList,
                                   namedList, allowed, tags, tagged));
  return withHeader(kMesh, builder.GetBufferPointer(), builder.GetSize());
}

Result<Content> fromBytes(std::string_view bytes) {
  const auto body = bodyOf(kMesh, bytes);
  if (!body) return body.problem();
  flatbuffers::Verifier verifier(reinterpret_cast<const std::uint8_t*>(body->data()), body->size());
  if (!fb::VerifyNavMeshBuffer(verifier)) return damaged("The content does not follow the schema.", "byte 24");
  const fb::NavMesh& file = *fb::GetNavMesh(body->data());
  Content content;
  nav::NavMesh& mesh = content.mesh;
  mesh.agent = agentFrom(*file.agent());
  for (const fb::AreaKind* k : *file.areas()) {
    mesh.kinds.push_back({k->name()->str(), k->colour()->str()});
    content.rules.kinds.push_back({k->cost(), k->entry_cost(), k->forbidden()});
  }
  for (const fb::Vec3* v : *file.vertices()) mesh.vertices.push_back(pointFrom(*v));
  mesh.start.assign(file.face_start()->begin(), file.face_start()->end());
  mesh.corners.assign(file.corners()->begin(), file.corners()->end());
  for (const std::uint32_t f : *file.across()) mesh.across.push_back(FaceId{f});
  mesh.area.assign(file.area()->begin(), file.area()->end());
  mesh.island.assign(file.island()->begin(), file.island()->end());
  if (file.tags())
    for (const auto* tag : *file.tags()) mesh.tags.push_back(tag->str());
  if (file.tagged()) mesh.tagged.assign(file.tagged()->begin(), file.tagged()->end());
  for (const fb::Link* l : *file.links()) {
    if (l->kind() > fb::LinkKind::MAX) return damaged("Link " + std::to_string(l->id()) + " is of a kind that does not exist.", "links");
    mesh.links.push_back({l->id(), static_cast<nav::LinkKind>(l->kind()), pointFrom(l->from()), pointFrom(l->to()), FaceId{l->from_face()},
                          FaceId{l->to_face()}, l->one_way(), l->cost(), l->area(), l->radius()});
  }
  if (file.more())
    for (const fb::LinkMore* s : *file.more()) {
      if (s->link() >= mesh.links.size()) return damaged("More is said of a link that is not in the list.", "more");
      nav::Link& link = mesh.links[s->link()];
      link.fromHalf = pointFrom(s->from_half()), link.toHalf = pointFrom(s->to_half()), link.generated = s->generated();
      link.perMetre = s->per_metre(), link.seconds = s->seconds();
    }
  if (file.links_allowed() && !takeLinks(*file.links_allowed(), content.rules))
    return damaged("What is said of links does not name every kind of them.", "links_allowed");
  if (file.rules())
    for (const fb::NamedRules* r : *file.rules()) {
      auto named = namedFrom(*r, mesh.kinds.size());
      if (!named) return damaged("The rules named '" + r->name()->str() + "' are not for the kinds of ground of the mesh.", "rules");
      content.named.push_back(*std::move(named));
    }
  return checked(std::move(content));
}

Result<Content> checked(Content content) {
  if (const auto wrong = nav::checkStructure(content.mesh, 1); !wrong.empty())
    return damaged("The mesh contradicts itself: " + wrong[0] + ".", "");
  if (auto problem = nav::checkRules(content.mesh, content.rules)) return *std::move(problem);
  for (const NamedRules& named : content.named)
    if (auto problem = nav::checkRules(content.mesh, named.rules)) return problem->within("rules " + named.name);
  return content;
}

Result<Content> read(const std::string& path) {
  const auto bytes = readFile(path);
  if (!bytes) return bytes.problem();
  auto content = fromBytes(*bytes);
  return content ? std::move(content) : content.problem().within(path);
}

}  // namespace dune::meshfile
