#pragma once
// Vectors and the two spaces we work in.
//
// World space is right-handed, metres, Y up. Plan space is the world seen from above: u = x, v = -z, so that
// counter-clockwise in (u, v) is counter-clockwise to an eye that looks down, as the mesh format promises.

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace dune {

using Vec2 = glm::dvec2;
using Vec3 = glm::dvec3;

constexpr double kPi = 3.14159265358979323846;

constexpr double radians(double degrees) { return degrees * kPi / 180.0; }
constexpr double degrees(double radians) { return radians * 180.0 / kPi; }

/// The world point seen from above.
inline Vec2 plan(const Vec3& p) { return {p.x, -p.z}; }
/// The world point at plan position q and height y.
inline Vec3 lift(const Vec2& q, double y) { return {q.x, y, -q.y}; }

/// Twice the signed area of the triangle (0, a, b); positive when b is to the left of a. Not exact.
inline double cross(const Vec2& a, const Vec2& b) { return a.x * b.y - a.y * b.x; }
/// The vector turned a quarter to the left.
inline Vec2 leftOf(const Vec2& a) { return {-a.y, a.x}; }

inline bool isFinite(const Vec3& p) { return std::isfinite(p.x) && std::isfinite(p.y) && std::isfinite(p.z); }

}  // namespace dune
