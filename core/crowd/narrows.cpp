#include "core/crowd/narrows.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

constexpr double kLook = 3.0, kStep = 0.5;       // m along the way, and between cross-sections
constexpr double kAbreast = 3;                   // bodies beside each other: where so many pass, it is not narrow
constexpr double kDoorPlay = 0.05;               // m: two pass each other with so much more than their width
constexpr double kDoorReach = 3.5;               // m around a narrow place in which bodies heed each other
constexpr double kDoorFollow = 0.2;              // s in which room to the one ahead is closed
constexpr double kAside = 1.0, kBack = 1.2;      // m beside the way and before the place, where one waits
constexpr double kTie = 0.1;                     // m: nearer by less is not nearer
constexpr double kSame = 1.0;                    // m between what two bodies take for the same place
constexpr double kDoorRetreat = 0.4;             // m/s
constexpr double kDoorTooNear = 0.1;             // m of the room to the one ahead that may be missing
constexpr double kMouth = 2, kBesideDoor = 1.5;  // widths of a body
constexpr double kDoorSameWay = 0.3;             // cosine of headings that go the same way
constexpr double kAgainst = 0.8;                 // of those that come straight along a lane

/// The middle of the stretch that is as narrow as its narrowest place, so that bodies from both sides mean the same one.
Vec2 middleOf(const nav::NavMesh& mesh, const Narrow& n, const nav::Place& at, const nav::Rules* rules) {
  constexpr double kFine = 0.1, kAsNarrow = 0.03, kFarthestDoor = 1.2, kMoreBeside = 0.2;  // metres
  Vec2 ends[2] = {n.centre, n.centre};
  for (const int way : {0, 1})
    for (double s = kFine; s <= kFarthestDoor; s += kFine) {
      const nav::Ray ray = nav::castRay(mesh, at, plan(at.position) + n.along * (way == 0 ? s : -s), rules);
      if (!ray.reached) break;
      const Section section = sectionAt(mesh, ray.end, n.along, n.width + kMoreBeside, rules);
      if (section.width() > n.width + kAsNarrow) break;
      ends[way] = section.middle();
    }
  return (ends[0] + ends[1]) * 0.5;
}

/// How far a body is from getting through; below zero past the place.
double toGo(const Narrow& n, const Vec2& at) {
  const Vec2 off = at - n.centre;
  return glm::dot(off, n.along) > 0 ? -glm::length(off) : glm::length(off);
}

/// Whether another goes through the same place: 1 the same way, -1 the other way, 0 not, as who stands at its goal there.
int wayThrough(const Narrow& n, const Passer& o) {
  if (o.heading == Vec2{0}) return 0;
  const bool same = o.narrow && glm::distance(o.narrow->centre, n.centre) < kSame;
  const double along = glm::dot(same ? o.narrow->along : o.heading, n.along);
  return along > kDoorSameWay ? 1 : along < -kDoorSameWay ? -1 : 0;
}

/// One body before one narrow place.
class Queue {
 public:
  Queue(const Body& b, const Narrow& n, std::span<const Passer> others)
      : b_(b), n_(n), others_(others), here_(plan(b.place.position)), mine_(toGo(n, here_)), across_(2 * b.who.radius) {}

  bool near() const { return mine_ <= kDoorReach && mine_ >= -across_; }
  bool twoWays() const { return n_.width >= across_ + kDoorPlay; }
  /// How many pass beside each other.
  std::size_t abreast() const { return static_cast<std::size_t>((n_.width + kDoorTooNear) / across_) + 1; }
  bool oncoming() const {
    return std::ranges::any_of(others_, [&](const Passer& o) { return wayThrough(n_, o) < 0 && (comes(o) || (twoWays() && inLane(o))); });
  }
  /// Whether one who comes the other way is nearer, so that it is his turn.
  bool beaten() const {
    const double distance = std::abs(mine_);
    return mine_ > -kInsideDoor && std::ranges::any_of(others_, [&](const Passer& o) {
             if (wayThrough(n_, o) >= 0 || glm::dot(o.at - n_.centre, n_.along) < -across_) return false;
             const double theirs = glm::distance(o.at, n_.centre);
             return theirs < distance - kTie || (theirs < distance + kTie && o.id < b_.who.id);
           });
  }
  /// Stands where it is, or beside the way where it would be in it.
  Vec2 waiting(double speed) const {
    if (mine_ > kBack + kAside) return Vec2{0};
    const Vec2 to = n_.centre - n_.along * kBack - leftOf(n_.along) * kAside - here_;
    const double left = glm::length(to);
    return left < 0.1 ? Vec2{0} : to / left * std::min(speed, left / kDoorFollow);
  }
  /// The wanted velocity as far as those ahead of it leave room: `abreast` of them do not count.
  Vec2 behind(std::size_t abreast, const Vec2& wanted) const {
    std::vector<Leader> ahead = leaders();
    if (ahead.size() < abreast) return wanted;
    std::ranges::nth_element(ahead, ahead.begin() + static_cast<std::ptrdiff_t>(abreast - 1), std::greater<>(), &Leader::toGo);
    const Leader& leader = ahead[abreast - 1];
    if (mine_ > 0 && mine_ < leader.toGo + across_ - kDoorTooNear) return glm::normalize(here_ - n_.centre) * kDoorRetreat;
    const double most = std::max(0.0, (mine_ - leader.toGo - across_) / kDoorFollow + leader.speed), speed = glm::length(wanted);
    return speed > most ? wanted * (most / speed) : wanted;
  }

 private:
  static constexpr double kInsideDoor = 0.2;  // m past the middle: from there on it goes through
  struct Leader {
    double toGo, speed;  // towards the place, or on behind it
  };
  bool comes(const Passer& o) const { return glm::distance(o.at, n_.centre) < kDoorReach && toGo(n_, o.at) < mine_; }
  bool inLane(const Passer& o) const {
    const Vec2 off = o.at - here_;
    return std::abs(cross(n_.along, off)) < n_.width + across_ && glm::dot(off, n_.along) > 0 && glm::dot(o.heading, n_.along) < -kAgainst;
  }
  std::vector<Leader> leaders() const {
    std::vector<Leader> ahead;
    for (const Passer& o : others_) {
      const double theirs = toGo(n_, o.at);
      if (wayThrough(n_, o) <= 0 || theirs < -across_ || theirs > mine_ || (theirs == mine_ && o.id > b_.who.id)) continue;
      // Who is neither at the place nor beside it is in nobody's way yet.
      if (theirs > kMouth * across_ && glm::distance(o.at, here_) > kBesideDoor * across_) continue;
      const Vec2 towards = n_.centre - o.at;
      const double d = glm::length(towards);
      ahead.push_back(
          {theirs, d > 0.1 ? std::max(0.0, glm::dot(o.velocity, theirs > 0 ? towards / d : n_.along)) : glm::length(o.velocity)});
    }
    return ahead;
  }

  const Body& b_;
  const Narrow& n_;
  std::span<const Passer> others_;
  Vec2 here_;
  double mine_, across_;
};

}  // namespace

Section sectionAt(const nav::NavMesh& mesh, const nav::Place& at, const Vec2& along, double most, const nav::Rules* rules) {
  const Vec2 here = plan(at.position), side = leftOf(along) * most;
  return {plan(nav::castRay(mesh, at, here + side, rules).end.position), plan(nav::castRay(mesh, at, here - side, rules).end.position)};
}

double speedBehind(double far, double goes, double room, double tooNear, double retreat) {
  constexpr double kCloses = 0.4;  // s in which more room is closed
  return far < room - tooNear ? -retreat : std::max(0.0, (far - room) / kCloses + goes);
}

void WayAhead::go(double metres) {
  while (metres > 1e-6 && !ends()) {
    const Vec2 to = toNext();
    const double length = glm::length(to);
    const bool passes = length <= metres;
    at_ = nav::castRay(mesh_, at_, plan(at_.position) + (passes ? to : to * (metres / length)), rules_).end;
    if (!passes) return;
    metres -= std::max(length, 1e-3);
    next_ = way_.linkAt(next_) || next_ + 1 >= way_.points.size() ? way_.points.size() : next_ + 1;
  }
}

std::optional<Narrow> narrowAhead(const nav::NavMesh& mesh, const Body& b, const nav::Rules* rules) {
  const double most = (kAbreast - 1) * 2 * b.who.radius;
  Narrow best{{}, {}, most};
  WayAhead ahead(mesh, b, rules);
  nav::Place narrowest = b.place;
  for (double s = 0; s <= kLook && !ahead.ends(); s += kStep, ahead.go(kStep)) {
    const Vec2 to = ahead.toNext();
    if (glm::length(to) < 1e-6) continue;
    const Section section = sectionAt(mesh, ahead.at(), glm::normalize(to), most, rules);
    if (section.width() < best.width - 1e-3) best = {section.middle(), glm::normalize(to), section.width()}, narrowest = ahead.at();
  }
  if (best.width >= most) return std::nullopt;
  best.centre = middleOf(mesh, best, narrowest, rules);
  return best;
}

Turn inTurn(const nav::NavMesh& mesh, const nav::Rules* rules, const Body& b, const Narrow& n, std::span<const Passer> others,
            bool patient) {
  const double speed = glm::length(b.wanted);
  const Queue queue(b, n, others);
  if (speed < 1e-6 || !queue.near()) return {b.wanted};
  if (!queue.oncoming()) return {queue.behind(queue.abreast(), b.wanted)};
  if (!queue.twoWays()) return patient && queue.beaten() ? Turn{queue.waiting(speed), true} : Turn{queue.behind(queue.abreast(), b.wanted)};
  constexpr double kDoorSideways = 0.6, kFarRight = 3;  // of its speed; m
  const Vec2 right = -leftOf(n.along), here = plan(b.place.position);
  const double room = glm::distance(here, plan(nav::castRay(mesh, b.place, here + right * kFarRight, rules).end.position));
  Vec2 wanted = b.wanted + right * std::min(kDoorSideways * speed, 2 * room);
  wanted *= speed / std::max(speed, glm::length(wanted));
  return {queue.behind(1, wanted)};
}

}  // namespace dune::crowd
