// What reviewing recorded movement takes: agents who walk about Saltwind Depot for long, and tables of them. Prints seconds, microseconds a
// sample, and the most memory so far, for one and two threads and for growing recordings; the same work twice as long must take twice.

#include <sys/resource.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <random>
#include <sstream>

#include "bench/levels.h"
#include "core/pipeline/reviewed_on.h"
#include "core/route/path.h"
#include "core/system/threads.h"
#include "core/trace/csv.h"
#include "demo/depot.h"

using namespace dune;

namespace {

constexpr int kBodies = 100;
constexpr double kRate = 30, kSpeed = 1.2;  // a second, m/s

double now() { return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count(); }

double megabytes() {
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  return static_cast<double>(used.ru_maxrss) / 1024;
}

/// A way over the ground of at least that length, through places drawn by lot.
class LongWay {
 public:
  LongWay(const pipeline::Ground& ground, double least, std::mt19937_64& random) {
    route::Search search(*ground.field);
    std::uniform_int_distribution<std::uint32_t> faces(0, static_cast<std::uint32_t>(ground.mesh.faceCount()) - 1);
    const auto place = [&] {
      while (true) {
        const nav::FaceId f{faces(random)};
        if (ground.mesh.island[index(f)] == 0 && ground.field->passable(f)) return nav::middleOf(ground.mesh, f);
      }
    };
    points_ = {place()}, length_ = {0};
    while (length_.back() < least) {
      const auto part = route::findPath(*ground.field, search, points_.back(), place(), {2, false, false});
      if (part.status != route::PathStatus::complete || !part.links.empty()) continue;
      for (std::size_t i = 1; i < part.points.size(); ++i) {
        length_.push_back(length_.back() + glm::distance(points_.back(), part.points[i]));
        points_.push_back(part.points[i]);
      }
    }
  }
  Vec3 after(double metres) const {
    const auto next = static_cast<std::size_t>(std::ranges::upper_bound(length_, metres) - length_.begin());
    if (next == length_.size()) return points_.back();
    const double step = length_[next] - length_[next - 1];
    return glm::mix(points_[next - 1], points_[next], step > 0 ? (metres - length_[next - 1]) / step : 0);
  }

 private:
  std::vector<Vec3> points_;
  std::vector<double> length_;
};

trace::Trace walked(const pipeline::Ground& ground, int frames) {
  std::mt19937_64 random(1);
  std::vector<LongWay> ways;
  std::vector<trace::Body> bodies;
  for (int b = 0; b < kBodies; ++b) {
    ways.emplace_back(ground, kSpeed * frames / kRate, random);
    bodies.push_back({b + 1, 0, std::nullopt, 0});
  }
  trace::Trace trace;
  trace::Writer writer(trace, bodies);
  (void)writer.begin();
  std::vector<trace::Sample> samples(kBodies);
  for (int f = 0; f < frames; ++f) {
    const double t = f / kRate;
    for (std::size_t b = 0; b < kBodies; ++b) samples[b].at = ways[b].after(kSpeed * t);
    (void)writer.frame(t, samples);
  }
  (void)writer.end();
  return trace;
}

void reviewOn(const pipeline::Ground& ground, const trace::Trace& trace, int threads) {
  ThreadedJob job;
  job.setThreads(threads);
  const double begin = now();
  const auto found = review::reviewMovement(pipeline::reviewedOn(ground), trace, {}, job);
  const double seconds = now() - begin;
  std::printf("%10zu samples, %d threads: %6.2f s, %5.2f us a sample, %6zu findings; at most %4.0f MB so far\n", trace.sampleCount(),
              threads, seconds, seconds / static_cast<double>(trace.sampleCount()) * 1e6, found ? found->size() : 0, megabytes());
}

void readTable(const trace::Trace& trace) {
  std::string table = "t,id,x,y,z\n";
  char line[128];
  for (std::size_t f = 0; f < trace.frameCount(); ++f)
    for (std::size_t b = 0; b < trace.bodies().size(); ++b) {
      const trace::Sample s = trace.at(f, b);
      table.append(
          line, static_cast<std::size_t>(std::snprintf(line, sizeof line, "%.4f,%d,%.4f,%.4f,%.4f\n", s.t, s.id, s.at.x, s.at.y, s.at.z)));
    }
  std::istringstream in(std::move(table));
  Job job;
  const double begin = now();
  const auto read = trace::readCsv(in, in.view().size(), 0, job);
  std::printf("%10zu rows of a table read: %6.2f s\n", read ? read->sampleCount() : 0, now() - begin);
}

}  // namespace

int main() {
  ThreadedJob job;
  const auto ground = pipeline::makeGround(demo::depotProject(), bench::depotCopies(1).level, 0, nullptr, job);
  if (!ground) return 1;
  for (const int frames : {5'000, 10'000, 100'000}) {
    const trace::Trace trace = walked(**ground, frames);
    for (const int threads : {1, 2}) reviewOn(**ground, trace, threads);
    readTable(trace);
  }
}
