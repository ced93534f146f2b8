// A walk keeps the face it is in and a parameter along its line. Which edge it leaves by is decided by crossing parameters among the edges
// that the direction goes out of, so that rounding can choose a neighbour's edge but never lose the walk: the next face is always one over
// an edge of this one. A walk that stands on a corner goes around it, over one edge after the other, each at parameter 0; where that leads
// to the border, it looks all around the corner for a face that its direction goes into, for a line may touch the border there and go on.

#include "core/nav/walk.h"

#include <algorithm>
#include <limits>

#include "core/base/plan_geometry.h"

namespace dune::nav {

namespace {

constexpr int kMostCrossed = 100'000;  // faces along one line
constexpr int kMostSlides = 12;        // edges of the border along one step
constexpr double kNothing = 1e-9;      // metres
constexpr double kGraze = 2e-4;        // metres by which a line may lie outside the border along which it runs
constexpr double kGrazes = 0.999;      // cosine of directions that run along each other

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
  const auto missed = [&](const Exit& e) {  // metres by which the crossing misses the edge
    const Vec2 a = plan(mesh.cornerAt(face, e.edge)), edge = plan(mesh.cornerAt(face, (e.edge + 1) % mesh.cornerCount(face))) - a;
    const double length = glm::length(edge), at = glm::dot(origin + d * e.at - a, edge) / length;
    return std::max({0.0, -at, at - length});
  };
  const auto corners = mesh.cornersOf(face);
  Vec2 b = plan(mesh.vertices[corners[0]]);
  for (std::size_t i = 0, n = corners.size(); i < n; ++i) {
    const Vec2 a = b;
    b = plan(mesh.vertices[corners[i + 1 == n ? 0 : i + 1]]);
    const Vec2 edge = b - a;
    const double outward = -cross(edge, d);
    if (outward <= 0 || i == along) continue;
    const double t = std::max(0.0, cross(edge, origin - a) / outward);
    if (t > exit.at + same) continue;
    if (t < exit.at - same || missed({t, i}) < missed(exit)) exit = {t, i};
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
  Walk(const NavMesh& mesh, const Place& from, const Rules* rules, std::vector<Crossing>* crossed = nullptr)
      : mesh_(mesh), rules_(rules), crossed_(crossed), face_(from.face), at_(plan(from.position)) {}

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
      if (!blocked(next)) {
        along = edgeBack(mesh_, face_, exit.edge, next);
        if (crossed_) crossed_->push_back({at_, next, heightAt(exit.edge)});
        enter(next);
        continue;
      }
      const FaceId beyond = glm::distance(at_, turnedAt_) > kNothing ? aroundCorner(exit.edge, d) : kNoFace;
      if (beyond == kNoFace) {
        met_ = exit.edge;
        return d;
      }
      turnedAt_ = at_, along = kNoEdge;
      if (crossed_) crossed_->push_back({at_, beyond, heightOn(mesh_, beyond, at_)});
      enter(beyond);
    }
    return Vec2{0};
  }

  FaceId face() const { return face_; }
  std::size_t met() const { return met_; }
  /// The direction of the edge of the border that it met, of length 1.
  Vec2 metEdge() const {
    const Vec2 line = plan(mesh_.cornerAt(face_, (met_ + 1) % mesh_.cornerCount(face_))) - plan(mesh_.cornerAt(face_, met_));
    return line / std::max(kNothing, glm::length(line));
  }
  /// Metres to the end of that edge, where it goes to or where it comes from.
  double toEndOfMet(bool forward) const {
    const std::size_t corner = forward ? (met_ + 1) % mesh_.cornerCount(face_) : met_;
    return glm::distance(plan(mesh_.cornerAt(face_, corner)), at_);
  }
  const Vec2& at() const { return at_; }
  double cost() const { return cost_; }
  /// Heights come with the face; a hair that rounding has gone over an edge is taken back.
  Place place() const { return {face_, nearestOnFace(mesh_, face_, lift(at_, 0))}; }

 private:
  /// Of an edge, where the walk crosses it.
  double heightAt(std::size_t edge) const {
    const Vec3 &a = mesh_.cornerAt(face_, edge), &b = mesh_.cornerAt(face_, edge + 1 == mesh_.cornerCount(face_) ? 0 : edge + 1);
    const Vec2 along = plan(b) - plan(a);
    return glm::mix(a.y, b.y, std::clamp(glm::dot(at_ - plan(a), along) / std::max(kNothing, glm::dot(along, along)), 0.0, 1.0));
  }
  bool blocked(FaceId next) const { return next == kNoFace || (rules_ && !rules_->passable(mesh_, next)); }
  void enter(FaceId next) {
    if (rules_) cost_ += rules_->entryCost(mesh_, face_, next);
    face_ = next;
  }

  /// Where the walk stands on an end of an edge of its face, or no farther from it than a line may lie outside the border: the face around
  /// that corner that d goes into, and it stands on the corner; else none.
  FaceId aroundCorner(std::size_t edge, const Vec2& d) {
    const std::size_t n = mesh_.cornerCount(face_);
    for (const std::size_t corner : {edge, (edge + 1) % n}) {
      const Vec2 at = plan(mesh_.cornerAt(face_, corner));
      if (glm::distance(at, at_) > kGraze) continue;
      for (const bool left : {true, false})
        if (const FaceId f = aroundCorner(corner, left, d); f != kNoFace) return at_ = at, f;
    }
    return kNoFace;
  }
  FaceId aroundCorner(std::size_t corner, bool left, const Vec2& d) const {
    constexpr int kMostFaces = 64;  // around one corner
    FaceId f = face_;
    for (int i = 0; i < kMostFaces; ++i) {
      const std::size_t n = mesh_.cornerCount(f), edge = left ? (corner + n - 1) % n : corner;
      const FaceId next = mesh_.acrossOf(f)[edge];
      if (blocked(next) || next == face_) return kNoFace;
      const std::size_t back = edgeBack(mesh_, f, edge, next);
      if (back == kNoEdge) return kNoFace;
      corner = left ? back : (back + 1) % mesh_.cornerCount(next);
      f = next;
      if (goesInto(f, corner, d)) return f;
    }
    return kNoFace;
  }
  bool goesInto(FaceId f, std::size_t corner, const Vec2& d) const {
    const std::size_t n = mesh_.cornerCount(f);
    const Vec2 at = plan(mesh_.cornerAt(f, corner));
    const Vec2 out = plan(mesh_.cornerAt(f, (corner + 1) % n)) - at, in = plan(mesh_.cornerAt(f, (corner + n - 1) % n)) - at;
    return inside(out, d, cross(out, d)) && inside(in, d, cross(d, in)) && (glm::dot(out, d) > 0 || glm::dot(in, d) > 0);
  }
  /// Whether d goes to the inner side of an edge, or runs along it as near as a line may lie outside the border.
  static bool inside(const Vec2& edge, const Vec2& d, double side) {
    constexpr double kStraight = 1e-12;
    const double whole = glm::length(edge) * glm::length(d);
    if (side >= -kStraight * whole) return true;
    return glm::dot(edge, d) > kGrazes * whole && -side <= kGraze * std::max(glm::length(edge), glm::length(d));
  }

  void move(const Vec2& by) {
    at_ += by;
    cost_ += glm::length(by) * (rules_ ? rules_->of(mesh_, face_).cost : 1);
  }

  const NavMesh& mesh_;
  const Rules* rules_;
  std::vector<Crossing>* crossed_;
  FaceId face_;
  Vec2 at_;
  Vec2 turnedAt_{INFINITY, INFINITY};  // the corner that it looked around last
  std::size_t met_ = kNoEdge;
  double cost_ = 0;
};

}  // namespace

Ray castRay(const NavMesh& mesh, const Place& from, const Vec2& to, const Rules* rules) { return castRay(mesh, from, to, rules, nullptr); }

Ray castRay(const NavMesh& mesh, const Place& from, const Vec2& to, const Rules* rules, std::vector<Crossing>* crossed) {
  Walk walk(mesh, from, rules, crossed);
  Vec2 left = walk.go(to - plan(from.position), kNoEdge);
  // The legs of paths lie along borders, and their ends are rounded: a hair on the wrong side is no wall.
  for (int grazes = 0; grazes < kMostSlides && left != Vec2{0}; ++grazes) {
    const Vec2 line = walk.metEdge();
    const double along = glm::dot(left, line), length = glm::length(left);
    const double far = std::min(std::abs(along), walk.toEndOfMet(along > 0));
    if (std::abs(along) <= kGrazes * length || std::abs(cross(line, left)) / length * far > kGraze || far <= kNothing) break;
    walk.go(line * std::copysign(far, along), walk.met());
    left = walk.go(to - walk.at(), kNoEdge);
  }
  return {walk.place(), left == Vec2{0}, walk.cost()};
}

Place stepBy(const NavMesh& mesh, const Place& from, const Vec2& by, const Rules* rules) {
  Walk walk(mesh, from, rules);
  Vec2 left = walk.go(by, kNoEdge);
  for (int slides = 0; slides < kMostSlides && glm::length(left) > kNothing; ++slides) {
    const Vec2 line = walk.metEdge(), along = line * glm::dot(left, line);
    // In a corner both borders send it back to the other: it stays there.
    if (glm::dot(along, by) <= kNothing * glm::length(by)) break;
    left = walk.go(along, walk.met());
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
