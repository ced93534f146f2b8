// How good the ground is, not how fast it is made: on random flat rooms against exact answers, on hills against the level itself. Each
// benchmark builds a fixed set of levels once and prints what it measured.

#include <benchmark/benchmark.h>

#include <algorithm>
#include <map>
#include <polyclipping/clipper.hpp>

#include "bench/levels.h"
#include "bench/surface.h"
#include "core/generate/build.h"
#include "core/system/threads.h"

using namespace dune;

namespace {

constexpr double kRoom = 20, kScale = 1e6;  // metres; of Clipper's integers

class Random {
 public:
  explicit Random(std::uint64_t seed) : state_(seed * 0x9E3779B97F4A7C15ull + 1) {}
  double in(double low, double high) {
    state_ ^= state_ << 13, state_ ^= state_ >> 7, state_ ^= state_ << 17;
    return low + (high - low) * static_cast<double>(state_ >> 11) / 9007199254740992.0;
  }

 private:
  std::uint64_t state_;
};

using Corners = std::array<Vec2, 4>;

struct Room {
  level::World world;
  std::vector<Corners> pillars;
};

void addPrism(level::Level& level, const Corners& c, double low, double high) {
  level::Object o;
  o.name = "pillar " + std::to_string(level.objects.size());
  for (const Vec2& p : c) o.vertices.edit().push_back(lift(p, low)), o.vertices.edit().push_back(lift(p, high));
  for (std::uint32_t i = 0; i < 4; ++i) {
    const std::uint32_t a = 2 * i, b = 2 * ((i + 1) % 4);
    o.triangles.edit().push_back({a, b, b + 1}), o.triangles.edit().push_back({a, b + 1, a + 1});
  }
  o.triangles.edit().push_back({0, 2, 4}), o.triangles.edit().push_back({0, 4, 6}), o.triangles.edit().push_back({1, 3, 5}),
      o.triangles.edit().push_back({1, 5, 7});
  level.objects.push_back(std::move(o));
}

/// A floor with pillars at any turn; the pillars are marked as obstacles, so that their tops are no ground.
Room room(std::uint64_t seed) {
  Random random(seed);
  auto level = std::make_shared<level::Level>();
  level->objects.push_back({"floor", {{0, 0, 0}, {0, 0, kRoom}, {kRoom, 0, kRoom}, {kRoom, 0, 0}}, {{0, 1, 2}, {0, 2, 3}}});
  Room result;
  for (int i = 0; i < 8; ++i) {
    const Vec2 centre{random.in(3, 17), -random.in(3, 17)};
    const double w = random.in(0.2, 1.5), d = random.in(0.2, 1.5), angle = random.in(0, 3);
    const Vec2 x = Vec2{std::cos(angle), std::sin(angle)} * w, y = leftOf(x) / w * d;
    result.pillars.push_back({centre - x - y, centre + x - y, centre + x + y, centre - x + y});
    addPrism(*level, result.pillars.back(), -1, 3);
  }
  result.world = level::plainWorld(level);
  for (std::size_t o = 1; o < result.world.roles.size(); ++o) result.world.roles[o] = level::Role::obstacle;
  return result;
}

double exactArea(const Room& room, double r) {
  using namespace ClipperLib;
  auto path = [](const Corners& corners) {
    Path p;
    for (const Vec2& c : corners) p.emplace_back(std::llround(c.x * kScale), std::llround(c.y * kScale));
    if (!Orientation(p)) ReversePath(p);
    return p;
  };
  Clipper unite;
  for (const Corners& c : room.pillars) unite.AddPath(path(c), ptSubject, true);
  Paths united, grown, free;
  unite.Execute(ctUnion, united, pftNonZero, pftNonZero);
  ClipperOffset offset(2, 1e-4 * kScale);
  offset.AddPaths(united, jtRound, etClosedPolygon);
  offset.Execute(grown, r * kScale);
  Clipper cut;
  cut.AddPath(path({{{r, -r}, {kRoom - r, -r}, {kRoom - r, r - kRoom}, {r, r - kRoom}}}), ptSubject, true);
  cut.AddPaths(grown, ptClip, true);
  cut.Execute(ctDifference, free, pftNonZero, pftNonZero);
  double area = 0;
  for (const Path& p : free) area += Area(p);
  return area / kScale / kScale;
}

std::shared_ptr<const generate::Built> build(const level::World& world) {
  ThreadedJob job;
  return *generate::build(world, bench::agent(), job);
}

template <class Visit>
void eachBorder(const nav::NavMesh& m, Visit&& visit) {
  for (std::uint32_t f = 0; f < m.faceCount(); ++f)
    for (std::size_t i = 0, n = m.cornerCount(nav::FaceId{f}); i < n; ++i)
      if (m.acrossOf(nav::FaceId{f})[i] == nav::kNoFace) visit(m.cornerAt(nav::FaceId{f}, i), m.cornerAt(nav::FaceId{f}, (i + 1) % n));
}

double percentile(std::vector<double>& values, double part) {
  std::sort(values.begin(), values.end());
  return values.empty() ? 0 : values[static_cast<std::size_t>(part * static_cast<double>(values.size() - 1))];
}

/// Distance of the border to the true limits against the radius, and the area against the exact one.
void outline(benchmark::State& state) {
  for (auto _ : state) {
    std::vector<double> off;
    double least = 10, covered = 0, exact = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
      const Room r = room(seed);
      const auto b = build(r.world);
      covered += nav::totalArea(b->mesh), exact += exactArea(r, b->agent.radius);
      eachBorder(b->mesh, [&](const Vec3& p, const Vec3& q) {
        const int steps = std::max(1, static_cast<int>(glm::distance(p, q) / 0.05));
        for (int i = 0; i < steps; ++i) {
          const auto near = b->clearance.nearest(plan(glm::mix(p, q, static_cast<double>(i) / steps)), 0, 2);
          if (!near) continue;
          off.push_back(std::abs(near->distance - b->agent.radius));
          least = std::min(least, near->distance - b->agent.radius);
        }
      });
    }
    double sum = 0;
    for (const double d : off) sum += d;
    state.counters["mean_mm"] = sum / static_cast<double>(off.size()) * 1e3;
    state.counters["p99_mm"] = percentile(off, 0.99) * 1e3;
    state.counters["nearest_mm"] = least * 1e3;
    state.counters["covered_percent"] = 100 * covered / exact;
  }
}

double leastAngle(const nav::NavMesh& m, nav::FaceId f) {
  double least = kPi;
  for (std::size_t i = 0, n = m.cornerCount(f); i < n; ++i) {
    const Vec2 at = plan(m.cornerAt(f, i)), a = plan(m.cornerAt(f, (i + n - 1) % n)) - at, b = plan(m.cornerAt(f, (i + 1) % n)) - at;
    least = std::min(least, std::abs(std::atan2(cross(b, a), glm::dot(a, b))));
  }
  return least;
}

/// Faces against what no division into convex faces can be below: half of the reflex corners, plus one, less the holes.
void faces(benchmark::State& state) {
  for (auto _ : state) {
    double faces = 0, bound = 0, needles = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
      const auto b = build(room(seed).world);
      std::map<std::pair<double, double>, Vec2> next;  // along the border, ground on the left
      eachBorder(b->mesh, [&](const Vec3& p, const Vec3& q) { next[{plan(p).x, plan(p).y}] = plan(q); });
      double reflex = 0, turn = 0;
      for (const auto& [at, to] : next) {
        const auto onwards = next.find({to.x, to.y});
        if (onwards == next.end()) continue;
        const Vec2 in = to - Vec2{at.first, at.second}, out = onwards->second - to;
        const double angle = std::atan2(cross(in, out), glm::dot(in, out));
        reflex += angle < -1e-9, turn += angle;
      }
      // The turns add up to a full one for each outer border and against it for each hole.
      const double islands = static_cast<double>(nav::countIslands(b->mesh)), holes = islands - std::round(turn / (2 * kPi));
      bound += std::max(islands, std::ceil(reflex / 2) + islands - holes);
      faces += static_cast<double>(b->mesh.faceCount());
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
        needles += leastAngle(b->mesh, nav::FaceId{f}) < radians(1) || nav::faceArea(b->mesh, nav::FaceId{f}) < 1e-4;
    }
    state.counters["faces"] = faces;
    state.counters["lower_bound"] = bound;
    state.counters["against_bound"] = faces / bound;
    state.counters["needles"] = needles;
  }
}

/// Faces against the ground under them, on hills and on the depot: height, and distance to the surface, risers included.
void heights(benchmark::State& state) {
  const level::World world = state.range(0) == 0 ? level::plainWorld(bench::terrain(160, 0.5)) : bench::depotCopies(1);
  for (auto _ : state) {
    const auto b = build(world);
    const ground::Soup soup(b->world);
    const ground::Standing standing(soup, b->world, b->agent);
    Random random(7);
    std::vector<double> off, upTo, fromSurface;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
      upTo.push_back((upTo.empty() ? 0 : upTo.back()) + nav::faceArea(b->mesh, nav::FaceId{f}));
    while (off.size() < 40'000) {
      const auto face = std::lower_bound(upTo.begin(), upTo.end(), random.in(0, upTo.back())) - upTo.begin();
      const nav::FaceId f{static_cast<std::uint32_t>(face)};
      const auto n = b->mesh.cornerCount(f);
      const auto k = 1 + static_cast<std::size_t>(random.in(0, static_cast<double>(n) - 2 - 1e-9));
      double u = random.in(0, 1), v = random.in(0, 1);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const Vec3 a = b->mesh.cornerAt(f, 0), p = a + (b->mesh.cornerAt(f, k) - a) * u + (b->mesh.cornerAt(f, k + 1) - a) * v;
      const double y = standing.nearest(plan(p), p.y, 2);
      if (std::isnan(y)) continue;
      off.push_back(std::abs(y - p.y));
      fromSurface.push_back(bench::surfaceDistance(soup, p, 0.5));
    }
    state.counters["p99_cm"] = percentile(off, 0.99) * 100;
    state.counters["max_cm"] = off.back() * 100;
    state.counters["from_surface_max_cm"] = percentile(fromSurface, 1) * 100;
  }
}

}  // namespace

BENCHMARK(outline)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(faces)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK(heights)->ArgName("hills0_depot1")->Arg(0)->Arg(1)->Iterations(1)->Unit(benchmark::kMillisecond);
BENCHMARK_MAIN();
