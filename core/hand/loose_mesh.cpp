#include "core/hand/loose_mesh.h"

#include <algorithm>
#include <array>
#include <unordered_set>

#include "core/base/plan_geometry.h"
#include "core/base/polyline.h"
#include "core/hand/shape.h"

namespace dune::hand {

std::vector<Vec3> LooseMesh::outlineOf(const Loop& loop) const {
  std::vector<Vec3> outline;
  for (const std::uint32_t v : loop) outline.push_back(corners[v]);
  return outline;
}

std::vector<LooseMesh::Border> LooseMesh::borders() const {
  std::unordered_set<std::uint64_t> sides;
  for (const Face& face : faces)
    for (std::size_t i = 0; i < face.loop.size(); ++i) sides.insert(sideKey(face.loop[i], face.loop[(i + 1) % face.loop.size()]));
  std::vector<Border> found;
  for (std::size_t f = 0; f < faces.size(); ++f)
    for (std::size_t i = 0; i < faces[f].loop.size(); ++i)
      if (!sides.contains(sideKey(corner(f, i + 1), corner(f, i)))) found.push_back({f, i});
  return found;
}

std::vector<std::vector<std::size_t>> LooseMesh::facesOfCorners() const {
  std::vector<std::vector<std::size_t>> found(corners.size());
  for (std::size_t f = 0; f < faces.size(); ++f)
    for (const std::uint32_t v : faces[f].loop) found[v].push_back(f);
  return found;
}

double LooseMesh::widthOf(const Loop& loop) const {
  Vec3 twice{0};
  double longest = 0;
  for (std::size_t i = 0; i < loop.size(); ++i) {
    longest = std::max(longest, glm::distance(corners[loop[i]], corners[loop[(i + 1) % loop.size()]]));
    if (i >= 2) twice += glm::cross(corners[loop[i - 1]] - corners[loop[0]], corners[loop[i]] - corners[loop[0]]);
  }
  return longest > 0 ? glm::length(twice) / longest : 0;
}

LooseMesh::Loop tidy(const LooseMesh::Loop& loop) {
  LooseMesh::Loop out;
  for (const std::uint32_t v : loop)
    if (out.empty() || out.back() != v) out.push_back(v);
  while (out.size() > 1 && out.front() == out.back()) out.pop_back();
  return out;
}

Along along(const Vec3& a, const Vec3& b, const Vec3& p) {
  const Vec2 u = plan(a), v = plan(b), q = plan(p);
  const double long2 = glm::dot(v - u, v - u);
  return {long2 > 0 ? glm::dot(q - u, v - u) / long2 : 0, distanceToSegment(u, v, q)};
}

namespace {

/// Where a corner lies in a loop: between which others.
std::array<std::uint32_t, 2> besides(const LooseMesh::Loop& loop, std::uint32_t v) {
  const auto i = static_cast<std::size_t>(std::ranges::find(loop, v) - loop.begin()), n = loop.size();
  return {loop[(i + n - 1) % n], loop[(i + 1) % n]};
}

/// Near to the line between two others in plan and height.
bool isStraight(const Vec3& a, const Vec3& p, const Vec3& b) {
  constexpr double kOff = 0.003, kLevel = 0.01;  // m
  const auto [part, off] = along(a, b, p);
  return glm::distance(plan(a), plan(b)) >= kOff && off <= kOff && std::abs(glm::mix(a.y, b.y, part) - p.y) <= kLevel;
}

}  // namespace

bool dropStraight(LooseMesh& mesh) {
  bool any = false;
  const auto facesOf = mesh.facesOfCorners();
  for (std::uint32_t v = 0; v < mesh.corners.size(); ++v) {
    const auto& own = facesOf[v];
    if (own.empty() || own.size() > 2) continue;
    const auto [a, b] = besides(mesh.faces[own[0]].loop, v);
    if (own.size() == 2 && besides(mesh.faces[own[1]].loop, v) != std::array{b, a}) continue;
    if (!isStraight(mesh.corners[a], mesh.corners[v], mesh.corners[b])) continue;
    const auto without = [&](std::size_t f) {
      LooseMesh::Loop loop = mesh.faces[f].loop;
      std::erase(loop, v);
      return loop;
    };
    if (!std::ranges::all_of(own, [&](std::size_t f) { return isFace(mesh.outlineOf(without(f))); })) continue;
    for (const std::size_t f : own) mesh.faces[f].loop = without(f);
    any = true;
  }
  return any;
}

bool Where::near(const Vec3& p, double within) const { return near(p, p, within); }

bool Where::near(const Vec3& a, const Vec3& b, double within) const {
  return everywhere || std::ranges::any_of(at, [&](const Vec3& p) { return distanceToLine(std::array{a, b}, p) <= within; });
}

}  // namespace dune::hand
