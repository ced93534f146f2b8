#include "core/hand/solid.h"

#include <cmath>

#include "core/base/grown_convex.h"
#include "core/base/lattice.h"
#include "core/ground/tuning.h"
#include "core/hand/shape.h"

namespace dune::hand {

namespace {

/// Heights over the plan: at x and z it is x * dx + z * dz + base.
struct Slope {
  double dx = 0, dz = 0, base = 0;
  double at(const Vec2& q) const { return q.x * dx - q.y * dz + base; }
};

/// Of a face that is nearly flat, by its area (Newell's normal).
Slope slopeOf(const std::vector<Vec3>& face) {
  const Vec3 middle = meanOf(face);
  Vec3 normal{0};
  for (std::size_t i = 0; i < face.size(); ++i) normal += glm::cross(face[i] - middle, face[(i + 1) % face.size()] - middle);
  const double dx = -normal.x / normal.y, dz = -normal.z / normal.y;
  return {dx, dz, middle.y - middle.x * dx - middle.z * dz};
}

/// What of a solid a body would touch that stands as high as the ground is there.
Polygon inTheWay(const Solid& solid, const Slope& ground, const nav::Agent& agent) {
  std::vector<Vec3> roof = solid.roof;
  const double rise = solid.rise.value_or(agent.stepHeight);
  clipByPlane(roof, {ground.dx, -1, ground.dz}, -ground.base - rise);                       // its roof is higher than that
  clipByPlane(roof, {-ground.dx, 0, -ground.dz}, ground.base + agent.height - solid.foot);  // its foot is lower than a head
  Polygon base;
  for (const Vec3& c : roof) base.push_back(plan(c));
  return doubleArea(base) > 1e-9 ? base : Polygon();
}

std::optional<double> riseOf(level::Role role) {
  if (role == level::Role::cuts) return -ground::tuning::kCutBelow;
  if (role == level::Role::obstacle) return ground::tuning::kSameHeight;
  return std::nullopt;
}

}  // namespace

std::vector<Solid> solidsOf(const level::Blocker& b) {
  std::vector<Solid> solids;
  if (b.role == level::Role::ignored) return solids;
  const double top = b.shape == level::BlockerShape::floor ? b.at.y : b.at.y + b.size.y;
  std::vector<Vec3> outline;
  for (const Vec2& q : level::baseOf(b)) outline.push_back(lift(q, top));
  if (b.shape == level::BlockerShape::ramp) outline[0].y = outline[3].y = b.at.y;
  auto parts = convexFaces(outline);
  if (!parts) return solids;  // it crosses itself
  for (auto& part : *parts) solids.push_back({std::move(part), b.at.y, riseOf(b.role), b.id});
  return solids;
}

std::vector<Vec3> takenFrom(const std::vector<Vec3>& face, const Solid& solid, const nav::Agent& agent) {
  const Slope slope = slopeOf(face);
  const Polygon base = inTheWay(solid, slope, agent);
  if (base.empty()) return {};
  const Polygon around = grownConvex(base, agent.radius);
  std::vector<Vec3> taken = face;
  for (std::size_t i = 0; i < around.size() && !taken.empty(); ++i) clipByLine(taken, around[i], around[(i + 1) % around.size()], true);
  // On the lattice it must be convex, too.
  std::vector<Vec2> corners;
  for (const Vec3& c : taken) corners.push_back(toPlan(toLattice(plan(c))));
  const Polygon hull = convexHull(std::move(corners));
  taken.clear();
  if (hull.size() < 3) return taken;
  for (const Vec2& q : hull) taken.push_back(lift(q, slope.at(q)));
  return taken;
}

bool takes(const Solid& solid, const Vec3& at, const nav::Agent& agent) {
  const Polygon base = inTheWay(solid, {0, 0, at.y}, agent);
  return !base.empty() && outOfConvex(base, plan(at)).distance < agent.radius;
}

}  // namespace dune::hand
