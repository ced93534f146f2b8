#pragma once
// Where a body wants to go: along the corners of its path, as straight as rules and sight allow, and to rest at its end.
//
// 1. A corner is left out only when the straight way to the next one is free and costs no more.
// 2. Who has lost sight of its next corner, or was pushed on to dearer ground than its way goes over, asks again; a goal that cannot be
// reached is asked for ever more seldom.
// 3. Who follows another asks again when that one has moved far enough, and no more often than it may; out of sight it goes to where it saw
//    it last.

#include <algorithm>
#include <mutex>

#include "core/crowd/body.h"

namespace dune::crowd {

/// Whether ground is so much dearer than the dearest of a body's way that the body goes round it as round a wall, unless it is on it.
/// Plain ground, which costs 1 a metre, is that to nobody.
constexpr bool isDearer(double cost, double dearestOfWay) { return cost > 1.8 * std::max(1.0, dearestOfWay); }

class Following {
 public:
  explicit Following(const route::Field& field) : field_(field), mesh_(field.mesh()) {}

  /// The velocity that a body wants at a time; asks for its way where it has none. `heeded`: what ends the ground for it, see
  /// Floor::rulesFor. From any thread, for one body each.
  Vec2 wanted(Body& body, double now, const nav::Rules& heeded);
  /// The same for one who follows another body, which is at `quarry` on the ground now.
  Vec2 wantedAfter(Body& body, const nav::Place& quarry, double now, const nav::Rules& heeded);
  /// Its way no longer holds: the ground or its goal is another.
  static void askAnew(Body& body) { body.way = {}, body.askedAt = -1e9, body.askAfter = 0, body.done = false; }
  /// Whether it stands at the foot of the link that its way takes next.
  bool atFoot(const Body& body) const;

 private:
  void ask(Body& body, double now);
  double dearestOf(const route::PathAnswer& answer) const;
  void skipCorners(Body& body, const nav::Rules& heeded) const;
  nav::Place within(const nav::Place& place) const;
  bool sees(const nav::Ray& ray, const Vec3& target) const;
  bool goesOn(const Body& b, const nav::Ray& ray, std::size_t corner) const;
  bool straightIsAsCheap(const Body& body, const nav::Ray& straight) const;
  Vec2 settle(Body& body, const Vec3& last) const;
  std::unique_ptr<route::Search> takeSearch();

  const route::Field& field_;
  const nav::NavMesh& mesh_;
  std::mutex mutex_;
  std::vector<std::unique_ptr<route::Search>> searches_;  // they keep their memory, so they are handed round
};

}  // namespace dune::crowd
