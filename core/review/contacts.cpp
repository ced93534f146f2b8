#include "core/review/contacts.h"

#include <algorithm>
#include <map>

#include "core/base/parallel.h"
#include "core/base/text.h"

namespace dune::review {

namespace {

using trace::Sample;
using trace::State;

/// Two bodies that overlap at a time.
struct Contact {
  std::uint32_t a, b;
  double depth;
  Vec3 at;
};

bool counts(const Sample& s) { return s.state != State::waiting && s.state != State::link && s.state != State::offMesh; }

struct Contacts {
  const trace::Trace& trace;
  const BodyShapes& shapes;
  const MovementLimits& limits;
};

std::vector<Contact> contactsAt(const Contacts& r, std::size_t frame) {
  const std::size_t bodies = r.trace.bodies().size();
  std::vector<Sample> now(bodies);
  std::vector<Box2> boxes(bodies);
  for (std::uint32_t b = 0; b < bodies; ++b) {
    now[b] = r.trace.at(frame, b);
    boxes[b].add(plan(now[b].at));
    boxes[b] = boxes[b].grown(r.shapes.radius(b));
  }
  const PlanGrid grid(boxes, 1.0);
  std::vector<Contact> contacts;
  std::vector<std::uint32_t> near;
  for (std::uint32_t a = 0; a < bodies; ++a) {
    if (!counts(now[a])) continue;
    grid.collect(boxes[a], near);
    for (const std::uint32_t b : near) {
      if (b <= a || !counts(now[b])) continue;
      const double depth = r.shapes.depth(a, b, now[a].at, now[b].at);
      if (depth > r.limits.overlap) contacts.push_back({a, b, depth, (now[a].at + now[b].at) * 0.5});
    }
  }
  return contacts;
}

Finding overlap(const Contacts& r, std::uint32_t a, std::uint32_t b, const Event& e) {
  const int first = r.trace.bodies()[a].id, second = r.trace.bodies()[b].id;
  Finding f{"overlap",
            Severity::warning,
            text("Agents %d and %d overlap by %.2f m for %.1f s.", first, second, e.worst, e.seconds()),
            "More bodies push into this place than there is room for, or they do not see each other.",
            "a wider passage, or starting them further apart.",
            e.at,
            e.worstTime,
            first,
            e.worst,
            r.limits.overlap};
  f.from = e.begin, f.until = e.last, f.others = {second};
  return f;
}

}  // namespace

Result<std::vector<Finding>> reviewContacts(const Recording& r, Job& job) {
  const BodyShapes shapes{[&](std::uint32_t b) { return r.radiusOf(b); },
                          [&](std::uint32_t a, std::uint32_t b, const Vec3& atA, const Vec3& atB) {
                            if (std::abs(atA.y - atB.y) > r.of(a).mesh.agent.height / 2) return -1.0;
                            return r.radiusOf(a) + r.radiusOf(b) - glm::distance(plan(atA), plan(atB));
                          }};
  return reviewContacts(r.trace, shapes, r.limits, job);
}

Result<std::vector<Finding>> reviewContacts(const trace::Trace& trace, const BodyShapes& shapes, const MovementLimits& limits, Job& job) {
  const Contacts r{trace, shapes, limits};
  constexpr std::size_t kFrames = 256, kSamples = 4096;  // side by side; of one piece of the work, so that it is worth handing out
  const std::size_t grain = std::clamp<std::size_t>(kSamples / std::max<std::size_t>(1, r.trace.bodies().size()), 1, kFrames);
  std::vector<Finding> findings;
  std::map<std::pair<std::uint32_t, std::uint32_t>, Event> open;
  const std::size_t frames = r.trace.frameCount();
  for (std::size_t begin = 0; begin < frames; begin += kFrames) {
    const std::size_t count = std::min(kFrames, frames - begin);
    std::vector<std::vector<Contact>> found(count);
    const auto share = [&](std::size_t f) { return static_cast<double>(f) / static_cast<double>(frames); };
    if (!parallelFor(
            job, count, [&](std::size_t i) { found[i] = contactsAt(r, begin + i); }, grain, share(begin), share(begin + count)))
      return Job::cancelledProblem();
    for (std::size_t i = 0; i < count; ++i) {
      const double t = r.trace.timeOf(begin + i);
      for (auto at = open.begin(); at != open.end();) {
        if (at->second.over(t)) findings.push_back(overlap(r, at->first.first, at->first.second, at->second));
        at = at->second.over(t) ? open.erase(at) : std::next(at);
      }
      for (const Contact& c : found[i]) open[{c.a, c.b}].add(t, c.depth, c.at);
    }
  }
  for (const auto& [pair, event] : open) findings.push_back(overlap(r, pair.first, pair.second, event));
  return findings;
}

}  // namespace dune::review
