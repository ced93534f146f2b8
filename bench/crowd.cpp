// What crowds must do: agents alone on meshes named on the command line, and scenes of many, steered in one way or in each.
// Usage: bench_crowd [MESH ...] | bench_crowd --steering NAME|all

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <functional>

#include "core/exchange/mesh_files.h"
#include "core/generate/build.h"
#include "core/system/threads.h"
#include "core/trace/trace.h"
#include "tests/core/scenes.h"

using namespace dune;

namespace {

struct Played {
  std::size_t arrived = 0, all = 0;
  double last = 0;          // s, when the last one arrived
  double meanRatio = 0;     // of time against straight way / speed
  double deepest = 0;       // overlap, of the smaller radius
  double standing = 0;      // the most of its way that somebody stood
  double turns = 0;         // over 90 degrees in a step, a hundred agent seconds
  double microseconds = 0;  // an agent step
};

crowd::SteeringSettings steering;

Played play(const route::Field& field, const std::vector<crowd::Walker>& walkers, double most, int threads = 0) {
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
  const auto begin = std::chrono::steady_clock::now();
  double measured = 0;
  while (crowd.now() < most) {
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
    if (std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count() > 120) break;
  }
  for (std::size_t i = 0; i < crowd.size(); ++i) {
    if (arrivedAt[i] < 0) continue;
    ++o.arrived;
    o.last = std::max(o.last, arrivedAt[i]);
    const double straight = glm::distance(crowd.walker(i).start, crowd.walker(i).goal) / crowd.walker(i).speed;
    o.meanRatio += arrivedAt[i] / std::max(0.1, straight);
    o.standing = std::max(o.standing, stood[i] / arrivedAt[i]);
  }
  if (o.arrived > 0) o.meanRatio /= static_cast<double>(o.arrived);
  o.turns = o.turns / std::max(1.0, steps / options.rate) * 100;
  o.microseconds = measured / steps * 1e6;
  return o;
}

void say(const std::string& scene, const Played& o) {
  std::printf(
      "%-40s %4zu of %4zu  last %6.1f s  mean %5.2f x straight  overlap %5.1f %%  stood %3.0f %%  sharp turns %5.2f  %6.1f us a step\n",
      scene.c_str(), o.arrived, o.all, o.last, o.meanRatio, o.deepest * 100, o.standing * 100, o.turns, o.microseconds);
  std::fflush(stdout);
}

/// Whoever has a path arrives, and nearly as fast as the path is long.
void alone(const std::string& path) {
  const auto content = exchange::readMesh(path);
  if (!content) return void(std::printf("%s\n", content.problem().text().c_str()));
  const nav::NavMesh& mesh = content->mesh;
  const route::Field field(mesh, content->rules);
  route::Search search(field);
  test::Random random(7);
  std::vector<double> cumulated(1, 0);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) cumulated.push_back(cumulated.back() + nav::faceArea(mesh, nav::FaceId{f}));
  const auto place = [&] {
    const double at = random.in(0, cumulated.back());
    const auto f = static_cast<std::uint32_t>(std::upper_bound(cumulated.begin(), cumulated.end(), at) - cumulated.begin() - 1);
    const nav::FaceId face{std::min(f, static_cast<std::uint32_t>(mesh.faceCount() - 1))};
    Vec3 sum{0};
    double weights = 0;
    for (std::size_t c = 0; c < mesh.cornerCount(face); ++c) {
      const double w = random.in(0.01, 1);
      sum += mesh.cornerAt(face, c) * w, weights += w;
    }
    return nav::nearestOnFace(mesh, face, sum / weights);
  };
  ThreadedJob job;
  int tried = 0, arrived = 0;
  std::vector<double> late;
  for (int i = 0; i < 1000 && tried < 1000; ++i) {
    crowd::Walker w;
    w.id = 1, w.start = place(), w.goal = place();
    w.radius = mesh.agent.radius, w.speed = mesh.agent.speed, w.acceleration = mesh.agent.acceleration;
    w.turnRate = mesh.agent.turnRate, w.arriveWithin = mesh.agent.arriveWithin, w.passWithin = mesh.agent.passWithin;
    const auto answer = route::findPath(field, search, w.start, w.goal, {2, false, false});
    if (answer.status != route::PathStatus::complete) continue;
    ++tried;
    auto made = crowd::Crowd::make(field, {w}, {});
    const double fair = answer.length / w.speed, most = fair * 3 + 20;
    while (made->now() < most && made->bodies()[0].state != crowd::State::arrived) made->step(job);
    const bool there = made->bodies()[0].state == crowd::State::arrived;
    arrived += there;
    if (there) late.push_back(made->now() / (1.1 * fair + 1));
    if (!there && tried - arrived <= 3)
      std::printf("  not arrived: %.3f,%.3f,%.3f to %.3f,%.3f,%.3f, is at %.3f,%.3f,%.3f %s\n", w.start.x, w.start.y, w.start.z, w.goal.x,
                  w.goal.y, w.goal.z, made->bodies()[0].at.x, made->bodies()[0].at.y, made->bodies()[0].at.z,
                  crowd::stateName(made->bodies()[0].state));
  }
  std::sort(late.begin(), late.end());
  std::printf("%-40s alone: %4d of %4d arrive; time at the 95th percentile %.2f of 1.1 x path / speed + 1 s\n",
              std::filesystem::path(path).filename().c_str(), arrived, tried, late.empty() ? 0 : late[late.size() * 95 / 100]);
  std::fflush(stdout);
}

crowd::Walker walker(int id, const Vec3& from, const Vec3& to) {
  crowd::Walker w;
  w.id = id, w.start = from, w.goal = to;
  return w;
}

void ring(int count, double radius) {
  const double side = 2 * radius + 10;
  const auto b = test::built(test::Scene().floor(0, 0, side, side).world());
  const Vec3 middle{side / 2, 0, side / 2};
  std::vector<crowd::Walker> walkers;
  for (int i = 0; i < count; ++i) {
    const double a = 2 * kPi * i / count;
    const Vec3 out = lift(Vec2{std::cos(a), std::sin(a)} * radius, 0);
    walkers.push_back(walker(i + 1, middle + out, middle - out));
  }
  say("ring swap " + std::to_string(count), play(route::Field(b->mesh, {}), walkers, 180));
}

void meeting(const char* name, int each, double width, double length, double most) {
  const auto b = test::built(test::Scene().floor(0, 0, length, width).world());
  std::vector<crowd::Walker> walkers;
  const int rows = std::max(1, static_cast<int>((width + 0.01) / 0.9));
  for (int i = 0; i < each; ++i) {
    const double z = width * (i % rows + 0.5) / rows, x = 1 + (i / rows) * 1.0;
    walkers.push_back(walker(i + 1, {x, 0, z}, {length - 1 - (i / rows) * 1.0, 0, z}));
    walkers.push_back(walker(1000 + i, {length - x, 0, z}, {1 + (i / rows) * 1.0, 0, z}));
  }
  say(name, play(route::Field(b->mesh, {}), walkers, most));
}

void door(const char* name, int left, int right, double width, double most) {
  const double middle = 6;
  const auto b = test::built(test::Scene()
                                 .floor(0, 0, 24, 12)
                                 .box({12, -1, -1}, {12.3, 3, middle - width / 2})
                                 .box({12, -1, middle + width / 2}, {12.3, 3, 13})
                                 .world());
  std::vector<crowd::Walker> walkers;
  for (int i = 0; i < left; ++i)
    walkers.push_back(walker(i + 1, {9.5 - (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}, {22 - (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}));
  for (int i = 0; i < right; ++i)
    walkers.push_back(walker(1000 + i, {14.5 + (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}, {2 + (i / 8) * 1.1, 0, 2 + (i % 8) * 1.1}));
  say(name, play(route::Field(b->mesh, {}), walkers, most));
}

void open(int each) {
  const auto b = test::built(test::Scene().floor(0, 0, 70, 40).world());
  std::vector<crowd::Walker> walkers;
  for (int i = 0; i < each; ++i) {
    const double z = 5 + (i % 25) * 1.2, x = 3 + (i / 25) * 1.2;
    walkers.push_back(walker(i + 1, {x, 0, z}, {67 - (i / 25) * 1.2, 0, z}));
    walkers.push_back(walker(1000 + i, {70 - x, 0, z}, {3 + (i / 25) * 1.2, 0, z}));
  }
  say(std::to_string(each) + " against " + std::to_string(each) + " in the open", play(route::Field(b->mesh, {}), walkers, 180));
}

void pillars() {
  test::Scene scene;
  scene.floor(0, 0, 40, 40);
  for (int i = 0; i < 16; ++i) scene.box({6.0 + (i % 4) * 9, -1, 6.0 + (i / 4) * 9}, {7.0 + (i % 4) * 9, 3, 7.0 + (i / 4) * 9});
  const auto b = test::built(scene.world());
  test::Random random(3);
  std::vector<crowd::Walker> walkers;
  const nav::Locator locator(b->mesh);
  const auto free = [&](const std::vector<Vec3>& taken) {
    while (true) {
      const Vec3 p{random.in(1, 39), 0, random.in(1, 39)};
      if (!locator.under(p, 0.1).valid()) continue;
      if (std::ranges::none_of(taken, [&](const Vec3& q) { return glm::distance(p, q) < 0.9; })) return p;
    }
  };
  std::vector<Vec3> starts, goals;
  for (int i = 0; i < 200; ++i) {
    starts.push_back(free(starts)), goals.push_back(free(goals));
    walkers.push_back(walker(i + 1, starts.back(), goals.back()));
  }
  say("200 in a room with pillars", play(route::Field(b->mesh, {}), walkers, 180));
}

void target() {
  const auto b = test::built(test::Scene().floor(0, 0, 40, 40).world());
  std::vector<crowd::Walker> walkers;
  for (int i = 0; i < 30; ++i) {
    const double a = 2 * kPi * i / 30;
    walkers.push_back(walker(i + 1, Vec3{20, 0, 20} + lift(Vec2{std::cos(a), std::sin(a)} * (10.0 + i % 3), 0), {20, 0, 20}));
  }
  say("30 round one target", play(route::Field(b->mesh, {}), walkers, 60));
}

void many(int count, int threads) {
  const double side = std::sqrt(count) * 2.5 + 10;
  const auto b = test::built(test::Scene().floor(0, 0, side, side).world());
  test::Random random(9);
  std::vector<crowd::Walker> walkers;
  const int row = static_cast<int>(std::ceil(std::sqrt(count)));
  for (int i = 0; i < count; ++i)
    walkers.push_back(walker(i + 1, {5 + (i % row) * 2.5, 0, 5 + (i / row) * 2.5}, {random.in(2, side - 2), 0, random.in(2, side - 2)}));
  const Played o = play(route::Field(b->mesh, {}), walkers, count > 2000 ? 4 : 20, threads);
  std::printf("%d agents, %d thread%s: %.2f us an agent step\n", count, threads, threads == 1 ? "" : "s", o.microseconds);
}

/// Speed against density in a loop corridor, beside what is measured of people (Weidmann, Transporttechnik der Fussgänger, 1993).
void loop(double density) {
  const double inner = 6, width = 2.4, radius = 0.2;  // m; a square ring of corridors
  const double outer = inner + 2 * width;
  const auto b =
      test::built(test::Scene().floor(0, 0, outer, outer).box({width, -1, width}, {outer - width, 3, outer - width}).world(), [] {
        nav::Agent a;
        a.radius = 0.2;
        return a;
      }());
  const double area = outer * outer - inner * inner;
  const int count = static_cast<int>(density * area);
  const double middle = width / 2, far = outer - width / 2;
  const Vec3 corners[] = {{middle, 0, middle}, {far, 0, middle}, {far, 0, far}, {middle, 0, far}};
  const nav::Locator locator(b->mesh);
  test::Random random(4);
  std::vector<crowd::Walker> walkers;
  for (int tries = 0; static_cast<int>(walkers.size()) < count && tries < 400000; ++tries) {
    const Vec3 at{random.in(0.2, outer - 0.2), 0, random.in(0.2, outer - 0.2)};
    if (!locator.under(at, 0.1).valid()) continue;
    if (std::ranges::any_of(walkers, [&](const crowd::Walker& w) { return glm::distance(w.start, at) < 2 * radius + 0.01; })) continue;
    const Vec2 off{at.x - outer / 2, at.z - outer / 2};
    const std::size_t side = std::abs(off.y) > std::abs(off.x) ? (off.y < 0 ? 1u : 3u) : (off.x > 0 ? 2u : 0u);  // the corner it goes to
    crowd::Walker w = walker(static_cast<int>(walkers.size()) + 1, at, corners[side]);
    w.radius = radius, w.speed = 1.34, w.arriveWithin = width / 2;
    for (std::size_t k = 1; k < 4; ++k) w.round.push_back(corners[(side + k) % 4]);
    walkers.push_back(w);
  }
  crowd::SceneOptions options;
  options.steerings[0] = steering;
  const route::Field field(b->mesh, {});
  auto crowd = crowd::Crowd::make(field, walkers, options);
  if (!crowd) return;
  ThreadedJob job;
  double way = 0, steps = 0;
  while (crowd->now() < 40) {
    crowd->step(job);
    if (crowd->now() < 10) continue;
    for (const crowd::BodyState& s : crowd->bodies()) way += glm::length(plan(s.velocity)), steps += 1;
  }
  const double people = 1.34 * (1 - std::exp(-1.913 * (1 / density - 1 / 5.4)));
  std::printf("loop corridor, %.1f a m2 (%zu bodies)         %5.2f m/s; people %5.2f m/s\n", static_cast<double>(walkers.size()) / area,
              walkers.size(), way / steps, people);
  std::fflush(stdout);
}

void scenes() {
  std::printf("-- steering: %s\n", crowd::steeringName(steering.model));
  ring(16, 8), ring(64, 13), ring(250, 40);
  meeting("20 against 20, 6 m wide", 20, 6, 36, 120);
  meeting("20 against 20, 2 m wide", 20, 2, 36, 120);
  door("40 through 1.6 m", 40, 0, 1.6, 120), door("40 through 1.0 m", 40, 0, 1.0, 120),
      door("12 against 12 through 1.6 m", 12, 12, 1.6, 120);
  open(150);
  pillars();
  target();
  for (const double density : {0.5, 1.0, 1.5, 2.0, 2.5, 3.0}) loop(density);
}

}  // namespace

int main(int argc, char** argv) {
  const std::string first = argc > 1 ? argv[1] : "";
  if (first == "--steering" && argc > 2) {
    for (std::size_t i = 0; i + 1 < crowd::kSteerings; ++i) {
      steering.model = static_cast<crowd::Steering>(i);
      if (std::string(argv[2]) == "all" || std::string(argv[2]) == crowd::steeringName(steering.model)) scenes();
    }
    return 0;
  }
  for (int i = 1; i < argc; ++i) alone(argv[i]);
  if (argc > 1) return 0;
  scenes();
  many(100, 1), many(1000, 1), many(10000, 1), many(10000, 2);
  return 0;
}
