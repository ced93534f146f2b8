#pragma once
// Things that move along a track, by the clock alone: boxes and cylinders that bodies steer around.

#include <optional>
#include <vector>

#include "core/base/plan_geometry.h"
#include "core/base/result.h"

namespace dune::crowd {

struct MovingObstacle {
  enum class Shape : std::uint8_t { box, cylinder };
  int id = 0;
  Shape shape = Shape::box;
  Vec3 size{1, 1, 1};       ///< metres along its own x, up, and its own z; a cylinder's diameter is its x
  double turn = 0;          ///< degrees about the upright, of a box
  std::vector<Vec3> track;  ///< the middle of its foot goes from each to the next and from the last to the first; one place: it stands
  double speed = 1;         ///< metres a second
  double pause = 0;         ///< seconds that it stands at each place of its track
  bool operator==(const MovingObstacle&) const = default;
};

/// The first number that makes no sense.
std::optional<Problem> checkObstacle(const MovingObstacle& obstacle);

/// Where an obstacle is at a time: a closed form.
struct Whereabouts {
  Vec3 at{};             ///< the middle of its foot
  Vec3 velocity{};       ///< metres a second; zero while it stands
  double standsFor = 0;  ///< seconds that it will stand on from now; infinite when for ever, 0 while it goes
};
Whereabouts whereabouts(const MovingObstacle& obstacle, double time);

/// The footprint in plan: all within `round` of a convex polygon.
struct Footprint {
  Polygon corners;  ///< counter-clockwise; one for a cylinder
  double round = 0;
  Vec2 velocity{0};
  double low = 0, high = 0;  ///< heights of foot and top

  /// The point of it nearest to q; q itself when inside.
  Vec2 nearest(const Vec2& q) const;
  /// Metres from its border; below zero inside.
  double distance(const Vec2& q) const;
  /// Which way is out at q, of length 1.
  Vec2 outward(const Vec2& q) const;
  /// A convex polygon around all that lies within `more` metres of it, at most 2 % of that too far out.
  Polygon grown(double more) const;
};
Footprint footprint(const MovingObstacle& obstacle, const Whereabouts& now);

/// The velocities with which a body at `here` does not touch the footprint within some seconds, as seen by one that moves with `velocity`:
/// allowed are those v with dot(v, normal) >= least. The nearest side of the convex set of velocities that touch (van den Berg et al. 2011
/// for a disc; the same for a rounded polygon, whose cone lies between its outermost tangents).
struct Side {
  Vec2 normal{0};
  double least = 0;
};
Side sideAgainst(const Footprint& print, const Vec2& here, double radius, const Vec2& velocity, double ahead);

}  // namespace dune::crowd
