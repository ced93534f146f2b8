#pragma once
// Scenes of many who want past each other, played and measured: for tests of what must never fail, and for figures.

#include <chrono>
#include <functional>

#include "core/base/text.h"
#include "core/crowd/crowd.h"
#include "core/nav/locator.h"
#include "core/route/field.h"
#include "tests/core/scenes.h"

namespace dune::test {

/// What a scene came to.
struct Played {
  std::size_t arrived = 0, all = 0;
  double last = 0;          // s, when the last one arrived
  double aSecond = 0;       // arrivals between the first and the last
  double meanRatio = 0;     // of time against straight way / speed
  double deepest = 0;       // overlap, of the smaller radius
  double standing = 0;      // the most of its way that somebody stood
  double turns = 0;         // over 90 degrees in a step, a hundred agent seconds
  double outermost = 0;     // m, of those at their end from their goal
  double microseconds = 0;  // an agent step
};

/// Bodies on ground of their own.
struct Flow {
  std::string name;
  std::shared_ptr<const generate::Built> ground;
  std::vector<crowd::Walker> walkers = {};
  double most = 120;  // s
};

/// Until all have arrived, or the time is up.
inline Played play(const Flow& flow, const crowd::SteeringSettings& steering = {}, int threads = 0) {
  const route::Field field(flow.ground->mesh, {});
  const std::vector<crowd::Walker>& walkers = flow.walkers;
  crowd::SceneOptions options;
  options.steerings[0] = steering;
  auto made = crowd::Crowd::make(field, walkers, options);
  if (!made) return {};
  crowd::Crowd& crowd = made.value();
  ThreadedJob job;
  job.setThreads(threads);
  Played o;
  o.all = walkers.size();
  std::vector<double> arrivedAt(walkers.size(), -1), stood(walkers.size(), 0);
  std::vector<Vec2> before(walkers.size(), Vec2{0});
  double steps = 0;
  double measured = 0;
  while (crowd.now() < flow.most) {
    const auto from = std::chrono::steady_clock::now();
    crowd.step(job);
    measured += std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    steps += static_cast<double>(walkers.size());
    bool done = true;
    for (std::size_t i = 0; i < crowd.size(); ++i) {
      const crowd::BodyState& b = crowd.bodies()[i];
      const bool there = b.state == crowd::State::arrived;
      if (there && arrivedAt[i] < 0) arrivedAt[i] = crowd.now();
      if (!there) arrivedAt[i] = -1, done = false;
      const Vec2 v = plan(b.velocity);
      if (!there && glm::length(v) < 0.05) stood[i] += 1 / options.rate;
      if (glm::length(v) > 0.2 && glm::length(before[i]) > 0.2 && glm::dot(v, before[i]) < 0) o.turns += 1;
      before[i] = v;
    }
    for (std::size_t i = 0; i < crowd.size() && crowd.size() <= 400; ++i)
      for (std::size_t k = i + 1; k < crowd.size(); ++k) {
        const auto &a = crowd.bodies()[i], &b = crowd.bodies()[k];
        if (a.state == crowd::State::link || b.state == crowd::State::link || std::abs(a.at.y - b.at.y) > 1) continue;
        const double sum = crowd.walker(i).radius + crowd.walker(k).radius;
        o.deepest =
            std::max(o.deepest, (sum - glm::distance(plan(a.at), plan(b.at))) / std::min(crowd.walker(i).radius, crowd.walker(k).radius));
      }
    if (done) break;
  }
  double first = INFINITY;
  for (std::size_t i = 0; i < crowd.size(); ++i) {
    if (arrivedAt[i] < 0) continue;
    first = std::min(first, arrivedAt[i]);
    o.outermost = std::max(o.outermost, glm::distance(crowd.bodies()[i].at, crowd.walker(i).goal));
    ++o.arrived;
    o.last = std::max(o.last, arrivedAt[i]);
    const double straight = glm::distance(crowd.walker(i).start, crowd.walker(i).goal) / crowd.walker(i).speed;
    o.meanRatio += arrivedAt[i] / std::max(0.1, straight);
    o.standing = std::max(o.standing, stood[i] / arrivedAt[i]);
  }
  if (o.arrived > 1 && o.last > first) o.aSecond = static_cast<double>(o.arrived - 1) / (o.last - first);
  if (o.arrived > 0) o.meanRatio /= static_cast<double>(o.arrived);
  o.turns = o.turns / std::max(1.0, steps / options.rate) * 100;
  o.microseconds = measured / steps * 1e6;
  return o;
}

inline crowd::Walker walker(int id, const Vec3& from, const Vec3& to) {
  crowd::Walker w;
  w.id = id, w.start = from, w.goal = to;
  return w;
}

/// All on a circle, each to the other side.
inline Flow ringSwap(int count, double radius) {
  const double side = 2 * radius + 10;
  Flow flow{"ring swap " + std::to_string(count), built(Scene().floor(0, 0, side, side).world()), {}, 180};
  const Vec3 middle{side / 2, 0, side / 2};
  for (int i = 0; i < count; ++i) {
    const double a = 2 * kPi * i / count;
    const Vec3 out = lift(Vec2{std::cos(a), std::sin(a)} * radius, 0);
    flow.walkers.push_back(walker(i + 1, middle + out, middle - out));
  }
  return flow;
}

/// Two groups that change places along a hall. Who starts first ends first, and stands in the way of those behind it, or ends last.
inline Flow meeting(int each, double width, bool firstEndsLast) {
  constexpr double kLength = 36;
  Flow flow{text("%d against %d, %.0f m wide%s", each, each, width, firstEndsLast ? ", first ends last" : ""),
            built(Scene().floor(0, 0, kLength, width).world())};
  const int rows = std::max(1, static_cast<int>((width + 0.01) / 0.9));
  for (int i = 0; i < each; ++i) {
    const int row = i / rows, last = (each - 1) / rows;
    const double z = width * (i % rows + 0.5) / rows, x = 1 + row, ends = 1 + (firstEndsLast ? last - row : row);
    flow.walkers.push_back(walker(i + 1, {x, 0, z}, {kLength - ends, 0, z}));
    flow.walkers.push_back(walker(1000 + i, {kLength - x, 0, z}, {ends, 0, z}));
  }
  return flow;
}

/// Through a door in a wall, from one side or from both.
inline Flow door(int left, int right, double width) {
  constexpr double kMiddle = 6;
  const std::string who = right > 0 ? text("%d against %d", left, right) : std::to_string(left);
  Flow flow{who + text(" through %.1f m", width), built(Scene()
                                                            .floor(0, 0, 24, 12)
                                                            .box({12, -1, -1}, {12.3, 3, kMiddle - width / 2})
                                                            .box({12, -1, kMiddle + width / 2}, {12.3, 3, 13})
                                                            .world())};
  for (int i = 0; i < left; ++i)
    flow.walkers.push_back(walker(i + 1, {9.5 - (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}, {22 - (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}));
  for (int i = 0; i < right; ++i)
    flow.walkers.push_back(walker(1000 + i, {14.5 + (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}, {2 + (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}));
  return flow;
}

inline Flow openField(int each) {
  Flow flow{text("%d against %d in the open", each, each), built(Scene().floor(0, 0, 70, 40).world()), {}, 180};
  for (int i = 0; i < each; ++i) {
    const double z = 5 + (i % 25) * 1.2, x = 3 + (i / 25) * 1.2;
    flow.walkers.push_back(walker(i + 1, {x, 0, z}, {67 - (i / 25) * 1.2, 0, z}));
    flow.walkers.push_back(walker(1000 + i, {70 - x, 0, z}, {3 + (i / 25) * 1.2, 0, z}));
  }
  return flow;
}

/// A place on the ground at least a body's width from others, by chance.
inline Vec3 freePlace(Random& random, const nav::Locator& locator, const Vec2& from, const Vec2& to, std::vector<Vec3>& taken) {
  constexpr double kApart = 0.9;
  while (true) {
    const Vec3 p{random.in(from.x, to.x), 0, random.in(from.y, to.y)};
    if (!locator.under(p, 0.1).valid() || std::ranges::any_of(taken, [&](const Vec3& q) { return glm::distance(p, q) < kApart; })) continue;
    return taken.emplace_back(p);
  }
}

inline Flow pillars(int count) {
  Scene scene;
  scene.floor(0, 0, 40, 40);
  for (int i = 0; i < 16; ++i) scene.box({6.0 + (i % 4) * 9, -1, 6.0 + (i / 4) * 9}, {7.0 + (i % 4) * 9, 3, 7.0 + (i / 4) * 9});
  Flow flow{std::to_string(count) + " in a room with pillars", built(scene.world()), {}, 180};
  Random random(3);
  const nav::Locator locator(flow.ground->mesh);
  std::vector<Vec3> starts, goals;
  for (int i = 0; i < count; ++i) {
    const Vec3 start = freePlace(random, locator, {1, 1}, {39, 39}, starts), goal = freePlace(random, locator, {1, 1}, {39, 39}, goals);
    flow.walkers.push_back(walker(i + 1, start, goal));
  }
  return flow;
}

inline Flow roundTarget(int count) {
  Flow flow{std::to_string(count) + " round one target", built(Scene().floor(0, 0, 40, 40).world()), {}, 60};
  for (int i = 0; i < count; ++i) {
    const double a = 2 * kPi * i / count;
    flow.walkers.push_back(walker(i + 1, Vec3{20, 0, 20} + lift(Vec2{std::cos(a), std::sin(a)} * (10.0 + i % 3), 0), {20, 0, 20}));
  }
  return flow;
}

/// Two rooms joined by a corridor of any width and length, with a bay or without, and a group in each that wants into the other: everybody
/// to a place of its own, or all to one.
inline Flow twoRooms(std::uint64_t seed) {
  constexpr double kWidths[] = {0.9, 1.2, 1.7, 2.0, 2.5, 3.0, 4.0, 6.0}, kSide = 10;
  Random random(seed);
  const double width = kWidths[seed % std::size(kWidths)], length = random.in(3, 20), across = 2 * kSide + length;
  const double middle = random.in(2 + width / 2, kSide - 2 - width / 2);
  const bool bay = seed % 3 == 0, oneGoal = seed % 2 == 1;
  Scene scene;
  scene.floor(0, 0, across, kSide).box({kSide, -1, -1}, {kSide + length, 3, middle - width / 2});
  if (bay)
    scene.box({kSide, -1, middle + width / 2}, {across / 2 - width / 2, 3, kSide + 1})
        .box({across / 2 + width / 2, -1, middle + width / 2}, {kSide + length, 3, kSide + 1});
  else
    scene.box({kSide, -1, middle + width / 2}, {kSide + length, 3, kSide + 1});
  const int each = 5 + static_cast<int>(random.in(0, 15));
  Flow flow{text("two rooms %d: %d each way, %.1f m wide, %.1f m long%s%s", static_cast<int>(seed), each, width, length, bay ? ", bay" : "",
                 oneGoal ? ", one goal" : ""),
            built(scene.world()),
            {},
            240};
  const nav::Locator locator(flow.ground->mesh);
  std::vector<Vec3> starts, goals;
  for (int i = 0; i < each; ++i)
    for (const bool back : {false, true}) {
      const double here = back ? across - kSide : 0, there = across - kSide - here;
      const Vec3 start = freePlace(random, locator, {here + 0.1, 0.1}, {here + kSide - 0.1, kSide - 0.1}, starts);
      const Vec3 goal = freePlace(random, locator, {there + 0.1, 0.1}, {there + kSide - 0.1, kSide - 0.1}, goals);
      flow.walkers.push_back(walker((back ? 1000 : 0) + i + 1, start, oneGoal ? Vec3{back ? 3.0 : across - 3, 0, 5} : goal));
    }
  return flow;
}

}  // namespace dune::test
