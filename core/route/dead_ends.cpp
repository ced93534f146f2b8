#include "core/route/dead_ends.h"

#include <algorithm>

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;
using nav::kNoFace;

constexpr std::uint32_t kNone = 0xffffffffu;

/// The faces that an edge or a link joins with each face, links both ways.
class Neighbours {
 public:
  Neighbours(const Layout& layout, const nav::Rules& rules) : layout_(layout), mesh_(layout.mesh()), rules_(rules) {
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
  const Layout& layout_;
  const nav::NavMesh& mesh_;
  const nav::Rules& rules_;
  std::vector<End> ends_;
};

/// A search in depth, written without recursion: levels have a million faces.
class Bridges {
 public:
  Bridges(const Layout& layout, const nav::Rules& rules)
      : neighbours_(layout, rules), reached_(layout.mesh().faceCount(), kNone), low_(reached_.size(), 0) {}

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
    bool bridge;
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
    order_.push_back({f, stack_.empty() ? kNoFace : stack_.back().face, stack_.empty(), 0});
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
  std::vector<std::uint32_t> reached_, low_;
  std::vector<Step> order_;
  std::vector<Frame> stack_;
};

}  // namespace

DeadEnds::DeadEnds(const Layout& layout, const nav::Rules& rules) : part_(layout.mesh().faceCount(), kNone) {
  Bridges bridges(layout, rules);
  for (std::uint32_t f = 0; f < part_.size(); ++f)
    if (rules.passable(layout.mesh(), FaceId{f}) && !bridges.reached(FaceId{f})) bridges.from(FaceId{f});
  const auto& order = bridges.order();
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
