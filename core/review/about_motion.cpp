// How fast a body goes, speeds up and turns, and where it stands. Measured over a fifth of a second at least, so that jittered times do not
// count.

#include <algorithm>

#include "core/base/text.h"
#include "core/review/body_review.h"

namespace dune::review {

namespace {

constexpr double kWindow = 0.25;      // s over which speeds are measured
constexpr double kStands = 0.12;      // m within which a body stands
constexpr double kWants = 0.05;       // m/s: who wants less is not on its way
constexpr double kStandsSeconds = 1;  // s that make it stand

/// Places of a track at any time in between; asked for ascending times.
class PlaceAt {
 public:
  PlaceAt(const std::vector<Moment>& moments, const Span& span) : moments_(moments), span_(span), i_(span.first) {}
  Vec2 operator()(double t) {
    while (i_ < span_.last && moments_[i_ + 1].t < t) ++i_;
    if (i_ == span_.last) return plan(moments_[i_].at);
    const Moment &a = moments_[i_], &b = moments_[i_ + 1];
    return glm::mix(plan(a.at), plan(b.at), std::clamp((t - a.t) / (b.t - a.t), 0.0, 1.0));
  }

 private:
  const std::vector<Moment>& moments_;
  Span span_;
  std::size_t i_;
};

}  // namespace

void BodyReview::lookAtSpeed(const Span& span) {
  const double window = std::max(kWindow, 2 * track_.interval), begin = moment(span.first).t, end = moment(span.last).t;
  if (end - begin < window) return;
  Event fast, sudden;
  const auto tell = [&] {
    const Event e = std::exchange(fast, {});
    if (!e.open) return;
    add("too-fast", Severity::error, e, topSpeed_, text("Agent %d goes at %.1f m/s for %.1f s.", body().id, e.worst, e.seconds() + window),
        text("The top speed of %s is %.1f m/s.", agent().name.c_str(), agent().speed), "a lower speed, or a faster kind of agent.");
  };
  std::vector<Event> suddenOnes;
  PlaceAt before(track_.moments, span), now(track_.moments, span), after(track_.moments, span);
  for (std::size_t i = span.first; i <= span.last; ++i) {
    const double t = moment(i).t;
    if (fast.over(t)) tell();
    if (sudden.over(t)) suddenOnes.push_back(std::exchange(sudden, {}));
    if (t + window > end) break;
    const Vec2 here = now(t);
    const double ahead = glm::distance(after(t + window), here) / window;
    if (ahead > topSpeed_) fast.add(t, ahead, moment(i).at);
    if (t - window < begin) continue;
    const double behind = glm::distance(before(t - window), here) / window, change = std::abs(ahead - behind) / window;
    if (change > agent().acceleration * limits_.acceleration) sudden.add(t, change, moment(i).at);
  }
  tell();
  if (sudden.open) suddenOnes.push_back(sudden);
  for (const Event& e : suddenOnes) {
    if (toldBetween(e.begin - 2 * window, e.last + 2 * window, {"too-fast", "jumped"})) continue;
    add("too-sudden", Severity::warning, e, agent().acceleration * limits_.acceleration,
        text("Agent %d changes its speed by %.1f m/s in a second.", body().id, e.worst),
        text("%s speeds up by %.1f m/s in a second.", agent().name.c_str(), agent().acceleration),
        "smoother movement, or another acceleration of its kind of agent.");
  }
}

void BodyReview::lookAtTurns(const Span& span) {
  const double window = std::max(0.8 * kWindow, track_.interval), begin = moment(span.first).t, end = moment(span.last).t;
  const double least = std::max(0.5, 0.5 * recording_.usualSpeed);  // m/s
  const double limit = std::max(limits_.turn, limits_.acceleration * agent().turnRate * window);
  Event turn;
  const auto tell = [&] {
    const Event e = std::exchange(turn, {});
    if (!e.open || toldBetween(e.begin - window, e.last + window, {"trembles", "back-and-forth", "circles", "jumped", "too-fast"})) return;
    add("turned-at-once", Severity::warning, e, limit,
        text("Agent %d turns by %.0f° at speed within %.1f s.", body().id, e.worst, 2 * window),
        text("%s turns by %.0f° a second.", agent().name.c_str(), agent().turnRate),
        "smoother movement, or another turning rate of its kind of agent.");
  };
  PlaceAt before(track_.moments, span), after(track_.moments, span);
  for (std::size_t i = span.first; i <= span.last; ++i) {
    const double t = moment(i).t;
    if (turn.over(t)) tell();
    if (t - window < begin) continue;
    if (t + window > end) break;
    const Vec2 here = plan(moment(i).at), in = here - before(t - window), out = after(t + window) - here;
    if (glm::length(in) < least * window || glm::length(out) < least * window) continue;
    const double angle = degrees(std::abs(std::atan2(cross(in, out), glm::dot(in, out))));
    if (angle > limit) turn.add(t, angle, moment(i).at);
  }
  tell();
}

void BodyReview::lookAtStanding(const Span& span) {
  for (std::size_t i = span.first; i <= span.last; ++i) {
    std::size_t last = i;
    while (last < span.last && glm::distance(moment(last + 1).at, moment(i).at) < kStands) ++last;
    if (moment(last).t - moment(i).t < kStandsSeconds) continue;
    const Span stood{i, last};
    stood_.push_back(stood);
    i = last;
    const double seconds = moment(last).t - moment(stood.first).t;
    if (seconds < limits_.stuckSeconds || arrived(stood.first) || arrived(last)) continue;
    // Who has finished, and who has not set out yet, as far as one can know.
    const bool ends = last + 1 == track_.moments.size(), begins = stood.first == 0;
    const trace::Sample middle = recording_.trace.at(moment((stood.first + last) / 2).frame, track_.body);
    if (ends || (begins && glm::length(middle.wanted) < kWants)) continue;
    const Event e = Event::lasting(moment(stood.first).t, moment(last).t, seconds, moment(stood.first).at);
    std::vector<int> others;
    const std::string why = whyItStands(stood, others);
    Finding& f =
        add("stuck", Severity::error, e, limits_.stuckSeconds, text("Agent %d stood still for %.1f s on its way.", body().id, seconds), why,
            others.empty() ? "asking for the path from here to its goal." : "a wider passage here, or fewer agents at once.");
    f.others = std::move(others);
  }
}

}  // namespace dune::review
