#pragma once
// One step of bodies in a yard: where each goes next, so that whoever comes first gets nearer to where it wants.

#include <random>

#include "core/crowd/shunting.h"

namespace dune::crowd {

class ShuntingStep {
 public:
  /// Keeps references. O(bodies × places), for the steps from each place to where each body wants.
  ShuntingStep(const Yard& yard, std::span<const Shunted> bodies);

  /// Whether everybody can get from where it begins to where it wants, if nobody else was there.
  bool allCanGetThere() const;
  /// What decides between equals from now on, and whether two may go back to pass each other.
  void begin(std::uint32_t seed, bool goBack) { random_.seed(seed), goBack_ = goBack; }
  double lot() { return static_cast<double>(random_()) / 4294967296.0; }
  bool isThere(const std::vector<std::uint32_t>& now) const;
  /// Those who leave from where they are do so.
  void leave(std::vector<std::uint32_t>& now) const;
  /// Where each goes from where it is, those first in `order` choosing first. Two that have to pass each other where one at a time goes
  /// through go back together to where there is room, if they may. `fixed`: for the first of them, where they have to go; then
  /// there may be no such step. O(bodies).
  bool next(const std::vector<std::uint32_t>& now, std::span<const std::uint32_t> order, std::span<const std::uint32_t> fixed,
            std::vector<std::uint32_t>& next);

 private:
  bool fix(std::uint32_t body, std::uint32_t place);
  bool choose(std::uint32_t body, std::uint32_t forWhom);
  void pull(std::uint32_t body, std::uint32_t into);
  std::uint32_t toChangePlacesWith(std::uint32_t body, std::uint32_t first) const;
  bool haveToChangePlaces(std::uint32_t pusher, std::uint32_t puller, std::uint32_t pusherAt, std::uint32_t pullerAt) const;
  bool canChangePlaces(std::uint32_t pusherAt, std::uint32_t pullerAt) const;
  /// How many ways lead on from a place for who does not come back; the last of them.
  std::pair<int, std::uint32_t> waysOn(std::uint32_t at, std::uint32_t from) const;

  const Yard& yard_;
  std::span<const Shunted> bodies_;
  std::vector<std::vector<std::uint32_t>> steps_;  // by body: from each place to where it wants
  std::mt19937 random_;
  bool goBack_ = true, fits_ = true;
  const std::vector<std::uint32_t>* now_ = nullptr;
  std::vector<std::uint32_t>* next_ = nullptr;
  std::vector<std::uint32_t> holder_, goesTo_;  // by place: who is there, and who goes there
};

}  // namespace dune::crowd
