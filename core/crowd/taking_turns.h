#pragma once
// Corridors, doors and passages on the way of bodies: who goes where and when, before anybody steers.

#include "core/crowd/picture.h"

namespace dune::crowd {

class TakingTurns {
 public:
  /// Of a crowd, all of which outlive it; `narrows` are the bodies' own, before others see them.
  TakingTurns(const Picture& picture, std::vector<Body>& bodies, std::vector<std::optional<Narrow>>& narrows, double dt)
      : picture_(picture), bodies_(bodies), narrows_(narrows), dt_(dt) {}

  /// What a body wants, as far as it is its turn: to the right in a corridor where others come, one after the other through a door, not at
  /// all while others come through where two cannot pass. Writes into this body alone. O(faces and bodies in sight).
  Vec2 wanted(std::size_t self, std::size_t step, const nav::NavMesh& mesh, const nav::Rules& rules);

 private:
  void look(std::size_t self, const nav::NavMesh& mesh, const nav::Rules& rules);
  std::optional<Vec2> inLane(std::size_t self, bool anew) const;
  const std::vector<Passer>& others(std::size_t self, double reach) const;
  Vec2 throughPassage(std::size_t self, std::span<const Passer> others, const nav::NavMesh& mesh, const nav::Rules& rules) const;
  Vec2 heading(std::size_t other) const;
  void count(Body& b, bool waits) const { b.inTurn = waits ? b.inTurn + dt_ : std::max(0.0, b.inTurn - dt_); }

  const Picture& picture_;
  std::vector<Body>& bodies_;
  std::vector<std::optional<Narrow>>& narrows_;
  double dt_;
};

}  // namespace dune::crowd
