// A walk keeps the face it is in and a parameter along its line. Which edge it leaves by is decided by crossing parameters among the edges
// that the direction goes out of, so that rounding can choose a neighbour's edge but never lose the walk: the next face is always one over
// an edge of this one. A walk that stands on a corner goes around it, over one edge after the other, each at parameter 0.

#include "core/nav/walk.h"

#include <algorithm>
#include <limits>

#include "core/base/plan_geometry.h"

namespace dune::nav {

namespace {

constexpr int kMostCrossed = 100'000;  // faces along one line
constexpr int kMostSlides = 12;        // edges of the border along one step
constexpr double kNothing = 1e-9;      // metres

struct Exit {
  double at = std::numeric_limits<double>::infinity();  // of the way to the target
  std::size_t edge = 0;
  bool leaves() const { return at < 1; }
};

/// Where the way from `origin` by `d` leaves a convex face; `along` is an edge that it goes along and does not leave by. Edges that lie on
/// one line are all crossed at one parameter: of these it is the one that holds the crossing.
Exit exitOf(const NavMesh& mesh, FaceId face, const Vec2& origin, const Vec2& d, std::size_t along) {
  Exit exit;
  const double same = kNothing / std::max(kNothing, glm::length(d));
  double beside = 0;  // metres by which the crossing misses the edge
  for (std::size_t i = 0, n = mesh.cornerCount(face); i < n; ++i) {
    if (i == along) continue;
    const Vec2 a = plan(mesh.cornerAt(face, i)), edge = plan(mesh.cornerAt(face, (i + 1) % n)) - a;
    const double outward = -cross(edge, d);
    if (outward <= 0) continue;
    const double t = std::max(0.0, cross(edge, origin - a) / outward);
    if (t > exit.at + same) continue;
    const double length = glm::length(edge), at = glm::dot(origin + d * t - a, edge) / length;
    const double missed = std::max({0.0, -at, at - length});
    if (t < exit.at - same || missed < beside) exit = {t, i}, beside = missed;
  }
  return exit;
}

constexpr std::size_t kNoEdge = ~std::size_t{0};

std::size_t edgeBack(const NavMesh& mesh, FaceId face, std::size_t edge, FaceId beyond) {
  const auto corners = mesh.cornersOf(face), others = mesh.cornersOf(beyond);
  const std::uint32_t first = corners[(edge + 1) % corners.size()];
  for (std::size_t i = 0; i < others.size(); ++i)
    if (mesh.acrossOf(beyond)[i] == face && others[i] == first) return i;
  return kNoEdge;
}

class Walk {
 public:
  Walk(const NavMesh& mesh, const Place& from, const Rules* rules)
      : mesh_(mesh), rules_(rules), face_(from.face), at_(plan(from.position)) {}

  /// Goes on by d until it is done or meets the border; what is left of d then. `along`: an edge that it goes along.
  Vec2 go(Vec2 d, std::size_t along) {
    for (int crossed = 0; crossed < kMostCrossed; ++crossed) {
      const Exit exit = exitOf(mesh_, face_, at_, d, along);
      if (!exit.leaves()) {
        move(d);
        return Vec2{0};
      }
      move(d * exit.at);
      d *= 1 - exit.at;
      const FaceId next = mesh_.acrossOf(face_)[exit.edge];
      if (next == kNoFace || (rules_ && !rules_->passable(mesh_, next))) {
        met_ = exit.edge;
        return d;
      }
      if (rules_ && mesh_.area[index(next)] != mesh_.area[index(face_)]) cost_ += rules_->of(mesh_, next).entryCost;
      along = edgeBack(mesh_, face_, exit.edge, next);
      face_ = next;
    }
    return Vec2{0};
  }

  FaceId face() const { return face_; }
  std::size_t met() const { return met_; }
  double cost() const { return cost_; }
  /// Heights come with the face; a hair that rounding has gone over an edge is taken back.
  Place place() const { return {face_, nearestOnFace(mesh_, face_, lift(at_, 0))}; }

 private:
  void move(const Vec2& by) {
    at_ += by;
    cost_ += glm::length(by) * (rules_ ? rules_->of(mesh_, face_).cost : 1);
  }

  const NavMesh& mesh_;
  const Rules* rules_;
  FaceId face_;
  Vec2 at_;
  std::size_t met_ = kNoEdge;
  double cost_ = 0;
};

}  // namespace

Ray castRay(const NavMesh& mesh, const Place& from, const Vec2& to, const Rules* rules) {
  Walk walk(mesh, from, rules);
  const Vec2 left = walk.go(to - plan(from.position), kNoEdge);
  return {walk.place(), left == Vec2{0}, walk.cost()};
}

Place stepBy(const NavMesh& mesh, const Place& from, const Vec2& by, const Rules* rules) {
  Walk walk(mesh, from, rules);
  Vec2 left = walk.go(by, kNoEdge);
  for (int slides = 0; slides < kMostSlides && glm::length(left) > kNothing; ++slides) {
    const std::size_t edge = walk.met(), n = mesh.cornerCount(walk.face());
    const Vec2 line = plan(mesh.cornerAt(walk.face(), (edge + 1) % n)) - plan(mesh.cornerAt(walk.face(), edge));
    const double length = glm::length(line);
    if (length < kNothing) break;
    const Vec2 along = line / length * glm::dot(left, line / length);
    // In a corner both borders send it back to the other: it stays there.
    if (glm::dot(along, by) <= kNothing * glm::length(by)) break;
    left = walk.go(along, edge);
  }
  return walk.place();
}

void borderAround(const NavMesh& mesh, const Place& at, double reach, const Rules* rules, std::vector<BorderEdge>& out, std::size_t most) {
  out.clear();
  thread_local std::vector<FaceId> faces;
  faces.assign(1, at.face);
  const Vec2 q = plan(at.position);
  for (std::size_t i = 0; i < faces.size(); ++i) {
    const FaceId f = faces[i];
    for (std::size_t e = 0, n = mesh.cornerCount(f); e < n; ++e) {
      const Vec2 a = plan(mesh.cornerAt(f, e)), b = plan(mesh.cornerAt(f, (e + 1) % n));
      if (distanceToSegment(a, b, q) > reach) continue;
      const FaceId next = mesh.acrossOf(f)[e];
      if (next == kNoFace || (rules && !rules->passable(mesh, next)))
        out.push_back({a, b});
      else if (faces.size() < most && std::ranges::find(faces, next) == faces.end())
        faces.push_back(next);
    }
  }
}

}  // namespace dune::nav
