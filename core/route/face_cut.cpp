#include "core/route/face_cut.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::route {

namespace {

constexpr double kNoArea = 1e-7;  // m², doubled; of lattice points it is nothing or more than that

double doubledArea(const Vec2& a, const Vec2& b, const Vec2& c) { return cross(b - a, c - a); }

/// How good a triangle is: its area by the square of its longest side.
double shape(const Vec2& a, const Vec2& b, const Vec2& c) {
  const double longest = std::max({glm::distance(a, b), glm::distance(b, c), glm::distance(c, a)});
  return doubledArea(a, b, c) / (longest * longest);
}

/// The side of a ring of corners: that of the face, or the edge of a triangle that was taken off.
using Side = CutTriangle::Beyond;

class Cutter {
 public:
  explicit Cutter(std::span<const Vec2> corners) : at_(corners) {
    for (std::uint32_t i = 0; i < corners.size(); ++i)
      ring_.push_back(i), sides_.push_back({true, i, 0}), left_ += doubledArea(at_[0], at_[i], at_[(i + 1) % corners.size()]);
  }

  std::vector<CutTriangle> cut() {
    while (ring_.size() > 3) takeOff(best());
    add(0, 1, 2, sides_[2]);
    return std::move(triangles_);
  }

 private:
  std::size_t next(std::size_t i) const { return i + 1 == ring_.size() ? 0 : i + 1; }
  std::size_t before(std::size_t i) const { return i == 0 ? ring_.size() - 1 : i - 1; }
  const Vec2& at(std::size_t i) const { return at_[ring_[i]]; }

  /// Of those that leave some area.
  std::size_t best() const {
    std::size_t best = 0;
    double most = -1;
    for (std::size_t i = 0; i < ring_.size(); ++i) {
      const Vec2 &a = at(before(i)), &b = at(i), &c = at(next(i));
      const double area = doubledArea(a, b, c), good = shape(a, b, c);
      if (area >= kNoArea && left_ - area >= kNoArea && good > most) most = good, best = i;
    }
    return best;
  }

  /// The triangle of three corners of the ring that follow each other; `third`: what lies over the edge from the last to the first one.
  void add(std::size_t a, std::size_t b, std::size_t c, const Side& third) {
    const auto number = static_cast<std::uint32_t>(triangles_.size());
    triangles_.push_back({{ring_[a], ring_[b], ring_[c]}, {sides_[a], sides_[b], third}});
    for (std::uint32_t e = 0; e < 3; ++e)
      if (const Side beyond = triangles_.back().beyond[e]; !beyond.isSide)
        triangles_[beyond.number].beyond[beyond.edge] = {false, number, e};
  }

  void takeOff(std::size_t i) {
    const auto number = static_cast<std::uint32_t>(triangles_.size());
    left_ -= doubledArea(at(before(i)), at(i), at(next(i)));
    add(before(i), i, next(i), {true, 0, 0});  // what lies there is known later
    sides_[before(i)] = {false, number, 2};
    ring_.erase(ring_.begin() + static_cast<std::ptrdiff_t>(i)), sides_.erase(sides_.begin() + static_cast<std::ptrdiff_t>(i));
  }

  std::span<const Vec2> at_;
  std::vector<std::uint32_t> ring_;
  std::vector<Side> sides_;  // from each corner of the ring to the next
  double left_ = 0;          // area, doubled
  std::vector<CutTriangle> triangles_;
};

}  // namespace

bool isFan(std::span<const Vec2> corners) {
  for (std::size_t i = 1; i + 1 < corners.size(); ++i)
    if (doubledArea(corners[0], corners[i], corners[i + 1]) < kNoArea) return false;
  return true;
}

std::vector<CutTriangle> cutFace(std::span<const Vec2> corners) { return Cutter(corners).cut(); }

}  // namespace dune::route
