#include "core/review/raw_mesh.h"

#include <array>
#include <map>

namespace dune::review {

RawMesh rawOf(const nav::NavMesh& mesh) {
  RawMesh raw{{mesh.vertices.begin(), mesh.vertices.end()}, {}};
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const auto corners = mesh.cornersOf(nav::FaceId{f});
    raw.faces.emplace_back(corners.begin(), corners.end());
  }
  return raw;
}

RawMesh welded(const RawMesh& mesh) {
  constexpr double kSame = 1e-4;  // m
  RawMesh out;
  std::map<std::array<std::int64_t, 3>, std::uint32_t> known;
  std::vector<std::uint32_t> now;
  for (const Vec3& p : mesh.corners) {
    const std::array key{std::llround(p.x / kSame), std::llround(p.y / kSame), std::llround(p.z / kSame)};
    const auto [at, fresh] = known.try_emplace({key[0], key[1], key[2]}, static_cast<std::uint32_t>(out.corners.size()));
    if (fresh) out.corners.push_back(p);
    now.push_back(at->second);
  }
  for (const auto& face : mesh.faces) {
    auto& to = out.faces.emplace_back();
    for (const std::uint32_t c : face)
      if (to.empty() || to.back() != now[c]) to.push_back(now[c]);
    if (to.size() > 1 && to.front() == to.back()) to.pop_back();
  }
  return out;
}

}  // namespace dune::review
