#include "core/flight/gates.h"

#include <algorithm>

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

class GateFinder {
 public:
  GateFinder(const Space& space, const std::vector<Vec3>& way) : space_(space), m_(space.measure()), kept_{way[0]} {}

  std::vector<Vec3> run(const std::vector<Vec3>& way) {
    const double step = 0.5 * m_.radius;
    double looked = 0;
    for (std::size_t k = 1; k < way.size(); ++k) {
      const Vec3 a = way[k - 1], along = way[k] - a;
      const double length = glm::length(along);
      looked += length;
      for (double far = 0; far < length && looked < tuning::kFarGates; far += step) look(a + along * (far / length), along / length);
      if (!stretch_.empty() && k + 1 < way.size()) continue;  // the corner lies within it
      end(way[k]);
      if (kept_.back() != way[k]) kept_.push_back(way[k]);
    }
    return std::move(kept_);
  }
  std::vector<Gate> gates() { return std::move(gates_); }

 private:
  void look(const Vec3& at, const Vec3& direction) {
    walls_.clear();
    boundsOfWalls(space_, at, m_.radius, tuning::kWallSeconds, walls_);
    if (!isTight(walls_, tuning::kWallSeconds, m_.radius)) return end(at);
    if (stretch_.empty()) direction_ = direction;
    stretch_.push_back(at);
  }

  /// The stretch has come to its end before `after`.
  void end(const Vec3& after) {
    if (stretch_.empty()) return;
    // The way comes to it slantwise, and goes straight in the midst of it.
    const std::size_t mid = stretch_.size() / 2;
    const Vec3 through = stretch_[std::min(mid + 1, stretch_.size() - 1)] - stretch_[mid - std::min<std::size_t>(mid, 1)];
    if (glm::length(through) > 0.1 * m_.radius) direction_ = glm::normalize(through);
    gates_.push_back({stretch_[mid], direction_});
    for (std::size_t k = 0; k < stretch_.size(); ++k) {
      const Vec3 was = space_.stretched(stretch_[k]), on = space_.stretched(k + 1 < stretch_.size() ? stretch_[k + 1] : after);
      const Vec3 before = space_.stretched(kept_.back()), middle = middleOf(was);
      const bool clear = space_.clear(before, middle) && space_.clear(middle, on);
      const Vec3 place = clear ? space_.real(middle) : stretch_[k];
      if (place != kept_.back() && (clear || space_.clear(before, was))) kept_.push_back(place);
    }
    stretch_.clear();
  }

  /// A place moved into the middle of its gap, to the side alone, so that the way goes on and on.
  Vec3 middleOf(const Vec3& p) const {
    Box3 around;
    around.add(p - Vec3(m_.radius)), around.add(p + Vec3(m_.radius));
    Vec3 middle = p;
    m_.centre(middle, around);
    const Vec3 along = glm::normalize(space_.stretched(direction_));
    return middle - along * glm::dot(middle - p, along);
  }

  const Space& space_;
  Measure m_;
  std::vector<Bound> walls_;
  std::vector<Vec3> kept_, stretch_;
  Vec3 direction_{};
  std::vector<Gate> gates_;
};

}  // namespace

bool isTight(std::span<const Bound> walls, double seconds, double radius) {
  const auto room = [&](const Bound& wall) { return -wall.least * seconds; };
  for (std::size_t a = 0; a < walls.size(); ++a)
    for (std::size_t b = a + 1; b < walls.size(); ++b)
      if (std::max(room(walls[a]), room(walls[b])) < tuning::kTightRoom * radius && glm::dot(walls[a].normal, walls[b].normal) < -0.3)
        return true;
  return false;
}

std::vector<Gate> findGates(const Space& space, std::vector<Vec3>& way) {
  GateFinder finder(space, way);
  way = finder.run(way);
  return finder.gates();
}

}  // namespace dune::flight
