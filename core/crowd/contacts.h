#pragma once
// That nobody touches anybody: velocities and steps with which two bodies cannot meet, whatever a way to steer decided.
//
// Of the room between two bodies each takes half at the most in one step, so that they never overlap, however many they are; standing is
// allowed always. A moving obstacle takes no account of bodies: these keep clear of where it will be.

#include "core/crowd/steering_model.h"

namespace dune::crowd {

class Contacts {
 public:
  /// Looks at both during steps; `bodies` have their radii and speeds already.
  Contacts(const Picture& picture, const std::vector<Body>& bodies, double dt);

  /// The others that matter to a body, the nearest `heeded` first; until the next question on this thread.
  const std::vector<Seen>& around(std::size_t self, const SteeringSettings& settings) const;
  /// The velocity nearest to a given one with which it can touch nobody in this step. `near`: all of around().
  Vec2 withoutContact(const Situation& s, std::span<const Seen> near, const Vec2& velocity) const;
  /// What part of a step it may take: it slides along the border, which may lead it into somebody after all.
  double shortened(std::size_t self, const Vec2& step) const;

 private:
  /// How fast a body may come nearer to another, m/s; below zero where they overlap, for then they part.
  double closing(std::size_t self, const Seen& other) const;
  double reachOf(const Body& b) const;

  const Picture& picture_;
  const std::vector<Body>& bodies_;
  double dt_, largest_ = 0, fastest_ = 0;  // of all bodies: m, m/s
};

}  // namespace dune::crowd
