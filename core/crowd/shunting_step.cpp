#include "core/crowd/shunting_step.h"

#include <algorithm>
#include <array>

namespace dune::crowd {

namespace {

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

}  // namespace

ShuntingStep::ShuntingStep(const Yard& yard, std::span<const Shunted> bodies) : yard_(yard), bodies_(bodies) {
  for (const Shunted& b : bodies) steps_.push_back(stepsTo(yard, b.to));
}

bool ShuntingStep::allCanGetThere() const {
  for (std::size_t i = 0; i < bodies_.size(); ++i)
    if (steps_[i][bodies_[i].from] == kFar) return false;
  return true;
}

bool ShuntingStep::isThere(const std::vector<std::uint32_t>& now) const {
  for (std::size_t i = 0; i < now.size(); ++i)
    if (now[i] != Yard::kNone && now[i] != bodies_[i].to) return false;
  return true;
}

void ShuntingStep::leave(std::vector<std::uint32_t>& now) const {
  for (std::size_t i = 0; i < now.size(); ++i)
    if (bodies_[i].leaves && now[i] == bodies_[i].to) now[i] = Yard::kNone;
}

bool ShuntingStep::next(const std::vector<std::uint32_t>& now, std::span<const std::uint32_t> order, std::span<const std::uint32_t> fixed,
                        std::vector<std::uint32_t>& next) {
  now_ = &now, next_ = &next, fits_ = true;
  holder_.assign(yard_.size(), Yard::kNone), goesTo_.assign(yard_.size(), Yard::kNone);
  next.assign(now.size(), Yard::kNone);
  for (std::uint32_t i = 0; i < now.size(); ++i)
    if (now[i] != Yard::kNone) holder_[now[i]] = i;
  for (std::size_t k = 0; k < fixed.size(); ++k)
    if (now[order[k]] != Yard::kNone && !fix(order[k], fixed[k])) return false;
  for (const std::uint32_t i : order) {
    if (now[i] == Yard::kNone || next[i] != Yard::kNone) continue;
    choose(i, Yard::kNone);
    if (!fits_) return false;
  }
  return true;
}

bool ShuntingStep::fix(std::uint32_t i, std::uint32_t place) {
  const std::uint32_t holder = holder_[place];
  if (goesTo_[place] != Yard::kNone) return false;
  if (holder != Yard::kNone && holder != i && (*next_)[holder] == (*now_)[i]) return false;
  goesTo_[place] = i, (*next_)[i] = place;
  return true;
}

/// Gives it a place, and those who have to make room for it; false where it can only stay. `forWhom` wants its place.
bool ShuntingStep::choose(std::uint32_t i, std::uint32_t forWhom) {
  const std::vector<std::uint32_t>& now = *now_;
  std::vector<std::uint32_t>& next = *next_;
  std::array<Choice, 5> choices;
  std::size_t count = 0;
  const std::uint32_t here = now[i];
  const auto add = [&](std::uint32_t place) {
    const Choice one{place, steps_[i][place], holder_[place] != Yard::kNone && holder_[place] != i, lot()};
    std::size_t k = count++;
    for (; k > 0 && one.isBefore(choices[k - 1]); --k) choices[k] = choices[k - 1];
    choices[k] = one;
  };
  for (const std::uint32_t place : yard_.beside(here))
    if (place != Yard::kNone) add(place);
  add(here);
  const std::uint32_t pulled = toChangePlacesWith(i, choices[0].place);
  if (pulled != Yard::kNone) std::reverse(choices.begin(), choices.begin() + static_cast<std::ptrdiff_t>(count));
  for (std::size_t k = 0; k < count; ++k) {
    const std::uint32_t place = choices[k].place, holder = holder_[place];
    if (goesTo_[place] != Yard::kNone || (forWhom != Yard::kNone && place == now[forWhom])) continue;
    const bool others = holder != Yard::kNone && holder != i;
    if (others && next[holder] == here) continue;
    goesTo_[place] = i, next[i] = place;
    if (others && next[holder] == Yard::kNone && !choose(holder, i)) continue;
    if (k == 0 && pulled != Yard::kNone && place != here) pull(pulled, here);
    return true;
  }
  // One of those whose step is fixed may want there.
  fits_ &= goesTo_[here] == Yard::kNone || goesTo_[here] == forWhom;
  goesTo_[here] = i, next[i] = here;
  return false;
}

/// It follows one that goes back, so that they stay beside each other.
void ShuntingStep::pull(std::uint32_t i, std::uint32_t into) {
  if ((*next_)[i] == Yard::kNone && goesTo_[into] == Yard::kNone) goesTo_[into] = i, (*next_)[i] = into;
}

std::pair<int, std::uint32_t> ShuntingStep::waysOn(std::uint32_t at, std::uint32_t from) const {
  const auto degree = [&](std::uint32_t place) {
    return std::ranges::count_if(yard_.beside(place), [](std::uint32_t next) { return next != Yard::kNone; });
  };
  std::pair<int, std::uint32_t> ways{0, Yard::kNone};
  for (const std::uint32_t place : yard_.beside(at)) {
    if (place == Yard::kNone || place == from) continue;
    // Who wants to stay in a dead end leaves no room there.
    if (const std::uint32_t o = holder_[place]; o != Yard::kNone && bodies_[o].to == place && degree(place) == 1) continue;
    ++ways.first, ways.second = place;
  }
  return ways;
}

/// Whether one that pushes another on, along a file, comes to no place where it could pass it, and the other wants back.
bool ShuntingStep::haveToChangePlaces(std::uint32_t pusher, std::uint32_t puller, std::uint32_t pusherAt, std::uint32_t pullerAt) const {
  const auto& mine = steps_[pusher];
  const auto& theirs = steps_[puller];
  while (mine[pullerAt] < mine[pusherAt]) {
    const auto [ways, on] = waysOn(pullerAt, pusherAt);
    if (ways >= 2) return false;
    if (ways == 0) break;
    pusherAt = pullerAt, pullerAt = on;
  }
  return theirs[pusherAt] < theirs[pullerAt] && (mine[pusherAt] == 0 || mine[pullerAt] < mine[pusherAt]);
}

/// Whether there is room for two to pass each other, back from where the second one is.
bool ShuntingStep::canChangePlaces(std::uint32_t pusherAt, std::uint32_t pullerAt) const {
  const std::uint32_t begin = pusherAt;
  while (pullerAt != begin) {
    const auto [ways, on] = waysOn(pullerAt, pusherAt);
    if (ways >= 2) return true;
    if (ways == 0) return false;
    pusherAt = pullerAt, pullerAt = on;
  }
  return false;
}

/// With whom it has to change places before it can get on; then it goes back, and pulls the other after it. Source: Okumura, "Engineering
/// LaCAM*: Towards real-time, large-scale, and near-optimal multi-agent pathfinding", AAMAS 2024.
std::uint32_t ShuntingStep::toChangePlacesWith(std::uint32_t i, std::uint32_t first) const {
  const std::vector<std::uint32_t>& now = *now_;
  const std::uint32_t here = now[i];
  if (!goBack_ || first == here) return Yard::kNone;
  if (const std::uint32_t j = holder_[first];
      j != Yard::kNone && (*next_)[j] == Yard::kNone && haveToChangePlaces(i, j, here, first) && canChangePlaces(first, here))
    return j;
  for (const std::uint32_t place : yard_.beside(here)) {
    if (place == Yard::kNone || place == first) continue;
    if (const std::uint32_t k = holder_[place]; k != Yard::kNone && haveToChangePlaces(k, i, here, first) && canChangePlaces(first, here))
      return k;
  }
  return Yard::kNone;
}

}  // namespace dune::crowd
