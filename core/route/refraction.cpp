#include "core/route/refraction.h"

#include <algorithm>

namespace dune::route {

namespace {

constexpr double kRounding = 1e-6;  // m
constexpr double kNearBy = 2;       // steps: nearer than that both ends of a view may lie beyond, and not its middle

/// Two points of an edge, the first of which is bent at, and by how much what is gone on to may be farther from it.
struct Side {
  Vec2 root, next;
  double most;

  bool allows(const Vec2& v) const { return glm::distance(root, v) - glm::distance(next, v) <= most + kRounding; }
  /// Where between a place that is allowed and one that is not the branch is met first.
  Vec2 lastAllowed(const Vec2& inner, const Vec2& outer) const;
};

Vec2 Side::lastAllowed(const Vec2& inner, const Vec2& outer) const {
  // v = inner + s · by; |v - root| = most + |v - next| squared is a + b · s = 2 · most · |v - next|, and that squared again is of degree
  // two.
  const Vec2 by = outer - inner, off = inner - next, fromRoot = inner - root;
  const double a = glm::dot(fromRoot, fromRoot) - glm::dot(off, off) - most * most, b = 2 * glm::dot(by, next - root);
  const double four = 4 * most * most;
  const double p = b * b - four * glm::dot(by, by), q = 2 * a * b - 2 * four * glm::dot(by, off), r = a * a - four * glm::dot(off, off);
  double first = 1;
  const auto take = [&](double s) {
    if (s >= 0 && s < first && (a + b * s) * most >= -1e-9) first = s;
  };
  const double d = q * q - 4 * p * r;
  if (d < 0) return outer;
  const double t = -(q + std::copysign(std::sqrt(d), q)) / 2;
  if (p != 0) take(t / p);
  if (t != 0) take(r / t);
  return inner + by * first;
}

/// False where all from the inner to the outer end lies beyond.
bool cutSide(const Side& side, const Vec2& inner, Vec2& outer, bool& isCut) {
  if (side.most == INFINITY || side.allows(outer)) return true;
  if (!side.allows(inner)) {
    const Vec2 near = nearestOnSegment(inner, outer, side.root);
    return glm::distance(near, side.root) <= kNearBy * glm::distance(side.root, side.next) || side.allows(near);
  }
  outer = side.lastAllowed(inner, outer), isCut = true;
  return true;
}

}  // namespace

bool Refraction::isNever() const { return std::min(left, right) < -glm::length(step) - kRounding; }

bool Refraction::cut(const Vec2& root, EdgeView& view, double more) const {
  return cutSide({root, root + Vec2(step), left + more}, view.right, view.left, view.cutLeft) &&
         cutSide({root, root - Vec2(step), right + more}, view.left, view.right, view.cutRight);
}

}  // namespace dune::route
