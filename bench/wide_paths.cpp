// Path queries over wide terrain: how they grow with the mesh and with the way, their worst, their memory, and what preparing costs.

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "bench/wide_ground.h"
#include "core/route/path.h"
#include "core/route/search_ground.h"

using namespace dune;
using Clock = std::chrono::steady_clock;

namespace {

double since(Clock::time_point begin) { return std::chrono::duration<double>(Clock::now() - begin).count(); }

class Chance {
 public:
  double in(double low, double high) {
    state_ = state_ * 6364136223846793005ull + 1442695040888963407ull;
    return low + (high - low) * static_cast<double>(state_ >> 11) / 9007199254740992.0;
  }

 private:
  std::uint64_t state_ = 99;
};

/// Pairs as far apart as asked, 0 for any.
std::vector<std::pair<nav::Place, nav::Place>> pairs(const route::Field& field, double side, double apart, int count) {
  Chance chance;
  std::vector<std::pair<nav::Place, nav::Place>> found;
  while (found.size() < static_cast<std::size_t>(count)) {
    const Vec3 a{chance.in(0, side), 0, chance.in(0, side)};
    Vec3 b{chance.in(0, side), 0, chance.in(0, side)};
    if (apart > 0) b = a + (b - a) * (apart / glm::distance(a, b));
    const nav::Place from = field.locator().nearest(a, 12), to = field.locator().nearest(b, 12);
    if (from.valid() && to.valid() && field.reaches(from.face, to.face)) found.emplace_back(from, to);
  }
  return found;
}

void ask(const route::Field& field, double side, double apart, int count, const char* what, std::size_t slopeViews = 0) {
  route::Search search(field);
  std::vector<double> times;
  double length = 0, straight = 0, nodes = 0;
  int bounded = 0;
  for (const auto& [from, to] : pairs(field, side, apart, count)) {
    const auto begin = Clock::now();
    const auto way = search.findInSpace(from, to, slopeViews);
    times.push_back(since(begin));
    for (std::size_t k = 0; k + 1 < way.size(); ++k) length += glm::distance(plan(way[k].at), plan(way[k + 1].at));
    straight += glm::distance(plan(from.position), plan(to.position));
    nodes += static_cast<double>(search.nodesMade()), bounded += search.reachedBound();
  }
  std::ranges::sort(times);
  double sum = 0;
  for (const double t : times) sum += t;
  const auto at = [&](double part) { return times[static_cast<std::size_t>(part * static_cast<double>(times.size() - 1))] * 1e3; };
  std::printf(
      "%-22s %4d ways of %5.0f m (%.4f x straight): mean %7.2f ms, 99 of 100 %7.2f, worst %7.2f; %7.0f views, %5.1f MB, %d at the bound\n",
      what, count, length / count, length / straight, sum / count * 1e3, at(0.99), at(1), nodes / count,
      static_cast<double>(search.memory()) / (1 << 20), bounded);
}

}  // namespace

int main(int argc, char** argv) {
  const int count = argc > 1 ? std::atoi(argv[1]) : 100;
  for (const int side : {212, 425, 850}) {
    const nav::NavMesh mesh = bench::wideGround(side);
    const auto begin = Clock::now();
    const auto layout = std::make_shared<const route::Layout>(mesh);
    const double layoutTime = since(begin);
    const auto next = Clock::now();
    const route::Field field(layout, {});
    (void)field.ground();
    std::printf("%zu faces: layout %.2f s, field %.2f s; %zu faces and %zu corners to search\n", mesh.faceCount(), layoutTime, since(next),
                field.ground().mesh().faceCount(), field.ground().mesh().vertices.size());
    const double metres = side * 2.35;
    ask(field, metres, 400, count, "400 m apart");
    if (side < 850) continue;
    ask(field, metres, 100, count, "100 m apart");
    ask(field, metres, 800, count, "800 m apart");
    ask(field, metres, 0, count, "anywhere");
    (void)field.facets();
    ask(field, metres, 100, count, "100 m, in space", route::kUsualSlopeViews);
    ask(field, metres, 0, count, "anywhere, in space", route::kUsualSlopeViews);
    const route::Field whole(layout, {}, route::asItIs(*layout, {}));
    ask(whole, metres, 0, count / 4, "anywhere, all faces");
  }
}
