#include "core/review/crush.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/text.h"
#include "core/base/union_find.h"
#include "core/route/path.h"

namespace dune::review {

namespace {

using trace::Sample;
using trace::State;

constexpr double kEvery = 0.5, kOver = 1;       // s between looks, and over which speeds are measured
constexpr double kSlow = 0.3;                   // m/s
constexpr double kBeside = 0.6;                 // m between bodies that stand together
constexpr std::size_t kMany = 5;                // bodies
constexpr double kSamePlace = 3, kApart = 2;    // m, s
constexpr double kLasts = 4;                    // s
constexpr double kStayed = 0.3, kAtGoal = 0.6;  // m
constexpr double kWidthNear = 6;                // m from where they stand to what holds them

/// Bodies that stand together at a time.
struct Cluster {
  std::vector<std::size_t> bodies;
  Vec3 at{};
};

/// The same over time.
struct Crush {
  double begin, last, worstTime;
  std::size_t worst = 0, worstFrame = 0, one = 0;  // one: of those who stand there at the worst time
  Vec3 at{};
  std::set<std::size_t> bodies{};
};

class Reviewer {
 public:
  explicit Reviewer(const Recording& r) : r_(r), on_(r.trace.bodies().size()) {}

  Result<std::vector<Finding>> run(Job& job) {
    findWays();
    double next = r_.trace.firstTime() + kOver;
    for (std::size_t f = 0; f < r_.trace.frameCount(); ++f) {
      const double t = r_.trace.timeOf(f);
      if (t < next) continue;
      if (job.cancelled()) return Job::cancelledProblem();
      next = t + kEvery;
      for (const Cluster& c : clustersAt(f)) take(c, f);
      closeBefore(t - kApart);
    }
    closeBefore(r_.trace.duration() + 1);
    return std::move(findings_);
  }

 private:
  /// From when to when a body is on its way: not before it first moves, and not once it stays where it is to the end.
  struct OnWay {
    double from = 1e300, until = -1e300;
  };
  void findWays() {
    const std::size_t frames = r_.trace.frameCount();
    for (std::size_t b = 0; b < on_.size(); ++b) {
      const auto moves = [&](std::size_t f, const Vec3& rest) {
        const Sample s = r_.trace.at(f, b);
        return s.state != State::waiting && glm::distance(s.at, rest) > kStayed;
      };
      std::size_t first = 0, last = frames - 1;
      while (first < frames && r_.trace.at(first, b).state == State::waiting) ++first;
      if (first == frames) continue;
      while (last > first && r_.trace.at(last, b).state == State::waiting) --last;
      const Vec3 begin = r_.trace.at(first, b).at, end = r_.trace.at(last, b).at;
      std::size_t from = first, until = last;
      while (from < last && !moves(from, begin)) ++from;
      while (until > first && !moves(until, end)) --until;
      on_[b] = {r_.trace.timeOf(from), r_.trace.timeOf(until)};
    }
  }

  bool heldUp(std::size_t frame, std::size_t before, std::size_t b, Sample& now) const {
    now = r_.trace.at(frame, b);
    if (now.t < on_[b].from || now.t > on_[b].until || (now.state != State::moving && now.state != State::stuck)) return false;
    const Sample then = r_.trace.at(before, b);
    if (then.state == State::waiting || then.state == State::link) return false;
    const auto& goal = r_.trace.bodies()[b].goal;
    return glm::distance(now.at, then.at) < kSlow * (now.t - then.t) && !(goal && glm::distance(*goal, now.at) < kAtGoal);
  }

  std::vector<Cluster> clustersAt(std::size_t frame) const {
    const std::size_t before = r_.trace.frameAt(r_.trace.timeOf(frame) - kOver);
    std::vector<std::size_t> slow;
    std::vector<Sample> now;
    std::vector<Box2> boxes;
    for (std::size_t b = 0; b < on_.size(); ++b) {
      Sample s;
      if (!heldUp(frame, before, b, s)) continue;
      slow.push_back(b), now.push_back(s);
      boxes.emplace_back().add(plan(s.at));
      boxes.back() = boxes.back().grown(r_.radiusOf(b) + kBeside / 2);
    }
    if (slow.size() < kMany) return {};
    const PlanGrid grid(boxes, 1.0);
    UnionFind together(slow.size());
    std::vector<std::uint32_t> near;
    for (std::uint32_t i = 0; i < slow.size(); ++i) {
      grid.collect(boxes[i], near);
      for (const std::uint32_t k : near)
        if (k > i && std::abs(now[i].at.y - now[k].at.y) < r_.of(slow[i]).mesh.agent.height &&
            glm::distance(plan(now[i].at), plan(now[k].at)) < r_.radiusOf(slow[i]) + r_.radiusOf(slow[k]) + kBeside)
          together.unite(i, k);
    }
    std::map<std::size_t, Cluster> clusters;
    for (std::uint32_t i = 0; i < slow.size(); ++i) {
      Cluster& c = clusters[together.find(i)];
      c.bodies.push_back(slow[i]), c.at += now[i].at;
    }
    std::vector<Cluster> many;
    for (auto& [root, c] : clusters) {
      if (c.bodies.size() < kMany) continue;
      c.at /= static_cast<double>(c.bodies.size());
      many.push_back(std::move(c));
    }
    return many;
  }

  void take(const Cluster& c, std::size_t frame) {
    const double t = r_.trace.timeOf(frame);
    auto same = std::ranges::find_if(open_, [&](const Crush& k) { return glm::distance(k.at, c.at) < kSamePlace; });
    if (same == open_.end()) same = open_.insert(open_.end(), Crush{t, t, t});
    same->last = t;
    same->bodies.insert(c.bodies.begin(), c.bodies.end());
    if (c.bodies.size() <= same->worst) return;
    same->worst = c.bodies.size(), same->worstTime = t, same->worstFrame = frame, same->at = c.at;
    same->one = c.bodies[0];
  }

  void closeBefore(double time) {
    std::erase_if(open_, [&](const Crush& c) {
      if (c.last >= time) return false;
      if (c.last - c.begin >= kLasts) tell(c);
      return true;
    });
  }

  /// How wide the narrowest place of the way is that is not far from where they stand; 0 where that is not known.
  double widthAhead(const Crush& c) const {
    const auto& goal = r_.trace.bodies()[c.one].goal;
    const Ground& ground = r_.of(c.one);
    if (!goal || !ground.field) return 0;
    route::Search search(*ground.field);
    // In plan, as bodies ask.
    const auto way = route::findPath(*ground.field, search, r_.trace.at(c.worstFrame, c.one).at, *goal, {2, false, true, 0});
    const bool near = way.status == route::PathStatus::complete && glm::distance(way.narrowestAt, c.at) < kWidthNear;
    return near && std::isfinite(way.narrowest) ? way.narrowest : 0;
  }

  void tell(const Crush& c) {
    const double seconds = c.last - c.begin, width = widthAhead(c);
    Finding f{"crush",
              Severity::warning,
              text("%zu agents crowd together here for %.1f s and hardly get on; %zu in all, %.1f a second.", c.worst, seconds,
                   c.bodies.size(), static_cast<double>(c.bodies.size()) / seconds),
              width > 0 ? text("The way is %.2f m wide near here, and more come than get through.", width)
                        : std::string("More come here than get on."),
              "a wider passage, another way around, or fewer at once.",
              c.at,
              c.worstTime,
              r_.trace.bodies()[c.one].id,
              static_cast<double>(c.worst),
              static_cast<double>(kMany)};
    f.from = c.begin, f.until = c.last;
    for (const std::size_t b : c.bodies)
      if (b != c.one) f.others.push_back(r_.trace.bodies()[b].id);
    findings_.push_back(std::move(f));
  }

  const Recording& r_;
  std::vector<OnWay> on_;
  std::vector<Crush> open_;
  std::vector<Finding> findings_;
};

}  // namespace

Result<std::vector<Finding>> reviewCrush(const Recording& recording, Job& job) { return Reviewer(recording).run(job); }

}  // namespace dune::review
