#pragma once
// Small plan geometry in floating point: clipping, distances, hulls. Nothing here decides topology.

#include <optional>
#include <span>
#include <vector>

#include "core/base/bounds.h"
#include "core/base/vec.h"

namespace dune {

using Polygon = std::vector<Vec2>;

/// Twice the signed area; positive for counter-clockwise.
double doubleArea(std::span<const Vec2> polygon);
/// Whether q lies inside the polygon (even-odd rule); points on the border count either way.
bool contains(std::span<const Vec2> polygon, const Vec2& q);
/// The point of segment ab nearest to q.
Vec2 nearestOnSegment(const Vec2& a, const Vec2& b, const Vec2& q);
inline double distanceToSegment(const Vec2& a, const Vec2& b, const Vec2& q) { return glm::distance(nearestOnSegment(a, b, q), q); }
/// The point of a convex polygon nearest to q: q itself when inside. One point and two points are allowed.
Vec2 nearestOnConvex(std::span<const Vec2> convex, const Vec2& q);
/// How far q is from a convex polygon, below zero inside, and which way is out, of length 1. One point and two points are allowed; what has
/// no inside is left along x.
struct Outward {
  double distance;
  Vec2 direction;
};
Outward outOfConvex(std::span<const Vec2> convex, const Vec2& q);
/// The convex hull, counter-clockwise, without points on its edges; one or two points when the input is thin (O(n log n)).
Polygon convexHull(std::vector<Vec2> points);

/// A range of the parameter t of a segment a + t (b - a).
struct Interval {
  double from, to;
};
/// The part of segment ab inside a box, its sides included. Where the segment leaves depends on a, b and that side alone, so boxes
/// on both sides of a line cut a segment at the very same point.
std::optional<Interval> clipToBox(const Vec2& a, const Vec2& b, const Box2& box);
/// [0, 1] less the given intervals; pieces shorter than `least` are dropped. Sorts its input.
std::vector<Interval> complement(std::vector<Interval> covered, double least);
/// Where the lines ab and cd meet, as the parameter on ab; nothing when they are parallel or cd is missed.
std::optional<double> crossingParameter(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d);

/// Keeps the part of a convex 3D polygon where normal·p <= offset (Sutherland & Hodgman 1974).
void clipByPlane(std::vector<Vec3>& polygon, const Vec3& normal, double offset);
/// Keeps the part of a convex 3D polygon on one side of the plan line a → b: left of it, or right.
void clipByLine(std::vector<Vec3>& polygon, const Vec2& a, const Vec2& b, bool left);
/// The area of a 3D polygon seen from above; above zero when it is counter-clockwise.
double planArea(std::span<const Vec3> polygon);
/// The mean of some points; at least one.
Vec3 meanOf(std::span<const Vec3> points);
/// Keeps the part of a convex 3D polygon that lies in a box of the plan.
void clipToBox(std::vector<Vec3>& polygon, const Box2& box);

}  // namespace dune
