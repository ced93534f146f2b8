#pragma once
// Kinds of ways that are not ground, their names, and the form of their flight.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/base/vec.h"

namespace dune::nav {

enum class LinkKind : std::uint8_t { jump, drop, climb, door, teleport };
constexpr std::size_t kLinkKinds = 5;

/// The place nearest to p of a stretch from middle - half to middle + half, which may be but a place.
Vec3 nearestOnStretch(const Vec3& middle, const Vec3& half, const Vec3& p);

const char* kindName(LinkKind kind);
/// The kind with that name, or nothing.
std::optional<LinkKind> kindNamed(const std::string& name);
/// Points of the flight of a body's feet from one end to the other: for jumps a parabola that leaves a body of that radius free of the
/// edges at both ends; out, then down for drops; along the wall for climbs; straight through doors and where one only appears at the other
/// end. At least two points.
std::vector<Vec3> flight(LinkKind kind, const Vec3& from, const Vec3& to, double radius);
/// The same into `out`, in place of what is there.
void flight(LinkKind kind, const Vec3& from, const Vec3& to, double radius, std::vector<Vec3>& out);

}  // namespace dune::nav
