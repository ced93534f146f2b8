#include "core/project/file.h"
#include "core/base/text.h"

#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/project/agent_json.h"
#include "core/project/crowd_json.h"
#include "core/project/flight_json.h"
#include "core/project/hand_json.h"
#include "core/project/json_values.h"
#include "core/project/routes_json.h"
#include "core/project/rules.h"

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;
using level::Role;

constexpr const char* kFormat = "dune-step project";

/// Outlines are stored as [x, z], as people read them.
Json outlineJson(const Polygon& outline) {
  Json list = Json::array();
  for (const Vec2& q : outline) list.push_back(Json::array({q.x, q.y == 0 ? 0.0 : -q.y}));
  return list;
}

Polygon outlineFrom(const Json& j) {
  Polygon outline;
  for (const Json& q : j) outline.push_back({q.at(0).get<double>(), -q.at(1).get<double>()});
  if (outline.size() < 3) throw std::out_of_range("an outline needs at least three corners");
  return outline;
}

Role roleFrom(const std::string& name) {
  for (const Role r : {Role::ground, Role::obstacle, Role::cuts, Role::ignored})
    if (name == level::roleName(r)) return r;
  throw std::out_of_range("the role '" + name + "' is not ground, obstacle, cuts ground or ignored");
}

Json blockerJson(const level::Blocker& b) {
  Json j{{"id", b.id},     {"shape", level::shapeName(b.shape)}, {"at", point(b.at)}, {"size", point(b.size)},
         {"turn", b.turn}, {"role", level::roleName(b.role)}};
  if (level::hasOutline(b)) j["outline"] = outlineJson(b.outline);
  if (!b.agents.empty()) j["agents"] = b.agents;
  return j;
}

level::Blocker blockerFrom(const Json& j) {
  using level::BlockerShape;
  level::Blocker b;
  b.id = j.at("id").get<int>();
  const auto shape = j.at("shape").get<std::string>();
  bool known = false;
  for (const BlockerShape s : {BlockerShape::box, BlockerShape::ramp, BlockerShape::cylinder, BlockerShape::prism, BlockerShape::floor})
    if (shape == level::shapeName(s)) b.shape = s, known = true;
  if (!known) throw std::out_of_range("the shape '" + shape + "' is not box, ramp, cylinder, prism or floor");
  b.at = pointFrom(j.at("at"));
  b.size = pointFrom(j.at("size"));
  b.turn = j.value("turn", 0.0);
  b.role = roleFrom(j.value("role", std::string("obstacle")));
  for (int i = 0; i < 3; ++i)
    if (!(b.size[i] >= level::kLeastBlocker && b.size[i] <= level::kMostBlocker))
      throw std::out_of_range("a blocker's size is not between 0.05 and 1000 m");
  if (!isFinite(b.at) || !std::isfinite(b.turn)) throw std::out_of_range("a blocker's place is not finite");
  if (level::hasOutline(b)) b.outline = outlineFrom(j.at("outline"));
  b.agents = j.value("agents", std::vector<std::string>());
  return b;
}

/// What files of its kind are read with is always written; of the rest, what is not as usual: the document may hold it, for example where
/// a choice was made while the file was gone.
Json fileJson(const LevelFile& f) {
  const level::ImportOptions usual = level::importFor(f.path), &now = f.import;
  const bool tiles = level::isTileMap(f.path), map = tiles || level::isHeightMap(f.path);
  Json j{{"file", f.path}};
  if (!map || now.up != usual.up) j["up"] = now.up == level::UpAxis::z ? "z" : "y";
  if (!map || now.scale != usual.scale) j["scale"] = now.scale;
  if (map || now.spacing != usual.spacing) j["spacing"] = now.spacing;
  if (map || now.rise != usual.rise) j["rise"] = now.rise;
  if (tiles || now.solid != usual.solid) j["solid"] = now.solid;
  if (now.pieces) j["pieces"] = true;
  return j;
}

LevelFile fileFrom(const Json& j) {
  LevelFile f;
  f.path = j.at("file").get<std::string>();
  f.import = level::importFor(f.path);
  f.import.up = j.value("up", std::string("y")) == "z" ? level::UpAxis::z : level::UpAxis::y;
  f.import.scale = j.value("scale", 1.0);
  f.import.pieces = j.value("pieces", false);
  f.import.spacing = j.value("spacing", f.import.spacing);
  f.import.rise = j.value("rise", f.import.rise);
  f.import.solid = j.value("solid", f.import.solid);
  if (!(f.import.spacing > 0)) throw std::out_of_range("the metres a pixel must be above zero");
  if (!(f.import.scale > 0)) throw std::out_of_range("the scale must be above zero");
  return f;
}

Json givenJson(const GivenMesh& g) {
  Json j{{"file", g.path}, {"up", g.import.up == level::UpAxis::z ? "z" : "y"}, {"scale", g.import.scale}};
  if (g.agent != 0) j["agent"] = g.agent;
  for (const hand::Mend& m : g.mends) {
    j["mends"].push_back({{"what", hand::mendName(m.what)}});
    if (m.at) j["mends"].back()["at"] = point(*m.at);
  }
  return j;
}

hand::Mend::What mendFrom(const std::string& name) {
  using hand::Mend;
  for (const Mend::What w : {Mend::What::turn, Mend::What::close, Mend::What::thin, Mend::What::join})
    if (name == hand::mendName(w)) return w;
  throw std::out_of_range("what is mended, '" + name + "', is not turn, close, thin or join");
}

GivenMesh givenFrom(const Json& j) {
  GivenMesh g;
  g.path = j.at("file").get<std::string>();
  g.import.up = j.value("up", std::string("y")) == "z" ? level::UpAxis::z : level::UpAxis::y;
  g.import.scale = j.value("scale", 1.0);
  if (!(g.import.scale > 0)) throw std::out_of_range("the scale must be above zero");
  g.agent = j.value("agent", 0);
  if (const auto mends = j.find("mends"); mends != j.end())
    for (const Json& m : *mends) {
      g.mends.push_back({mendFrom(m.at("what").get<std::string>()), {}});
      if (m.contains("at")) g.mends.back().at = pointFrom(m.at("at"));
    }
  return g;
}

Json levelJson(const LevelSection& s) {
  Json files = Json::array(), roles = Json::object(), rules = Json::array(), blockers = Json::array(), seeds = Json::array();
  for (const LevelFile& f : s.files) files.push_back(fileJson(f));
  for (const auto& [name, role] : s.roles) roles[name] = level::roleName(role);
  for (const level::RoleRule& r : s.rules) rules.push_back({{"pattern", r.pattern}, {"role", level::roleName(r.role)}});
  for (const level::Blocker& b : s.blockers) blockers.push_back(blockerJson(b));
  for (const Vec3& p : s.seeds) seeds.push_back(point(p));
  Json j{{"files", files}, {"roles", roles}, {"rules", rules}, {"blockers", blockers}, {"seeds", seeds}, {"join", s.joinDistance}};
  if (s.leastIsland.area > 0) j["leastIsland"] = s.leastIsland.area;
  if (s.leastIsland.width > 0) j["leastIslandWidth"] = s.leastIsland.width;
  for (const GivenMesh& g : s.given) j["meshes"].push_back(givenJson(g));
  if (s.bounds) j["bounds"] = {point(s.bounds->min), point(s.bounds->max)};
  return j;
}

LevelSection levelFrom(const Json& j, int version) {
  LevelSection s;
  if (version == 1) {
    if (!j.at("file").get<std::string>().empty()) s.files.push_back(fileFrom(j));
  } else {
    for (const Json& f : j.at("files")) s.files.push_back(fileFrom(f));
  }
  if (const auto roles = j.find("roles"); roles != j.end())
    for (const auto& [name, role] : roles->items()) s.roles[name] = roleFrom(role.get<std::string>());
  if (const auto rules = j.find("rules"); rules != j.end())
    for (const Json& r : *rules) s.rules.push_back({r.at("pattern").get<std::string>(), roleFrom(r.at("role").get<std::string>())});
  if (const auto blockers = j.find("blockers"); blockers != j.end())
    for (const Json& b : *blockers) s.blockers.push_back(blockerFrom(b));
  if (const auto seeds = j.find("seeds"); seeds != j.end())
    for (const Json& p : *seeds) s.seeds.push_back(pointFrom(p));
  if (const auto bounds = j.find("bounds"); bounds != j.end()) s.bounds = Box3{pointFrom(bounds->at(0)), pointFrom(bounds->at(1))};
  if (const auto given = j.find("meshes"); given != j.end())
    for (const Json& g : *given) s.given.push_back(givenFrom(g));
  s.joinDistance = j.value("join", s.joinDistance);
  s.leastIsland = {j.value("leastIsland", 0.0), j.value("leastIslandWidth", 0.0)};
  if (!(s.leastIsland.area >= 0 && s.leastIsland.area <= level::kMostIsland && s.leastIsland.width >= 0 &&
        s.leastIsland.width <= level::kMostIsland))
    throw std::out_of_range("the least size of islands is not between 0 and 10 000");
  if (!(s.joinDistance >= 0 && s.joinDistance < 10)) throw std::out_of_range("the joining distance is not between 0 and 10 m");
  return s;
}

Json areasJson(const AreasSection& s) {
  Json kinds = Json::array(), volumes = Json::array();
  for (const level::AreaKind& k : s.kinds) kinds.push_back({{"name", k.name}, {"colour", k.colour}}), addRule(kinds.back(), k.rule());
  for (const level::AreaVolume& v : s.volumes) {
    volumes.push_back({{"id", v.id}, {"kind", v.kind}, {"bottom", v.bottom}, {"top", v.top}, {"outline", outlineJson(v.outline)}});
    if (!v.name.empty()) volumes.back()["name"] = v.name;
    if (!v.tags.empty()) volumes.back()["tags"] = v.tags;
  }
  Json j{{"kinds", kinds}, {"volumes", volumes}};
  for (const level::GroundRule& r : s.byName) j["byName"].push_back({{"pattern", r.pattern}, {"kind", r.kind}});
  for (const AgentRule& r : s.rules) {
    j["rules"].push_back({{"agent", r.agent}, {"kind", r.kind}});
    addRule(j["rules"].back(), r.rule);
  }
  for (const LinkRule& r : s.noLinks) j["noLinks"].push_back({{"agent", r.agent}, {"kind", nav::kindName(r.kind)}});
  return j;
}

nav::LinkKind linkKindFrom(const Json& j) {
  const auto kind = nav::kindNamed(j.at("kind").get<std::string>());
  if (!kind) throw std::out_of_range("the kind of a link is not jump, drop, climb, door or teleport");
  return *kind;
}

void rulesFrom(const Json& j, AreasSection& s) {
  if (const auto rules = j.find("rules"); rules != j.end())
    for (const Json& r : *rules) {
      const std::string kind = r.at("kind").get<std::string>();
      setRule(s.rules, r.at("agent").get<int>(), kind, ruleFrom(r, "'" + kind + "'"));
    }
  if (const auto noLinks = j.find("noLinks"); noLinks != j.end())
    for (const Json& r : *noLinks) setMayTake(s, r.at("agent").get<int>(), linkKindFrom(r), false);
}

AreasSection areasFrom(const Json& j) {
  AreasSection s;
  s.kinds.clear();
  for (const Json& k : j.at("kinds")) {
    const std::string name = k.at("name").get<std::string>();
    const nav::KindRule rule = ruleFrom(k, "'" + name + "'");
    s.kinds.push_back({name, k.value("colour", std::string("#d98e32")), rule.cost, rule.entryCost, rule.forbidden});
  }
  if (s.kinds.empty()) throw std::out_of_range("there must be at least one kind of ground");
  for (const Json& v : j.at("volumes"))
    s.volumes.push_back({v.at("id").get<int>(), v.at("kind").get<std::string>(), outlineFrom(v.at("outline")), v.at("bottom").get<double>(),
                         v.at("top").get<double>(), v.value("name", std::string()), v.value("tags", std::vector<std::string>())});
  if (const auto byName = j.find("byName"); byName != j.end())
    for (const Json& r : *byName) s.byName.push_back({r.at("pattern").get<std::string>(), r.at("kind").get<std::string>()});
  rulesFrom(j, s);
  return s;
}

/// Of a link that is as wide as a stretch of border.
template <class Wide>
void addHalves(Json& j, const Wide& l) {
  if (l.fromHalf == Vec3{} && l.toHalf == Vec3{}) return;
  j["fromHalf"] = point(l.fromHalf), j["toHalf"] = point(l.toHalf);
}
template <class Wide>
void halvesFrom(const Json& j, Wide& l) {
  if (const auto half = j.find("fromHalf"); half != j.end()) l.fromHalf = pointFrom(*half);
  if (const auto half = j.find("toHalf"); half != j.end()) l.toHalf = pointFrom(*half);
}

Json linksJson(const LinksSection& s) {
  Json list = Json::array();
  for (const links::HandLink& l : s.links) {
    list.push_back({{"id", l.id},
                    {"kind", nav::kindName(l.kind)},
                    {"from", point(l.from)},
                    {"to", point(l.to)},
                    {"oneWay", l.oneWay},
                    {"cost", l.cost}});
    addHalves(list.back(), l);
    if (l.perMetre != 1) list.back()["perMetre"] = l.perMetre;
    if (l.seconds != 0) list.back()["seconds"] = l.seconds;
    if (!l.agents.empty()) list.back()["agents"] = l.agents;
  }
  return list;
}

Json foundLinksJson(const LinksSection& s) {
  Json refused = Json::array();
  for (const links::RefusedLink& r : s.refused) {
    refused.push_back({{"kind", nav::kindName(r.kind)}, {"from", point(r.from)}, {"to", point(r.to)}});
    addHalves(refused.back(), r);
  }
  return {{"find", s.find}, {"refused", refused}};
}

void foundLinksFrom(const Json& j, LinksSection& s) {
  s.find = j.value("find", false);
  if (const auto refused = j.find("refused"); refused != j.end())
    for (const Json& r : *refused) {
      s.refused.push_back({linkKindFrom(r), pointFrom(r.at("from")), pointFrom(r.at("to")), {}, {}});
      halvesFrom(r, s.refused.back());
    }
}

LinksSection linksFrom(const Json& j) {
  LinksSection s;
  for (const Json& l : j) {
    s.links.push_back({l.at("id").get<int>(),
                       linkKindFrom(l),
                       pointFrom(l.at("from")),
                       pointFrom(l.at("to")),
                       l.value("oneWay", false),
                       l.value("cost", 0.0),
                       {},
                       {}});
    links::HandLink& link = s.links.back();
    halvesFrom(l, link);
    link.perMetre = l.value("perMetre", 1.0), link.seconds = l.value("seconds", 0.0);
    if (const auto agents = l.find("agents"); agents != l.end()) link.agents = agents->get<std::vector<int>>();
    if (!(link.cost >= 0 && link.perMetre >= 0)) throw std::out_of_range("the cost of a link is below zero");
    if (!(link.seconds >= 0)) throw std::out_of_range("the time of a link is below zero");
  }
  return s;
}

Json cardsJson(const CardsSection& s) {
  Json list = Json::array();
  for (const Card& c : s.cards) list.push_back({{"id", c.id}, {"at", point(c.at)}});
  return list;
}

CardsSection cardsFrom(const Json& j) {
  CardsSection s;
  for (const Json& c : j) s.cards.push_back({c.at("id").get<int>(), pointFrom(c.at("at"))});
  return s;
}

Json placesJson(const PlacesSection& s) {
  Json list = Json::array();
  for (const NamedPlace& p : s.places) list.push_back({{"id", p.id}, {"name", p.name}, {"at", point(p.at)}});
  return list;
}

PlacesSection placesFrom(const Json& j) {
  PlacesSection s;
  for (const Json& p : j) s.places.push_back({p.at("id").get<int>(), p.at("name").get<std::string>(), pointFrom(p.at("at"))});
  return s;
}

Json reviewJson(const ReviewSection& s) {
  Json muted = Json::array();
  for (const MutedFindings& m : s.muted) {
    muted.push_back({{"id", m.id}, {"code", m.code}, {"reason", m.reason}});
    if (m.at) muted.back()["at"] = point(*m.at), muted.back()["within"] = m.within;
    if (m.agent >= 0) muted.back()["agent"] = m.agent;
  }
  return {{"muted", muted}};
}

ReviewSection reviewFrom(const Json& j) {
  ReviewSection s;
  for (const Json& m : j.at("muted")) {
    s.muted.push_back({m.at("id").get<int>(),
                       m.at("code").get<std::string>(),
                       {},
                       m.value("within", 0.0),
                       m.value("agent", -1),
                       m.at("reason").get<std::string>()});
    if (const auto at = m.find("at"); at != m.end()) s.muted.back().at = pointFrom(*at);
    if (!(s.muted.back().within >= 0)) throw std::out_of_range("findings are muted within less than nothing");
  }
  return s;
}

template <class T>
std::shared_ptr<const T> shared(T value) {
  return std::make_shared<const T>(std::move(value));
}

/// Before version 4 every agent took every link: they get limits that let them take those that are there.
void letTakeAll(AgentsSection& agents, const LinksSection& drawn) {
  constexpr double kFurther = 0.6;  // m: ends are tied to ground a little away from where they were drawn
  for (const links::HandLink& link : drawn.links)
    for (nav::Agent& a : agents.agents) {
      auto enough = [](double now, double asked) { return std::max(now, std::ceil((asked + kFurther) * 10) / 10); };
      if (link.kind == nav::LinkKind::jump) a.maxJump = enough(a.maxJump, glm::distance(plan(link.from), plan(link.to)));
      if (link.kind == nav::LinkKind::drop) a.maxDrop = enough(a.maxDrop, std::abs(link.from.y - link.to.y));
    }
}

/// Where a file says nothing of how high an agent jumps, it takes the jumps that are there.
void letRise(AgentKind& agent, const LinksSection& drawn) {
  for (const links::HandLink& link : drawn.links)
    if (link.kind == nav::LinkKind::jump)
      agent.maxRise = std::max(agent.maxRise, std::ceil(std::abs(link.from.y - link.to.y) * 10 + 1) / 10);
}

Project parse(const Json& j, int version) {
  Project p;
  p.level = shared(levelFrom(j.at("level"), version));
  AgentsSection agents;
  agents.agents.clear();
  // Where no ids are written they count up.
  for (const Json& a : j.at("agents")) agents.agents.push_back({agentFrom(a), a.value("id", static_cast<int>(agents.agents.size()) + 1)});
  if (agents.agents.empty()) throw std::out_of_range("there must be at least one agent");
  LinksSection links = linksFrom(j.at("links"));
  for (std::size_t i = 0; i < agents.agents.size(); ++i)
    if (!j.at("agents").at(i).contains("maxRise")) letRise(agents.agents[i], links);
  if (const auto found = j.find("foundLinks"); found != j.end()) foundLinksFrom(*found, links);
  if (version < 4) letTakeAll(agents, links);
  numberAgents(agents);
  p.agents = shared(std::move(agents));
  p.areas = shared(areasFrom(j.at("areas")));
  p.links = shared(std::move(links));
  p.routes = shared(routesFrom(j.at("routes")));
  if (const auto cards = j.find("cards"); cards != j.end()) p.cards = shared(cardsFrom(*cards));
  p.crowd = shared(crowdFrom(j.at("crowd")));
  if (const auto places = j.find("places"); places != j.end()) p.places = shared(placesFrom(*places));
  if (const auto work = j.find("byHand"); work != j.end()) p.hand = shared(handFrom(*work));
  if (const auto flight = j.find("flight"); flight != j.end()) p.flight = shared(flightFrom(*flight));
  if (const auto review = j.find("review"); review != j.end()) p.review = shared(reviewFrom(*review));
  return p;
}

}  // namespace

Result<Project> fromJson(const std::string& text) {
  try {
    const Json j = Json::parse(text);
    if (!j.is_object() || j.value("format", std::string()) != kFormat)
      return Problem{ProblemCode::notOurs, "This is not a Dune Step project: \"format\" does not say \"dune-step project\".", "",
                     "a .dunestep file."};
    if (const int version = j.value("version", 0); version > kProjectVersion)
      return Problem{ProblemCode::tooNew,
                     "The project has version " + std::to_string(version) + "; this program reads up to version " +
                         std::to_string(kProjectVersion) + ".",
                     "/version", "a newer Dune Step."};
    else if (version < 1)
      return Problem{ProblemCode::damaged, "The project's version is missing or below 1.", "/version", ""};
    else
      return parse(j, version);
  } catch (const std::exception& e) {  // the library throws on text that is no JSON, and on missing or wrong fields
    return Problem{ProblemCode::damaged, "The project cannot be read. " + sentenceOf(e.what()), "", "an older copy of the file."};
  }
}

std::string toJson(const Project& p) {
  Json agents = Json::array();
  AgentsSection kinds = *p.agents;
  numberAgents(kinds);
  for (const AgentKind& a : kinds.agents) {
    agents.push_back(agentJson(a));
    if (a.id != static_cast<int>(agents.size())) agents.back()["id"] = a.id;
  }
  Json j{{"format", kFormat},
         {"version", kProjectVersion},
         {"level", levelJson(*p.level)},
         {"agents", agents},
         {"areas", areasJson(*p.areas)},
         {"links", linksJson(*p.links)},
         {"routes", routesJson(*p.routes)},
         {"cards", cardsJson(*p.cards)},
         {"crowd", crowdJson(*p.crowd)}};
  if (p.links->find || !p.links->refused.empty()) j["foundLinks"] = foundLinksJson(*p.links);
  if (!p.places->places.empty()) j["places"] = placesJson(*p.places);
  if (p.hand->any()) j["byHand"] = handJson(*p.hand);
  if (p.flight->any()) j["flight"] = flightJson(*p.flight);
  if (!p.review->muted.empty()) j["review"] = reviewJson(*p.review);
  return j.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Project> load(const std::string& path) {
  auto text = readFile(path);
  if (!text) return text.problem();
  auto project = fromJson(*text);
  if (!project) return project.problem().within(path);
  return project;
}

Outcome save(const std::string& path, const Project& project) { return writeFile(path, toJson(project)); }

std::string levelPath(const std::string& level, const std::string& projectFile) {
  const std::filesystem::path file(level);
  if (file.empty() || file.is_absolute()) return file.string();
  return (std::filesystem::path(projectFile).parent_path() / file).lexically_normal().string();
}

std::string storedPath(const std::string& level, const std::string& projectFile) {
  std::error_code error;
  const auto base = std::filesystem::absolute(projectFile, error).parent_path();
  const auto relative = std::filesystem::absolute(level, error).lexically_normal().lexically_relative(base.lexically_normal());
  return relative.empty() ? level : relative.generic_string();
}

}  // namespace dune::project
