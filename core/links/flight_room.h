#pragma once
// Whether a body fits along a flight: swept against the true triangles.

#include <optional>

#include "core/ground/soup.h"
#include "core/nav/agent.h"
#include "core/nav/link.h"

namespace dune::links {

/// Asked by one thread at a time.
class FlightRoom {
 public:
  /// Keeps references: soup and agent must outlive it.
  FlightRoom(const ground::Soup& soup, const nav::Agent& agent) : soup_(soup), agent_(agent) {}

  /// The object of a triangle that is in the way of nav::flight(), or nothing. The body is an upright cylinder. Over the ground at both
  /// ends what is no higher than a step is not in its way, as it is not where it walks. O(triangles near the flight).
  std::optional<std::uint32_t> inTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to) const;

 private:
  double riseAround(const Vec3& feet) const;
  const ground::Soup& soup_;
  const nav::Agent& agent_;
  mutable std::vector<std::uint32_t> near_, over_;
};

}  // namespace dune::links
