#pragma once
// The triangles that are in the way of a body that flies, in the space where that body is a ball.
//
// A body is an ellipsoid: `radius` to the sides, `halfHeight` up and down. Heights are stretched by radius / halfHeight, so that it becomes
// a ball and "the body fits here" becomes "nothing is nearer than the radius". Places and lengths of this class are of the stretched space.
//
// 1. Every answer is of the true triangles, nothing is sampled; many threads may ask at once.
// 2. Ties go to the triangle with the lower number, so answers do not depend on how the tree came about.

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "core/base/box_nodes.h"
#include "core/base/slabs.h"
#include "core/flight/triangle_distance.h"

namespace dune::flight {

struct Barrier {
  /// What it is of: the level, of that ground over which heights are kept, or the skin of the air that is too low or too high over it
  /// (height_walls.h).
  enum class Of : std::uint8_t { level, ground, low, high };
  Corners corner;            ///< stretched
  std::uint32_t object = 0;  ///< into names
  std::int32_t solid = -1;   ///< number of the closed solid that it is the skin of; -1: of none
  Of of = Of::level;
  bool ofLevel() const { return of <= Of::ground; }
};

Box3 boxOf(const Corners& corners);

class Obstacles {
 public:
  Obstacles() = default;
  /// O(n log n). With a job the tree's parts are made side by side; where it is cancelled nothing is found.
  explicit Obstacles(std::vector<Barrier> barriers, Job* job = nullptr);

  std::size_t size() const { return barriers_.size(); }
  const Barrier& operator[](std::size_t i) const { return barriers_[i]; }
  const std::vector<Barrier>& all() const { return barriers_; }

  struct Near {
    double distance;            ///< `limit` where nothing is nearer
    std::int64_t barrier = -1;  ///< -1 where nothing is nearer than the limit
    Vec3 on{};
  };
  enum class Which : std::uint8_t { all, ofLevel, ofGround };
  /// Whether one is among those that are asked about.
  bool counts(std::size_t barrier, Which which) const {
    const Barrier::Of of = barriers_[barrier].of;
    return which == Which::all || (which == Which::ofLevel ? of <= Barrier::Of::ground : of == Barrier::Of::ground);
  }
  /// What is nearest to a place, if it is nearer than `limit`. O(log n) where things are spread.
  Near nearest(const Vec3& p, double limit, Which which = Which::all) const;

  /// Whether a ball of `radius` passes along ab and meets nothing: nothing is nearer to the segment.
  bool clear(const Vec3& a, const Vec3& b, double radius, Which which = Which::all) const;
  /// Calls visit(number, meeting) for all that come nearer to ab than `reach`; stops and returns false once it returns false.
  template <class Visit>
  bool along(const Vec3& a, const Vec3& b, double reach, Visit&& visit) const;
  /// Calls visit(number, nearest place) for all that are nearer to p than `reach`; likewise.
  template <class Visit>
  bool around(const Vec3& p, double reach, Visit&& visit) const;

  /// Calls visit(number, corners) for those in boxes of the tree for which meets(box) holds; likewise.
  template <class Meets, class Visit>
  bool inBoxes(Meets&& meets, Visit&& visit) const;

  struct Hit {
    double along = 2;  ///< 0 to 1 on the segment; above 1: nothing is hit
    std::int64_t barrier = -1;
  };
  /// The first triangle that the segment ab passes through.
  Hit firstHit(const Vec3& a, const Vec3& b, Which which = Which::all) const;
  /// Whether a place that touches nothing lies inside a closed solid, by the parity of crossings upward.
  bool inSolid(const Vec3& p) const;

 private:
  std::uint32_t numberOf(std::uint32_t ordered) const { return nodes_.order()[ordered]; }
  /// A triangle with its plane: what lies on one side of that and far is far.
  struct Flat {
    Corners corner;
    Vec3 normal;
    double offset;
    explicit Flat(const Corners& c);
    /// Whether nothing of ab comes nearer than `reach`; false says nothing.
    bool beyond(const Vec3& a, const Vec3& b, double reach) const {
      const double da = glm::dot(normal, a) - offset, db = glm::dot(normal, b) - offset;
      return (da >= reach && db >= reach) || (da <= -reach && db <= -reach);
    }
  };

  std::vector<Barrier> barriers_;
  BoxNodes nodes_;
  std::vector<Flat> ordered_;  // in their order, so that a leaf lies in one piece of memory
};

/// Asked more than all else: without a branch, and never called.
[[gnu::always_inline]] inline double squareTo(const Box3& box, const Vec3& p) {
  const auto beside = [&](int i) { return std::max(std::max(box.min[i] - p[i], p[i] - box.max[i]), 0.0); };
  const double x = beside(0), y = beside(1), z = beside(2);
  return x * x + y * y + z * z;
}

template <class Visit>
bool Obstacles::along(const Vec3& a, const Vec3& b, double reach, Visit&& visit) const {
  const Slabs slabs(a, b);
  const double square = reach * reach;
  return nodes_.each([&](const Box3& box) { return slabs.meets(box, reach); },
                     [&](std::uint32_t i) {
                       if (ordered_[i].beyond(a, b, reach)) return true;
                       const Meeting m = nearestBetween(a, b, ordered_[i].corner);
                       return m.square >= square || visit(numberOf(i), m);
                     });
}

template <class Visit>
bool Obstacles::around(const Vec3& p, double reach, Visit&& visit) const {
  const double square = reach * reach;
  return nodes_.each([&](const Box3& box) { return squareTo(box, p) < square; },
                     [&](std::uint32_t i) {
                       if (ordered_[i].beyond(p, p, reach)) return true;
                       const Vec3 on = nearestOn(ordered_[i].corner, p), way = p - on;
                       return glm::dot(way, way) >= square || visit(numberOf(i), on);
                     });
}

template <class Meets, class Visit>
bool Obstacles::inBoxes(Meets&& meets, Visit&& visit) const {
  return nodes_.each(meets, [&](std::uint32_t i) { return visit(numberOf(i), ordered_[i].corner); });
}

}  // namespace dune::flight
