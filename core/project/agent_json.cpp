#include "core/project/agent_json.h"

#include <stdexcept>

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;
using nav::Agent;

struct Field {
  const char* key;
  double Agent::*value;
};
constexpr Field kFields[] = {{"radius", &Agent::radius},         {"height", &Agent::height},
                             {"maxSlope", &Agent::maxSlope},     {"stepHeight", &Agent::stepHeight},
                             {"maxDrop", &Agent::maxDrop},       {"maxJump", &Agent::maxJump},
                             {"speed", &Agent::speed},           {"acceleration", &Agent::acceleration},
                             {"turnRate", &Agent::turnRate},     {"arriveWithin", &Agent::arriveWithin},
                             {"passWithin", &Agent::passWithin}, {"originHeight", &Agent::originHeight}};
constexpr Field kCrouching[] = {{"crouchHeight", &Agent::crouchHeight}, {"crouchCost", &Agent::crouchCost}};  // only where it does

}  // namespace

Json agentJson(const Agent& a) {
  Json j{{"name", a.name}};
  for (const Field& f : kFields) j[f.key] = a.*f.value;
  j["tilts"] = a.tilts;
  if (a.maxRise != Agent().maxRise) j["maxRise"] = a.maxRise;
  if (a.crouches())
    for (const Field& f : kCrouching) j[f.key] = a.*f.value;
  return j;
}

Agent agentFrom(const Json& j) {
  Agent a;
  a.name = j.at("name").get<std::string>();
  for (const Field& f : kFields) a.*f.value = j.value(f.key, a.*f.value);
  for (const Field& f : kCrouching) a.*f.value = j.value(f.key, a.*f.value);
  a.maxRise = j.value("maxRise", a.maxRise);
  a.tilts = j.value("tilts", a.tilts);
  if (const auto problem = nav::checkAgent(a)) throw std::out_of_range(problem->what);
  return a;
}

}  // namespace dune::project
