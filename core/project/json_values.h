#pragma once
// Values that several parts of a document's JSON are made of.

#include <nlohmann/json.hpp>

#include "core/base/bounds.h"
#include "core/nav/rules.h"

namespace dune::project {

inline nlohmann::ordered_json point(const Vec3& p) { return nlohmann::ordered_json::array({p.x, p.y, p.z}); }
/// Throws std::out_of_range for what is no finite point.
inline Vec3 pointFrom(const nlohmann::ordered_json& j) {
  if (j.size() != 3) throw std::out_of_range("a point needs three numbers");
  const Vec3 p{j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()};
  if (!isFinite(p)) throw std::out_of_range("a point is not finite");
  return p;
}
inline nlohmann::ordered_json points(const std::vector<Vec3>& places) {
  auto list = nlohmann::ordered_json::array();
  for (const Vec3& p : places) list.push_back(point(p));
  return list;
}
inline std::vector<Vec3> pointsFrom(const nlohmann::ordered_json& j) {
  std::vector<Vec3> places;
  for (const auto& p : j) places.push_back(pointFrom(p));
  return places;
}

/// Adds what a kind of ground costs.
inline void addRule(nlohmann::ordered_json& j, const nav::KindRule& rule) {
  j["cost"] = rule.cost, j["entryCost"] = rule.entryCost, j["forbidden"] = rule.forbidden;
}
/// `whose`: of what it is said that it makes no sense. Throws std::out_of_range.
inline nav::KindRule ruleFrom(const nlohmann::ordered_json& j, const std::string& whose) {
  const nav::KindRule rule{j.value("cost", 1.0), j.value("entryCost", 0.0), j.value("forbidden", false)};
  if (!(rule.cost > 0) || !(rule.entryCost >= 0))
    throw std::out_of_range("what " + whose + " costs must be above zero, its cost to enter not below zero");
  return rule;
}

}  // namespace dune::project
