#include <algorithm>

#include "core/base/median.h"
#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/review/contacts.h"
#include "core/review/crush.h"

namespace dune::review {

namespace {

/// The median speed of those who walk, from some moments of the trace; 0 where nobody does.
double usualSpeed(const trace::Trace& trace) {
  constexpr std::size_t kSamples = 20'000;
  constexpr double kOver = 0.4, kWalks = 0.2;  // s, m/s
  const std::size_t frames = trace.frameCount(), bodies = trace.bodies().size();
  const std::size_t every = std::max<std::size_t>(1, frames * bodies / kSamples);
  std::vector<double> speeds;
  for (std::size_t i = 0; i < frames * bodies; i += every) {
    const std::size_t frame = i / bodies, body = i % bodies;
    const trace::Sample a = trace.at(frame, body);
    const std::size_t then = std::min(trace.frameAt(a.t + kOver) + 1, frames - 1);
    const trace::Sample b = trace.at(then, body);
    if (a.state == trace::State::waiting || b.state == trace::State::waiting || b.t - a.t < kOver / 2) continue;
    const double speed = glm::distance(plan(a.at), plan(b.at)) / (b.t - a.t);
    if (speed > kWalks) speeds.push_back(speed);
  }
  return medianOf(std::move(speeds));
}

/// Where nothing at all was recorded for long.
void findGaps(Recording& r, std::vector<Finding>& findings) {
  std::vector<double> between;
  const std::size_t frames = r.trace.frameCount();
  for (std::size_t f = 1; f < frames; ++f) between.push_back(r.trace.timeOf(f) - r.trace.timeOf(f - 1));
  const double longest = longestPause(r.limits, medianOf(between));
  for (std::size_t f = 1; f < frames; ++f) {
    if (between[f - 1] <= longest) continue;
    // Where nobody was there both before and after, there was nothing to record.
    bool somebody = false;
    for (std::size_t b = 0; b < r.trace.bodies().size() && !somebody; ++b)
      somebody = r.trace.at(f - 1, b).state != trace::State::waiting && r.trace.at(f, b).state != trace::State::waiting;
    if (!somebody) continue;
    r.gaps.push_back(f);
    Finding gap{"gap",
                Severity::warning,
                text("Nothing is recorded for %.1f s.", between[f - 1]),
                "The recording was interrupted, or samples were lost.",
                "recording all the time.",
                r.trace.bodies().empty() ? Vec3{} : r.trace.at(f - 1, 0).at,
                r.trace.timeOf(f - 1),
                -1,
                between[f - 1],
                r.limits.gap};
    gap.from = gap.time, gap.until = r.trace.timeOf(f);
    findings.push_back(std::move(gap));
  }
}

}  // namespace

std::span<const MovementLimit> movementLimits() {
  using L = MovementLimits;
  static constexpr MovementLimit kAll[] = {{"wall-touch", "nearer to a wall than the radius", "m", &L::wallTouch},
                                           {"off-ground", "above, below or beside the ground", "m", &L::offGround},
                                           {"floats", "above or below the level itself", "m", &L::floats},
                                           {"off-path", "from the path that is followed", "m", &L::offPath},
                                           {"overlap", "two bodies inside each other", "m", &L::overlap},
                                           {"stuck-seconds", "standing still on the way", "s", &L::stuckSeconds},
                                           {"hesitates", "without getting on in the middle of the way", "s", &L::hesitates},
                                           {"gap", "without a sample", "s", &L::gap},
                                           {"jump", "further in one step than it can have gone", "m", &L::jump},
                                           {"speed", "speed", "times the top speed", &L::speed},
                                           {"acceleration", "change of speed", "times the acceleration", &L::acceleration},
                                           {"turn", "turn at once", "degrees", &L::turn},
                                           {"around", "longer or dearer than the best way", "times that", &L::around},
                                           {"around-more", "and more than that by", "m", &L::aroundMore},
                                           {"late", "later than the best way takes at its own speed", "times that", &L::late},
                                           {"late-more", "and more than that by", "s", &L::lateMore}};
  return kAll;
}

Result<std::vector<Finding>> reviewMovement(std::span<const Ground> grounds, std::span<const std::size_t> groundOf,
                                            const trace::Trace& trace, const MovementLimits& limits, Job& job) {
  std::vector<Finding> findings;
  if (trace.frameCount() == 0) return findings;
  Recording recording{grounds, groundOf, trace, limits};
  for (const Ground& g : grounds)
    if (g.field) (void)g.field->ground();  // made once, and not by the first of the threads that needs it
  recording.usualSpeed = usualSpeed(trace);
  findGaps(recording, findings);
  std::vector<std::vector<Finding>> ofBody(trace.bodies().size());
  if (!parallelFor(
          job, ofBody.size(), [&](std::size_t b) { ofBody[b] = BodyReview(recording, b).run(); }, 1, 0, 0.7))
    return Job::cancelledProblem();
  for (std::vector<Finding>& of : ofBody) std::ranges::move(of, std::back_inserter(findings));
  Job rest(job, Job::Quiet{});
  auto contacts = reviewContacts(recording, rest);
  if (!contacts) return contacts.problem();
  std::ranges::move(*contacts, std::back_inserter(findings));
  auto crush = reviewCrush(recording, rest);
  if (!crush) return crush.problem();
  std::ranges::move(*crush, std::back_inserter(findings));
  std::ranges::stable_sort(
      findings, [](const Finding& a, const Finding& b) { return a.severity != b.severity ? a.severity < b.severity : a.time < b.time; });
  return findings;
}

}  // namespace dune::review
