#include "core/crowd/shunting.h"

#include <algorithm>
#include <map>
#include <numeric>

#include "core/crowd/shunting_step.h"

namespace dune::crowd {

namespace {

constexpr std::uint32_t kTries = 256;
constexpr std::size_t kWorkForQuicker = 2'000'000;  // once a way is found
constexpr std::size_t kMostSteps = 400;
constexpr std::size_t kMostStates = 20'000;  // that are kept in mind, which bounds the memory
constexpr std::size_t kMostWork = 600'000;   // steps of one body, in tries that come to nothing; as many again in the search

using Places = std::vector<std::uint32_t>;

/// Who chooses first: whoever has been away for longest.
class Order {
 public:
  Order(std::size_t bodies, ShuntingStep& step) : away_(bodies, 0), lot_(bodies), order_(bodies) {
    for (double& lot : lot_) lot = step.lot();
    std::iota(order_.begin(), order_.end(), 0u);
  }
  void update(const Places& now, std::span<const Shunted> bodies) {
    for (std::size_t i = 0; i < now.size(); ++i) away_[i] = now[i] == bodies[i].to || now[i] == Yard::kNone ? 0 : away_[i] + 1;
    std::ranges::sort(order_, {}, [&](std::uint32_t i) { return -(away_[i] + lot_[i]); });
  }
  const std::vector<std::uint32_t>& all() const { return order_; }

 private:
  std::vector<double> away_, lot_;  // steps since it was where it wants; what decides between equals, below 1
  std::vector<std::uint32_t> order_;
};

Places begins(std::span<const Shunted> bodies) {
  Places now;
  for (const Shunted& b : bodies) now.push_back(b.from);
  return now;
}

/// Step after step, fewer than `most` in all, or nothing.
std::optional<Shunting> straightOn(ShuntingStep& step, std::span<const Shunted> bodies, std::uint32_t seed, std::size_t most) {
  step.begin(seed, false);
  Order order(bodies.size(), step);
  Places now = begins(bodies), next;
  Shunting all;
  for (step.leave(now); !step.isThere(now); step.leave(now)) {
    if (all.size() + 1 >= most) return std::nullopt;
    order.update(now, bodies);
    if (!step.next(now, order.all(), {}, next)) return std::nullopt;
    now = next;
    all.push_back(now);
  }
  return all;
}

/// Where that goes round in circles: two that have to pass each other in a file may go back together, and no state is gone on from in the
/// same way twice. At each, first what the steps above would do; then with the first one in order forced to each of its places, then with
/// the first two, and so on, so that in the end all are tried. Source: Okumura, "LaCAM: Search-based algorithm for quick multi-agent
/// pathfinding", AAAI 2023.
class Search {
 public:
  Search(const Yard& yard, std::span<const Shunted> bodies, ShuntingStep& step) : yard_(yard), bodies_(bodies), step_(step) {}

  std::optional<Shunting> run() {
    step_.begin(0, true);
    Places now = begins(bodies_), next;
    step_.leave(now);
    std::vector<std::size_t> open{add(now, kRoot, Order(bodies_.size(), step_))};
    for (std::size_t work = 0; !open.empty() && work < kMostWork && nodes_.size() <= kMostStates; work += bodies_.size()) {
      const std::size_t at = open.back();
      if (step_.isThere(nodes_[at].now)) return wayTo(at);
      if (nodes_[at].tried == nodes_[at].forced.size() || nodes_[at].depth >= kMostSteps) {
        open.pop_back();
        continue;
      }
      const Places forced = std::move(nodes_[at].forced[nodes_[at].tried++]);
      forceMore(nodes_[at], forced);
      if (!step_.next(nodes_[at].now, nodes_[at].order.all(), forced, next)) continue;
      step_.leave(next);
      const auto known = known_.find(next);
      open.push_back(known != known_.end() ? known->second : add(next, at, nodes_[at].order));
    }
    return std::nullopt;
  }

 private:
  static constexpr std::size_t kRoot = SIZE_MAX;
  struct Node {
    Places now;
    std::size_t from, depth;
    Order order;
    std::vector<Places> forced;  // for the first ones in order, where they have to go
    std::size_t tried = 0;       // of these
  };

  std::size_t add(const Places& now, std::size_t from, Order order) {
    order.update(now, bodies_);
    nodes_.push_back({now, from, from == kRoot ? 0 : nodes_[from].depth + 1, std::move(order), {Places{}}, 0});
    known_.emplace(now, nodes_.size() - 1);
    return nodes_.size() - 1;
  }
  void forceMore(Node& node, const Places& forced) {
    if (forced.size() >= node.now.size()) return;
    const std::uint32_t here = node.now[node.order.all()[forced.size()]];
    const auto force = [&](std::uint32_t place) {
      node.forced.push_back(forced);
      node.forced.back().push_back(place);
    };
    if (here == Yard::kNone) return force(here);
    for (const std::uint32_t place : yard_.beside(here))
      if (place != Yard::kNone) force(place);
    force(here);
  }
  Shunting wayTo(std::size_t at) const {
    Shunting all;
    for (; nodes_[at].from != kRoot; at = nodes_[at].from) all.push_back(nodes_[at].now);
    std::ranges::reverse(all);
    return all;
  }

  const Yard& yard_;
  std::span<const Shunted> bodies_;
  ShuntingStep& step_;
  std::vector<Node> nodes_;
  std::map<Places, std::size_t> known_;
};

/// The quickest of as many tries as there is time for.
std::optional<Shunting> quickest(ShuntingStep& step, std::span<const Shunted> bodies) {
  std::optional<Shunting> best;
  std::size_t work = 0;
  for (std::uint32_t seed = 0; seed < kTries && work < (best ? kWorkForQuicker : kMostWork); ++seed) {
    const std::size_t most = best ? best->size() : kMostSteps;
    auto found = straightOn(step, bodies, seed, most);
    work += (found ? found->size() : most) * bodies.size();
    if (found) best = std::move(found);
  }
  return best;
}

}  // namespace

std::optional<Shunting> shunt(const Yard& yard, std::span<const Shunted> bodies) {
  ShuntingStep step(yard, bodies);
  if (!step.allCanGetThere()) return std::nullopt;
  if (auto found = quickest(step, bodies)) return found;
  return Search(yard, bodies, step).run();
}

}  // namespace dune::crowd
