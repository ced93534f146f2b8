#pragma once
// How bodies keep apart: velocities with which they will not touch, and steps with which they cannot.

#include <span>

#include "core/crowd/half_planes.h"
#include "core/crowd/picture.h"

namespace dune::crowd {

class KeepingApart {
 public:
  /// Everything is looked at during steps and must live as long; `bodies` have their radii and speeds already.
  KeepingApart(const route::Field& field, const Avoidance& avoidance, const Picture& picture, const std::vector<Body>& bodies, double dt);

  /// The others that matter to a body, the nearest that it heeds first; until the next question on this thread.
  const std::vector<Seen>& around(std::size_t self) const;
  /// The velocity nearest to the wanted one with which it will touch nobody for a while. `near`: see around().
  Vec2 avoiding(std::size_t self, std::span<const Seen> near) const;
  /// The velocity nearest to a given one with which it can touch nobody in this step.
  Vec2 withoutContact(std::size_t self, std::span<const Seen> near, const Vec2& velocity) const;
  /// A step slides along the border, which may lead it into somebody after all; then it is shorter.
  double shortened(std::size_t self, const Vec2& step) const;

 private:
  /// What no step may do: of the room between two bodies each takes half at the most, so that they never overlap. Standing is allowed
  /// always.
  void addContacts(std::size_t self, std::span<const Seen> near, std::vector<HalfPlane>& planes) const;
  /// How fast a body may come nearer to another, m/s; below zero where they overlap, for then they part.
  double closing(std::size_t self, const Seen& other) const;
  double contactReach(const Body& b) const;
  /// Who goes first and is held up asks for room. Whom it touches gives way: aside where it comes towards it, for pushed back it would go
  /// where it came from; along where both go the same way. Who has arrived steps aside for one who waits, and comes back.
  void makeWay(std::size_t self, const Seen& other, std::vector<HalfPlane>& planes) const;
  /// Whether one of the others comes towards it from ahead: then all keep to one side.
  bool meetsSomebody(const Body& b, std::span<const Seen> near) const;
  /// The mesh already keeps the radius: the centre may come up to its border, and no further. Only where the border lies beside the body;
  /// past its ends the body goes around.
  void addWalls(const Body& b, std::vector<HalfPlane>& planes) const;
  /// How much of what keeps two bodies apart is this one's to do. Who has arrived gives way less; else who is nearer to the next corner of
  /// its way goes first, so that nobody waits for one who waits for him.
  double share(std::size_t self, const Seen& other) const;
  /// How much of the time to look ahead a body heeds: all of it while it gets on as it wants. Held up in a crowd it looks at the next step
  /// only, for with much care nobody moves; that nobody touches is seen to otherwise.
  static double foresight(const Body& b);
  /// The half-plane of velocities with which two bodies do not touch within the time to look ahead (van den Berg et al. 2011, section 4).
  HalfPlane against(std::size_t self, const Seen& other) const;

  const nav::NavMesh& mesh_;
  const nav::Rules& rules_;
  const Avoidance& avoidance_;
  const Picture& picture_;
  const std::vector<Body>& bodies_;
  double dt_, largest_ = 0, fastest_ = 0;  // of all bodies: m, m/s
};

}  // namespace dune::crowd
