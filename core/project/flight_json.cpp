#include "core/project/flight_json.h"

#include <set>
#include <stdexcept>

#include "core/project/json_values.h"

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;

struct Number {
  const char* key;
  double flight::Flyer::*value;
};

constexpr Number kNumbers[] = {
    {"radius", &flight::Flyer::radius},
    {"halfHeight", &flight::Flyer::halfHeight},
    {"speed", &flight::Flyer::speed},
    {"leastHeight", &flight::Flyer::leastHeight},
    {"greatestHeight", &flight::Flyer::mostHeight},
    {"leastSpeed", &flight::Flyer::leastSpeed},
    {"acceleration", &flight::Flyer::acceleration},
    {"turnRate", &flight::Flyer::turnRate},
    {"climbRate", &flight::Flyer::climbRate},
    {"mostBank", &flight::Flyer::mostBank},
    {"mostPitch", &flight::Flyer::mostPitch},
    {"passWithin", &flight::Flyer::passWithin},
    {"arriveWithin", &flight::Flyer::arriveWithin},
};

Json boxJson(const Box3& b) { return Json::array({point(b.min), point(b.max)}); }

Box3 boxFrom(const Json& j) {
  Box3 box;
  box.add(pointFrom(j.at(0))), box.add(pointFrom(j.at(1)));
  return box;
}

template <class List>
void checkIds(const List& list, const char* what) {
  std::set<int> seen;
  for (const auto& item : list)
    if (item.id <= 0 || !seen.insert(item.id).second) throw std::out_of_range(std::string("two ") + what + " have one id, or one has none");
}

}  // namespace

Json flyerJson(const flight::Flyer& flyer) {
  const flight::Flyer usual;
  Json j{{"name", flyer.name}};
  for (const Number& n : kNumbers)
    if (flyer.*n.value != usual.*n.value || n.value == &flight::Flyer::radius || n.value == &flight::Flyer::halfHeight)
      j[n.key] = flyer.*n.value;
  if (flyer.turnsFirst) j["turnsFirst"] = true;
  return j;
}

flight::Flyer flyerFrom(const Json& j) {
  flight::Flyer flyer;
  flyer.name = j.at("name").get<std::string>();
  for (const Number& n : kNumbers) flyer.*n.value = j.value(n.key, flyer.*n.value);
  flyer.turnsFirst = j.value("turnsFirst", false);
  if (const auto problem = flight::checkFlyer(flyer)) throw std::out_of_range(problem->what);
  return flyer;
}

Json flightJson(const FlightSection& s) {
  Json j;
  auto& flyers = j["flyers"] = Json::array();
  for (const FlyerKind& f : s.flyers) {
    flyers.push_back(flyerJson(f));
    flyers.back()["id"] = f.id;
  }
  auto& volumes = j["volumes"] = Json::array();
  for (const FlightVolume& v : s.volumes) {
    volumes.push_back({{"id", v.id}, {"name", v.name}, {"box", boxJson(v.box)}});
    if (!v.air.empty()) volumes.back()["air"] = v.air;
  }
  for (const AgentRule& r : s.rules) {
    j["rules"].push_back({{"flyer", r.agent}, {"kind", r.kind}});
    addRule(j["rules"].back(), r.rule);
  }
  auto& flights = j["flights"] = Json::array();
  for (const AskedFlight& f : s.flights)
    flights.push_back({{"id", f.id}, {"name", f.name}, {"flyer", f.flyer}, {"from", point(f.from)}, {"to", point(f.to)}});
  auto& groups = j["groups"] = Json::array();
  for (const FlyerGroup& g : s.groups) {
    groups.push_back({{"id", g.id},
                      {"name", g.name},
                      {"flyer", g.flyer},
                      {"count", g.count},
                      {"start", point(g.start)},
                      {"goal", point(g.goal)},
                      {"spread", g.spread}});
    if (!g.round.empty()) groups.back()["round"] = points(g.round);
    if (g.inShape) groups.back()["inShape"] = true;
  }
  return j;
}

FlightSection flightFrom(const Json& j) {
  FlightSection s;
  for (const Json& f : j.at("flyers")) {
    FlyerKind kind;
    static_cast<flight::Flyer&>(kind) = flyerFrom(f);
    kind.id = f.at("id").get<int>();
    s.flyers.push_back(kind);
  }
  for (const Json& v : j.at("volumes"))
    s.volumes.push_back({v.at("id").get<int>(), v.value("name", std::string()), boxFrom(v.at("box")), v.value("air", std::string())});
  if (const auto rules = j.find("rules"); rules != j.end())
    for (const Json& r : *rules) {
      const std::string kind = r.at("kind").get<std::string>();
      setRule(s.rules, r.at("flyer").get<int>(), kind, ruleFrom(r, "air of the kind '" + kind + "'"));
    }
  for (const Json& f : j.at("flights"))
    s.flights.push_back(
        {f.at("id").get<int>(), f.value("name", std::string()), f.at("flyer").get<int>(), pointFrom(f.at("from")), pointFrom(f.at("to"))});
  for (const Json& g : j.at("groups")) {
    FlyerGroup group{g.at("id").get<int>(),    g.value("name", std::string()), g.at("flyer").get<int>(), g.at("count").get<int>(),
                     pointFrom(g.at("start")), pointFrom(g.at("goal")),        g.value("spread", 0.0),   {}};
    if (const auto round = g.find("round"); round != g.end()) group.round = pointsFrom(*round);
    group.inShape = g.value("inShape", false);
    if (group.count < 0 || group.count > 100000 || !(group.spread >= 0 && group.spread < 1e5))
      throw std::out_of_range("a group of flyers makes no sense");
    s.groups.push_back(std::move(group));
  }
  checkIds(s.flyers, "flyers"), checkIds(s.volumes, "volumes"), checkIds(s.flights, "flights"), checkIds(s.groups, "groups of flyers");
  return s;
}

}  // namespace dune::project
