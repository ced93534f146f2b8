#include "core/pipeline/ring_goals.h"

#include <algorithm>
#include <functional>
#include <numeric>

#include "core/base/plan_geometry.h"
#include "core/crowd/yard.h"
#include "core/pipeline/crowd_scene.h"

namespace dune::pipeline {

namespace {

constexpr double kTouching = 0.999;          // of both radii: so near, two places overlap
constexpr double kFarther = 3;               // m that is looked at on top of the room that all need
constexpr std::size_t kMostPlaces = 20'000;  // that are looked at

double angleFrom(const Vec2& middle, const Vec2& at) { return std::atan2(at.y - middle.y, at.x - middle.x); }

std::vector<std::size_t> byAngle(std::size_t count, const std::function<double(std::size_t)>& angle) {
  std::vector<std::size_t> order(count);
  std::iota(order.begin(), order.end(), 0u);
  std::ranges::stable_sort(order, {}, angle);
  return order;
}

/// Places on a circle, each for the body that is on that side.
std::vector<Vec2> onCircle(std::span<const crowd::Walker> bodies, const Vec2& middle, double radius) {
  const auto n = static_cast<double>(bodies.size());
  std::vector<double> angle;
  for (const crowd::Walker& w : bodies) angle.push_back(angleFrom(middle, plan(w.start)));
  const std::vector<std::size_t> order = byAngle(bodies.size(), [&](std::size_t i) { return angle[i]; });
  const auto seat = [&](std::size_t k) { return 2 * kPi * static_cast<double>(k) / n; };
  const auto towards = [](double a) { return Vec2{std::cos(a), std::sin(a)}; };
  Vec2 turn{0};  // by which evenly spaced places fit the bodies best, on the whole
  for (std::size_t k = 0; k < order.size(); ++k) turn += towards(angle[order[k]] - seat(k));
  const double first = std::atan2(turn.y, turn.x);
  std::vector<Vec2> places(bodies.size());
  for (std::size_t k = 0; k < order.size(); ++k) places[order[k]] = middle + towards(first + seat(k)) * radius;
  return places;
}

/// The ground around a target, as far as it is of use to those who are sent there. A target in the middle of an obstacle, or on top of one,
/// has none that one could walk on from there.
class Around {
 public:
  Around(const Ground& ground, const Vec3& target, const Vec3& from) : ground_(ground), target_(target) {
    middle_ = ground.locator().nearest(target, kOffGround);
    const nav::Place start = ground.locator().nearest(from, kOffGround);
    if (start.valid()) island_ = islandOf(start);
    onTarget_ = middle_.valid() && (!island_ || islandOf(middle_) == *island_);
    if (onTarget_) target_ = middle_.position;
  }
  /// The middle of the circle.
  const Vec3& target() const { return target_; }
  /// The ground at a place: in sight of the target, or where one cannot stand at it, at about its height.
  std::optional<Vec3> at(const Vec2& place) const {
    constexpr double kStorey = 1, kBeside = 0.01;  // m
    if (onTarget_) {
      const nav::Ray ray = nav::castRay(ground_.mesh, middle_, place, &ground_.rules);
      return ray.reached ? std::optional(ray.end.position) : std::nullopt;
    }
    const nav::Place found = ground_.locator().nearest(lift(place, target_.y), kStorey);
    const bool fits = found.valid() && glm::distance(plan(found.position), place) < kBeside && (!island_ || islandOf(found) == *island_);
    return fits ? std::optional(found.position) : std::nullopt;
  }
  /// Places of a grid within `reach`, from the target on as far as one can walk. O(places).
  std::vector<Vec3> all(double apart, double reach) const { return onTarget_ ? walked(apart, reach) : looked(apart, reach); }

 private:
  std::uint32_t islandOf(const nav::Place& p) const { return ground_.mesh.island[index(p.face)]; }

  std::vector<Vec3> walked(double apart, double reach) const {
    const auto yard = crowd::Yard::over(ground_.mesh, middle_, apart, reach, kMostPlaces, &ground_.rules);
    std::vector<Vec3> found;
    for (std::uint32_t i = 0; i < yard.size(); ++i) found.push_back(yard.groundAt(i));
    return found;
  }
  std::vector<Vec3> looked(double apart, double reach) const {
    std::vector<Vec3> found;
    const int most = static_cast<int>(std::min(reach / apart, std::sqrt(static_cast<double>(kMostPlaces)) / 2));
    for (int x = -most; x <= most; ++x)
      for (int y = -most; y <= most; ++y)
        if (const auto place = at(plan(target_) + Vec2{x, y} * apart)) found.push_back(*place);
    return found;
  }

  const Ground& ground_;
  Vec3 target_;
  nav::Place middle_{};
  std::optional<std::uint32_t> island_;  // of those who come
  bool onTarget_ = false;
};

/// The goals that are taken, and by how wide bodies.
class Taken {
 public:
  bool has(const Vec3& at, double radius) const {
    return std::ranges::any_of(all_, [&](const auto& t) { return glm::distance(t.first, at) < kTouching * (t.second + radius); });
  }
  void add(const Vec3& at, double radius) { all_.emplace_back(at, radius); }

 private:
  std::vector<std::pair<Vec3, double>> all_;
};

}  // namespace

void sendAround(std::span<crowd::Walker> bodies, const Ground& ground, const Vec3& target, double radius) {
  const Around around(ground, target, bodies[0].start);
  const Vec2 middle = plan(around.target());
  const std::vector<Vec2> circle = onCircle(bodies, middle, radius);
  Taken taken;
  std::vector<std::size_t> rest;
  double widest = 0;
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    crowd::Walker& w = bodies[i];
    w.goal = around.target();
    widest = std::max(widest, w.radius);
    const auto place = around.at(circle[i]);
    if (place && !taken.has(*place, w.radius))
      w.goal = *place, taken.add(*place, w.radius);
    else
      rest.push_back(i);
  }
  if (rest.empty()) return;
  const double apart = kBodiesApart * widest, side = std::sqrt(static_cast<double>(bodies.size()));
  std::vector<Vec3> free = around.all(apart, radius + apart * (side + static_cast<double>(rest.size())) + kFarther);
  std::erase_if(free, [&](const Vec3& at) { return taken.has(at, widest); });
  std::ranges::stable_sort(free, {}, [&](const Vec3& at) { return std::abs(glm::distance(plan(at), middle) - radius); });
  free.resize(std::min(free.size(), rest.size()));
  const auto who = byAngle(free.size(), [&](std::size_t k) { return angleFrom(middle, circle[rest[k]]); });
  const auto where = byAngle(free.size(), [&](std::size_t k) { return angleFrom(middle, plan(free[k])); });
  for (std::size_t k = 0; k < free.size(); ++k) bodies[rest[who[k]]].goal = free[where[k]];
}

}  // namespace dune::pipeline
