// What flying takes: the free space of Saltwind Depot and of levels given as arguments, ways through it, gaps a little wider and a little
// narrower than the body, ways against the best of many others, rings that swap places, and what a moved crate renews.
// bench_flight [LEVEL.obj …]

#include <sys/resource.h>

#include <chrono>
#include <cstdio>

#include "core/base/file.h"
#include "core/flight/fleet.h"
#include "core/level/import.h"
#include "demo/depot.h"
#include "tests/core/air.h"

using namespace dune;
using test::boxOf;
using test::chanceFit;
using test::Random;
using test::Scene;

namespace {

double now() { return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count(); }

double megabytes() {
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  return static_cast<double>(used.ru_maxrss) / 1024;
}

std::shared_ptr<const flight::Space> built(const level::World& world, const flight::Flyer& kind, const Box3& volume, int threads,
                                           const flight::Space* before = nullptr) {
  ThreadedJob job({}, {}, threads);
  auto input = pipeline::flightInput(world, kind, {volume}, job);
  auto made = flight::Space::make(*std::move(input), job, before);
  return made ? *made : nullptr;
}

void ofLevel(const char* name, const level::World& world, const flight::Flyer& kind) {
  const Box3 volume = pipeline::usualVolume(world);
  const auto one = built(world, kind, volume, 1), two = built(world, kind, volume, 2);
  if (!one || !two) return;
  std::printf("%-16s %8zu triangles %8zu cells %6.2f s on one thread, %6.2f s on two, %5.0f MB so far\n", name,
              world.level->triangleCount(), two->size(), one->seconds(), two->seconds(), megabytes());
  Random random(5);
  flight::Searcher search(*two);
  double taken = 0, looked = 0;
  int found = 0;
  for (int n = 0; n < 1000; ++n) {
    const Vec3 a = chanceFit(*two, random, volume), b = chanceFit(*two, random, volume);
    const double begin = now();
    const flight::Way way = search.find({a, b});
    taken += now() - begin;
    looked += static_cast<double>(way.looked), found += way.found();
  }
  std::printf("%-16s 1000 ways, %d found: %.3f ms each, %.0f cells looked at\n", name, found, taken, looked / 1000);
}

void gaps() {
  for (const double share : {1.10, 1.05, 1.02, 0.98, 0.95}) {
    int found = 0;
    constexpr int kTries = 60;
    Random random(11);
    for (int n = 0; n < kTries; ++n) found += test::throughGap(random, n, share).way.found();
    std::printf("gaps %.2f of the body: %d of %d found\n", share, found, kTries);
  }
}

void lengths() {
  double sum = 0, worst = 1;
  int ways = 0;
  for (std::uint64_t n = 0; n < 8; ++n) {
    Random random(100 + n);
    Scene scene;
    test::scatter(scene, random, 20, {20, 9, 20});
    const Box3 volume = boxOf({0, 0, 0}, {20, 9, 20});
    const auto space = test::spaceOf(scene, test::flyer(random.in(0.35, 0.8), random.in(0.3, 0.7)), volume);
    flight::Searcher search(*space);
    for (int k = 0; k < 12; ++k) {
      const Vec3 a = chanceFit(*space, random, volume), b = chanceFit(*space, random, volume);
      const flight::Way way = search.find({a, b});
      if (!way.found()) continue;
      const double best = std::min(way.length, test::shortestOver(search, *space, a, b, volume, 40, random));
      sum += way.length / best, worst = std::max(worst, way.length / best), ++ways;
    }
  }
  std::printf("ways against the best of 40 over other places: mean %.5f, worst %.4f of %d\n", sum / ways, worst, ways);
}

void rings() {
  for (const int count : {2, 16, 60, 200}) {
    const double radius = std::max(9.0, count * 0.35);
    const auto space = test::spaceOf(Scene(), test::flyer(0.5, 0.4), boxOf({-90, 0, -90}, {90, 30, 90}));
    std::vector<flight::Pilot> pilots;
    for (int i = 0; i < count; ++i) {
      const double a = 2 * kPi * i / count;
      const Vec3 out(std::cos(a) * radius, 0, std::sin(a) * radius);
      flight::Pilot p;
      p.id = i + 1, p.start = Vec3(0, 12, 0) + out, p.goal = Vec3(0, 12, 0) - out;
      pilots.push_back(p);
    }
    Job job;
    auto fleet = flight::Fleet::make({space.get()}, pilots, {}, job);
    std::size_t arrived = 0;
    const double begin = now();
    while (arrived < pilots.size() && fleet->time() < 120) {
      fleet.value().step(job);
      arrived = static_cast<std::size_t>(std::ranges::count(fleet->bodies(), flight::FlightState::arrived, &flight::Airborne::state));
    }
    const double steps = fleet->time() * 30 * count;
    std::printf("ring of %3d, radius %2.0f m: %zu arrived in %.1f s (straight %.1f), %.1f us a body step\n", count, radius, arrived,
                fleet->time(), 2 * radius / space->flyer().speed, (now() - begin) / steps * 1e6);
  }
}

void movedCrate() {
  Random random(3);
  Scene scene;
  test::scatter(scene, random, 60, {64, 16, 64});
  const Box3 volume = boxOf({0, 0, 0}, {64, 16, 64});
  const auto before = built(scene.world(), test::flyer(0.5, 0.5), volume, 2);
  scene.box({20, 0, 20}, {21, 1, 21}, "crate");
  const auto after = built(scene.world(), test::flyer(0.5, 0.5), volume, 2, before.get());
  std::printf("a crate of 1 m renews %.1f %% of %.0f m3, %.2f of %.2f s\n",
              100.0 * static_cast<double>(after->renewed()) / static_cast<double>(after->blockCount()), 64.0 * 16 * 64, after->seconds(),
              before->seconds());
}

}  // namespace

int main(int argc, char** argv) {
  std::setbuf(stdout, nullptr);
  const project::Project depot = demo::depotProject();
  {
    const std::string file = std::string(std::getenv("TMPDIR") ? std::getenv("TMPDIR") : "/tmp") + "/bench-flight.glb";
    if (!writeFile(file, demo::depotLevel().bytes())) return 1;
    Job job;
    const auto level = level::importLevel(file, {}, job);
    std::remove(file.c_str());
    if (level) ofLevel("Saltwind Depot", level::plainWorld(*level), depot.flight->flyers[0]);
  }
  for (int i = 1; i < argc; ++i) {
    Job job;
    const auto level = level::importLevel(argv[i], level::importFor(argv[i]), job);
    if (level) ofLevel(argv[i], level::plainWorld(*level), test::flyer(0.5, 0.5));
  }
  gaps(), lengths(), rings(), movedCrate();
  return 0;
}
