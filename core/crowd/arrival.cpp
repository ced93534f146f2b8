#include "core/crowd/arrival.h"

namespace dune::crowd {

namespace {

constexpr double kPacked = 1.2;        // radii of the densest packing around a taken goal
constexpr double kDensest = 0.9069;    // of the plane that equal circles can cover
constexpr double kTouching = 0.06;     // m between bodies that stand together
constexpr double kCloseBehind = 0.4;   // m to the one ahead in a row that may open before one sets out again
constexpr double kGivesUp = 0.5;       // s of standing before those who arrived
constexpr double kWaits = 3;           // s of standing after which it is content with less
constexpr double kContent = 0.2;       // by how much more each second
constexpr double kRowWide = 8;         // radii of cross-section below which they stand in rows
constexpr double kInOneFile = 3;       // radii between the goals of those who stand in one row
constexpr double kAbreastToo = 2;      // where there is room for two
constexpr double kInRow = 5;           // s without getting on, in a row
constexpr double kLoosely = 10;        // s without getting on after which that is as good as to touch it
constexpr double kInPassage = 20;      // s, where it stands in the way of others while those ahead can make room
constexpr double kInTheWay = 0.7;      // cosine between the way to the goal and to one who stands in it
constexpr double kPasses = 0.95;       // of both radii: so far aside of the way one passes it
constexpr double kClosesUp = 0.3;      // m/s
constexpr double kClosed = 2;          // radii of both
constexpr double kSteepest = 1;        // m of height a metre between a goal and who is beside it
constexpr double kFarthestGoal = 60;   // radii from a goal at which it can be too full to come nearer
constexpr double kLooksBehind = 0.05;  // m, so that who touches is seen

/// A body, and those who may stand between it and its goal.
class BeforeGoal {
 public:
  BeforeGoal(const Picture& picture, std::vector<Body>& bodies, std::size_t self, const Floor& floor)
      : picture_(picture),
        bodies_(bodies),
        self_(self),
        floor_(floor),
        b_(bodies[self]),
        goal_(b_.way.points.back()),
        here_(plan(b_.place.position)),
        ahead_(plan(b_.way.points[std::min(b_.way.next, b_.way.points.size() - 1)]) - here_),
        distance_(glm::distance(plan(goal_), here_)),
        stays_(picture.settled[self] != 0),
        waits_(std::max(b_.standing, b_.progress.stalled - kInRow)) {
    if (mayStay()) lookAhead();
  }

  /// In a corridor they stand in a row, not in a ring: who has not got on for long behind one who has arrived at the same place stays. So
  /// do those around a bend behind it.
  bool standsInRow() const { return queues_ && (stays_ || (isNarrow() && b_.progress.stalled > (isBetween() ? kInPassage : kInRow))); }
  /// As near as the densest packing of those before it on the ground around the goal. Once there it stays there: standing still is no
  /// reason to set out again. Where one at a time goes through is no place to stay.
  bool standsInRing() const {
    const bool inSight = b_.way.atLast() && std::abs(goal_.y - b_.place.position.y) <= kSteepest * std::max(0.5, distance_);
    if (!inSight || distance_ > kFarthestGoal * b_.who.radius || isBetween()) return false;
    if (!isTaken() && !isWedged()) return false;
    // Where those before it stand loosely it cannot get nearer either.
    const double packed = kPacked + (stays_ ? kPacked : std::clamp(kContent * (waits_ - kWaits), 0.0, kPacked));
    const Before before = all();
    if (distance_ > packed * (before.row + 2 * b_.who.radius)) return false;  // not even one behind the other
    const double full = packed * packed * (before.squares + b_.who.radius * b_.who.radius) * kPi / kDensest;
    const double within = std::max(0.0, distance_ - b_.who.radius);
    if ((isNarrow() ? kPi * within * within : b_.goalGround.within(within, b_.who.radius, goal_, floor_)) > full) return false;
    return touches_ || stays_ || waits_ > kGivesUp;
  }
  /// Nothing, or to close up where there is room.
  Vec2 wanted() const {
    const double length = glm::length(ahead_);
    return touches_ || length < 1e-9 ? Vec2{0} : ahead_ * (kClosesUp / length);
  }

 private:
  bool isThere(std::size_t other) const { return picture_.settled[other] != 0; }
  bool wantsSame(std::size_t other) const { return glm::distance(picture_.goals[other], b_.goal) < 2 * bodies_[other].who.radius; }
  bool isNarrow() const { return b_.passage || (b_.lane && b_.lane->left + b_.lane->right < kRowWide * b_.who.radius); }
  /// Whether it stands where one at a time goes through, on the way to what lies behind.
  bool isBetween() const { return b_.passage && b_.passage->along(here_) && !b_.passage->along(plan(goal_)); }

  /// Most are far from there: for them nothing is looked at.
  bool mayStay() const { return stays_ || (b_.way.atLast() && distance_ <= kFarthestGoal * b_.who.radius) || b_.progress.stalled > kInRow; }
  void lookAhead() {
    const double length = glm::length(ahead_);
    picture_.eachNeighbour(self_, b_.who.radius + picture_.largest + kCloseBehind + kLooksBehind, [&](const Seen& o) {
      const double along = glm::dot(o.at - here_, ahead_), both = b_.who.radius + bodies_[o.number].who.radius, gap = o.distance - both;
      if (!isThere(o.number) || along <= 0) return;
      touches_ |= gap < kTouching && along > kInTheWay * o.distance * length;
      if (std::abs(cross(o.at - here_, ahead_)) > kPasses * both * length) return;
      if (gap >= (stays_ || b_.progress.stalled > kLoosely ? kCloseBehind : kTouching)) return;
      // Where two can pass each other those who want to places beside each other may yet change places.
      queues_ |= glm::distance(picture_.goals[o.number], b_.goal) < (b_.passage ? kInOneFile : kAbreastToo) * b_.who.radius;
    });
  }
  /// It cannot stand there itself; or those around leave no gap to the place, but where one at a time goes through they may yet change
  /// places. Who was pushed from it comes back.
  bool isTaken() const {
    const double closed = b_.standing > kWaits && !b_.passage ? kClosed : 1;
    bool taken = false;
    picture_.eachAround(self_, plan(goal_), closed * (b_.who.radius + picture_.largest), [&](const Seen& o) {
      const bool stands = isThere(o.number) || (picture_.beenThere[o.number] && wantsSame(o.number));
      taken |= stands && o.distance < closed * (bodies_[o.number].who.radius + b_.who.radius);
    });
    return taken;
  }
  /// Whether it is right at the goal and others hold it there, none of whom has arrived either.
  bool isWedged() const {
    if (waits_ <= kWaits || distance_ > 2 * b_.who.radius) return false;
    bool held = false;
    picture_.eachNeighbour(self_, b_.who.radius + picture_.largest + kTouching, [&](const Seen& o) {
      held |= o.distance < b_.who.radius + bodies_[o.number].who.radius + kTouching && wantsSame(o.number);
    });
    return held;
  }
  /// Those nearer to the goal that have arrived, or want there too.
  struct Before {
    double squares = 0;  ///< of their radii
    double row = 0;      ///< m, one behind the other
  };
  Before all() const {
    Before before;
    picture_.eachNeighbour(self_, distance_ + b_.who.radius, [&](const Seen& o) {
      if (glm::distance(o.at, plan(goal_)) >= distance_ || (!isThere(o.number) && !wantsSame(o.number))) return;
      const double radius = bodies_[o.number].who.radius;
      before.squares += radius * radius, before.row += 2 * radius;
    });
    return before;
  }

  const Picture& picture_;
  const std::vector<Body>& bodies_;
  std::size_t self_;
  const Floor& floor_;
  Body& b_;
  Vec3 goal_;
  Vec2 here_, ahead_;  // ahead: to the next corner of its way
  double distance_;
  bool stays_;
  double waits_;  // s
  bool touches_ = false, queues_ = false;
};

}  // namespace

std::optional<Vec2> wantedAtTakenGoal(const Picture& picture, std::vector<Body>& bodies, std::size_t self, const Floor& floor) {
  const Body& b = bodies[self];
  if (b.way.points.empty()) return std::nullopt;
  const BeforeGoal before(picture, bodies, self, floor);
  if (!before.standsInRow() && !before.standsInRing()) return std::nullopt;
  return before.wanted();
}

}  // namespace dune::crowd
