#include "core/pipeline/curves.h"

#include <algorithm>
#include <unordered_map>

#include "core/base/plan_geometry.h"

namespace dune::pipeline {

namespace {

constexpr float kNothing = std::numeric_limits<float>::quiet_NaN();
constexpr double kStorey = 1.5;  // m between bodies that do not meet

bool there(const trace::Sample& s) { return s.state != trace::State::waiting && s.state != trace::State::offMesh; }

bool followedIsKnown(const Run& run) { return run.trace.offPath.size() == run.trace.sampleCount(); }

/// The heading's change from the frame before to the one after.
float turningAt(const trace::Trace& t, std::size_t frame, std::size_t body) {
  constexpr double kWalks = 0.2;  // m/s
  if (frame == 0 || frame + 1 >= t.frameCount()) return kNothing;
  const Vec2 in = plan(t.at(frame - 1, body).velocity), out = plan(t.at(frame + 1, body).velocity);
  const double seconds = t.timeOf(frame + 1) - t.timeOf(frame - 1);
  if (glm::length(in) < kWalks || glm::length(out) < kWalks || !(seconds > 0)) return kNothing;
  return static_cast<float>(degrees(std::abs(std::atan2(cross(in, out), glm::dot(in, out)))) / seconds);
}

/// The best way of the trip that a body made, as far as one can know: to its goal, or to where it was last.
std::vector<Vec3> bestWay(const Run& run, std::size_t body) {
  const trace::Trace& t = run.trace;
  std::optional<Vec3> from, to = t.bodies()[body].goal;
  for (std::size_t f = 0; f < t.frameCount() && !from; ++f)
    if (const trace::Sample s = t.at(f, body); there(s)) from = s.at;
  for (std::size_t f = t.frameCount(); f-- > 0 && !to;)
    if (const trace::Sample s = t.at(f, body); there(s)) to = s.at;
  if (!from || !to) return {};
  const Ground& ground = run.groundOf(body);
  route::Search search(*ground.field);
  return route::findPath(*ground.field, search, *from, *to).points;
}

double distanceToLine(const std::vector<Vec3>& line, const Vec3& at) {
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec3 along = line[i] - line[i - 1];
    const double length2 = glm::dot(along, along);
    const double share = length2 > 0 ? std::clamp(glm::dot(at - line[i - 1], along) / length2, 0.0, 1.0) : 0;
    least = std::min(least, glm::distance(line[i - 1] + along * share, at));
  }
  return least;
}

/// Bodies at one time by squares as wide as neighbours are apart.
class Squares {
 public:
  void fill(const trace::Trace& t, std::size_t frame) {
    at_.clear(), square_.clear();
    for (std::size_t b = 0; b < t.bodies().size(); ++b) {
      const trace::Sample s = t.at(frame, b);
      if (!there(s)) continue;
      square_[keyOf(s.at, 0, 0)].push_back(at_.size());
      at_.push_back({b, s.at});
    }
  }
  float neighboursOf(std::size_t body, const Vec3& at) const {
    int count = 0;
    for (const int dx : {-1, 0, 1})
      for (const int dz : {-1, 0, 1})
        if (const auto square = square_.find(keyOf(at, dx, dz)); square != square_.end())
          for (const std::size_t i : square->second) {
            const auto& [other, place] = at_[i];
            count += other != body && glm::distance(plan(place), plan(at)) < kNeighbour && std::abs(place.y - at.y) < kStorey;
          }
    return static_cast<float>(count);
  }

 private:
  static std::uint64_t keyOf(const Vec3& at, int dx, int dz) {
    const auto x = static_cast<std::int32_t>(std::floor(at.x / kNeighbour)) + dx,
               z = static_cast<std::int32_t>(std::floor(at.z / kNeighbour)) + dz;
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32 | static_cast<std::uint32_t>(z);
  }
  std::vector<std::pair<std::size_t, Vec3>> at_;
  std::unordered_map<std::uint64_t, std::vector<std::size_t>> square_;
};

float neighboursAt(const trace::Trace& t, std::size_t frame, std::size_t body, const Vec3& at) {
  int count = 0;
  for (std::size_t b = 0; b < t.bodies().size(); ++b) {
    if (b == body) continue;
    const trace::Sample s = t.at(frame, b);
    count += there(s) && glm::distance(plan(s.at), plan(at)) < kNeighbour && std::abs(s.at.y - at.y) < kStorey;
  }
  return static_cast<float>(count);
}

/// What one frame alone says; neighbours and ways apart.
float valueAt(const Run& run, std::size_t frame, std::size_t body, Measure measure) {
  const trace::Trace& t = run.trace;
  const trace::Sample s = t.at(frame, body);
  if (!there(s)) return kNothing;
  const std::size_t i = frame * t.bodies().size() + body;
  switch (measure) {
    case Measure::speed:
      return static_cast<float>(glm::length(s.velocity));
    case Measure::wallDistance:
      return run.wallDistance[i];
    case Measure::offPath:
      return followedIsKnown(run) ? t.offPath[i] : kNothing;
    case Measure::turning:
      return turningAt(t, frame, body);
    case Measure::toGoal:
      return t.bodies()[body].goal ? static_cast<float>(glm::distance(*t.bodies()[body].goal, s.at)) : kNothing;
    case Measure::neighbours:
      return neighboursAt(t, frame, body, s.at);
  }
  return kNothing;
}

}  // namespace

MeasureWords wordsOf(Measure measure, const Run& run) {
  static constexpr MeasureWords kWords[] = {{"speed", "m/s"},   {"to the nearest wall", "m"}, {"off its path", "m"},
                                            {"turning", "°/s"}, {"to its goal", "m"},         {"others within 2 m", ""}};
  if (measure == Measure::offPath && !followedIsKnown(run)) return MeasureWords{"off the best way", "m"};
  return kWords[static_cast<std::size_t>(measure)];
}

std::vector<float> curveOf(const Run& run, std::size_t body, Measure measure, Job& job) {
  const trace::Trace& t = run.trace;
  const bool ofBestWay = measure == Measure::offPath && !followedIsKnown(run);
  const std::vector<Vec3> way = ofBestWay ? bestWay(run, body) : std::vector<Vec3>();
  std::vector<float> curve;
  curve.reserve(t.frameCount());
  for (std::size_t f = 0; f < t.frameCount(); ++f) {
    if (f % 256 == 0 && job.cancelled()) return {};
    const trace::Sample s = t.at(f, body);
    const bool says = !ofBestWay || (way.size() > 1 && there(s));
    curve.push_back(!says ? kNothing : ofBestWay ? static_cast<float>(distanceToLine(way, s.at)) : valueAt(run, f, body, measure));
  }
  return curve;
}

Band bandOf(const Run& run, Measure measure, Job& job) {
  constexpr std::size_t kTimes = 300, kBodies = 2000, kWays = 100;
  const trace::Trace& t = run.trace;
  const std::size_t frames = t.frameCount(), bodies = t.bodies().size();
  if (frames == 0 || bodies == 0) return {};
  const bool ofBestWay = measure == Measure::offPath && !followedIsKnown(run);
  const std::size_t every = std::max<std::size_t>(1, (frames + kTimes - 1) / kTimes);
  const std::size_t among = std::max<std::size_t>(1, bodies / (ofBestWay ? kWays : kBodies));
  std::vector<std::vector<Vec3>> ways(bodies);
  for (std::size_t b = 0; ofBestWay && b < bodies; b += among) {
    if (job.cancelled()) return {};
    ways[b] = bestWay(run, b);
  }
  Band band;
  Squares squares;
  std::vector<float> now;
  for (std::size_t f = 0; f < frames; f += every) {
    if (job.cancelled()) return {};
    if (measure == Measure::neighbours) squares.fill(t, f);
    now.clear();
    for (std::size_t b = 0; b < bodies; b += among) {
      const trace::Sample s = t.at(f, b);
      if (!there(s)) continue;
      const float v = measure == Measure::neighbours ? squares.neighboursOf(b, s.at)
                      : ofBestWay                    ? (ways[b].size() > 1 ? static_cast<float>(distanceToLine(ways[b], s.at)) : kNothing)
                                                     : valueAt(run, f, b, measure);
      if (!std::isnan(v)) now.push_back(v);
    }
    std::ranges::sort(now);
    const auto at = [&](double share) {
      return now.empty() ? kNothing : now[static_cast<std::size_t>(share * static_cast<double>(now.size() - 1) + 0.5)];
    };
    band.times.push_back(t.timeOf(f));
    band.low.push_back(at(0.1)), band.middle.push_back(at(0.5)), band.high.push_back(at(0.9));
  }
  return band;
}

}  // namespace dune::pipeline
