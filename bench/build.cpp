// Build time of Saltwind Depot and of several copies of it side by side: growth and threads, as ratios within one run.

#include <benchmark/benchmark.h>

#include <filesystem>

#include "core/base/file.h"
#include "core/level/import.h"
#include "core/mesh/build.h"
#include "core/pipeline/ground.h"
#include "demo/depot.h"

using namespace dune;

namespace {

std::shared_ptr<const level::Level> depot() {
  static const auto kLevel = [] {
    const std::string path = (std::filesystem::temp_directory_path() / "dune-step-bench.glb").string();
    Job job;
    if (!writeFile(path, demo::depotLevel().bytes())) std::abort();
    auto level = level::importLevel(path, {}, job);
    std::filesystem::remove(path);
    return *level;
  }();
  return kLevel;
}

level::World copies(int n) {
  auto level = std::make_shared<level::Level>();
  for (int i = 0; i < n; ++i)
    for (level::Object o : depot()->objects) {
      o.name += " " + std::to_string(i);
      for (Vec3& v : o.vertices) v += Vec3{70.0 * (i % 8), 0, 60.0 * (i / 8)};
      level->objects.push_back(std::move(o));
    }
  return level::plainWorld(std::move(level));
}

void build(benchmark::State& state) {
  const level::World world = copies(static_cast<int>(state.range(0)));
  const level::Agent agent = demo::depotProject().agents->agents[0];
  double area = 0;
  for (auto _ : state) {
    Job job;
    job.setThreads(static_cast<int>(state.range(1)));
    const auto built = mesh::build(world, agent, job);
    area = mesh::totalArea((*built)->mesh);
  }
  state.counters["m2"] = area;
  state.counters["us_per_m2"] =
      benchmark::Counter(area * 1e-6, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}

}  // namespace

BENCHMARK(build)
    ->ArgNames({"copies", "threads"})
    ->Args({1, 2})
    ->Args({4, 2})
    ->Args({16, 2})
    ->Args({4, 1})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_MAIN();
