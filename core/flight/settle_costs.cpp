// Ways over zones have a few corners; each is moved some dozen times, and most movements are found to cost more before anything is swept.

#include "core/flight/settle_costs.h"

#include <algorithm>

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

class Settler {
 public:
  Settler(const Space& space, std::vector<Vec3>& way) : space_(space), airs_(space.airs()), way_(way) {}

  void run() {
    leaveOut();
    for (int round = 0; round < tuning::kCostRounds; ++round) {
      const double before = costOf(space_, way_);
      bendWhereAirChanges();
      for (double step = 2 * space_.flyer().radius; step > tuning::kLeastMove * space_.flyer().radius; step /= 2)
        for (std::size_t i = 1; i + 1 < way_.size(); ++i) move(i, step);
      leaveOut();
      if (before - costOf(space_, way_) < tuning::kEnough * before) break;
    }
  }

 private:
  /// Corners without which it costs no more.
  void leaveOut() {
    for (std::size_t i = 1; i + 1 < way_.size();) {
      const double over = airs_.along(way_[i - 1], way_[i]) + airs_.along(way_[i], way_[i + 1]);
      if (airs_.along(way_[i - 1], way_[i + 1]) <= over && space_.clear(way_[i - 1], way_[i + 1]))
        way_.erase(way_.begin() + static_cast<std::ptrdiff_t>(i)), i = std::max<std::size_t>(i - 1, 1);
      else
        ++i;
    }
  }

  void bendWhereAirChanges() {
    std::vector<Vec3> bent{way_[0]};
    for (std::size_t i = 1; i < way_.size() && bent.size() < tuning::kMostCorners; ++i) {
      const Vec3 a = way_[i - 1], along = way_[i] - a;
      for (const double t : airs_.changes(a, way_[i])) bent.push_back(a + along * t);
      bent.push_back(way_[i]);
    }
    if (bent.back() == way_.back()) way_ = std::move(bent);
  }

  /// Along the axes and the diagonals of the planes between them, as long as it gets cheaper.
  void move(std::size_t i, double step) {
    static constexpr double kWays[][3] = {{1, 0, 0},     {0, 1, 0},      {0, 0, 1},     {0.7, 0.7, 0}, {0.7, -0.7, 0},
                                          {0.7, 0, 0.7}, {0.7, 0, -0.7}, {0, 0.7, 0.7}, {0, 0.7, -0.7}};
    const Vec3 a = way_[i - 1], b = way_[i + 1];
    double cost = airs_.along(a, way_[i]) + airs_.along(way_[i], b);
    for (int moves = 0; moves < tuning::kMostMoves; ++moves) {
      bool moved = false;
      for (const auto& w : kWays)
        for (const double sign : {1.0, -1.0}) {
          const Vec3 to = way_[i] + Vec3(w[0], w[1] * space_.flyer().stretch(), w[2]) * (sign * step);
          const double now = airs_.along(a, to) + airs_.along(to, b);
          if (now >= cost - 1e-9 || !space_.clear(a, to) || !space_.clear(to, b)) continue;
          way_[i] = to, cost = now, moved = true;
        }
      if (!moved) return;
    }
  }

  const Space& space_;
  const AirCosts& airs_;
  std::vector<Vec3>& way_;
};

}  // namespace

void settleCosts(const Space& space, std::vector<Vec3>& way) {
  if (way.size() > 1) Settler(space, way).run();
}

double costOf(const Space& space, const std::vector<Vec3>& way) {
  double sum = 0;
  for (std::size_t i = 1; i < way.size(); ++i) sum += space.airs().along(way[i - 1], way[i]);
  return sum;
}

}  // namespace dune::flight
