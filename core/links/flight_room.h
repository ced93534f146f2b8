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
  /// Whether what was in the way last is in the way of this too; quick. False says nothing.
  bool sameInTheWay(nav::LinkKind kind, const Vec3& from, const Vec3& to);

 private:
  /// A short part of a flight: where the feet go in plan, and between which heights the body is meanwhile.
  struct Part {
    Vec2 a, b;
    Interval body;
  };
  /// Where a body stands, and how far the ground around rises within its radius.
  struct Standing {
    Vec3 feet{INFINITY};
    double rise = 0;
  };
  double riseAround(const Vec3& feet);
  /// A flight.
  struct Asked {
    nav::LinkKind kind{};
    Vec3 from{INFINITY}, to{INFINITY};
    bool operator==(const Asked&) const = default;
  };
  void takeLine(const Vec3& from, const Vec3& to);
  bool divideUntilLast(const Asked& flight);
  template <class Visit>
  void divide(nav::LinkKind kind, const Vec3& from, const Vec3& to, Visit&& visit);
  /// A triangle with what is asked of it again and again.
  struct Blocker {
    const ground::Triangle* triangle;
    Box2 box;  ///< grown by the radius
    Interval heights;
  };
  static Part together(std::vector<Part>::const_iterator from, std::vector<Part>::const_iterator to);
  std::optional<Interval> beside(const Blocker& b) const;
  Blocker blocker(std::uint32_t number) const;
  bool meets(const Blocker& b) const;
  bool meets(const Blocker& b, const Part& part) const;

  const ground::Soup& soup_;
  const nav::Agent& agent_;
  Asked divided_{};               // what the parts are all of
  std::vector<Part> parts_;       // of the flight that is asked about
  Vec2 start_{0}, direction_{0};  // of it, in plan
  double length_ = 0;
  std::vector<Vec3> flight_;
  std::vector<std::uint32_t> near_, over_;
  std::optional<Blocker> last_;
  Standing begun_;  // where the last flight began
};

}  // namespace dune::links
