#include "core/route/settle_way.h"

#include <algorithm>
#include <span>

namespace dune::route {

namespace {

constexpr double kSameBend = 1e-9;  // metres
constexpr int kMostRounds = 12;     // in which every bend slides once
constexpr double kSettled = 1e-7;   // of the cost: a round that saves less is the last
constexpr int kHalvings = 24;       // golden sections of the stretch that a bend may slide along

using Sort = WayStep::Sort;

/// The shortest line from a place through edges to another.
class Taut {
 public:
  /// Its length; its corners are then in corners(), each with the number of the edge at which it turns.
  double pull(const Vec2& from, std::span<const WayStep> edges, const Vec2& to) {
    corners_.clear();
    if (isStraight(from, edges, to)) return glm::distance(from, to);
    funnel(from, edges, to);
    double length = 0;
    Vec2 at = from;
    for (const auto& [corner, edge] : corners_) length += glm::distance(at, corner), at = corner;
    return length + glm::distance(at, to);
  }
  const std::vector<std::pair<Vec2, std::size_t>>& corners() const { return corners_; }

 private:
  static bool isStraight(const Vec2& from, std::span<const WayStep> edges, const Vec2& to) {
    const Vec2 d = to - from;
    const double slack = kSameBend * glm::length(d);
    return std::ranges::all_of(edges,
                               [&](const WayStep& e) { return cross(e.right - from, d) >= -slack && cross(d, e.left - from) >= -slack; });
  }

  /// Narrows what is seen from the last corner edge by edge; where nothing is left of it, the line turns at the side that is in the way.
  void funnel(const Vec2& from, std::span<const WayStep> edges, const Vec2& to) {
    Vec2 apex = from, right = from, left = from;
    std::size_t rightAt = 0, leftAt = 0, i = 0;
    bool open = false;  // whether right and left are set
    const auto turnAt = [&](const Vec2& corner, std::size_t edge) {
      if (glm::distance(corner, apex) > kSameBend) corners_.emplace_back(corner, edge);
      apex = corner, i = edge, open = false;
    };
    for (; i <= edges.size(); ++i) {
      const Vec2 r = i < edges.size() ? edges[i].right : to, l = i < edges.size() ? edges[i].left : to;
      if (!open) {
        // An edge that begins at the apex leaves everything beyond it in sight on that side.
        if (glm::distance(r, apex) <= kSameBend || glm::distance(l, apex) <= kSameBend) continue;
        right = r, left = l, rightAt = leftAt = i, open = true;
        continue;
      }
      if (cross(right - apex, r - apex) >= 0) {
        if (cross(left - apex, r - apex) > 0) {
          turnAt(left, leftAt);
          continue;
        }
        right = r, rightAt = i;
      }
      if (cross(left - apex, l - apex) <= 0) {
        if (cross(right - apex, l - apex) < 0) {
          turnAt(right, rightAt);
          continue;
        }
        left = l, leftAt = i;
      }
    }
  }

  std::vector<std::pair<Vec2, std::size_t>> corners_;
};

class Settler {
 public:
  Settler(std::vector<WayStep> steps, double reach) : steps_(std::move(steps)), reach_(reach) {}

  std::vector<WayStep> run() {
    slideAll();
    std::vector<WayStep> way;
    for (std::size_t from = 0; from + 1 < steps_.size();) {
      const std::size_t to = nextBend(from);
      way.push_back(steps_[from]);
      if (steps_[from].link < 0) {
        (void)stretch(from, to);
        for (const auto& [corner, edge] : taut_.corners()) {
          way.push_back(steps_[from + 1 + edge]);
          way.back().at = lift(corner, 0), way.back().sort = Sort::bend;
        }
      }
      from = to;
    }
    way.push_back(steps_.back());
    return way;
  }

 private:
  std::size_t nextBend(std::size_t i) const {
    do ++i;
    while (steps_[i].sort == Sort::crossing);
    return i;
  }
  std::size_t bendBefore(std::size_t i) const {
    do --i;
    while (steps_[i].sort == Sort::crossing);
    return i;
  }
  /// The length of the way between two bends that follow each other.
  double stretch(std::size_t from, std::size_t to) {
    return taut_.pull(plan(steps_[from].at), std::span(steps_).subspan(from + 1, to - from - 1), plan(steps_[to].at));
  }

  void slideAll() {
    for (int round = 0; round < kMostRounds; ++round) {
      double saved = 0, cost = 0;
      for (std::size_t i = 1; i + 1 < steps_.size(); ++i)
        if (steps_[i].sort == Sort::slidingBend && steps_[bendBefore(i)].link < 0)
          slide(i, saved, cost);
        else if (steps_[i].link >= 0 && steps_[i].low < steps_[i].high)
          slideLink(i, saved, cost);
      if (saved <= kSettled * cost) return;
    }
  }

  void slide(std::size_t i, double& saved, double& cost) {
    WayStep& bend = steps_[i];
    const std::size_t from = bendBefore(i), to = nextBend(i);
    const double length = glm::distance(bend.right, bend.left), now = glm::distance(bend.right, plan(bend.at)) / length;
    const auto costAt = [&](double t) {
      bend.at = lift(glm::mix(bend.right, bend.left, t), 0);
      const double before = stretch(from, i) * steps_[from].perMetre;
      return before + stretch(i, to) * bend.perMetre;
    };
    settle(costAt, now, std::max(0.0, now - reach_ / length), std::min(1.0, now + reach_ / length), saved, cost);
  }

  /// Foot and landing together; what was tried were lanes.
  void slideLink(std::size_t i, double& saved, double& cost) {
    WayStep &foot = steps_[i], &landing = steps_[i + 1];
    const std::size_t from = i > 0 ? bendBefore(i) : i, to = i + 2 < steps_.size() ? nextBend(i + 1) : i + 1;
    const auto costAt = [&](double t) {
      foot.along = t;
      foot.at = foot.middle + foot.half * t, landing.at = landing.middle + landing.half * t;
      const double before = steps_[from].link < 0 ? stretch(from, i) * steps_[from].perMetre : 0;
      const double after = steps_[i + 1].link < 0 ? stretch(i + 1, to) * landing.perMetre : 0;
      return before + glm::distance(foot.at, landing.at) * foot.perMetre + after;
    };
    settle(costAt, foot.along, foot.low, foot.high, saved, cost);
  }

  /// By golden section; what it finds counts only where it is cheaper.
  template <class CostAt>
  void settle(CostAt&& costAt, double now, double low, double high, double& saved, double& cost) {
    constexpr double kGolden = 0.381966011250105;
    const double before = costAt(now);
    double x = low + (high - low) * kGolden, y = high - (high - low) * kGolden, atX = costAt(x), atY = costAt(y);
    for (int k = 0; k < kHalvings; ++k) {
      if (atX < atY) {
        high = y, y = x, atY = atX;
        x = low + (high - low) * kGolden, atX = costAt(x);
      } else {
        low = x, x = y, atX = atY;
        y = high - (high - low) * kGolden, atY = costAt(y);
      }
    }
    double best = costAt((low + high) / 2);
    if (best >= before) best = costAt(now);
    saved += before - best, cost += best;
  }

  std::vector<WayStep> steps_;
  double reach_;
  Taut taut_;
};

}  // namespace

std::vector<WayStep> settleWay(std::vector<WayStep> steps, double reach) { return Settler(std::move(steps), reach).run(); }

}  // namespace dune::route
