#pragma once
// Whether a body fits along a flight: swept against the true triangles.

#include <optional>

#include "core/ground/soup.h"
#include "core/nav/agent.h"
#include "core/nav/link.h"

namespace dune::links {

/// Asked by one thread at a time: it remembers what was in the way last, for that is often in the way of the next flight beside it.
class FlightRoom {
 public:
  /// Keeps references: soup and agent must outlive it.
  FlightRoom(const ground::Soup& soup, const nav::Agent& agent) : soup_(soup), agent_(agent) {}

  /// The object of a triangle that is in the way of nav::flight(), or nothing. The body is an upright cylinder. Over the ground at both
  /// ends what is no higher than a step is not in its way, as it is not where it walks. O(triangles near the flight).
  std::optional<std::uint32_t> inTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to);

 private:
  /// A short part of a flight: where the feet go in plan, and between which heights the body is meanwhile.
  struct Part {
    Vec2 a, b;
    Interval body;
  };
  double riseAround(const Vec3& feet);
  void divide(nav::LinkKind kind, const Vec3& from, const Vec3& to);
  bool meets(std::uint32_t triangle) const;

  const ground::Soup& soup_;
  const nav::Agent& agent_;
  std::vector<Part> parts_;  // of the flight that is asked about
  std::vector<std::uint32_t> near_, over_;
  std::optional<std::uint32_t> last_;
};

}  // namespace dune::links
