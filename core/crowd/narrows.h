#pragma once
// Narrow places on the way of bodies: doors, gaps and lanes in which only one or two pass beside each other, and who may go there when.

#include <optional>
#include <span>

#include "core/crowd/body.h"

namespace dune::crowd {

struct Narrow {
  Vec2 centre{0};    ///< of the narrowest cross-section ahead
  Vec2 along{0};     ///< the way through it, of length 1
  double width = 0;  ///< in which centres of bodies can be, metres
};

/// The narrowest place within a few metres of a body's way, where fewer than three bodies pass beside each other. O(faces crossed).
std::optional<Narrow> narrowAhead(const nav::NavMesh& mesh, const Body& body, const nav::Rules* rules);

/// The way of a body, gone over step by step.
class WayAhead {
 public:
  WayAhead(const nav::NavMesh& mesh, const Body& body, const nav::Rules* rules)
      : mesh_(mesh), way_(body.way), rules_(rules), at_(body.place), next_(body.way.next) {}
  const nav::Place& at() const { return at_; }
  /// Ends before a link, and at the goal.
  bool ends() const { return next_ >= way_.points.size(); }
  Vec2 toNext() const { return plan(way_.points[next_]) - plan(at_.position); }
  void go(double metres);

 private:
  const nav::NavMesh& mesh_;
  const Way& way_;
  const nav::Rules* rules_;
  nav::Place at_;
  std::size_t next_;
};

/// A cross-section of the ground: where its left and its right end lie, at most `most` away.
struct Section {
  Vec2 left, right;
  double width() const { return glm::distance(left, right); }
  Vec2 middle() const { return (left + right) * 0.5; }
};
Section sectionAt(const nav::NavMesh& mesh, const nav::Place& at, const Vec2& along, double most, const nav::Rules* rules);

/// Another body near a narrow place, as it was at the begin of the step.
struct Passer {
  Vec2 at, velocity, heading;  ///< heading: where it wants to, of length 1 or 0
  int id;
  std::optional<Narrow> narrow;  ///< before which it is, as far as it knows
  double waited = 0;             ///< seconds before a narrow place
};

/// The most speed along a file behind one who is `far` metres ahead and goes so fast, so that `room` stays between their middles: below
/// zero, back, where more than `tooNear` of it is missing.
double speedBehind(double far, double goes, double room, double tooNear, double retreat);

/// The wanted velocity as far as the others before a narrow place allow it.
///
/// 1. Queue: of those who go the same way, no more come abreast than pass abreast; who is nearer goes first.
/// 2. Where others come the other way and there is room for two, all keep to their right in one file.
/// 3. Where there is none, the nearer side goes first, and the other waits beside the way.
/// A body that is not patient goes all the same.
struct Turn {
  Vec2 wanted;
  bool waits = false;
};
Turn inTurn(const nav::NavMesh& mesh, const nav::Rules* rules, const Body& body, const Narrow& narrow, std::span<const Passer> others,
            bool patient);

}  // namespace dune::crowd
