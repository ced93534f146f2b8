#include "core/crowd/shunting.h"

#include <algorithm>
#include <array>
#include <numeric>
#include <random>

namespace dune::crowd {

namespace {

constexpr std::uint32_t kTries = 96;
constexpr std::size_t kMostSteps = 400;
constexpr std::size_t kMostWork = 600'000;  // steps of one body
constexpr std::uint32_t kFar = UINT32_MAX;

/// Steps from each place of a yard to one of them. O(places).
std::vector<std::uint32_t> stepsTo(const Yard& yard, std::uint32_t to) {
  std::vector<std::uint32_t> steps(yard.size(), kFar), queue{to};
  steps[to] = 0;
  for (std::size_t i = 0; i < queue.size(); ++i)
    for (const std::uint32_t next : yard.beside(queue[i]))
      if (next != Yard::kNone && steps[next] == kFar) steps[next] = steps[queue[i]] + 1, queue.push_back(next);
  return steps;
}

/// A place that a body may go to next.
struct Choice {
  std::uint32_t place, steps;  // steps: from there to where it wants
  bool held;                   // somebody else is there
  double lot;

  bool isBefore(const Choice& o) const {
    if (steps != o.steps) return steps < o.steps;
    return held != o.held ? o.held : lot < o.lot;
  }
};

class Shunter {
 public:
  Shunter(const Yard& yard, std::span<const Shunted> bodies, const std::vector<std::vector<std::uint32_t>>& steps, std::uint32_t seed)
      : yard_(yard),
        bodies_(bodies),
        steps_(steps),
        random_(seed),
        away_(bodies.size(), 0),
        lot_(bodies.size()),
        next_(bodies.size()),
        order_(bodies.size()) {
    for (const Shunted& b : bodies) now_.push_back(b.from);
    for (double& lot : lot_) lot = random();
    std::iota(order_.begin(), order_.end(), 0u);
  }

  /// Fewer than `most` steps, or nothing.
  std::optional<Shunting> run(std::size_t most) {
    for (leave(); !done(); leave()) {
      if (all_.size() + 1 >= most) return std::nullopt;
      step();
      all_.push_back(now_);
    }
    return std::move(all_);
  }

 private:
  double random() { return static_cast<double>(random_()) / 4294967296.0; }
  bool done() const {
    for (std::size_t i = 0; i < now_.size(); ++i)
      if (now_[i] != Yard::kNone && now_[i] != bodies_[i].to) return false;
    return true;
  }
  void leave() {
    for (std::size_t i = 0; i < now_.size(); ++i)
      if (bodies_[i].leaves && now_[i] == bodies_[i].to) now_[i] = Yard::kNone;
  }
  void step() {
    holder_.assign(yard_.size(), Yard::kNone), goesTo_.assign(yard_.size(), Yard::kNone);
    std::ranges::fill(next_, Yard::kNone);
    for (std::uint32_t i = 0; i < now_.size(); ++i) {
      if (now_[i] == Yard::kNone) continue;
      holder_[now_[i]] = i;
      away_[i] = now_[i] == bodies_[i].to ? 0 : away_[i] + 1;
    }
    std::ranges::sort(order_, {}, [&](std::uint32_t i) { return -(away_[i] + lot_[i]); });
    for (const std::uint32_t i : order_)
      if (now_[i] != Yard::kNone && next_[i] == Yard::kNone) choose(i, Yard::kNone);
    now_ = next_;
  }
  /// Gives it a place for the next step, and those who have to make room for it; false where it can only stay. `forWhom` wants its place.
  bool choose(std::uint32_t i, std::uint32_t forWhom) {
    std::array<Choice, 5> choices;
    std::size_t count = 0;
    const std::uint32_t here = now_[i];
    const auto add = [&](std::uint32_t place) {
      const Choice one{place, steps_[i][place], holder_[place] != Yard::kNone && holder_[place] != i, random()};
      std::size_t k = count++;
      for (; k > 0 && one.isBefore(choices[k - 1]); --k) choices[k] = choices[k - 1];
      choices[k] = one;
    };
    for (const std::uint32_t place : yard_.beside(here))
      if (place != Yard::kNone) add(place);
    add(here);
    for (std::size_t k = 0; k < count; ++k) {
      const std::uint32_t place = choices[k].place, holder = holder_[place];
      if (goesTo_[place] != Yard::kNone || (forWhom != Yard::kNone && place == now_[forWhom])) continue;
      const bool others = holder != Yard::kNone && holder != i;
      if (others && next_[holder] == here) continue;
      goesTo_[place] = i, next_[i] = place;
      if (!others || next_[holder] != Yard::kNone || choose(holder, i)) return true;
    }
    goesTo_[here] = i, next_[i] = here;
    return false;
  }

  const Yard& yard_;
  std::span<const Shunted> bodies_;
  const std::vector<std::vector<std::uint32_t>>& steps_;
  std::mt19937 random_;
  Shunting all_;
  std::vector<double> away_, lot_;                 // by body: steps since it was where it wants; what decides between equals, below 1
  std::vector<std::uint32_t> now_, next_, order_;  // by body: its place, and the next one; all by who chooses first
  std::vector<std::uint32_t> holder_, goesTo_;     // by place: who is there, and who goes there
};

}  // namespace

std::optional<Shunting> shunt(const Yard& yard, std::span<const Shunted> bodies) {
  std::vector<std::vector<std::uint32_t>> steps;
  for (const Shunted& b : bodies) {
    steps.push_back(stepsTo(yard, b.to));
    if (steps.back()[b.from] == kFar) return std::nullopt;
  }
  std::optional<Shunting> best;
  std::size_t work = 0;
  for (std::uint32_t seed = 0; seed < kTries && work < kMostWork; ++seed) {
    const std::size_t most = best ? best->size() : kMostSteps;
    auto found = Shunter(yard, bodies, steps, seed).run(most);
    work += (found ? found->size() : most) * bodies.size();
    if (found) best = std::move(found);
  }
  return best;
}

}  // namespace dune::crowd
