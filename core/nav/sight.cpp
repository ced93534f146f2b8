#include "core/nav/sight.h"

namespace dune::nav {

namespace {
constexpr int kMostSteps = 10000;  // faces along one line of sight
}

Vec3 sightEnd(const NavMesh& mesh, const Place& from, const Vec2& to, bool* reached, const Rules* rules) {
  FaceId face = from.face, before = kNoFace;
  const Vec2 origin = plan(from.position), d = to - origin;
  double now = 0;
  *reached = false;
  for (int step = 0; step < kMostSteps; ++step) {
    double least = 1;
    FaceId next = kNoFace;
    bool leaves = false;
    for (std::size_t i = 0, n = mesh.cornerCount(face); i < n; ++i) {
      const Vec2 a = plan(mesh.cornerAt(face, i)), edge = plan(mesh.cornerAt(face, (i + 1) % n)) - a;
      const double outward = -cross(edge, d);  // above zero when the line leaves through this edge
      if (outward <= 0) continue;
      const double t = cross(edge, origin - a) / outward;
      if (t < least && (mesh.acrossOf(face)[i] != before || before == kNoFace)) least = t, next = mesh.acrossOf(face)[i], leaves = true;
    }
    if (!leaves) {
      *reached = true;
      return lift(to, heightOn(mesh, face, to));
    }
    now = std::max(now, least);
    if (next == kNoFace || (rules && !rules->passable(mesh, next))) {
      const Vec2 end = origin + d * now;
      return lift(end, heightOn(mesh, face, end));
    }
    before = face;
    face = next;
  }
  return from.position;
}

}  // namespace dune::nav
