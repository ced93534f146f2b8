#include "core/pipeline/curves.h"

#include <algorithm>
#include <unordered_map>

#include "core/base/plan_geometry.h"
#include "core/base/polyline.h"

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

/// Whether another one, who is there, is a neighbour of a body at a place.
bool areNear(const Vec3& at, const Vec3& other) {
  return glm::distance(plan(other), plan(at)) < kNeighbour && std::abs(other.y - at.y) < kStorey;
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
            count += other != body && areNear(at, place);
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
    count += there(s) && areNear(at, s.at);
  }
  return static_cast<float>(count);
}

/// Says what is measured, body by body at a frame.
class Meter {
 public:
  Meter(const Run& run, Measure measure)
      : run_(run), measure_(measure), ofBestWay_(measure == Measure::offPath && !followedIsKnown(run)), ways_(run.trace.bodies().size()) {}

  bool searches() const { return ofBestWay_; }
  /// Of all neighbours at one frame those of many bodies are asked for.
  void gather(std::size_t frame) {
    if (measure_ == Measure::neighbours) squares_.emplace().fill(run_.trace, frame);
  }
  float at(std::size_t frame, std::size_t body) {
    const trace::Trace& t = run_.trace;
    const trace::Sample s = t.at(frame, body);
    if (!there(s)) return kNothing;
    const std::size_t i = frame * t.bodies().size() + body;
    switch (measure_) {
      case Measure::speed:
        return static_cast<float>(glm::length(s.velocity));
      case Measure::wallDistance:
        return run_.wallDistance[i];
      case Measure::offPath:
        return ofBestWay_ ? offBestWay(body, s.at) : t.offPath[i];
      case Measure::turning:
        return turningAt(t, frame, body);
      case Measure::toGoal:
        return t.bodies()[body].goal ? static_cast<float>(glm::distance(*t.bodies()[body].goal, s.at)) : kNothing;
      case Measure::neighbours:
        return squares_ ? squares_->neighboursOf(body, s.at) : neighboursAt(t, frame, body, s.at);
    }
    return kNothing;
  }

 private:
  float offBestWay(std::size_t body, const Vec3& at) {
    auto& way = ways_[body];
    if (!way) way = bestWay(run_, body);
    return way->size() > 1 ? static_cast<float>(distanceToLine(*way, at)) : kNothing;
  }

  const Run& run_;
  Measure measure_;
  bool ofBestWay_;
  std::vector<std::optional<std::vector<Vec3>>> ways_;  // one a body, once it was asked for
  std::optional<Squares> squares_;
};

}  // namespace

MeasureWords wordsOf(Measure measure, const Run& run) {
  static constexpr MeasureWords kWords[] = {{"speed", "m/s"},   {"to the nearest wall", "m"}, {"off its path", "m"},
                                            {"turning", "°/s"}, {"to its goal", "m"},         {"others within 2 m", ""}};
  if (measure == Measure::offPath && !followedIsKnown(run)) return MeasureWords{"off the best way", "m"};
  return kWords[static_cast<std::size_t>(measure)];
}

std::vector<float> curveOf(const Run& run, std::size_t body, Measure measure, Job& job) {
  Meter meter(run, measure);
  std::vector<float> curve;
  curve.reserve(run.trace.frameCount());
  for (std::size_t f = 0; f < run.trace.frameCount(); ++f) {
    if (f % 256 == 0 && job.cancelled()) return {};
    curve.push_back(meter.at(f, body));
  }
  return curve;
}

Band bandOf(const Run& run, Measure measure, Job& job) {
  constexpr std::size_t kTimes = 300, kBodies = 2000, kWays = 100;
  const trace::Trace& t = run.trace;
  const std::size_t frames = t.frameCount(), bodies = t.bodies().size();
  Meter meter(run, measure);
  const std::size_t every = std::max<std::size_t>(1, (frames + kTimes - 1) / kTimes);
  const std::size_t among = std::max<std::size_t>(1, bodies / (meter.searches() ? kWays : kBodies));
  Band band;
  std::vector<float> now;
  for (std::size_t f = 0; f < frames; f += every) {
    meter.gather(f);
    now.clear();
    for (std::size_t b = 0; b < bodies; b += among) {
      if (job.cancelled()) return {};
      if (const float v = meter.at(f, b); !std::isnan(v)) now.push_back(v);
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
