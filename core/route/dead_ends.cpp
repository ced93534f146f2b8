#include "core/route/dead_ends.h"

#include <algorithm>
#include <limits>

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;
using nav::kNoFace;

constexpr std::uint32_t kNone = 0xffffffffu;

/// The faces that an edge or a link joins with each face, links both ways.
class Neighbours {
 public:
  Neighbours(const Adjacency& layout, const nav::Rules& rules) : layout_(layout), mesh_(layout.mesh()), rules_(rules) {
    for (std::uint32_t i = 0; i < mesh_.links.size(); ++i) {
      const nav::Link& link = mesh_.links[i];
      if (!rules.allows(link)) continue;
      ends_.push_back({link.fromFace, link.toFace, i}), ends_.push_back({link.toFace, link.fromFace, i});
    }
    std::ranges::sort(ends_, {}, [](const End& e) { return std::pair(e.at, e.link); });
  }

  /// Neighbour number `i` of a face and what joins them; nothing where it is forbidden. False past the last.
  struct Neighbour {
    FaceId face = kNoFace;
    std::size_t by = 0;
  };
  bool at(FaceId f, std::size_t i, Neighbour& found) const {
    const std::size_t corners = mesh_.cornerCount(f);
    found.face = kNoFace;
    if (i < corners) {
      const std::uint32_t corner = mesh_.start[index(f)] + static_cast<std::uint32_t>(i);
      const FaceId g = mesh_.across[corner];
      if (g != kNoFace && rules_.passable(mesh_, g)) found = {g, std::min(corner, mesh_.start[index(g)] + layout_.edgeBeyond(corner))};
      return true;
    }
    const auto first = std::ranges::lower_bound(ends_, f, {}, &End::at);
    const auto end = first + static_cast<std::ptrdiff_t>(i - corners);
    if (first == ends_.end() || end >= ends_.end() || end->at != f) return false;
    if (rules_.passable(mesh_, end->to)) found = {end->to, mesh_.corners.size() + end->link};
    return true;
  }

 private:
  struct End {
    FaceId at, to;
    std::uint32_t link;
  };
  const Adjacency& layout_;
  const nav::NavMesh& mesh_;
  const nav::Rules& rules_;
  std::vector<End> ends_;
};

/// A search in depth, written without recursion: levels have a million faces.
class Bridges {
 public:
  Bridges(const Adjacency& layout, const nav::Rules& rules)
      : neighbours_(layout, rules),
        corners_(layout.mesh().corners.size()),
        reached_(layout.mesh().faceCount(), kNone),
        low_(reached_.size(), 0) {}

  void from(FaceId root) {
    enter(root, 0);
    while (!stack_.empty()) {
      const FaceId f = stack_.back().face;
      Neighbours::Neighbour next;
      if (!neighbours_.at(f, stack_.back().next++, next)) {
        leave();
      } else if (next.face != kNoFace && (stack_.size() == 1 || next.by != stack_.back().by)) {
        if (reached_[index(next.face)] == kNone)
          enter(next.face, next.by);
        else
          low_[index(f)] = std::min(low_[index(f)], reached_[index(next.face)]);
      }
    }
  }
  bool reached(FaceId f) const { return reached_[index(f)] != kNone; }
  /// The faces in the order in which they were reached, each with whether an edge that alone joins it with the rest led to it, and how many
  /// were reached from it.
  struct Step {
    FaceId face, before;
    bool bridge, byLink;
    std::uint32_t size;
  };
  std::vector<Step>& order() { return order_; }

 private:
  struct Frame {
    FaceId face;
    std::size_t next, by;
  };
  void enter(FaceId f, std::size_t by) {
    low_[index(f)] = reached_[index(f)] = static_cast<std::uint32_t>(order_.size());
    order_.push_back({f, stack_.empty() ? kNoFace : stack_.back().face, stack_.empty(), by >= corners_, 0});
    stack_.push_back({f, 0, by});
  }
  void leave() {
    const std::uint32_t f = index(stack_.back().face);
    stack_.pop_back();
    Step& step = order_[reached_[f]];
    step.size = static_cast<std::uint32_t>(order_.size()) - reached_[f];
    if (stack_.empty()) return;
    const std::uint32_t before = index(stack_.back().face);
    step.bridge = low_[f] > reached_[before];
    low_[before] = std::min(low_[before], low_[f]);
  }

  Neighbours neighbours_;
  std::size_t corners_;
  std::vector<std::uint32_t> reached_, low_;
  std::vector<Step> order_;
  std::vector<Frame> stack_;
};

/// The least cost of ground on the two sides of the edges that alone join what lies there.
class LeastCosts {
 public:
  LeastCosts(const std::vector<Bridges::Step>& order, const nav::NavMesh& mesh, const nav::Rules& rules)
      : order_(order), within_(order.size(), kMost), before_(order.size() + 1, kMost), from_(order.size() + 1, kMost) {
    std::vector<std::uint32_t> at(mesh.faceCount(), kNone);
    for (std::uint32_t i = 0; i < order.size(); ++i) at[index(order[i].face)] = i;
    for (std::size_t i = 0; i < order.size(); ++i)
      before_[i + 1] = std::min(isFirst(i) ? kMost : before_[i], rules.of(mesh, order[i].face).cost);
    for (std::size_t i = order.size(); i-- > 0;) {
      const double cost = rules.of(mesh, order[i].face).cost;
      from_[i] = std::min(cost, isFirst(i + 1) ? kMost : from_[i + 1]);
      within_[i] = std::min(within_[i], cost);
      if (isFirst(i)) continue;
      double& parent = within_[at[index(order[i].before)]];
      parent = std::min(parent, within_[i]);
    }
  }
  /// Of all that was reached from a step on.
  double within(std::size_t i) const { return within_[i]; }
  /// Of all else that hangs together with it.
  double beside(std::size_t i) const {
    const std::size_t after = i + order_[i].size;
    return std::min(before_[i], isFirst(after) ? kMost : from_[after]);
  }

 private:
  static constexpr double kMost = std::numeric_limits<double>::infinity();
  bool isFirst(std::size_t i) const { return i >= order_.size() || order_[i].before == kNoFace; }
  const std::vector<Bridges::Step>& order_;
  std::vector<double> within_, before_, from_;
};

/// Along an edge to cheaper ground it may pay to go in and come back over the same edge: such an edge counts as more than one.
void keepWhereCheaper(std::vector<Bridges::Step>& order, const nav::NavMesh& mesh, const nav::Rules& rules) {
  const LeastCosts least(order, mesh, rules);
  for (std::size_t i = 0; i < order.size(); ++i) {
    Bridges::Step& step = order[i];
    if (!step.bridge || step.byLink || step.before == kNoFace) continue;
    step.bridge = rules.of(mesh, step.before).cost <= least.within(i) && rules.of(mesh, step.face).cost <= least.beside(i);
  }
}

}  // namespace

DeadEnds::DeadEnds(const Adjacency& layout, const nav::Rules& rules) : part_(layout.mesh().faceCount(), kNone) {
  Bridges bridges(layout, rules);
  for (std::uint32_t f = 0; f < part_.size(); ++f)
    if (rules.passable(layout.mesh(), FaceId{f}) && !bridges.reached(FaceId{f})) bridges.from(FaceId{f});
  auto& order = bridges.order();
  keepWhereCheaper(order, layout.mesh(), rules);
  std::uint32_t parts = 0;
  std::vector<std::uint32_t> before(order.size() + 1, 0);  // parts that begin before each step
  for (std::size_t i = 0; i < order.size(); ++i) before[i + 1] = before[i] + order[i].bridge;
  last_.resize(before.back());
  for (std::size_t i = 0; i < order.size(); ++i) {
    if (!order[i].bridge) {
      part_[index(order[i].face)] = part_[index(order[i].before)];
      continue;
    }
    part_[index(order[i].face)] = parts;
    last_[parts++] = before[i + order[i].size] - 1;
  }
}

}  // namespace dune::route
