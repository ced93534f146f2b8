#pragma once
// A body while it walks. Only its own decision and move change it; everybody else sees the picture of the step's begin.

#include "core/base/own_number.h"
#include "core/crowd/crowd.h"
#include "core/crowd/goal_ground.h"

namespace dune::crowd {

/// What a body follows: the answer to its last question.
struct Way {
  std::vector<Vec3> points;
  std::vector<route::LinkUse> links;  ///< ascending by the points at which they begin
  route::PathStatus status = route::PathStatus::none;
  std::size_t next = 1;  ///< the point that is walked to
  double dearest = 0;    ///< cost per metre of the dearest ground it leads over, but for where it begins; 0: on none

  bool linkAt(std::size_t point) const { return std::ranges::binary_search(links, point, {}, &route::LinkUse::enter); }
  /// Whether what begins there only leads over a border that is crossed one way: nobody slows down for it.
  bool borderAt(std::size_t point) const {
    return linkAt(point) && point + 1 < points.size() && nav::onBothSides(points[point], points[point + 1]);
  }
  bool atLast() const { return next + 1 >= points.size(); }
};

/// The cross-section of a corridor, where the centre of a body can be, as it was measured from where the body was then.
struct Lane {
  Vec2 along{0};               ///< where it goes, of length 1
  double left = 0, right = 0;  ///< metres to the ends of the cross-section
  Vec2 at{0};                  ///< from where it was measured
  bool oncoming = false;       ///< somebody came the other way then
};

/// A stretch of a body's way that is too narrow for two, as it was found: the middle of its cross-sections, from where it goes in.
struct Passage {
  static constexpr double kStep = 0.5;    ///< m between two of them
  static constexpr double kLongest = 40;  ///< m: of a longer one, only so much is looked at
  std::vector<Vec2> middle;               ///< at least two
  double width = 0;                       ///< m, of the ground beside the middle in which centres of bodies can be, at the most
  std::optional<double> bend;             ///< m from its begin, where it bends last

  double length() const { return static_cast<double>(middle.size() - 1) * kStep; }
  /// Metres from its begin if a place is in it.
  std::optional<double> along(const Vec2& at) const;
  Vec2 directionAt(double along) const;
};

struct Body {
  Walker who;
  nav::Place place;
  Vec2 velocity{0}, wanted{0};
  Vec2 aim{0};         ///< wanted, and free of others: what it turns to
  double heading = 0;  ///< radians in plan
  State state = State::waiting;
  Way way;
  double askedAt = -1e9, askAfter = 0;  ///< seconds
  Vec3 goal{};                          ///< where its way leads to; another than its walker's for who goes a round or follows somebody
  std::size_t roundAt = 0;              ///< places of its round that it has been to
  double lookedAt = -1e9;               ///< seconds, when it last looked for whom it follows
  bool seesQuarry = true;               ///< then
  std::optional<Vec2> before;           ///< what it decided for last, while that still holds
  std::vector<float> memory;            ///< of its way to steer
  bool begun = false;                   ///< it is there
  double lostAt = -1;                   ///< seconds, since when it does not see its next corner; below zero while it does
  struct Progress {
    double left = INFINITY;  ///< m of its way, at the least
    double stalled = 0;      ///< s since then
  };
  Progress progress{};
  double standing = 0;                  ///< seconds without getting on
  double inTurn = 0;                    ///< seconds of waiting before a narrow place
  std::optional<Lane> lane;             ///< that it is in
  std::optional<Passage> passage;       ///< that it is before or in
  bool careful = false;                 ///< lost its way: goes right up to every corner of the one it asked for then
  bool done = false;                    ///< as near to its goal as it gets
  GoalGround goalGround{};              ///< around the place that its way leads to
  bool beenThere = false;               ///< at this goal, and is still near: it lets others pass and comes back
  std::vector<Vec3> flight;             ///< of the link that it is on; empty on the ground
  double flownFor = 0, flightTime = 0;  ///< seconds on it so far, and until it lands
  struct Line {
    Vec2 from, to;
  };
  std::optional<Line> line{};  ///< that it follows, see offPath()
  bool appears = false;        ///< stays at its foot until it is at the other end
  nav::Place landing;

  bool onLink() const { return !flight.empty(); }
};

/// Metres of a body in plan from the line that it follows: from where it was when it turned to the next corner of its way, to that corner.
/// Not a number while it follows none on the ground. Takes note of where that line begins.
inline double offPath(Body& b) {
  if (b.onLink() || b.done || b.state != State::moving || b.way.next >= b.way.points.size()) {
    b.line.reset();
    return std::numeric_limits<double>::quiet_NaN();
  }
  const Vec2 at = plan(b.place.position), to = plan(b.way.points[b.way.next]);
  if (!b.line || b.line->to != to) b.line = {at, to};
  return distanceToSegment(b.line->from, to, at);
}

}  // namespace dune::crowd
