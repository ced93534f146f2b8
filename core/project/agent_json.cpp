#include "core/project/agent_json.h"

#include <stdexcept>

namespace dune::project {

using Json = nlohmann::ordered_json;

Json agentJson(const level::Agent& a) {
  Json j{{"name", a.name},
         {"radius", a.radius},
         {"height", a.height},
         {"maxSlope", a.maxSlope},
         {"stepHeight", a.stepHeight},
         {"maxDrop", a.maxDrop},
         {"maxJump", a.maxJump},
         {"speed", a.speed},
         {"acceleration", a.acceleration},
         {"turnRate", a.turnRate},
         {"arriveWithin", a.arriveWithin},
         {"passWithin", a.passWithin},
         {"originHeight", a.originHeight},
         {"tilts", a.tilts}};
  if (a.crouches()) j["crouchHeight"] = a.crouchHeight, j["crouchCost"] = a.crouchCost;
  return j;
}

level::Agent agentFrom(const Json& j) {
  level::Agent a;
  a.name = j.at("name").get<std::string>();
  struct {
    const char* key;
    double& value;
  } const fields[] = {{"radius", a.radius},
                      {"height", a.height},
                      {"maxSlope", a.maxSlope},
                      {"stepHeight", a.stepHeight},
                      {"maxDrop", a.maxDrop},
                      {"maxJump", a.maxJump},
                      {"speed", a.speed},
                      {"acceleration", a.acceleration},
                      {"turnRate", a.turnRate},
                      {"arriveWithin", a.arriveWithin},
                      {"passWithin", a.passWithin},
                      {"originHeight", a.originHeight},
                      {"crouchHeight", a.crouchHeight},
                      {"crouchCost", a.crouchCost}};
  for (const auto& f : fields) f.value = j.value(f.key, f.value);
  a.tilts = j.value("tilts", a.tilts);
  if (const auto problem = level::checkAgent(a)) throw std::out_of_range(problem->what);
  return a;
}

}  // namespace dune::project
