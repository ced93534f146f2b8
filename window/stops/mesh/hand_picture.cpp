#include "window/stops/mesh/hand_picture.h"

#include <map>

#include "core/base/plan_geometry.h"
#include "window/scene/arrow.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kBetween = 0.45;                     // m between the lines of the hatching
constexpr double kArrow = 0.4, kBetweenArrows = 1.5;  // m
constexpr int kMostArrows = 50;                       // over one line
constexpr std::size_t kMostLines = 4000;              // of the hatching; more only hide the ground

/// Lines across a face, at the same places of the plan for all faces, so that they go on from one to the next.
void hatch(DrawList& list, const nav::NavMesh& mesh, nav::FaceId f, std::uint32_t ink) {
  const Vec2 across = glm::normalize(Vec2{1, 1});
  const std::size_t n = mesh.cornerCount(f);
  double low = INFINITY, high = -INFINITY;
  for (std::size_t i = 0; i < n; ++i) {
    const double d = glm::dot(plan(mesh.cornerAt(f, i)), across);
    low = std::min(low, d), high = std::max(high, d);
  }
  for (double d = std::ceil(low / kBetween) * kBetween; d < high && list.lines.size() < 6 * kMostLines; d += kBetween) {
    std::vector<Vec3> ends;
    for (std::size_t i = 0; i < n; ++i) {
      const Vec3 &a = mesh.cornerAt(f, i), &b = mesh.cornerAt(f, (i + 1) % n);
      const double da = glm::dot(plan(a), across) - d, db = glm::dot(plan(b), across) - d;
      if ((da < 0) != (db < 0)) ends.push_back(glm::mix(a, b, da / (da - db)));
    }
    if (ends.size() == 2) list.line(raised(ends[0]), raised(ends[1]), 1.5, ink);
  }
}

/// A line that nobody crosses; with arrows over it where it is crossed one way.
void drawPart(DrawList& list, const hand::Part& part) {
  const std::uint32_t ink = packed(part.oneWay ? theme().link : theme().bad, 1);
  list.line(raised(part.from, 2 * kAbove), raised(part.to, 2 * kAbove), 4, ink);
  const double length = glm::distance(part.from, part.to);
  if (!part.oneWay || length == 0) return;
  const Vec3 along = (part.to - part.from) / length, over = glm::normalize(Vec3{-along.z, 0, along.x});
  const double half = std::min(kArrow, length / 3);
  const int arrows = std::clamp(static_cast<int>(length / kBetweenArrows), 1, kMostArrows);
  for (int i = 0; i < arrows; ++i) {
    const Vec3 at = raised(part.from + along * (length * (i + 0.5) / arrows), 2 * kAbove);
    arrow(list, at - over * half, at + over * half, 3, ink);
  }
}

}  // namespace

DrawList handLayer(const pipeline::Ground& ground, int agent, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 4e-4;
  const nav::NavMesh& mesh = ground.mesh;
  std::map<int, std::pair<Vec3, double>> middle;  // of each patch, with its area
  for (std::uint32_t i = 0; i < ground.origin.size(); ++i) {
    const int patch = ground.origin[i].patch;
    if (patch == 0) continue;
    const nav::FaceId f{i};
    const bool isChosen = patch == chosen;
    const std::uint32_t ink = packed(isChosen ? theme().chosen : theme().link, isChosen ? 1 : 0.75);
    hatch(list, mesh, f, ink);
    for (std::size_t k = 0; k < mesh.cornerCount(f); ++k) {
      const nav::FaceId beyond = mesh.acrossOf(f)[k];
      if (beyond == nav::kNoFace || ground.origin[index(beyond)].patch != patch)
        list.line(raised(mesh.cornerAt(f, k)), raised(mesh.cornerAt(f, (k + 1) % mesh.cornerCount(f))), 3, ink);
    }
    const double area = nav::faceArea(mesh, f);
    auto& [at, sum] = middle[patch];
    at += nav::middleOf(mesh, f) * area, sum += area;
  }
  for (const auto& [patch, at] : middle)
    if (at.second > 0) labels.push_back({at.first / at.second, QObject::tr("patch %1").arg(patch), theme().link});
  for (const hand::Part& part : ground.from.hand->parts)
    if (part.isFor(agent)) drawPart(list, part);
  return list;
}

}  // namespace dune::window
