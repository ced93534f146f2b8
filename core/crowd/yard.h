#pragma once
// Places side by side on the ground: around a jam, where bodies are put in another order, or around a target.

#include <array>
#include <cstdint>
#include <map>
#include <vector>

#include "core/crowd/body.h"

namespace dune::crowd {

/// A grid of places in plan that hang together. Its cells are so long and so wide that of bodies that go from place to place in step, each
/// to another place, no two touch: those that go round a corner after each other come as near as length · width / √(length² + width²).
class Yard {
 public:
  static constexpr std::uint32_t kNone = UINT32_MAX;

  /// Around a body, for bodies of at most `radius`: along the walls of its corridor, in as many files as hold the most; on open ground
  /// along its way. At most 1000 places, up to `reach` metres away. O(places × faces crossed between two).
  static Yard around(const nav::NavMesh& mesh, const Body& body, double radius, double reach, const nav::Rules* rules);

  /// Around a place of the ground, `apart` metres from each other, as far as one can walk within `reach`; at most so many.
  static Yard over(const nav::NavMesh& mesh, const nav::Place& from, double apart, double reach, std::size_t most, const nav::Rules* rules);

  std::size_t size() const { return places_.size(); }
  Vec2 at(std::uint32_t place) const { return plan(places_[place].position); }
  const Vec3& groundAt(std::uint32_t place) const { return places_[place].position; }
  /// To which one can go from a place: ahead, back, left, right; kNone where there is no ground.
  const std::array<std::uint32_t, 4>& beside(std::uint32_t place) const { return beside_[place]; }
  /// The place that something stands on or next to; kNone outside, or on another storey.
  std::uint32_t placeOf(const Vec3& at) const;
  /// Metres along and across from a place to a point.
  Vec2 off(const Vec2& point, std::uint32_t place) const;
  /// Whether two can pass each other somewhere.
  bool hasRoom() const;

 private:
  using Cell = std::pair<int, int>;
  Cell cellOf(const Vec2& point) const;
  Vec2 pointOf(const Cell& cell) const { return origin_ + along_ * (cell.first * length_) + leftOf(along_) * (cell.second * width_); }
  void layAlong(const Lane& lane, double diameter);
  void spread(const nav::NavMesh& mesh, const nav::Place& from, double reach, std::size_t most, const nav::Rules* rules);
  std::uint32_t add(const Cell& cell, const nav::Place& place);

  Vec2 origin_{0}, along_{1, 0};
  double length_ = 1, width_ = 1;  // m from place to place
  std::vector<nav::Place> places_;
  std::vector<std::array<std::uint32_t, 4>> beside_;
  std::vector<Cell> cells_;
  std::map<Cell, std::uint32_t> byCell_;
};

}  // namespace dune::crowd
