#include "core/flight/make_way.h"

#include <algorithm>
#include <cmath>

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

/// A half-space of stretched velocities as one of true ones.
Bound real(const Vec3& normal, double least, double stretch, bool hard) {
  const Vec3 n(normal.x, normal.y * stretch, normal.z);
  const double length = glm::length(n);
  return {n / length, least / length, hard};
}

/// How far a body may go towards a wall. Ways lead as near to walls as bodies are wide, so who is nearer than what is kept still gets
/// nearer, by half of what is left each time, but for what rounding takes; nobody is ever pushed, so that standing is always allowed.
double roomTo(double distance, double radius) {
  const double kept = radius * tuning::kKept, left = std::max(distance - radius * (1 - tuning::kSweep / 2), 0.0);
  return left > 2 * kept ? left - kept : left / 2;
}

/// The sides of a volume that are near, but where another volume goes on behind them.
void boundsOfSides(const Space& space, const Box3& box, const Vec3& at, double reach, double seconds, std::vector<Bound>& bounds) {
  constexpr double kBehind = 1e-6;  // metres
  for (int axis = 0; axis < 3; ++axis)
    for (const bool low : {true, false}) {
      const double room = low ? at[axis] - box.min[axis] : box.max[axis] - at[axis];
      if (room >= reach) continue;
      Vec3 normal(0), behind = at;
      normal[axis] = low ? 1 : -1, behind[axis] = low ? box.min[axis] - kBehind : box.max[axis] + kBehind;
      if (!space.volume().contains(space.stretched(behind))) bounds.push_back({normal, -room / seconds, true});
    }
}

}  // namespace

void boundsOfWalls(const Space& space, const Vec3& at, double reach, double seconds, std::vector<Bound>& bounds, Obstacles::Which which) {
  struct Wall {
    double distance;
    std::uint32_t number;
    Vec3 normal;
  };
  std::vector<Wall> walls;
  const Vec3 p = space.stretched(at);
  const double radius = space.flyer().radius;
  // Up and down more of the stretched space is passed in a second.
  const double far = radius + reach * std::max(1.0, space.flyer().stretch());
  space.obstacles().around(p, far, [&](std::uint32_t number, const Vec3& on) {
    if (!space.obstacles().counts(number, which)) return true;
    if (const double distance = glm::length(p - on); distance > 0) walls.push_back({distance, number, (p - on) / distance});
    return true;
  });
  std::sort(walls.begin(), walls.end(),
            [](const Wall& a, const Wall& b) { return a.distance != b.distance ? a.distance < b.distance : a.number < b.number; });
  std::size_t taken = 0;
  std::vector<Vec3> normals;
  for (const Wall& w : walls) {
    // Many triangles of one surface are one wall.
    if (std::any_of(normals.begin(), normals.end(), [&](const Vec3& n) { return glm::dot(n, w.normal) > 0.9999; })) continue;
    normals.push_back(w.normal);
    bounds.push_back(real(w.normal, -roomTo(w.distance, radius) / seconds, space.flyer().stretch(), true));
    if (++taken == tuning::kMostWalls) break;
  }
  for (const Box3& box : space.boxes())
    if (box.contains(at)) boundsOfSides(space, box, at, reach, seconds, bounds);
}

Bound boundOf(const Other& other, const Vec3& velocity, double seconds, double step) {
  // Stretched so that both together are a ball; then in the plane of where the other is and how it comes.
  const double stretch = other.radius / other.halfHeight, radius = other.radius;
  const auto stretched = [&](const Vec3& v) { return Vec3(v.x, v.y * stretch, v.z); };
  const Vec3 p = stretched(other.from), own = stretched(velocity), v = own - stretched(other.goes);
  const double far = std::max(glm::length(p), 1e-9);
  const double within = far > radius ? seconds : step;
  const Vec3 ahead = p / far;
  Vec3 side = v - ahead * glm::dot(v, ahead);
  if (const double length = glm::length(side); length > 1e-3) {
    side /= length;
  } else {
    const Vec3 right(-ahead.z, 0, ahead.x);  // in plan; straight up or down to any side
    side = glm::length(right) > 1e-3 ? glm::normalize(right) : Vec3(1, 0, 0);
  }
  const double x = glm::dot(v, ahead), y = std::max(glm::dot(v, side), 0.0);
  const Vec2 end(far / within, 0);
  const double ball = radius / within;
  const double sine = std::min(radius / far, 1.0), cosine = std::sqrt(1 - sine * sine);
  Vec2 normal, by;
  // The cone ends in the ball of velocities that touch just at the end of the time.
  const Vec2 w = Vec2(x, y) - end;
  if (far <= radius || w.x * cosine + w.y * sine < 0) {
    // Any plane that touches the ball keeps out of it; one that leans to the side makes one pass, where the nearest would only make one
    // stop.
    const double length = std::max(glm::length(w), 1e-9);
    normal = far > radius ? Vec2(w.x, std::max(w.y, tuning::kAside * length)) : w;
    normal = glm::length(normal) > 1e-9 ? glm::normalize(normal) : Vec2(-1, 0);
    by = normal * (ball - glm::dot(normal, w));
  } else {
    normal = {-sine, cosine};
    by = normal * -(x * normal.x + y * normal.y);
  }
  const Vec3 n = ahead * normal.x + side * normal.y, u = ahead * by.x + side * by.y;
  return real(n, glm::dot(n, own + u * other.share), stretch, false);
}

Bound roomOf(const Other& other, double step) {
  const double stretch = other.radius / other.halfHeight;
  const Vec3 p(other.from.x, other.from.y * stretch, other.from.z), seen(other.velocity.x, other.velocity.y * stretch, other.velocity.z);
  const double far = std::max(glm::length(p), 1e-9);
  const Vec3 away = -p / far;
  const double room = std::max(far - other.radius, 0.0);
  // Who knows nothing of us takes what it takes; else each at most half.
  const double comes = other.blind ? glm::dot(away, seen) : 0;
  return real(away, comes - room * (other.blind ? 1 : 0.5) / step, stretch, true);
}

}  // namespace dune::flight
