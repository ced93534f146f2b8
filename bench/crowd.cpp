// What crowds must do: agents alone on meshes named on the command line, and scenes of many, steered in one way or in each.
// Usage: bench_crowd [MESH ...] | bench_crowd --steering NAME|all [SCENE, or a part of its name]

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <filesystem>

#include "core/generate/build.h"
#include "core/meshes/mesh_files.h"
#include "core/system/threads.h"
#include "core/trace/trace.h"
#include "tests/core/flows.h"

using namespace dune;

namespace {

crowd::SteeringSettings steering;
std::string only;  // of scenes whose name has this in it

bool leftOut(const std::string& scene) { return scene.find(only) == std::string::npos; }

void show(const test::Flow& flow) {
  if (leftOut(flow.name)) return;
  const test::Played o = test::play(flow, steering);
  std::printf(
      "%-44s %4zu of %4zu  last %6.1f s  %4.1f a second  mean %5.2f x straight  overlap %5.1f %%  stood %3.0f %%  sharp turns %5.2f  %6.1f "
      "us "
      "a step\n",
      flow.name.c_str(), o.arrived, o.all, o.last, o.aSecond, o.meanRatio, o.deepest * 100, o.standing * 100, o.turns, o.microseconds);
  std::fflush(stdout);
}

/// Whoever has a path arrives, and nearly as fast as the path is long.
void alone(const std::string& path) {
  const auto content = meshes::readMesh(path);
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

void many(int count, int threads) {
  const double side = std::sqrt(count) * 2.5 + 10;
  test::Flow flow{"",
                  test::built(test::Scene().floor(0, 0, side, side).world()),
                  {},
                  10.0};  // the same for each count: later on ever more have arrived
  test::Random random(9);
  const int row = static_cast<int>(std::ceil(std::sqrt(count)));
  for (int i = 0; i < count; ++i)
    flow.walkers.push_back(
        test::walker(i + 1, {5 + (i % row) * 2.5, 0, 5 + (i / row) * 2.5}, {random.in(2, side - 2), 0, random.in(2, side - 2)}));
  const test::Played o = test::play(flow, steering, threads);
  std::printf("%d agents, %d thread%s: %.2f us an agent step\n", count, threads, threads == 1 ? "" : "s", o.microseconds);
}

/// Speed against density in a loop corridor, beside what is measured of people (Weidmann, Transporttechnik der Fussgänger, 1993).
void loop(double density) {
  if (leftOut("loop corridor")) return;
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
    crowd::Walker w = test::walker(static_cast<int>(walkers.size()) + 1, at, corners[side]);
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
  for (const auto& [count, radius] : {std::pair{16, 8.0}, {64, 13.0}, {250, 40.0}}) show(test::ringSwap(count, radius));
  for (const double width : {6.0, 2.0})
    for (const bool firstEndsLast : {true, false}) show(test::meeting(20, width, firstEndsLast));
  show(test::door(40, 0, 1.6)), show(test::door(40, 0, 1.0)), show(test::door(12, 12, 1.6));
  show(test::openField(150)), show(test::pillars(200)), show(test::roundTarget(30));
  for (std::uint64_t seed = 0; seed < 8; ++seed) show(test::twoRooms(seed));
  for (const double density : {0.5, 1.0, 1.5, 2.0, 2.5, 3.0}) loop(density);
}

}  // namespace

int main(int argc, char** argv) {
  const std::string first = argc > 1 ? argv[1] : "";
  if (first == "--steering" && argc > 2) {
    if (argc > 3) only = argv[3];
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
