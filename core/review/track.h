#pragma once
// One body as far as a recording has it, and what is told of it: moments in time, and faults gathered into events.

#include <vector>

#include "core/trace/trace.h"

namespace dune::review {

/// A sample that was recorded; times at which a body is only held where it was last are none.
struct Moment {
  double t;
  Vec3 at;
  trace::State state;
  std::size_t frame;
};

struct Track {
  std::size_t body = 0;
  std::vector<Moment> moments;
  double interval = 0;  ///< s from one to the next, as a rule: the median
};
/// O(frames).
Track trackOf(const trace::Trace& trace, std::size_t body);

/// Part of a track in which a body only walks: numbers of its first and last moment.
struct Span {
  std::size_t first, last;
};

/// Gathers moments of one kind into one event: while they come without a break, only the worst counts.
struct Event {
  static constexpr double kBreak = 0.5;  ///< s without the fault end it
  bool open = false;
  double begin = 0, last = 0, worst = 0, worstTime = 0;
  Vec3 at{};

  /// One of a single amount.
  static Event lasting(double from, double until, double amount, const Vec3& where) { return {true, from, until, amount, from, where}; }

  bool over(double t) const { return open && t - last > kBreak; }
  double seconds() const { return last - begin; }
  void add(double t, double amount, const Vec3& where) {
    if (!open) open = true, begin = t, worst = -1;
    last = t;
    if (amount > worst) worst = amount, worstTime = t, at = where;
  }
};

}  // namespace dune::review
