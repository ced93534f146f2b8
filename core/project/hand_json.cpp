#include "core/project/hand_json.h"

#include <set>

#include "core/hand/shape.h"
#include "core/project/json_values.h"

namespace dune::project {

namespace {

using Json = nlohmann::ordered_json;

/// Faces of a document were convex when they were drawn; what somebody else wrote is held to the same.
std::vector<Vec3> faceFrom(const Json& j) {
  const std::vector<Vec3> corners = pointsFrom(j);
  if (!hand::isFace(corners)) throw std::out_of_range("a face drawn by hand is not convex, looks down or has no area");
  return corners;
}

Json patchJson(const hand::Patch& p) {
  Json faces = Json::array(), instead = Json::array();
  for (const hand::Face& f : p.faces) {
    Json face{{"corners", points(f.corners)}};
    if (!f.kind.empty()) face["kind"] = f.kind;
    if (f.ground) face["ground"] = *f.ground;
    faces.push_back(face);
  }
  for (const auto& gone : p.instead) instead.push_back(points(gone));
  Json j{{"id", p.id}, {"faces", faces}, {"instead", instead}};
  if (!p.agents.empty()) j["agents"] = p.agents;
  return j;
}

hand::Patch patchFrom(const Json& j) {
  hand::Patch p;
  p.id = j.at("id").get<int>();
  if (p.id < 1) throw std::out_of_range("the id of a patch is below 1");
  p.agents = j.value("agents", std::vector<int>{});
  for (const Json& face : j.at("faces")) {
    hand::Face f{faceFrom(face.at("corners")), face.value("kind", std::string())};
    if (face.contains("ground")) f.ground = face.at("ground").get<double>();
    if (f.ground && !std::isfinite(*f.ground)) throw std::out_of_range("the ground under a face is not a height");
    p.faces.push_back(std::move(f));
  }
  for (const Json& gone : j.at("instead")) p.instead.push_back(faceFrom(gone));
  return p;
}

}  // namespace

Json handJson(const hand::Work& work) {
  Json patches = Json::array(), parts = Json::array();
  for (const hand::Patch& p : work.patches) patches.push_back(patchJson(p));
  for (const hand::Part& p : work.parts) {
    parts.push_back({{"from", point(p.from)}, {"to", point(p.to)}});
    if (!p.agents.empty()) parts.back()["agents"] = p.agents;
    if (p.oneWay) parts.back()["oneWay"] = true;
    if (p.toBorder[0] || p.toBorder[1]) parts.back()["toBorder"] = p.toBorder;
  }
  return {{"patches", patches}, {"parts", parts}};
}

hand::Work handFrom(const Json& j) {
  hand::Work work;
  std::set<int> ids;
  for (const Json& p : j.at("patches")) {
    work.patches.push_back(patchFrom(p));
    if (!ids.insert(work.patches.back().id).second) throw std::out_of_range("two patches have the same id");
  }
  for (const Json& p : j.at("parts"))
    work.parts.push_back({p.value("agents", std::vector<int>{}), pointFrom(p.at("from")), pointFrom(p.at("to")), p.value("oneWay", false),
                          p.value("toBorder", std::array<bool, 2>{})});
  return work;
}

}  // namespace dune::project
