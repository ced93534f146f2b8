#include "core/flight/tighten.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/flight/half_spaces.h"
#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

class Tightener {
 public:
  Tightener(const Space& space, std::vector<Vec3>& way) : space_(space), m_(space.measure()), way_(way) {
    stretch_ = Vec3(1, space.flyer().stretch(), 1);
    leaveOut();
    still_.assign(way_.size(), 0);
    length_ = lengthOf(space_, way_);
  }

  void runRoughly() {
    for (int round = 0; round < tuning::kRoughRounds && way_.size() > 2; ++round)
      if (gainOf(&Tightener::moveCorners) < tuning::kRoughly) break;
  }

  void run() {
    for (int round = 0; round < tuning::kTautRounds && way_.size() > 2; ++round) {
      const bool settled = gainOf(&Tightener::moveCorners) < tuning::kEnough && gainOf(&Tightener::moveGroups) < tuning::kEnough;
      if (settled && !partCorners()) break;
    }
  }

 private:
  double real(const Vec3& v) const { return glm::length(v / stretch_); }

  /// By which share of its length the way became shorter.
  double gainOf(void (Tightener::*change)()) {
    (this->*change)();
    const double before = std::exchange(length_, lengthOf(space_, way_));
    return 1 - length_ / before;
  }

  void moveCorners() {
    for (std::size_t i = 1; i + 1 < way_.size(); ++i)
      if (!still_[i]) move(i);
    dropCorners();
  }

  /// From each place on to the farthest one that is seen.
  void leaveOut() {
    std::vector<Vec3> kept{way_[0]};
    for (std::size_t i = 0; i + 1 < way_.size();) {
      std::size_t next = i + 1;
      for (std::size_t j = way_.size() - 1; j > i + 1; --j)
        if (space_.clear(way_[i], way_[j])) {
          next = j;
          break;
        }
      kept.push_back(way_[i = next]);
    }
    way_ = std::move(kept);
  }

  void dropCorners() {
    for (std::size_t i = 1; i + 1 < way_.size();) {
      const Vec3 in = way_[i] - way_[i - 1], out = way_[i + 1] - way_[i];
      const bool same = glm::dot(in, in) < 1e-12 || glm::dot(out, out) < 1e-12;
      // Corners whose neighbours moved are tried again; others were clear or not before.
      if ((same || !still_[i]) && space_.clear(way_[i - 1], way_[i + 1])) {
        erase(i);
        continue;
      }
      ++i;
    }
  }

  void erase(std::size_t i) {
    way_.erase(way_.begin() + static_cast<std::ptrdiff_t>(i)), still_.erase(still_.begin() + static_cast<std::ptrdiff_t>(i));
    wake(i - 1), wake(i);
  }

  void insert(std::size_t i, const Vec3& corner) {
    way_.insert(way_.begin() + static_cast<std::ptrdiff_t>(i), corner), still_.insert(still_.begin() + static_cast<std::ptrdiff_t>(i), 0);
  }

  void wake(std::size_t i) {
    if (i < still_.size()) still_[i] = 0;
  }

  /// What keeps corners first to last from moving together, as half-spaces of their movement; only what is within `reach` of them.
  void collect(std::size_t first, std::size_t last, double reach) {
    bounds_.clear();
    near_.clear();
    for (std::size_t i = first; i <= last + 1; ++i) {
      const Vec3 from = way_[i - 1], to = way_[i];
      m_.obstacles->along(from, to, m_.radius + reach, [&](std::uint32_t number, const Meeting& meeting) {
        const double share = i > last ? 1 - meeting.along : i > first ? 1 : meeting.along;
        const double distance = std::sqrt(meeting.square);
        if (share <= 1e-9 || distance <= 0) return true;
        // In metres: the normal of the stretched space, stretched once more.
        const Vec3 normal = (from + (to - from) * meeting.along - meeting.on) / distance * share * stretch_;
        const double length = glm::length(normal);
        near_.push_back({{normal / length, std::min((m_.radius - distance) / length, 0.0), true}, (distance - m_.radius) / share, number});
        return true;
      });
    }
    std::stable_sort(near_.begin(), near_.end(),
                     [](const Contact& x, const Contact& y) { return x.room != y.room ? x.room < y.room : x.number < y.number; });
    for (std::size_t i = 0; i < std::min(near_.size(), tuning::kMostContacts); ++i) bounds_.push_back(near_[i].bound);
  }

  void move(std::size_t i) {
    if (moveTogether(i, i))
      wake(i - 1), wake(i + 1);
    else
      still_[i] = 1;
  }

  /// Corners that are near to each other follow each other in small steps only, so they are moved as one.
  void moveGroups() {
    for (const double apart : tuning::kTogether)
      for (std::size_t first = 1, last; first + 1 < way_.size(); first = last + 1) {
        for (last = first; last + 2 < way_.size() && glm::distance(way_[last], way_[last + 1]) < apart * m_.radius;) ++last;
        if (last > first && moveTogether(first, last))
          for (std::size_t i = first - 1; i <= last + 1; ++i) wake(i);
      }
  }

  /// Moves corners first to last by as much as makes the way shortest, as far as what is near allows; whether it did.
  bool moveTogether(std::size_t first, std::size_t last) {
    bool moved = false;
    double reach = m_.radius;
    for (int step = 0; step < 4; ++step) {
      const Vec3 a = way_[first - 1], b = way_[last + 1];
      const Vec3 ra = (way_[first] - a) / stretch_, rb = (way_[last] - b) / stretch_;
      const double la = glm::length(ra), lb = glm::length(rb);
      if (la < 1e-9 || lb < 1e-9) break;
      const Vec3 slope = ra / la + rb / lb;
      Vec3 by = -slope / (1 / la + 1 / lb);
      const double most = 2 * std::max(reach, m_.radius * 0.1);
      if (const double size = glm::length(by); size > most) by *= most / size;
      collect(first, last, std::min(glm::length(by * stretch_) + 0.05 * m_.radius, reach));
      const auto allowed = nearestPoint(by, bounds_);
      if (!allowed) break;
      by = *allowed;
      double share = 1;
      bool took = false;
      for (int attempt = 0; attempt < 5; ++attempt, share *= attempt < 2 ? 0.6 : 0.25) {
        const Vec3 shift = by * share * stretch_;
        const double gain = la + lb - real(way_[first] + shift - a) - real(way_[last] + shift - b);
        if (gain <= 1e-7 * (la + lb)) break;
        if (!clearWith(first, last, shift)) continue;
        for (std::size_t i = first; i <= last; ++i) way_[i] += shift;
        took = moved = true;
        break;
      }
      if (!took || share < 0.2) {
        if (reach < 0.1 * m_.radius || !took) break;
        reach *= 0.5;
      }
    }
    return moved;
  }

  bool clearWith(std::size_t first, std::size_t last, const Vec3& shift) const {
    if (!space_.clear(way_[first - 1], way_[first] + shift) || !space_.clear(way_[last] + shift, way_[last + 1])) return false;
    for (std::size_t i = first; i < last; ++i)
      if (!space_.clear(way_[i] + shift, way_[i + 1] + shift)) return false;
    return true;
  }

  /// Parts corners that turn much; whether there were any.
  bool partCorners() {
    bool parted = false;
    for (std::size_t i = 1; i + 1 < way_.size() && way_.size() < tuning::kMostCorners; ++i) {
      const Vec3 in = (way_[i] - way_[i - 1]) / stretch_, out = (way_[i + 1] - way_[i]) / stretch_;
      const double la = glm::length(in), lb = glm::length(out);
      if (la < 0.02 * m_.radius || lb < 0.02 * m_.radius) continue;
      const double turn = std::acos(std::clamp(glm::dot(in, out) / la / lb, -1.0, 1.0));
      if (turn < tuning::kRoundTurn) continue;
      const double back = std::min({m_.radius * std::tan(turn / 4), la * 0.45, lb * 0.45});
      const Vec3 one = way_[i] - in / la * back * stretch_, two = way_[i] + out / lb * back * stretch_;
      // Where the corner itself touches something it stays, with one more on each of its ways.
      const Vec3 corner = way_[i];
      const bool stays = !space_.clear(one, two);
      way_[i] = one, still_[i] = 0;
      if (stays) insert(++i, corner);
      insert(++i, two);
      wake(i + 1);
      parted = true;
    }
    return parted;
  }

  struct Contact {
    Bound bound;
    double room;
    std::uint32_t number;
  };

  const Space& space_;
  Measure m_;
  std::vector<Vec3>& way_;
  Vec3 stretch_;
  double length_;
  std::vector<char> still_;
  std::vector<Bound> bounds_;
  std::vector<Contact> near_;
};

}  // namespace

void tighten(const Space& space, std::vector<Vec3>& way) {
  if (way.size() > 2) Tightener(space, way).run();
}

void tightenRoughly(const Space& space, std::vector<Vec3>& way) {
  if (way.size() > 2) Tightener(space, way).runRoughly();
}

double lengthOf(const Space& space, std::span<const Vec3> way) {
  double sum = 0;
  for (std::size_t i = 1; i < way.size(); ++i) sum += space.length(way[i] - way[i - 1]);
  return sum;
}

}  // namespace dune::flight
