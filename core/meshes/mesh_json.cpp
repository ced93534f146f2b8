#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>
#include <limits>
#include <nlohmann/json.hpp>
#include <utility>

#include "core/base/text.h"
#include "core/meshes/mesh_files.h"
#include "core/project/agent_json.h"

namespace dune::meshes {

namespace {

using Json = nlohmann::ordered_json;
using nav::FaceId;

constexpr std::size_t kMostItems = 50'000'000;

/// Never throws: a character that is none is written as the sign for that.
std::string written(const Json& j) { return j.dump(-1, ' ', false, Json::error_handler_t::replace); }
Json point(const Vec3& p) { return Json::array({p.x, p.y, p.z}); }
Vec3 pointFrom(const Json& j) { return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()}; }

// Vertices and faces are written without the library, for there may be millions: the same text in a small part of the time.

void append(std::string& text, double x) {
  if (!std::isfinite(x)) return void(text += "null");
  char digits[32];
  const std::string_view shown(digits, static_cast<std::size_t>(std::to_chars(digits, digits + sizeof digits, x).ptr - digits));
  text += shown;
  if (shown.find_first_not_of("-0123456789") == std::string_view::npos) text += ".0";
}

void append(std::string& text, std::int64_t n) {
  char digits[24];
  text += std::string_view(digits, static_cast<std::size_t>(std::to_chars(digits, digits + sizeof digits, n).ptr - digits));
}

void append(std::string& text, const Vec3& p) {
  for (int axis = 0; axis < 3; ++axis) text += axis == 0 ? '[' : ',', append(text, p[axis]);
  text += ']';
}

template <class Items, class Number>
void appendList(std::string& text, const char* name, const Items& items, Number&& number) {
  text += name;
  char before = '[';
  for (const auto& item : items) text += before, append(text, std::int64_t{number(item)}), before = ',';
  text += ']';
}

void append(std::string& text, const nav::NavMesh& mesh, FaceId f) {
  appendList(text, "{\"v\":", mesh.cornersOf(f), [](std::uint32_t v) { return v; });
  appendList(text, ",\"n\":", mesh.acrossOf(f), [](FaceId g) { return g == nav::kNoFace ? std::int64_t{-1} : std::int64_t{index(g)}; });
  text += ",\"area\":", append(text, std::int64_t{mesh.area[index(f)]});
  text += ",\"island\":", append(text, std::int64_t{mesh.island[index(f)]});
  if (mesh.tagsOf(f) != 0) text += ",\"tags\":" + written(nav::tagNamesOf(mesh, f));
  text += '}';
}

/// A number of a list. The library would turn -1 and 1e300 into some other number without a word.
template <class Number>
Number whole(const Json& j, const char* what) {
  if (!j.is_number_integer()) throw std::out_of_range(std::string(what) + " is not a whole number");
  const bool fits =
      j.is_number_unsigned() ? j.get<std::uint64_t>() <= std::numeric_limits<Number>::max() : std::in_range<Number>(j.get<std::int64_t>());
  if (!fits) throw std::out_of_range(std::string(what) + " is out of range");
  return j.get<Number>();
}

FaceId faceFrom(const Json& j) {
  const auto n = whole<std::int64_t>(j, "a face number");
  if (n < -1 || n >= 0xffffffff) throw std::out_of_range("a face number is out of range");
  return n < 0 ? nav::kNoFace : FaceId{static_cast<std::uint32_t>(n)};
}

Json faceJson(FaceId f) { return f == nav::kNoFace ? Json(-1) : Json(index(f)); }

/// Of the face that is read last.
void takeTags(const Json& tags, nav::NavMesh& mesh) {
  mesh.tagged.resize(mesh.area.size(), 0);
  for (const Json& tag : tags) {
    const auto name = tag.get<std::string>();
    const auto at = std::ranges::find(mesh.tags, name);
    const auto bit = static_cast<std::size_t>(at - mesh.tags.begin());
    if (bit >= nav::kMostTags) throw std::out_of_range("there are more than 8 different tags");
    if (at == mesh.tags.end()) mesh.tags.push_back(name);
    mesh.tagged.back() = static_cast<std::uint8_t>(mesh.tagged.back() | 1u << bit);
  }
}

/// Whether every face says its island.
bool facesFrom(const Json& faces, nav::NavMesh& mesh) {
  bool islands = true;
  for (const Json& f : faces) {
    const Json &v = f.at("v"), &n = f.at("n");
    if (v.size() != n.size()) throw std::out_of_range("a face has different numbers of corners and neighbours");
    if (mesh.corners.size() + v.size() > kMostItems) throw std::out_of_range("there are too many corners");
    for (const Json& c : v) mesh.corners.push_back(whole<std::uint32_t>(c, "a corner of a face"));
    for (const Json& g : n) mesh.across.push_back(faceFrom(g));
    mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
    const auto area = f.find("area"), island = f.find("island");
    mesh.area.push_back(area != f.end() ? whole<std::uint16_t>(*area, "the area of a face") : std::uint16_t{0});
    if (const auto tags = f.find("tags"); tags != f.end()) takeTags(*tags, mesh);
    mesh.island.push_back(island != f.end() ? whole<std::uint32_t>(*island, "the island of a face") : 0u);
    islands = islands && island != f.end();
  }
  if (!mesh.tagged.empty()) mesh.tagged.resize(mesh.area.size(), 0);
  return islands;
}

nav::Link linkFrom(const Json& j) {
  nav::Link link;
  link.id = whole<int>(j.at("id"), "the id of a link");
  const auto kind = nav::kindNamed(j.at("kind").get<std::string>());
  if (!kind) throw std::out_of_range("a link's kind is not known");
  link.kind = *kind;
  link.from = pointFrom(j.at("from"));
  link.to = pointFrom(j.at("to"));
  link.fromFace = faceFrom(j.at("fromFace"));
  link.toFace = faceFrom(j.at("toFace"));
  link.oneWay = j.value("oneWay", false);
  link.cost = j.value("cost", 0.0);
  if (const auto area = j.find("area"); area != j.end()) link.area = whole<int>(*area, "the area of a link");
  link.radius = j.value("radius", 0.4);
  // The ends of the stretches; their middles are the ends of the link.
  if (const auto ends = j.find("fromEnd"); ends != j.end()) link.fromHalf = pointFrom(*ends) - link.from;
  if (const auto ends = j.find("toEnd"); ends != j.end()) link.toHalf = pointFrom(*ends) - link.to;
  link.generated = j.value("generated", false);
  link.perMetre = j.value("perMetre", 1.0), link.seconds = j.value("seconds", 0.0);
  return link;
}

Json linksAllowed(const nav::Rules& rules) {
  Json links = Json::array();
  for (std::size_t k = 0; k < nav::kLinkKinds; ++k)
    if (rules.links[k]) links.push_back(nav::kindName(static_cast<nav::LinkKind>(k)));
  return links;
}

void takeLinksAllowed(const Json& j, nav::Rules& rules) {
  rules.links.fill(false);
  for (const Json& name : j) {
    const auto kind = nav::kindNamed(name.get<std::string>());
    if (!kind) throw std::out_of_range("a kind of link in the rules is not known");
    rules.links[static_cast<std::size_t>(*kind)] = true;
  }
}

Json rulesJson(const meshfile::NamedRules& named, std::size_t kinds) {
  Json areas = Json::array();
  for (std::size_t k = 0; k < kinds; ++k) {
    const nav::KindRule& rule = named.rules.of(k);
    areas.push_back({{"cost", rule.cost}, {"entryCost", rule.entryCost}, {"forbidden", rule.forbidden}});
  }
  return {{"name", named.name}, {"areas", areas}, {"links", linksAllowed(named.rules)}};
}

nav::KindRule ruleFrom(const Json& j) { return {j.at("cost").get<double>(), j.value("entryCost", 0.0), j.value("forbidden", false)}; }

meshfile::NamedRules rulesFrom(const Json& j) {
  meshfile::NamedRules named{j.at("name").get<std::string>(), {}};
  for (const Json& a : j.at("areas")) named.rules.kinds.push_back(ruleFrom(a));
  if (const auto links = j.find("links"); links != j.end()) takeLinksAllowed(*links, named.rules);
  return named;
}

Content parse(const Json& j) {
  Content content;
  nav::NavMesh& mesh = content.mesh;
  mesh.agent = project::agentFrom(j.at("agent"));
  for (const Json& a : j.at("areas")) {
    mesh.kinds.push_back({a.at("name").get<std::string>(), a.value("colour", std::string("#d98e32"))});
    content.rules.kinds.push_back(ruleFrom(a));
  }
  const Json& vertices = j.at("vertices");
  if (vertices.size() > kMostItems) throw std::out_of_range("there are too many vertices");
  for (const Json& v : vertices) mesh.vertices.push_back(pointFrom(v));
  if (!facesFrom(j.at("faces"), mesh)) {
    for (const std::uint32_t v : mesh.corners)
      if (v >= mesh.vertices.size()) throw std::out_of_range("a face has a corner that is not in the list");
    for (const FaceId g : mesh.across)
      if (g != nav::kNoFace && index(g) >= mesh.faceCount()) throw std::out_of_range("a face has a neighbour that is not in the list");
    for (std::size_t f = 0; f < mesh.faceCount(); ++f)
      if (mesh.start[f + 1] - mesh.start[f] < 3) throw std::out_of_range("a face has fewer than three corners");
    nav::labelIslands(mesh);
  }
  if (const auto links = j.find("links"); links != j.end())
    for (const Json& l : *links) mesh.links.push_back(linkFrom(l));
  if (const auto links = j.find("linksAllowed"); links != j.end()) takeLinksAllowed(*links, content.rules);
  if (const auto rules = j.find("rules"); rules != j.end())
    for (const Json& r : *rules) content.named.push_back(rulesFrom(r));
  return content;
}

}  // namespace

Result<Content> meshFromJson(const std::string& text) {
  try {
    const Json j = Json::parse(text);
    if (!j.is_object() || j.value("format", std::string()) != "dune-step navmesh")
      return Problem{ProblemCode::notOurs, "This is not a Dune Step mesh: \"format\" does not say \"dune-step navmesh\".", "",
                     "a mesh written by Dune Step."};
    if (const int version = j.value("version", 0); version > meshfile::kVersion)
      return Problem{ProblemCode::tooNew,
                     "The mesh has version " + std::to_string(version) + "; this program reads up to version " +
                         std::to_string(meshfile::kVersion) + ".",
                     "/version", "a newer Dune Step."};
    return meshfile::checked(parse(j));
  } catch (const std::exception& e) {  // the library throws on text that is no JSON, and on missing or wrong fields
    return Problem{ProblemCode::damaged, "The mesh cannot be read. " + sentenceOf(e.what()), "", "building it again."};
  }
}

std::string meshToJson(const Content& content) {
  const nav::NavMesh& mesh = content.mesh;
  // Rows of their own for vertices and faces: small enough, and a difference between two files can be read.
  std::string text = "{\"format\": \"dune-step navmesh\", \"version\": " + std::to_string(meshfile::kVersion) +
                     ",\n \"agent\": " + written(project::agentJson(mesh.agent)) + ",\n \"areas\": [";
  const auto rows = [&](std::size_t count, auto&& row) {
    for (std::size_t i = 0; i < count; ++i) text += i ? ",\n  " : "\n  ", row(i);
    text += "]";
  };
  const auto list = [&](std::size_t count, const std::function<Json(std::size_t)>& item) {
    rows(count, [&](std::size_t i) { text += written(item(i)); });
  };
  list(mesh.kinds.size(), [&](std::size_t i) -> Json {
    const nav::Kind& k = mesh.kinds[i];
    const nav::KindRule& rule = content.rules.of(i);
    return {{"id", i},
            {"name", k.name},
            {"cost", rule.cost},
            {"entryCost", rule.entryCost},
            {"colour", k.colour},
            {"forbidden", rule.forbidden}};
  });
  text += ",\n \"vertices\": [";
  rows(mesh.vertices.size(), [&](std::size_t i) { append(text, mesh.vertices[i]); });
  text += ",\n \"faces\": [";
  rows(mesh.faceCount(), [&](std::size_t i) { append(text, mesh, FaceId{static_cast<std::uint32_t>(i)}); });
  text += ",\n \"links\": [";
  list(mesh.links.size(), [&](std::size_t i) -> Json {
    const nav::Link& l = mesh.links[i];
    Json j{{"id", l.id},
           {"kind", nav::kindName(l.kind)},
           {"from", point(l.from)},
           {"to", point(l.to)},
           {"fromFace", faceJson(l.fromFace)},
           {"toFace", faceJson(l.toFace)},
           {"oneWay", l.oneWay},
           {"cost", l.cost},
           {"area", l.area},
           {"radius", l.radius},
           {"width", l.width()}};
    if (l.width() > 0) j["fromEnd"] = point(l.from + l.fromHalf), j["toEnd"] = point(l.to + l.toHalf);
    if (l.generated) j["generated"] = true;
    if (l.perMetre != 1) j["perMetre"] = l.perMetre;
    if (l.seconds != 0) j["seconds"] = l.seconds;
    return j;
  });
  if (content.rules.links != nav::Rules{}.links) text += ",\n \"linksAllowed\": " + written(linksAllowed(content.rules));
  if (!content.named.empty()) {
    text += ",\n \"rules\": [";
    list(content.named.size(), [&](std::size_t i) { return rulesJson(content.named[i], mesh.kinds.size()); });
  }
  text += "}\n";
  return text;
}

}  // namespace dune::meshes
