#include "core/review/flight_review.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/base/text.h"
#include "core/flight/path.h"
#include "core/review/contacts.h"

namespace dune::review {

namespace {

constexpr double kClimb = 1.1;         // times what it climbs
constexpr double kTurn = 1.3;          // times what it turns
constexpr double kOutside = 0.05;      // m
constexpr double kLeastPart = 1;       // m³
constexpr double kNothingBelow = 1e4;  // m
constexpr auto kLevel = flight::Obstacles::Which::ofLevel;
constexpr double kStands = 0.05;       // of its speed: slower it stands
constexpr double kStandsBeside = 2.5;  // times both radii: who is nearer stands beside it

/// What is wrong with one flight; as of walkers, what the recording cannot say is not said.
class FlightReview {
 public:
  FlightReview(const flight::Space& space, const trace::Trace& trace, std::size_t body, const MovementLimits& limits)
      : space_(space), kind_(space.flyer()), trace_(trace), limits_(limits), track_(trackOf(trace, body)), body_(trace.bodies()[body]) {}

  std::vector<Finding> run() {
    const auto& moments = track_.moments;
    const double pause = longestPause(limits_, track_.interval);
    for (std::size_t i = 0; i < moments.size(); ++i) {
      const Moment& now = moments[i];
      closeOver(now.t);
      lookAtPlace(now);
      if (i == 0 || now.t - moments[i - 1].t > pause) {
        stood_ = {};
        continue;
      }
      lookAtStep(moments[i - 1], now);
      if (i > 1 && moments[i - 1].t - moments[i - 2].t <= pause) lookAtTurn(moments[i - 2], moments[i - 1], now);
    }
    closeOver(std::numeric_limits<double>::infinity());
    lookAtWay();
    return std::move(findings_);
  }

 private:
  Finding& add(const char* code, Severity severity, const Event& e, double limit, std::string sentence, std::string why,
               std::string advice) {
    Finding f{code, severity, std::move(sentence), std::move(why), std::move(advice), e.at, e.worstTime, body_.id, e.worst, limit};
    f.from = e.begin, f.until = e.last;
    return findings_.emplace_back(std::move(f));
  }

  /// Tells of what is over at a time.
  void closeOver(double t) {
    const auto over = [&](Event& e) { return e.over(t) ? std::exchange(e, {}) : Event{}; };
    if (const Event e = over(touched_); e.open)
      add("wall-touched", Severity::warning, e, limits_.wallTouch,
          text("Agent %d is %.2f m nearer to \"%s\" than its body allows.", body_.id, e.worst, nearestTo(e.at).c_str()),
          "Something else moved it, or it was recorded with another body.", "looking at what moved it.");
    if (const Event e = over(outside_); e.open)
      add("left-volume", Severity::error, e, kOutside, text("Agent %d is %.2f m outside of where it may fly.", body_.id, e.worst),
          "Something else moved it, or the volume is too small.", "a larger volume.");
    if (const Event e = over(low_); e.open)
      add("too-low", Severity::error, e, limits_.wallTouch, text("Agent %d is %.2f m too low over the ground.", body_.id, e.worst),
          text("%s flies no lower than %.2f m over it.", kind_.name.c_str(), kind_.leastHeight),
          "a lower least height, or looking at what moved it.");
    if (const Event e = over(high_); e.open)
      add("too-high", Severity::error, e, 0,
          e.worst < kNothingBelow ? text("Agent %d is %.2f m too high over the level.", body_.id, e.worst)
                                  : text("Agent %d flies where nothing is under it.", body_.id),
          text("%s flies no higher than %.2f m over the level.", kind_.name.c_str(), kind_.mostHeight),
          "a higher greatest height, or looking at what moved it.");
    if (const Event e = over(fast_); e.open)
      add("too-fast", Severity::error, e, limits_.speed * kind_.speed, text("Agent %d flies at %.1f m/s.", body_.id, e.worst),
          text("The top speed of %s is %.1f m/s.", kind_.name.c_str(), kind_.speed), "a lower speed, or a faster kind of agent.");
    if (const Event e = over(climbs_); e.open)
      add("climbed-too-fast", Severity::warning, e, kClimb * kind_.climbRate,
          text("Agent %d rises or sinks at %.1f m/s.", body_.id, e.worst),
          text("%s climbs at %.1f m/s.", kind_.name.c_str(), kind_.climbRate), "a flatter way, or a kind of agent that climbs faster.");
    if (const Event e = over(turns_); e.open)
      add("turned-at-once", Severity::warning, e, kTurn * kind_.turnRate, text("Agent %d turns by %.0f° in a second.", body_.id, e.worst),
          text("%s turns by %.0f° in a second, and must keep moving.", kind_.name.c_str(), kind_.turnRate),
          "a wider way, or another turning rate.");
    if (const Event e = over(stood_); e.open && e.seconds() >= limits_.stuckSeconds) {
      std::vector<int> others;
      const std::string why = whyItStands(e.at, e.last, others);
      Finding& f =
          add("stuck", Severity::warning, e, limits_.stuckSeconds, text("Agent %d does not get on for %.1f s.", body_.id, e.seconds()), why,
              "asking for a way from here, or fewer at once.");
      f.measured = e.seconds(), f.others = std::move(others);
    }
  }

  void lookAtPlace(const Moment& now) {
    const Vec3 p = space_.stretched(now.at);
    const flight::Obstacles::Near near = space_.obstacles().nearest(p, kind_.radius, kLevel);
    const double deep = kind_.radius - near.distance, out = space_.length(p - space_.volume().nearest(p));
    if (deep > limits_.wallTouch) touched_.add(now.t, deep, now.at);
    if (out > kOutside) outside_.add(now.t, out, now.at);
    const flight::HeightAt height = isAtItsEnd(now.at) ? flight::HeightAt{} : space_.heightAt(p);
    if (height.is == flight::HeightAt::Is::low && kind_.leastHeight - height.height > limits_.wallTouch)
      low_.add(now.t, kind_.leastHeight - height.height, now.at);
    if (height.is == flight::HeightAt::Is::high) high_.add(now.t, std::min(height.height - kind_.mostHeight, kNothingBelow), now.at);
  }

  /// Right over where it began or goes to, where it may take off and land.
  bool isAtItsEnd(const Vec3& at) const {
    const auto over = [&](const Vec3& end) { return std::hypot(at.x - end.x, at.z - end.z) <= kind_.radius + kind_.arriveWithin; };
    return over(track_.moments.front().at) || (body_.goal && over(*body_.goal));
  }

  void lookAtStep(const Moment& before, const Moment& now) {
    const double dt = now.t - before.t, far = glm::distance(before.at, now.at);
    const flight::Obstacles::Hit hit = space_.obstacles().firstHit(space_.stretched(before.at), space_.stretched(now.at), kLevel);
    if (hit.barrier >= 0)
      add("through-wall", Severity::error, Event::lasting(before.t, now.t, far, before.at + (now.at - before.at) * hit.along), 0,
          text("Agent %d went through \"%s\".", body_.id, space_.nameOf(hit.barrier).c_str()),
          "Between two samples its middle passes from one side to the other.", "looking at what moved it.");
    if (far > limits_.jump + limits_.speed * kind_.speed * dt) {
      add("jumped", Severity::error, Event::lasting(before.t, now.t, far, now.at), limits_.jump,
          text("Agent %d is %.1f m farther after %.2f s.", body_.id, far, dt), "It was set to another place.",
          "looking at what set it there.");
      stood_ = {};
      return;
    }
    const double rises = std::abs(now.at.y - before.at.y) / dt;
    if (far / dt > limits_.speed * kind_.speed) fast_.add(now.t, far / dt, now.at);
    if (rises > kClimb * kind_.climbRate) climbs_.add(now.t, rises, now.at);
    if (now.state != trace::State::arrived && far < kStands * kind_.speed * dt)
      stood_.add(now.t, now.t, now.at);
    else if (!(stood_.open && stood_.seconds() >= limits_.stuckSeconds))
      stood_ = {};
  }

  /// What hovers may go to any side; what must keep moving turns no faster than it turns.
  void lookAtTurn(const Moment& first, const Moment& middle, const Moment& last) {
    const Vec2 a = plan(middle.at - first.at) / (middle.t - first.t), b = plan(last.at - middle.at) / (last.t - middle.t);
    const double la = glm::length(a), lb = glm::length(b);
    if (kind_.hovers() || la < 0.5 * kind_.leastSpeed || lb < 0.5 * kind_.leastSpeed) return;
    const double rate = degrees(std::acos(std::clamp(glm::dot(a, b) / la / lb, -1.0, 1.0))) / (last.t - middle.t);
    if (rate > kTurn * kind_.turnRate) turns_.add(last.t, rate, middle.at);
  }

  std::string nearestTo(const Vec3& at) const {
    return space_.nameOf(space_.obstacles().nearest(space_.stretched(at), kind_.radius, kLevel).barrier);
  }

  std::string whyItStands(const Vec3& at, double t, std::vector<int>& others) const {
    const std::size_t frame = trace_.frameAt(t);
    std::string names;
    for (std::size_t other = 0; other < trace_.bodies().size(); ++other) {
      const trace::Body& b = trace_.bodies()[other];
      const trace::Sample s = trace_.at(frame, other);
      if (b.id == body_.id || s.state == trace::State::waiting || glm::distance(s.at, at) > kStandsBeside * (kind_.radius + b.radius))
        continue;
      names += (names.empty() ? "" : ", ") + std::to_string(b.id);
      others.push_back(b.id);
    }
    if (!names.empty()) return text("Beside it: agent %s.", names.c_str());
    const auto near = space_.obstacles().nearest(space_.stretched(at), 1.5 * kind_.radius, kLevel);
    return near.barrier < 0 ? "Nothing is near it." : text("It is at \"%s\".", space_.nameOf(near.barrier).c_str());
  }

  /// Of all of it: whether it came to its goal, and whether it took a long way round.
  void lookAtWay() {
    const auto& moments = track_.moments;
    if (!body_.goal || moments.size() < 2) return;
    const Moment &start = moments.front(), &end = moments.back();
    const double seconds = end.t - start.t, missing = glm::distance(end.at, *body_.goal), within = kind_.arriveWithin + kind_.radius;
    double flown = 0;
    for (std::size_t i = 1; i < moments.size(); ++i) flown += glm::distance(moments[i - 1].at, moments[i].at);
    const flight::Way way = flight::Searcher(space_).find({start.at, *body_.goal});
    if (missing > within) {
      if (way.found() && seconds * kind_.speed < way.length) return;  // it had no time
      std::vector<int> others;
      const std::string why = way.found() ? whyItStands(end.at, end.t, others) : way.why;
      add("never-arrives", Severity::error, Event::lasting(start.t, end.t, missing, end.at), within,
          text("Agent %d ends %.1f m from its goal.", body_.id, missing), why, "asking for the way from here to the goal.")
          .others = std::move(others);
      return;
    }
    if (!way.found() || flown <= limits_.around * way.length || flown <= way.length + limits_.aroundMore) return;
    add("long-way", Severity::warning, Event::lasting(start.t, end.t, flown, start.at), limits_.around * way.length,
        text("Agent %d flew %.1f m, where %.1f m are enough.", body_.id, flown, way.length), "It made way, or its waypoints lie far apart.",
        "asking for the way between both ends.");
  }

  const flight::Space& space_;
  const flight::Flyer& kind_;
  const trace::Trace& trace_;
  const MovementLimits& limits_;
  Track track_;
  const trace::Body& body_;
  Event touched_, outside_, low_, high_, fast_, climbs_, turns_, stood_;
  std::vector<Finding> findings_;
};

}  // namespace

std::vector<Finding> reviewSpace(const flight::Space& space) {
  const std::string& name = space.flyer().name;
  const std::string whose = name.empty() ? std::string() : " for " + name;
  if (space.parts() == 0)
    return {{"no-air", Severity::error, "There is no place in the volume where the body fits" + whose + ".",
             "The body is larger than any gap, or the volume lies in solids.", "a smaller body, or another volume.",
             space.boxes().front().centre()}};
  std::vector<flight::NodeId> best(space.parts(), flight::kNoNode);
  for (flight::NodeId n = 0; n < space.size(); ++n)
    if (const std::uint32_t part = space.part(n); part != flight::kNoNode)
      if (best[part] == flight::kNoNode || space.cell(n).clearance > space.cell(best[part]).clearance) best[part] = n;
  std::vector<Finding> findings;
  for (std::uint32_t part = 1; part < space.parts() && space.partSize(part) >= kLeastPart; ++part)
    findings.push_back(
        {"air-cut-off", Severity::warning, text("%.1f m³ of free space%s are cut off from the rest.", space.partSize(part), whose.c_str()),
         "Every opening between them is narrower than the body.", "a wider opening, a smaller body, or nothing where nobody is to fly.",
         space.real(space.at(best[part])), -1, -1, space.partSize(part), kLeastPart});
  return findings;
}

Result<std::vector<Finding>> reviewFlight(std::span<const flight::Space* const> spaces, std::span<const std::size_t> spaceOf,
                                          const trace::Trace& trace, const MovementLimits& limits, Job& job) {
  if (trace.frameCount() == 0) return std::vector<Finding>{};
  const auto of = [&](std::size_t body) -> const flight::Space& { return *spaces[body < spaceOf.size() ? spaceOf[body] : 0]; };
  std::vector<std::vector<Finding>> each(trace.bodies().size());
  if (!parallelFor(
          job, each.size(), [&](std::size_t i) { each[i] = FlightReview(of(i), trace, i, limits).run(); }, 1, 0, 0.7))
    return Job::cancelledProblem();
  std::vector<Finding> findings;
  for (auto& list : each) std::ranges::move(list, std::back_inserter(findings));
  const BodyShapes shapes{[&](std::uint32_t b) { return of(b).flyer().radius; },
                          [&](std::uint32_t a, std::uint32_t b, const Vec3& atA, const Vec3& atB) {
                            const flight::Flyer &fa = of(a).flyer(), &fb = of(b).flyer();
                            const double radius = fa.radius + fb.radius, half = fa.halfHeight + fb.halfHeight;
                            const Vec3 d = atA - atB;
                            return radius - glm::length(Vec3(d.x, d.y * radius / half, d.z));
                          }};
  Job rest(job, Job::Quiet{});
  auto contacts = reviewContacts(trace, shapes, limits, rest);
  if (!contacts) return contacts.problem();
  std::ranges::move(*contacts, std::back_inserter(findings));
  for (Finding& f : findings) f.flies = true;
  return findings;
}

}  // namespace dune::review
