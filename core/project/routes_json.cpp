#include "core/project/routes_json.h"

#include <array>

#include "core/project/json_values.h"

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::array kOutcomes{"complete", "not-complete", "any"};

struct Limit {
  const char* name;
  std::optional<double> Expected::*value;
};
constexpr std::array kLimits{Limit{"leastLength", &Expected::leastLength}, Limit{"mostLength", &Expected::mostLength},
                             Limit{"leastCost", &Expected::leastCost},     Limit{"mostCost", &Expected::mostCost},
                             Limit{"leastWidth", &Expected::leastWidth},   Limit{"mostLonger", &Expected::mostLonger}};

Json touchJson(const Touch& t) {
  Json j{{"must", t.must}};
  if (t.what == Touch::What::kind) j["kind"] = t.kind;
  if (t.what == Touch::What::link) j["link"] = t.link;
  if (t.what == Touch::What::box) j["box"] = {point(t.box.min), point(t.box.max)};
  return j;
}

Touch touchFrom(const Json& j) {
  Touch t;
  t.must = j.at("must").get<bool>();
  if (j.contains("kind")) {
    t.kind = j.at("kind").get<std::string>();
  } else if (j.contains("link")) {
    t.what = Touch::What::link, t.link = j.at("link").get<int>();
  } else {
    t.what = Touch::What::box;
    for (const Vec3& p : pointsFrom(j.at("box"))) t.box.add(p);
    if (t.box.empty()) throw std::out_of_range("a box needs two corners");
  }
  return t;
}

/// Only what is not as usual is written.
Json expectedJson(const Expected& e) {
  Json j = Json::object();
  if (e.outcome != Expected::Outcome::complete) j["outcome"] = kOutcomes[static_cast<std::size_t>(e.outcome)];
  for (const Limit& limit : kLimits)
    if (const auto& value = e.*limit.value) j[limit.name] = *value;
  for (const Touch& t : e.touches) j["touches"].push_back(touchJson(t));
  if (!e.sameWay.empty()) j["sameWay"] = points(e.sameWay);
  return j;
}

Expected expectedFrom(const Json& j) {
  Expected e;
  const auto outcome = std::ranges::find(kOutcomes, j.value("outcome", std::string(kOutcomes[0])));
  if (outcome == kOutcomes.end()) throw std::out_of_range("the outcome of a route is not complete, not-complete or any");
  e.outcome = static_cast<Expected::Outcome>(outcome - kOutcomes.begin());
  for (const Limit& limit : kLimits) {
    if (!j.contains(limit.name)) continue;
    const double value = j.at(limit.name).get<double>();
    if (!(value >= 0) || !std::isfinite(value)) throw std::out_of_range("a limit of a route is below zero");
    e.*limit.value = value;
  }
  if (j.contains("touches"))
    for (const Json& t : j.at("touches")) e.touches.push_back(touchFrom(t));
  if (j.contains("sameWay")) e.sameWay = pointsFrom(j.at("sameWay"));
  return e;
}

}  // namespace

Json routesJson(const RoutesSection& s) {
  Json list = Json::array();
  for (const KeptRoute& r : s.routes) {
    Json j{{"id", r.id}, {"name", r.name}, {"from", point(r.from)}, {"to", point(r.to)}};
    if (r.agent != 0) j["agent"] = r.agent;
    if (!r.folder.empty()) j["folder"] = r.folder;
    if (!r.fromName.empty()) j["fromName"] = r.fromName;
    if (!r.toName.empty()) j["toName"] = r.toName;
    if (r.expected != Expected{}) j["expected"] = expectedJson(r.expected);
    list.push_back(std::move(j));
  }
  return list;
}

RoutesSection routesFrom(const Json& j) {
  RoutesSection s;
  for (const Json& r : j) {
    KeptRoute& route = s.routes.emplace_back();
    route.id = r.at("id").get<int>(), route.name = r.value("name", std::string());
    route.from = pointFrom(r.at("from")), route.to = pointFrom(r.at("to"));
    route.agent = r.value("agent", 0), route.folder = r.value("folder", std::string());
    route.fromName = r.value("fromName", std::string()), route.toName = r.value("toName", std::string());
    if (r.contains("expected")) route.expected = expectedFrom(r.at("expected"));
  }
  return s;
}

}  // namespace dune::project
