#pragma once
// Movement made up for tests: bodies that walk ways over a scene without a flaw, and faults put into it at a known time.

#include "core/base/polyline.h"
#include "core/review/movement.h"
#include "core/route/path.h"
#include "tests/core/scenes.h"

namespace dune::test {

/// Where a body is at any time, and when it is there at all.
struct Movement {
  std::function<Vec3(double)> at;
  double begin = 0, end = 10;
  std::optional<Vec3> goal{};
  double radius = 0.4;
};

/// A way walked with one speed, or speeding up and slowing down.
struct Walk {
  std::vector<Vec3> points;
  double speed = 1.2, acceleration = 0;  // m/s, m/s²; 0: at once
  double length() const { return lengthOf(points); }
  Vec3 after(double metres) const { return placeAlong(points, metres); }
  double seconds() const { return length() / speed + (acceleration > 0 ? speed / acceleration : 0); }
  double gone(double t) const {
    if (t <= 0) return 0;
    if (acceleration <= 0) return std::min(length(), speed * t);
    const double rise = speed / acceleration, slow = seconds() - rise;
    if (t < rise) return acceleration * t * t / 2;
    if (t < slow) return speed * (t - rise / 2);
    const double rest = std::max(0.0, seconds() - t);
    return length() - acceleration * rest * rest / 2;
  }
  Vec3 operator()(double t) const { return after(gone(t)); }
};

/// How a recording is made.
struct Sampling {
  double rate = 30;    // a second
  double jitter = 0;   // of the time between two samples
  double rounded = 0;  // s to which times are rounded; places stay
};

inline trace::Trace recorded(const std::vector<Movement>& bodies, const Sampling& sampling, Random& random) {
  double begin = 1e9, end = -1e9;
  std::vector<trace::Body> who;
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    begin = std::min(begin, bodies[i].begin), end = std::max(end, bodies[i].end);
    who.push_back({static_cast<int>(i) + 1, bodies[i].radius, bodies[i].goal, 0});
  }
  trace::Trace trace;
  trace::Writer writer(trace, who);
  (void)writer.begin();
  std::vector<trace::Sample> now(bodies.size());
  double told = -1e9;
  for (double t = begin; t <= end; t += 1 / sampling.rate) {
    const double at = t + random.in(-0.5, 0.5) * sampling.jitter / sampling.rate;
    const double said = sampling.rounded > 0 ? std::round(at / sampling.rounded) * sampling.rounded : at;
    if (said <= told) continue;
    told = said;
    for (std::size_t i = 0; i < bodies.size(); ++i) {
      const bool there = at >= bodies[i].begin && at <= bodies[i].end;
      if (there) now[i].at = bodies[i].at(at);
      now[i].state = there ? trace::State::moving : trace::State::waiting;
    }
    (void)writer.frame(said, now);
  }
  (void)writer.end();
  return trace;
}

}  // namespace dune::test
