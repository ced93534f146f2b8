#include "core/project/crowd_json.h"
#include "core/base/text.h"

#include <array>

#include "core/project/json_values.h"

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::array kStartForms{"area", "line", "ring"};
constexpr std::array kGoalKinds{"place", "object", "group", "round", "around", "across"};
constexpr std::array kShapes{"box", "cylinder"};
constexpr int kMostBodies = 10000;

template <class Enum, std::size_t n>
Enum named(const Json& j, const char* key, const std::array<const char*, n>& names, const char* what) {
  const auto name = j.value(key, std::string(names[0]));
  for (std::size_t i = 0; i < n; ++i)
    if (name == names[i]) return static_cast<Enum>(i);
  throw std::out_of_range(std::string(what) + " '" + name + "' is none that is known");
}

/// Only what is not as usual is written.
Json steeringJson(const crowd::SteeringSettings& s) {
  const crowd::SteeringSettings usual;
  Json j = Json::object();
  if (s.model != usual.model) j["steering"] = crowd::steeringName(s.model);
  for (const crowd::Parameter& p : crowd::parameters())
    if (s.*p.value != usual.*p.value) j[p.name] = s.*p.value;
  return j;
}

crowd::SteeringSettings steeringFrom(const Json& j) {
  crowd::SteeringSettings s;
  for (const auto& [key, value] : j.items()) {
    if (key == "steering") {
      const auto model = crowd::steeringNamed(value.get<std::string>());
      if (!model) throw std::out_of_range("the way to steer '" + value.get<std::string>() + "' is none that is known");
      s.model = *model;
    } else if (const auto set = crowd::setParameter(s, key, value.get<double>()); !set) {
      throw std::out_of_range(set.problem().text());
    }
  }
  return s;
}

Json groupJson(const CrowdGroup& g) {
  const CrowdGroup usual;
  Json j{{"id", g.id}, {"start", point(g.start)}, {"goal", point(g.goal)}, {"count", g.count}, {"radius", g.radius}};
  if (!g.name.empty()) j["name"] = g.name;
  if (!g.scene.empty()) j["scene"] = g.scene;
  if (g.agent != 0) j["agent"] = g.agent;
  if (g.startForm != usual.startForm) j["startForm"] = kStartForms[static_cast<std::size_t>(g.startForm)];
  if (g.startForm == StartForm::line || g.startEnd != usual.startEnd) j["startEnd"] = point(g.startEnd);
  if (g.startRadius != usual.startRadius) j["startRadius"] = g.startRadius;
  if (g.every != 0) j["every"] = g.every;
  if (g.goalKind != usual.goalKind) j["goalKind"] = kGoalKinds[static_cast<std::size_t>(g.goalKind)];
  if (!g.object.empty()) j["object"] = g.object;
  if (g.quarry != 0) j["follows"] = g.quarry;
  if (!g.round.empty()) j["round"] = points(g.round);
  if (g.around != usual.around) j["around"] = g.around;
  if (g.speed != 0) j["speed"] = g.speed;
  if (g.priority != 0) j["priority"] = g.priority;
  if (g.steering != usual.steering) j["steering"] = steeringJson(g.steering);
  return j;
}

CrowdGroup groupFrom(const Json& j) {
  CrowdGroup g;
  g.id = j.at("id").get<int>();
  g.start = pointFrom(j.at("start")), g.goal = pointFrom(j.at("goal"));
  g.count = j.value("count", g.count), g.radius = j.value("radius", g.radius);
  g.name = j.value("name", g.name), g.scene = j.value("scene", g.scene), g.agent = j.value("agent", g.agent);
  g.startForm = named<StartForm>(j, "startForm", kStartForms, "the form of a start");
  g.goalKind = named<GoalKind>(j, "goalKind", kGoalKinds, "the kind of goal");
  if (g.startForm == StartForm::line || j.contains("startEnd")) g.startEnd = pointFrom(j.at("startEnd"));
  g.startRadius = j.value("startRadius", g.startRadius), g.every = j.value("every", g.every);
  g.object = j.value("object", g.object), g.quarry = j.value("follows", g.quarry);
  if (const auto round = j.find("round"); round != j.end()) g.round = pointsFrom(*round);
  g.around = j.value("around", g.around), g.speed = j.value("speed", g.speed), g.priority = j.value("priority", g.priority);
  if (const auto steering = j.find("steering"); steering != j.end()) g.steering = steeringFrom(*steering);
  if (g.count < 1 || g.count > kMostBodies || !(g.radius >= 0)) throw std::out_of_range("a group's count or radius makes no sense");
  const bool sane = g.startRadius > 0 && g.startRadius < 1e4 && g.every >= 0 && g.every < 1e4 && g.around >= 0 && g.around < 1e4 &&
                    g.speed >= 0 && g.speed < 1e3 && std::abs(g.priority) <= 100;
  if (!sane) throw std::out_of_range("a number of group " + std::to_string(g.id) + " makes no sense");
  return g;
}

Json obstacleJson(const CrowdObstacle& o) {
  Json j{{"id", o.id},
         {"shape", kShapes[static_cast<std::size_t>(o.shape)]},
         {"size", point(o.size)},
         {"turn", o.turn},
         {"track", points(o.track)},
         {"speed", o.speed},
         {"pause", o.pause}};
  if (!o.scene.empty()) j["scene"] = o.scene;
  return j;
}

CrowdObstacle obstacleFrom(const Json& j) {
  CrowdObstacle o;
  o.id = j.at("id").get<int>();
  o.shape = named<crowd::MovingObstacle::Shape>(j, "shape", kShapes, "the shape");
  o.size = pointFrom(j.at("size")), o.turn = j.value("turn", 0.0), o.track = pointsFrom(j.at("track"));
  o.speed = j.value("speed", o.speed), o.pause = j.value("pause", o.pause), o.scene = j.value("scene", o.scene);
  if (const auto problem = crowd::checkObstacle(o)) throw std::out_of_range(problem->text());
  return o;
}

}  // namespace

Json crowdJson(const CrowdSection& s) {
  Json groups = Json::array();
  for (const CrowdGroup& g : s.groups) groups.push_back(groupJson(g));
  Json j{{"seconds", s.seconds}, {"groups", groups}};
  if (!s.obstacles.empty()) {
    j["obstacles"] = Json::array();
    for (const CrowdObstacle& o : s.obstacles) j["obstacles"].push_back(obstacleJson(o));
  }
  if (s.other) j["other"] = steeringJson(*s.other);
  return j;
}

CrowdSection crowdFrom(const Json& j) {
  CrowdSection s;
  s.seconds = j.value("seconds", s.seconds);
  for (const Json& g : j.at("groups")) s.groups.push_back(groupFrom(g));
  if (const auto obstacles = j.find("obstacles"); obstacles != j.end())
    for (const Json& o : *obstacles) s.obstacles.push_back(obstacleFrom(o));
  if (const auto other = j.find("other"); other != j.end()) s.other = steeringFrom(*other);
  if (!(s.seconds > 0 && s.seconds <= 3600)) throw std::out_of_range("a run's seconds must be between 0 and 3600");
  return s;
}

Result<crowd::SteeringSettings> steeringFromText(const std::string& json) {
  try {
    return steeringFrom(Json::parse(json));
  } catch (const std::exception& e) {
    return Problem{ProblemCode::damaged, "The settings cannot be read. " + sentenceOf(e.what()), "",
                   "an object like {\"steering\": \"reciprocal\", \"look-ahead\": 1}."};
  }
}

}  // namespace dune::project
