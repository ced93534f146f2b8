#pragma once
// Values that several parts of a document's JSON are made of.

#include <nlohmann/json.hpp>

#include "core/base/bounds.h"

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

}  // namespace dune::project
