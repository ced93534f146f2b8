// The generator against the targets: every figure is a ratio of times measured in turn within one run, the best of each, because
// single times on a shared machine say little.

#include <benchmark/benchmark.h>
#include <sys/resource.h>

#include <chrono>
#include <cstdio>
#include <filesystem>
#include <thread>

#include "bench/floor.h"
#include "bench/levels.h"
#include "core/generate/build.h"
#include "core/system/threads.h"
#include "tests/core/detail.h"

using namespace dune;

namespace {

double secondsOf(const std::function<void()>& work) {
  const auto begin = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

/// The best time of each of several pieces of work, run in turn.
std::vector<double> best(const std::vector<std::function<void()>>& works, int rounds) {
  std::vector<double> least(works.size(), 1e9);
  for (int i = 0; i < rounds; ++i)
    for (std::size_t k = 0; k < works.size(); ++k) least[k] = std::min(least[k], secondsOf(works[k]));
  return least;
}

std::shared_ptr<const generate::Built> build(const level::World& world, int threads,
                                             const std::shared_ptr<const generate::Built>& before = nullptr,
                                             const nav::Agent& agent = bench::agent()) {
  ThreadedJob job;
  job.setThreads(threads);
  auto built = generate::build(world, agent, job, before);
  if (!built) std::fprintf(stderr, "%s\n", built.problem().text().c_str()), std::abort();
  return *built;
}

double peakMiB() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return static_cast<double>(usage.ru_maxrss) / 1024;
}

/// Full build against the floor program, both on one thread and the build also on two.
void againstFloor(benchmark::State& state, const level::World& world, int rounds) {
  for (auto _ : state) {
    std::size_t samples = 0;
    const auto t =
        best({[&] { samples = bench::floorProgram(*world.level, 0.2); }, [&] { build(world, 1); }, [&] { build(world, 2); }}, rounds);
    state.counters["floor_ms"] = t[0] * 1e3;
    state.counters["build1_ms"] = t[1] * 1e3;
    state.counters["times_floor_1_thread"] = t[1] / t[0];
    state.counters["times_floor_2_threads"] = t[2] / t[0];
    state.counters["threads_speedup"] = t[1] / t[2];
    state.counters["samples"] = static_cast<double>(samples);
  }
}
void depotAgainstFloor(benchmark::State& state) { againstFloor(state, bench::depotCopies(4), 5); }
void terrainAgainstFloor(benchmark::State& state) { againstFloor(state, level::plainWorld(bench::terrain(300, 0.5)), 3); }

/// Time for each square metre against that of one copy.
void growth(benchmark::State& state) {
  const level::World one = bench::depotCopies(1), many = bench::depotCopies(static_cast<int>(state.range(0)));
  for (auto _ : state) {
    double areaOne = 0, areaMany = 0;
    const auto t = best({[&] { areaOne = nav::totalArea(build(one, 2)->mesh); }, [&] { areaMany = nav::totalArea(build(many, 2)->mesh); }},
                        8);  // one copy is short: in two rounds a busy moment is all there is to see
    state.counters["us_per_m2"] = t[1] * 1e6 / areaMany;
    state.counters["against_one"] = (t[1] / areaMany) / (t[0] / areaOne);
  }
}

/// A build that finds drops and jumps against the same one that does not.
void withLinks(benchmark::State& state) {
  level::World plain = bench::depotCopies(static_cast<int>(state.range(0))), linked = plain;
  linked.findLinks = true;
  nav::Agent agent = bench::agent();
  agent.maxDrop = 3, agent.maxJump = 2;
  for (auto _ : state) {
    std::size_t links = 0;
    const auto t =
        best({[&] { build(plain, 2, nullptr, agent); }, [&] { links = build(linked, 2, nullptr, agent)->mesh.links.size(); }}, 5);
    state.counters["against_without"] = t[1] / t[0];
    state.counters["links"] = static_cast<double>(links);
  }
}

/// One crate moved in a level of 63 chunks, against the full build of it.
void movedCrate(benchmark::State& state) {
  const level::World before = bench::depotCopies(4);
  const level::World after = bench::withMoved(before, "crate_1 0", {0.3, 0, 0.2});
  for (auto _ : state) {
    const auto built = build(before, 2);
    std::size_t made = 0;
    const auto t = best({[&] { build(after, 2); }, [&] { made = build(after, 2, built)->chunksMade; }, [&] { build(after, 1); },
                         [&] { build(after, 1, built); }},
                        7);
    state.counters["part_of_full_1_thread"] = t[3] / t[2];
    state.counters["part_of_full_2_threads"] = t[1] / t[0];
    state.counters["partial_ms"] = t[1] * 1e3;
    state.counters["chunks"] = static_cast<double>(built->chunks.size());
    state.counters["chunks_made"] = static_cast<double>(made);
  }
}

/// Terrain with a million triangles and with five.
void largeTerrain(benchmark::State& state) {
  const level::World world = level::plainWorld(bench::terrain(static_cast<int>(state.range(0)), 0.5));
  for (auto _ : state) {
    double area = 0;
    std::size_t faces = 0;
    const auto t = best({[&] {
                          const auto built = build(world, 2);
                          area = nav::totalArea(built->mesh), faces = built->mesh.faceCount();
                        }},
                        1);
    state.counters["triangles"] = static_cast<double>(world.level->triangleCount());
    state.counters["seconds"] = t[0];
    state.counters["us_per_triangle"] = t[0] * 1e6 / static_cast<double>(world.level->triangleCount());
    state.counters["faces"] = static_cast<double>(faces);
    state.counters["peak_MiB"] = peakMiB();
  }
}

/// Fine detail in one room, and other shapes that lie thickly: twice the triangles take twice the time.
void detail(benchmark::State& state, const level::World& world) {
  for (auto _ : state) {
    const auto t = best({[&] { build(world, 1); }, [&] { build(world, 2); }}, 1);
    const double triangles = static_cast<double>(world.level->triangleCount());
    state.counters["triangles"] = triangles;
    state.counters["seconds_1_thread"] = t[0];
    state.counters["seconds_2_threads"] = t[1];
    state.counters["us_per_triangle"] = t[0] * 1e6 / triangles;
  }
}
void roundThings(benchmark::State& state) { detail(state, test::roundThings(static_cast<std::size_t>(state.range(0)))); }
void tower(benchmark::State& state) { detail(state, test::tower(static_cast<int>(state.range(0)))); }
void oneBall(benchmark::State& state) {
  auto level = std::make_shared<level::Level>(*test::Scene().floor(0, 0, 20, 20).world().level);
  const auto n = static_cast<std::uint32_t>(std::sqrt(static_cast<double>(state.range(0)) / 2));
  level->objects.push_back(test::ball("ball", {10, 1, 10}, 1.2, n, n));
  detail(state, level::plainWorld(level));
}

/// The longest time from a cancel at any moment of a large build until the build has ended.
void cancel(benchmark::State& state) {
  const level::World world = level::plainWorld(bench::terrain(707, 0.5));
  for (auto _ : state) {
    double longest = 0;
    const double whole = secondsOf([&] { build(world, 2); });
    for (int i = 0; i < 12; ++i) {
      std::stop_source stop;
      ThreadedJob job(stop.get_token(), {}, 2);
      std::chrono::steady_clock::time_point asked;
      std::jthread later([&] {
        std::this_thread::sleep_for(std::chrono::duration<double>(whole * i / 12));
        asked = std::chrono::steady_clock::now();
        stop.request_stop();
      });
      const bool finished = generate::build(world, bench::agent(), job).ok();
      const auto end = std::chrono::steady_clock::now();
      later.join();
      if (!finished) longest = std::max(longest, std::chrono::duration<double>(end - asked).count());
    }
    state.counters["longest_ms"] = longest * 1e3;
  }
}

}  // namespace

BENCHMARK(depotAgainstFloor)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(terrainAgainstFloor)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(growth)->ArgName("copies")->Arg(4)->Arg(16)->Arg(64)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(withLinks)->ArgName("copies")->Arg(1)->Arg(16)->Arg(64)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(cancel)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(movedCrate)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(largeTerrain)->ArgName("side")->Arg(707)->Arg(1581)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(roundThings)->ArgName("triangles")->RangeMultiplier(4)->Range(5'000, 1'280'000)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(oneBall)->ArgName("triangles")->Arg(160'000)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(tower)->ArgName("storeys")->Arg(20)->Arg(80)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK_MAIN();
