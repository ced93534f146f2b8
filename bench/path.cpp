// Path queries on the depot without areas, in plan and in space, searched for and over prepared ground, against A* of Boost.Graph over the
// same faces (centre to centre), in one run; and with its areas, by how far apart ways may bend where costs meet.

#include "core/route/path.h"

#include <benchmark/benchmark.h>

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/astar_search.hpp>
#include <chrono>
#include <filesystem>

#include "core/base/file.h"
#include "core/generate/build.h"
#include "core/level/import.h"
#include "core/pipeline/ground.h"
#include "core/route/search_ground.h"
#include "core/system/threads.h"
#include "demo/depot.h"

using namespace dune;

namespace {

struct Setup {
  std::shared_ptr<const generate::Built> built, ofKinds;  ///< with one cost; with the depot's areas
  std::unique_ptr<route::Field> field;
  std::vector<std::pair<nav::Place, nav::Place>> pairs;

  Setup() {
    const std::string path = (std::filesystem::temp_directory_path() / "dune-step-bench-path.glb").string();
    ThreadedJob job;
    if (!writeFile(path, demo::depotLevel().bytes())) std::abort();
    const auto level = level::importLevel(path, {}, job);
    std::filesystem::remove(path);
    const project::Project project = demo::depotProject();
    const nav::Agent& porter = project.agents->agents[0];
    built = *generate::build(level::plainWorld(*level), porter, job);
    ofKinds = *generate::build(pipeline::makeWorld(project, *level, 0), porter, job);
    field = std::make_unique<route::Field>(built->mesh, nav::Rules{});
    std::uint64_t state = 12345;
    auto in = [&](double high) {
      state = state * 6364136223846793005ull + 1442695040888963407ull;
      return high * static_cast<double>(state >> 11) / 9007199254740992.0;
    };
    while (pairs.size() < 200) {
      const nav::Place a = field->locator().nearest({in(60), 0, in(44)}, 1), b = field->locator().nearest({in(60), 0, in(44)}, 1);
      if (a.valid() && b.valid() && built->mesh.island[index(a.face)] == 0 && built->mesh.island[index(b.face)] == 0)
        pairs.emplace_back(a, b);
    }
  }
};
const Setup& setup() {
  static const Setup kSetup;
  return kSetup;
}

void ours(benchmark::State& state) {
  route::Search search(*setup().field);
  std::size_t i = 0;
  double length = 0;
  for (auto _ : state) {
    const auto& [a, b] = setup().pairs[i++ % setup().pairs.size()];
    const auto way = search.find(a, b);
    for (std::size_t k = 0; k + 1 < way.size(); ++k) length += glm::distance(way[k].at, way[k + 1].at);
  }
  state.counters["mean_length"] = length / static_cast<double>(state.iterations());
}
BENCHMARK(ours)->Unit(benchmark::kMicrosecond);

/// The same made the shortest in space: what the depot's ramps and stairs save, and what that takes.
void inSpace(benchmark::State& state) {
  route::Search search(*setup().field);
  std::size_t i = 0;
  double length = 0, least = 0;
  const auto lengthOf = [](const std::vector<route::WayPoint>& way) {
    double sum = 0;
    for (std::size_t k = 0; k + 1 < way.size(); ++k) sum += glm::distance(way[k].at, way[k + 1].at);
    return sum;
  };
  for (auto _ : state) {
    const auto& [a, b] = setup().pairs[i++ % setup().pairs.size()];
    length += lengthOf(search.findInSpace(a, b)), least += search.lowerBound();
  }
  state.counters["mean_length"] = length / static_cast<double>(state.iterations());
  state.counters["at_most_times_best"] = length / least;
}
BENCHMARK(inSpace)->Unit(benchmark::kMicrosecond);

/// The same two over prepared ground, and what preparing takes. Not `whole`: which bends the way goes over alone, where it does.
void prepared(benchmark::State& state) {
  const auto measure = static_cast<route::Measure>(state.range(0));
  const bool whole = state.range(1) != 0;
  const route::Field field(setup().built->mesh, nav::Rules{});
  (void)field.facets();
  ThreadedJob job;
  const auto begin = std::chrono::steady_clock::now();
  if (!field.prepare(measure, job)) std::abort();
  const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begin;
  if (!field.prepare(route::Measure::plan, job)) std::abort();  // which the one in space profits from
  route::Search search(field, route::Answers::prepared);
  std::size_t i = 0;
  double length = 0;
  route::Prepared::Scratch scratch;
  if (!whole) {
    for (auto _ : state) {
      const auto& [a, b] = setup().pairs[i++ % setup().pairs.size()];
      const route::SimpleGround& simple = field.ground().simple();
      const route::Prepared& known = *field.prepared(measure);
      const bool plan = measure == route::Measure::plan;
      const nav::Place from = plan ? simple.at(field.mesh(), a) : a, to = plan ? simple.at(field.mesh(), b) : b;
      benchmark::DoNotOptimize(known.overBends(known.endAt(from), known.endAt(to), scratch));
    }
    return;
  }
  for (auto _ : state) {
    const auto& [a, b] = setup().pairs[i++ % setup().pairs.size()];
    const auto way = measure == route::Measure::plan ? search.find(a, b) : search.findInSpace(a, b);
    for (std::size_t k = 0; k + 1 < way.size(); ++k) length += glm::distance(way[k].at, way[k + 1].at);
  }
  state.counters["mean_length"] = length / static_cast<double>(state.iterations());
  state.counters["prepare_ms"] = took.count(), state.counters["MB"] = static_cast<double>(field.prepared(measure)->memory()) / (1 << 20);
}
BENCHMARK(prepared)
    ->ArgNames({"plan0_space1", "whole"})
    ->Args({0, 0})
    ->Args({0, 1})
    ->Args({1, 0})
    ->Args({1, 1})
    ->Unit(benchmark::kMicrosecond);

void overAreas(benchmark::State& state) {
  const route::Field field(setup().ofKinds->mesh, setup().ofKinds->rules(), static_cast<double>(state.range(0)) / 1000);
  route::Search search(field);
  std::size_t i = 0, asked = 0;
  double bound = 0, most = 1;
  for (auto _ : state) {
    const auto& [a, b] = setup().pairs[i++ % setup().pairs.size()];
    const route::PathAnswer way = route::findPath(field, search, a.position, b.position, {2, true, false});
    if (way.status != route::PathStatus::complete) continue;
    bound += way.optimalityBound, most = std::max(most, way.optimalityBound), ++asked;
  }
  state.counters["mean_bound"] = bound / static_cast<double>(std::max<std::size_t>(1, asked));
  state.counters["most"] = most;
}
BENCHMARK(overAreas)->ArgName("bend_mm")->Arg(250)->Arg(100)->Arg(50)->Arg(25)->Iterations(400)->Unit(benchmark::kMicrosecond);

using Graph =
    boost::adjacency_list<boost::vecS, boost::vecS, boost::undirectedS, boost::no_property, boost::property<boost::edge_weight_t, double>>;
struct Found {};

void faceCentres(benchmark::State& state) {
  const nav::NavMesh& m = setup().built->mesh;
  std::vector<Vec3> centre(m.faceCount());
  Graph graph(m.faceCount());
  for (std::uint32_t f = 0; f < m.faceCount(); ++f) {
    centre[f] = nav::middleOf(m, nav::FaceId{f});
  }
  for (std::uint32_t f = 0; f < m.faceCount(); ++f)
    for (const nav::FaceId g : m.acrossOf(nav::FaceId{f}))
      if (g != nav::kNoFace && index(g) > f) boost::add_edge(f, index(g), glm::distance(centre[f], centre[index(g)]), graph);
  std::size_t i = 0;
  double length = 0;
  for (auto _ : state) {
    const auto& [a, b] = setup().pairs[i++ % setup().pairs.size()];
    const std::size_t goal = index(b.face);
    std::vector<std::size_t> before(m.faceCount());
    std::vector<double> distance(m.faceCount());
    struct Heuristic : boost::astar_heuristic<Graph, double> {
      const std::vector<Vec3>& c;
      std::size_t goal;
      Heuristic(const std::vector<Vec3>& centres, std::size_t to) : c(centres), goal(to) {}
      double operator()(std::size_t v) { return glm::distance(c[v], c[goal]); }
    };
    struct Visitor : boost::default_astar_visitor {
      std::size_t goal;
      explicit Visitor(std::size_t to) : goal(to) {}
      void examine_vertex(std::size_t v, const Graph&) {
        if (v == goal) throw Found{};
      }
    };
    try {
      boost::astar_search(graph, index(a.face), Heuristic(centre, goal),
                          boost::predecessor_map(before.data()).distance_map(distance.data()).visitor(Visitor(goal)));
    } catch (const Found&) {
    }
    std::size_t v = goal;
    Vec3 at = b.position;
    for (; before[v] != v; v = before[v]) length += glm::distance(at, centre[v]), at = centre[v];
    length += glm::distance(at, a.position);
  }
  state.counters["mean_length"] = length / static_cast<double>(state.iterations());
}
BENCHMARK(faceCentres)->Unit(benchmark::kMicrosecond);

}  // namespace

BENCHMARK_MAIN();
