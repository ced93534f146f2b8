// Whether a body goes on as it should: stops in the middle of its way, leaves its path, comes late.

#include <algorithm>

#include "core/base/text.h"
#include "core/review/body_review.h"

namespace dune::review {

double BodyReview::pace() const {
  constexpr double kOver = 0.2, kWalks = 0.2, kShare = 0.75;  // s, m/s; of all speeds: what it does where nothing holds it up
  if (pace_) return *pace_;
  std::vector<double> speeds;
  for (const Span& span : spans_)
    for (std::size_t i = span.first, k = i; i <= span.last; ++i) {
      if (moment(i).t - moment(k).t < kOver) continue;
      const double speed = glm::distance(moment(i).at, moment(k).at) / (moment(i).t - moment(k).t);
      if (speed > kWalks) speeds.push_back(speed);
      k = i;
    }
  if (speeds.empty()) return *(pace_ = 0);
  const auto at = speeds.begin() + static_cast<std::ptrdiff_t>(kShare * static_cast<double>(speeds.size() - 1));
  std::ranges::nth_element(speeds, at);
  return *(pace_ = *at);
}

/// A stop that is too short to be the end of a trip, with the same way before and after it, and with nobody to make way for.
void BodyReview::lookAtHesitation(const Span& span) {
  constexpr double kStill = 0.05, kSide = 0.6, kNear = 1, kSlowest = 0.4;  // m, s before and after, m, m/s
  constexpr double kTripEnds = 1, kSeldom = 0.15, kGoesOn = 0.4;           // s, s between samples, of its pace
  constexpr double kSameWay = kPi / 4;
  const double usual = pace();
  if (usual < kSlowest || track_.interval > kSeldom) return;
  for (std::size_t i = span.first; i < span.last; ++i) {
    std::size_t last = i;
    while (last < span.last && glm::distance(moment(last + 1).at, moment(i).at) < kStill) ++last;
    const double seconds = moment(last).t - moment(i).t;
    if (seconds < limits_.hesitates) continue;
    std::size_t before = i, after = last;
    while (before > span.first && moment(i).t - moment(before).t < kSide) --before;
    while (after < span.last && moment(after).t - moment(last).t < kSide) ++after;
    const std::size_t first = std::exchange(i, last);
    const double in = moment(first).t - moment(before).t, out = moment(after).t - moment(last).t;
    if (seconds >= kTripEnds || in < kSide || out < kSide || arrived(first)) continue;
    const Vec2 came = plan(moment(first).at) - plan(moment(before).at), goes = plan(moment(after).at) - plan(moment(last).at);
    if (glm::length(came) < kGoesOn * usual * in || glm::length(goes) < kGoesOn * usual * out) continue;
    if (std::abs(std::atan2(cross(came, goes), glm::dot(came, goes))) > kSameWay) continue;
    const auto alone = [&](const Moment& m) { return bodiesNear(m.at, m.frame, kNear).empty(); };
    if (!alone(moment(first)) || !alone(moment(last))) continue;
    const Event e = Event::lasting(moment(first).t, moment(last).t, seconds, moment(first).at);
    if (toldBetween(e.begin - kSide, e.last + kSide, {"trembles", "back-and-forth", "jumped", "too-sudden"})) continue;
    add("hesitates", Severity::warning, e, limits_.hesitates,
        text("Agent %d stops for %.1f s in the middle of its way.", body().id, seconds),
        "Nobody is near, and it goes on the same way: as a rule it waits for a new path then.",
        "asking for the next path before the old one ends, and following the old one meanwhile.");
  }
}

void BodyReview::lookAtPath(const Span& span) {
  constexpr double kShortest = 0.5;  // s
  const auto& off = recording_.trace.offPath;
  if (off.size() != recording_.trace.sampleCount()) return;
  const std::size_t bodies = recording_.trace.bodies().size();
  Event event;
  const auto tell = [&](std::size_t frame) {
    const Event e = std::exchange(event, {});
    if (!e.open || e.seconds() < kShortest) return;
    std::vector<int> others;
    const std::string who = whoStandsAround(e.at, frame, others);
    Finding& f = add("off-path", Severity::warning, e, limits_.offPath,
                     text("Agent %d is %.1f m off its path for %.1f s.", body().id, e.worst, e.seconds()),
                     who.empty() ? "Nobody is near: it was moved aside before, or cuts its corners widely." : who,
                     "a wider way, fewer agents at once, or asking anew sooner.");
    f.others = std::move(others);
  };
  std::size_t worst = 0;
  for (std::size_t i = span.first; i <= span.last; ++i) {
    const Moment& m = moment(i);
    if (event.over(m.t)) tell(worst);
    const double metres = static_cast<double>(off[m.frame * bodies + track_.body]);
    if (!(metres > limits_.offPath)) continue;
    if (!event.open || metres > event.worst) worst = m.frame;
    event.add(m.t, metres, m.at);
  }
  tell(worst);
}

/// Of a trip to where it was to go.
void BodyReview::lookAtLateness(std::size_t first, std::size_t last) {
  constexpr double kSetsOut = 0.2, kStands = 0.1, kSlow = 0.5;  // m, m/s, of its pace
  const double usual = pace();
  if (usual <= 0) return;
  while (first < last && glm::distance(moment(first + 1).at, moment(0).at) < kSetsOut) ++first;
  const Moment &a = moment(first), &b = moment(last);
  const double seconds = b.t - a.t;
  const auto isLate = [&](double length) { return seconds > limits_.late * length / usual + limits_.lateMore; };
  // The best way is no shorter than straight: most trips need no search.
  if (!isLate(glm::distance(a.at, b.at)) || toldBetween(a.t, b.t, {"stuck", "long-way", "dear-way", "jumped", "gap"})) return;
  const auto best = bestWay(a.at, b.at);
  if (!best || !isLate(best->length)) return;
  double stood = 0, slow = 0, most = -1;
  Event e = Event::lasting(a.t, b.t, seconds, a.at);
  for (std::size_t i = first + 1; i <= last; ++i) {
    const double dt = moment(i).t - moment(i - 1).t, speed = glm::distance(moment(i).at, moment(i - 1).at) / dt;
    (speed < kStands ? stood : slow) += speed < kSlow * usual ? dt : 0;
    // Told where it got on least.
    const double lost = dt * (usual - speed);
    if (lost > most) most = lost, e.at = moment(i).at, e.worstTime = moment(i).t;
  }
  add("late", Severity::warning, e, best->length / usual,
      text("Agent %d took %.1f s for a way of %.1f m: at its own %.1f m/s that is %.1f s.", body().id, seconds, best->length, usual,
           best->length / usual),
      text("It stood for %.1f s, and for %.1f s more it went at less than half of its speed.", stood, slow),
      "looking at where it was slow, and at who was near then.");
}

}  // namespace dune::review
