#include "core/crowd/lanes.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

constexpr double kWidest = 8;        // m: with more room nobody needs a side
constexpr double kPlay = 0.05;       // m: two pass each other with so much more than their width
constexpr double kSameWay = 0.5;     // cosine of headings that go the same way
constexpr double kRetreat = 0.4;     // m/s
constexpr double kTooNear = 0.05;    // m of the room to the one ahead that may be missing
constexpr double kSideways = 0.6;    // of its speed
constexpr double kOn = 0.5;          // m on, where walls are looked at again
constexpr double kLeastAside = 0.2;  // m/s at which one goes to its side at least
constexpr double kLater = 0.5;       // s in which it goes to its side

/// Along the walls on both sides, not slantwise as one happens to walk.
Vec2 alongWalls(const nav::NavMesh& mesh, const nav::Place& at, const Lane& lane, const nav::Rules* rules) {
  const nav::Ray on = nav::castRay(mesh, at, lane.at + lane.along * kOn, rules);
  const auto next = crossSection(mesh, on.end, lane.along, rules);
  if (!on.reached || !next) return lane.along;
  const Vec2 turn = leftOf(lane.along) * ((next->left - lane.left) - (next->right - lane.right)) / 2.0;
  return glm::normalize(lane.along * kOn + turn);
}

}  // namespace

std::optional<Lane> crossSection(const nav::NavMesh& mesh, const nav::Place& at, const Vec2& along, const nav::Rules* rules) {
  const Vec2 here = plan(at.position), side = leftOf(along) * kWidest;
  const nav::Ray left = nav::castRay(mesh, at, here + side, rules);
  if (left.reached) return std::nullopt;
  const nav::Ray right = nav::castRay(mesh, at, here - side, rules);
  if (right.reached) return std::nullopt;
  const Lane lane{along, glm::distance(here, plan(left.end.position)), glm::distance(here, plan(right.end.position)), here};
  return lane.left + lane.right <= kWidest ? std::optional(lane) : std::nullopt;
}

std::optional<Lane> laneAt(const nav::NavMesh& mesh, const Body& b, const nav::Rules* rules) {
  const double speed = glm::length(b.wanted);
  if (speed < 1e-6) return std::nullopt;
  const auto lane = crossSection(mesh, b.place, b.wanted / speed, rules);
  return lane ? crossSection(mesh, b.place, alongWalls(mesh, b.place, *lane, rules), rules) : lane;
}

namespace {

/// One body in its lane, and those it sees.
class InLane {
 public:
  InLane(const Lane& lane, const Body& b, std::span<const Passer> others)
      : lane_(lane),
        b_(b),
        others_(others),
        here_(plan(b.place.position)),
        across_(2 * b.who.radius),
        half_((lane.left + lane.right - across_) / 2),
        right_(lane.right + cross(lane.along, here_ - lane.at)) {}

  bool roomForTwo() const { return lane_.left + lane_.right >= across_ + kPlay; }
  bool oncoming() const {
    return std::ranges::any_of(others_, [&](const Passer& o) { return ahead(o) > -across_ && within(o) && wayOf(o) < 0; });
  }
  /// How many have room beside each other in one half.
  std::size_t abreast() const { return static_cast<std::size_t>(half_ / across_ + kTooNear) + 1; }
  /// To the right half, or along in it.
  Vec2 toRight(Vec2 wanted) const {
    const double speed = std::max(glm::length(b_.wanted), kLeastAside);
    const Vec2 right = -leftOf(lane_.along);
    const double least = std::clamp((right_ - half_) / kLater, -kSideways * speed, kSideways * speed), has = glm::dot(wanted, right);
    if (least > has) wanted += right * (least - has);
    return wanted * (speed / std::max(speed, glm::length(wanted)));
  }
  Vec2 behind(const Vec2& wanted, std::size_t abreast) const {
    thread_local std::vector<std::pair<double, double>> leaders;  // metres ahead, speed
    leaders.clear();
    for (const Passer& o : others_) {
      const double far = ahead(o);
      if (far < 0 || (far == 0 && o.id > b_.who.id) || far > 3 * across_ || !within(o) || wayOf(o) <= 0) continue;
      leaders.push_back({far, glm::dot(o.velocity, lane_.along)});
    }
    if (leaders.size() < abreast) return wanted;
    std::ranges::nth_element(leaders, leaders.begin() + static_cast<std::ptrdiff_t>(abreast - 1));
    const auto [far, goes] = leaders[abreast - 1];
    const double along = glm::dot(wanted, lane_.along);
    const double most = speedBehind(far, goes, across_, kTooNear, kRetreat);
    return along > most ? wanted - lane_.along * (along - most) : wanted;
  }

 private:
  double ahead(const Passer& o) const { return glm::dot(o.at - here_, lane_.along); }
  double aside(const Passer& o) const { return cross(lane_.along, o.at - lane_.at); }
  bool within(const Passer& o) const {
    const double left = aside(o);
    return left < lane_.left + kPlay && left > -lane_.right - kPlay;
  }
  int wayOf(const Passer& o) const {
    const double along = glm::dot(o.heading, lane_.along);
    return along > kSameWay ? 1 : along < -kSameWay ? -1 : 0;
  }

  const Lane& lane_;
  const Body& b_;
  std::span<const Passer> others_;
  Vec2 here_;
  double across_, half_;  // half: metres from the right end of the cross-section to the end of the right half
  double right_;          // metres to the right end
};

}  // namespace

bool comesToward(const Lane& lane, const Body& b, std::span<const Passer> others) {
  const InLane in(lane, b, others);
  return in.roomForTwo() && in.oncoming();
}

Vec2 keptRight(const Lane& lane, const Body& b, std::span<const Passer> others) {
  const InLane in(lane, b, others);
  return in.behind(in.toRight(b.wanted), in.abreast());
}

}  // namespace dune::crowd
