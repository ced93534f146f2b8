// A finding is an event, not a sample: while a limit is passed without a break, only the worst moment counts.

#include <algorithm>
#include <map>

#include "core/base/text.h"
#include "core/review/findings.h"

namespace dune::review {

namespace {

using trace::Sample;
using trace::State;
using trace::Trace;

constexpr double kBreak = 0.5;  // s without the fault end an event

/// Gathers moments of one kind for one body (or pair) into events.
struct Event {
  double begin = -1, last = -1, worst = 0, worstTime = 0;
  Vec3 at{};

  bool open() const { return begin >= 0; }
  void add(double t, double amount, const Vec3& where) {
    if (!open()) begin = t, worst = -1;
    last = t;
    if (amount > worst) worst = amount, worstTime = t, at = where;
  }
};

class Reviewer {
 public:
  Reviewer(std::span<const Ground> grounds, std::span<const std::size_t> groundOf, const Trace& trace, const MovementLimits& limits)
      : grounds_(grounds), groundOf_(groundOf), trace_(trace), limits_(limits) {
    for (const Ground& g : grounds) walls_.emplace_back(g.mesh);
  }

  Result<std::vector<Finding>> run(Job& job) {
    const std::size_t frames = trace_.frameCount(), bodies = trace_.bodies().size();
    wall_.resize(bodies), ground_.resize(bodies), stuck_.resize(bodies), now_.resize(bodies), begun_.resize(bodies);
    for (std::size_t f = 0; f < frames; ++f) {
      if (job.cancelled()) return Job::cancelledProblem();
      for (std::size_t b = 0; b < bodies; ++b) now_[b] = trace_.at(f, b);
      for (std::size_t b = 0; b < bodies; ++b) body(b, now_[b]);
      overlaps();
      job.advance(static_cast<double>(f + 1) / static_cast<double>(frames));
    }
    for (std::size_t b = 0; b < bodies; ++b) finishWall(b), finishGround(b), finishStuck(b);
    for (auto& [pair, event] : overlap_) finishOverlap(pair, event);
    if (frames > 0) arrivals();
    std::stable_sort(findings_.begin(), findings_.end(), [](const Finding& a, const Finding& b) {
      return a.severity != b.severity ? a.severity < b.severity : a.time < b.time;
    });
    return findings_;
  }

 private:
  std::size_t numberOf(std::size_t b) const { return b < groundOf_.size() ? groundOf_[b] : 0; }
  const Ground& groundOf(std::size_t b) const { return grounds_[numberOf(b)]; }
  double radiusOf(std::size_t b) const { return trace_.bodies()[b].radius > 0 ? trace_.bodies()[b].radius : groundOf(b).mesh.agent.radius; }

  void body(std::size_t b, const Sample& s) {
    // Who waits for its time is not there yet.
    if (s.state != State::waiting) begun_[b] = true;
    if (!begun_[b]) return;
    if (s.state == State::link) {
      finishWall(b), finishGround(b), finishStuck(b);
      return;
    }
    const double off = offGround(b, s.at);
    if (off > limits_.offGround)
      ground_[b].add(s.t, off, s.at);
    else if (ground_[b].open() && s.t - ground_[b].last > kBreak)
      finishGround(b);
    if (off <= limits_.offGround) {
      const double short_ = radiusOf(b) - walls_[numberOf(b)].at(s.at, radiusOf(b) + 0.5);
      if (short_ > limits_.wallTouch)
        wall_[b].add(s.t, short_, s.at);
      else if (wall_[b].open() && s.t - wall_[b].last > kBreak)
        finishWall(b);
    }
    const bool still =
        glm::length(s.velocity) < limits_.stuckSpeed && s.state != State::arrived && s.state != State::waiting && !nearGoal(b, s.at);
    if (still)
      stuck_[b].add(s.t, 0, s.at);
    else
      finishStuck(b);
  }

  bool nearGoal(std::size_t b, const Vec3& at) const {
    return trace_.bodies()[b].goal && glm::distance(*trace_.bodies()[b].goal, at) < 0.5;
  }

  /// How far a place is from the ground a body's centre may be on, metres.
  double offGround(std::size_t b, const Vec3& at) const {
    const Ground& ground = groundOf(b);
    const nav::Place under = ground.locator.under(at, 1.0);
    if (under.valid()) return std::abs(under.position.y - at.y);
    const nav::Place near = ground.locator.nearest(at, 5);
    return near.valid() ? std::max(0.0, glm::distance(near.position, at) - ground.mesh.agent.radius) : 5;
  }

  void overlaps() {
    const std::size_t bodies = trace_.bodies().size();
    std::vector<Box2> boxes(bodies);
    for (std::size_t b = 0; b < bodies; ++b) {
      boxes[b].add(plan(now_[b].at));
      boxes[b] = boxes[b].grown(radiusOf(b));
    }
    const PlanGrid grid(boxes, 1.0);
    std::vector<std::uint32_t> near;
    for (std::size_t a = 0; a < bodies; ++a) {
      const Sample& sa = now_[a];
      grid.collect(boxes[a], near);
      for (const std::uint32_t b : near) {
        if (b <= a || !begun_[a] || !begun_[b]) continue;
        const Sample& sb = now_[b];
        if (std::abs(sa.at.y - sb.at.y) > groundOf(a).mesh.agent.height / 2 || sa.state == State::link || sb.state == State::link) continue;
        const double depth = radiusOf(a) + radiusOf(b) - glm::distance(plan(sa.at), plan(sb.at));
        if (depth > limits_.overlap) overlap_[{a, b}].add(sa.t, depth, (sa.at + sb.at) * 0.5);
      }
    }
  }

  void add(const char* code, Severity severity, std::size_t b, const Event& e, double limit, std::string sentence, std::string why,
           std::string advice) {
    findings_.push_back(
        {code, severity, std::move(sentence), std::move(why), std::move(advice), e.at, e.worstTime, trace_.bodies()[b].id, e.worst, limit});
  }

  void finishWall(std::size_t b) {
    const Event e = std::exchange(wall_[b], {});
    if (!e.open()) return;
    add("wall-touched", Severity::error, b, e, limits_.wallTouch,
        text("Agent %d is %.2f m inside a wall's clearance: %.2f m from it with radius %.2f m.", trace_.bodies()[b].id, e.worst,
             radiusOf(b) - e.worst, radiusOf(b)),
        "Its radius is larger than the one the mesh was built for, or it left its path.", "building the mesh for this radius.");
  }
  void finishGround(std::size_t b) {
    const Event e = std::exchange(ground_[b], {});
    if (!e.open()) return;
    add("left-ground", Severity::error, b, e, limits_.offGround,
        text("Agent %d left the ground by %.2f m for %.1f s.", trace_.bodies()[b].id, e.worst, e.last - e.begin),
        "It was pushed or moved off the mesh.", "looking at what moved it at this time.");
  }
  void finishStuck(std::size_t b) {
    Event e = std::exchange(stuck_[b], {});
    if (!e.open() || e.last - e.begin < limits_.stuckSeconds) return;
    e.worstTime = e.begin, e.worst = e.last - e.begin;
    add("stuck", Severity::error, b, e, limits_.stuckSeconds,
        text("Agent %d stood still for %.1f s on its way.", trace_.bodies()[b].id, e.worst),
        "Others block the way, or its goal cannot be reached.", "a wider passage here, or fewer agents at once.");
  }
  void finishOverlap(std::pair<std::size_t, std::size_t> pair, const Event& e) {
    add("overlap", Severity::warning, pair.first, e, limits_.overlap,
        text("Agents %d and %d overlap by %.2f m for %.1f s.", trace_.bodies()[pair.first].id, trace_.bodies()[pair.second].id, e.worst,
             e.last - e.begin),
        "More bodies push into this place than there is room for.", "a wider passage, or starting them further apart.");
  }

  void arrivals() {
    const std::size_t last = trace_.frameCount() - 1;
    for (std::size_t b = 0; b < trace_.bodies().size(); ++b) {
      const Sample s = trace_.at(last, b);
      if (s.state == State::arrived || !trace_.bodies()[b].goal) continue;
      Event e;
      e.add(s.t, glm::distance(s.at, *trace_.bodies()[b].goal), s.at);
      if (e.worst < 0.5) continue;
      const bool off = s.state == State::offMesh;
      add("never-arrives", off ? Severity::error : Severity::warning, b, e, 0,
          off ? text("Agent %d starts where there is no ground.", trace_.bodies()[b].id)
              : text("Agent %d has not arrived after %.1f s: %.2f m are left.", trace_.bodies()[b].id, s.t, e.worst),
          off ? "Its start lies off the mesh." : "The goal cannot be reached, the way is blocked, or the time was too short.",
          off ? "moving its start on to walkable ground." : "asking for the path from here to the goal.");
    }
  }

  std::span<const Ground> grounds_;
  std::span<const std::size_t> groundOf_;
  const Trace& trace_;
  const MovementLimits& limits_;
  std::vector<WallDistance> walls_;  // one a ground
  std::vector<char> begun_;
  std::vector<Sample> now_;  // of all bodies at the time looked at
  std::vector<Event> wall_, ground_, stuck_;
  std::map<std::pair<std::size_t, std::size_t>, Event> overlap_;
  std::vector<Finding> findings_;
};

}  // namespace

WallDistance::WallDistance(const nav::NavMesh& mesh) : radius_(mesh.agent.radius) {
  std::vector<Box2> boxes;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::size_t i = 0, n = mesh.cornerCount(nav::FaceId{f}); i < n; ++i) {
      if (mesh.acrossOf(nav::FaceId{f})[i] != nav::kNoFace) continue;
      const Vec3 &a = mesh.cornerAt(nav::FaceId{f}, i), &b = mesh.cornerAt(nav::FaceId{f}, (i + 1) % n);
      edges_.push_back({plan(a), plan(b), (a.y + b.y) / 2});
      boxes.emplace_back().add(plan(a));
      boxes.back().add(plan(b));
    }
  grid_ = PlanGrid(boxes, 1.0);
}

/// On the mesh the border is the radius from the wall; beyond the border the wall is that much nearer.
double WallDistance::at(const Vec3& p, double most) const {
  Box2 box;
  box.add(plan(p));
  thread_local std::vector<std::uint32_t> near;
  grid_.collect(box.grown(most), near);
  constexpr double kSame = 1e-9;
  double best = most;
  bool inside = true;
  for (const std::uint32_t i : near) {
    const Edge& e = edges_[i];
    if (std::abs(e.y - p.y) > 1.5) continue;
    const double d = distanceToSegment(e.a, e.b, plan(p));
    if (d > best + kSame) continue;
    const bool within = cross(e.b - e.a, plan(p) - e.a) >= 0;
    // Of two edges that meet in the nearest corner, one that has the place on its side is enough.
    inside = d < best - kSame ? within : inside || within;
    best = std::min(best, d);
  }
  return inside ? std::min(most, radius_ + best) : std::max(0.0, radius_ - best);
}

Result<std::vector<Finding>> reviewMovement(std::span<const Ground> grounds, std::span<const std::size_t> groundOf, const Trace& trace,
                                            const MovementLimits& limits, Job& job) {
  return Reviewer(grounds, groundOf, trace, limits).run(job);
}

}  // namespace dune::review
