// Trembling, going back and forth, going round in circles: told by where the line of a track bends, at several scales.

#include <algorithm>

#include "core/base/text.h"
#include "core/review/body_review.h"

namespace dune::review {

namespace {

/// A track as a line of points that lie some way apart.
struct Line {
  std::vector<Vec2> at;
  std::vector<std::size_t> moment;
  std::vector<double> length;  // m from the first one
};

Line lineOf(const std::vector<Moment>& moments, const Span& span, double apart) {
  Line line;
  for (std::size_t i = span.first; i <= span.last; ++i) {
    const Vec2 q = plan(moments[i].at);
    const double step = line.at.empty() ? 0 : glm::distance(q, line.at.back());
    if (!line.at.empty() && step < apart) continue;
    line.length.push_back(line.at.empty() ? 0 : line.length.back() + step);
    line.at.push_back(q), line.moment.push_back(i);
  }
  return line;
}

/// The place of a line that is `by` metres along it before (below zero) or after a point; nothing past its end.
std::optional<Vec2> along(const Line& line, std::size_t from, double by) {
  const double s = line.length[from] + by;
  if (s < 0 || s > line.length.back()) return std::nullopt;
  const auto next = static_cast<std::size_t>(std::ranges::lower_bound(line.length, s) - line.length.begin());
  if (next == 0) return line.at[0];
  const double step = line.length[next] - line.length[next - 1];
  return glm::mix(line.at[next - 1], line.at[next], step > 0 ? (s - line.length[next - 1]) / step : 0);
}

/// A point of a line where it bends by more than an angle within a distance to both sides, and is straight there otherwise.
struct Bend {
  std::size_t point;
  double angle;  // radians, to the left above zero
};

std::vector<Bend> bendsOf(const Line& line, double scale, double least) {
  constexpr double kStraight = 0.7;  // of the scale: as far as one gets at least within it
  std::vector<Bend> bends;
  bool within = false;  // the last one, which goes on as long as the line bends the same way
  for (std::size_t i = 1; i + 1 < line.at.size(); ++i) {
    const auto back = along(line, i, -scale), ahead = along(line, i, scale);
    if (!back || !ahead) continue;
    const bool went = std::exchange(within, false);
    const Vec2 in = line.at[i] - *back, out = *ahead - line.at[i];
    if (glm::length(in) < kStraight * scale || glm::length(out) < kStraight * scale) continue;
    const double angle = std::atan2(cross(in, out), glm::dot(in, out));
    if (std::abs(angle) < least) continue;
    within = true;
    if (!bends.empty() && ((went && (angle < 0) == (bends.back().angle < 0)) || line.length[i] - line.length[bends.back().point] < scale)) {
      if (std::abs(angle) > std::abs(bends.back().angle)) bends.back() = {i, angle};
      continue;
    }
    bends.push_back({i, angle});
  }
  return bends;
}

constexpr double kTurnsBack = 2 * kPi / 3;  // radians

constexpr std::size_t kBends = 6;
constexpr double kWithin = 2;  // s

/// While it trembles: from when to when, and how often it turns.
struct Trembling {
  double begin, end;
  std::size_t turns;
  Vec3 at;
};

/// As many bends as follow each other shortly and to alternating sides, where they are many.
void findTrembling(const std::vector<Moment>& moments, const Span& span, double scale, std::vector<Trembling>& found) {
  constexpr double kLongest = 0.5;  // m
  const Line line = lineOf(moments, span, scale / 2);
  if (line.at.size() < kBends) return;
  const std::vector<Bend> bends = bendsOf(line, scale, kPi / 4);
  const auto at = [&](std::size_t bend) -> const Moment& { return moments[line.moment[bends[bend].point]]; };
  for (std::size_t i = 0; i < bends.size(); ++i) {
    const std::size_t first = i;
    for (; i + 1 < bends.size(); ++i) {
      const Bend &a = bends[i], &b = bends[i + 1];
      const bool sides = (a.angle < 0) != (b.angle < 0) || std::min(std::abs(a.angle), std::abs(b.angle)) > kTurnsBack;
      if (!sides || line.length[b.point] - line.length[a.point] > kLongest || at(i + 1).t - at(i).t > kWithin / 2) break;
    }
    const std::size_t turns = i - first + 1;
    const double seconds = at(i).t - at(first).t;
    if (turns >= kBends && seconds * static_cast<double>(kBends) <= kWithin * static_cast<double>(turns))
      found.push_back({at(first).t, at(i).t, turns, at(first).at});
  }
}

}  // namespace

void BodyReview::lookAtTrembling(const Span& span) {
  constexpr double kApart = 1;  // s between two of them
  std::vector<Trembling> found;
  // Sharp turns of short legs, and rounder ones of longer legs.
  for (const double scale : {0.02, 0.05, 0.12}) findTrembling(track_.moments, span, scale, found);
  std::ranges::sort(found, {}, &Trembling::begin);
  for (std::size_t i = 0; i < found.size();) {
    Trembling all = found[i];
    for (++i; i < found.size() && found[i].begin < all.end + kApart; ++i) {
      if (found[i].begin > all.end) all.turns += found[i].turns;
      all.turns = std::max(all.turns, found[i].turns), all.end = std::max(all.end, found[i].end);
    }
    const double often = static_cast<double>(all.turns) / std::max(all.end - all.begin, track_.interval);
    const Event e = Event::lasting(all.begin, all.end, often, all.at);
    add("trembles", Severity::warning, e, static_cast<double>(kBends) / kWithin,
        text("Agent %d trembles for %.1f s: it turns %zu times.", body().id, e.seconds(), all.turns),
        "What steers it decides otherwise from one step to the next.", "other weights of its steering, or a wider way.");
  }
}

void BodyReview::lookAtBackAndForth(const Span& span) {
  constexpr double kScale = 0.25, kShortest = 0.4, kLongest = 8, kLong = 30;  // m, m, m, s
  constexpr std::size_t kTimes = 3;
  const Line line = lineOf(track_.moments, span, 0.05);
  if (line.at.size() < 4) return;
  const std::vector<Bend> bends = bendsOf(line, kScale, kTurnsBack);
  const auto timeOf = [&](std::size_t bend) { return moment(line.moment[bends[bend].point]).t; };
  const auto leg = [&](std::size_t bend) { return line.length[bends[bend + 1].point] - line.length[bends[bend].point]; };
  for (std::size_t i = 0; i + 1 < bends.size(); ++i) {
    const std::size_t first = i;
    std::size_t last = first;
    while (
        last + 1 < bends.size() && leg(last) >= kShortest && leg(last) <= kLongest && timeOf(last + 1) - timeOf(last) < kLong &&
        (last == first || glm::distance(line.at[bends[last + 1].point], line.at[bends[last - 1].point]) < std::max(0.5, 0.4 * leg(last))))
      ++last;
    const std::size_t times = last - first + 1;
    if (last > first) i = last - 1;  // its last leg may be the first one of others
    if (times >= kTimes) {
      const Event e = Event::lasting(timeOf(first), timeOf(last), leg(first), moment(line.moment[bends[first].point]).at);
      if (toldBetween(e.begin, e.last, {"trembles"})) continue;
      add("back-and-forth", Severity::warning, e, static_cast<double>(kTimes),
          text("Agent %d goes back and forth over %.1f m: it turns back %zu times in %.0f s.", body().id, e.worst, times, e.seconds()),
          "It is sent two ways in turn, or what it makes way for does not go.", "looking at its goal and its path at this time.");
    }
  }
}

void BodyReview::lookAtCircling(const Span& span) {
  constexpr double kApart = 0.2, kWidest = 8, kClimb = 1.5;  // m
  constexpr double kTurned = 4 * kPi;
  const Line line = lineOf(track_.moments, span, kApart);
  if (line.at.size() < 8) return;
  std::vector<double> turned{0, 0};  // radians to the left up to each point
  for (std::size_t i = 1; i + 1 < line.at.size(); ++i) {
    const Vec2 in = line.at[i] - line.at[i - 1], out = line.at[i + 1] - line.at[i];
    turned.push_back(turned.back() + std::atan2(cross(in, out), glm::dot(in, out)));
  }
  std::size_t first = 0;
  for (std::size_t i = 1; i < line.at.size(); ++i) {
    Box2 box;
    // The latest point from where it turned round twice, looked for within a small circle.
    for (std::size_t k = i; k + 1 > first + 1; --k) {
      box.add(line.at[k]);
      // Who turned round twice within it went no further than twice round it.
      if (glm::distance(box.min, box.max) > kWidest || line.length[i] - line.length[k] > 2 * kPi * kWidest) {
        first = k;
        break;
      }
      const double sum = turned[i] - turned[k];
      if (std::abs(sum) < kTurned) continue;
      const double climbed = std::abs(moment(line.moment[i]).at.y - moment(line.moment[k]).at.y);
      if (climbed > kClimb * std::abs(sum) / (2 * kPi)) break;
      std::size_t last = i;
      while (last + 1 < line.at.size() && std::abs(turned[last + 1] - turned[k]) >= std::abs(turned[last] - turned[k]) - kPi / 4 &&
             glm::distance(line.at[last + 1], line.at[k]) <= kWidest)
        ++last;
      const Event e = Event::lasting(moment(line.moment[k]).t, moment(line.moment[last]).t, std::abs(turned[last] - turned[k]) / (2 * kPi),
                                     moment(line.moment[k]).at);
      if (!toldBetween(e.begin, e.last, {"trembles", "back-and-forth"}))
        add("circles", Severity::warning, e, kTurned / (2 * kPi),
            text("Agent %d goes round %.1f times in %.0f s.", body().id, e.worst, e.seconds()),
            "It cannot turn as sharply as its goal or waypoint asks for, or its goal goes round.",
            "a wider arrival, a lower speed near the goal, or a higher turning rate.");
      first = i = last;
      break;
    }
  }
}

}  // namespace dune::review
