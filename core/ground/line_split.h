#pragma once
// Questions along a line: split at every plan edge of a triangle that it may change at, then asked in the middle of each piece.

#include <functional>

#include "core/base/plan_geometry.h"
#include "core/ground/standing.h"

namespace dune::ground {

/// The parameters 0 … 1 at which the line ab, or either of its parallels at `beside`, crosses an edge of a triangle seen
/// from above, sorted, both ends included; nearer than `least` metres apart are dropped. Only triangles that reach into the heights of
/// `range` count.
std::vector<double> splitParameters(const Soup& soup, const Vec2& a, const Vec2& b, double beside, double least, const Interval& range);

/// Parameters in 0 … 1 of a line of some length, sorted, 0 and 1 included; those within `least` metres of the one before are dropped.
std::vector<double> keptApart(std::vector<double> t, double length, double least);

/// Cuts a line to a box; the same line is cut to the same point by the boxes on both sides of it. Gives the part that is left.
std::optional<Interval> cutTo(const Box2& box, Vec2& a, Vec2& b);

/// Pieces [t0, t1] of [0, 1] on which `answer(t)` is the same, one after the other; where the answer differs between the middle and
/// the ends of a piece, the place of the change is found by bisection. `enter(t)` is called with the middle of every piece before
/// its answers are asked for.
struct Piece {
  double from, to;
  int answer;
};
std::vector<Piece> answersAlong(const std::vector<double>& splits, const std::function<void(double)>& enter,
                                const std::function<int(double)>& answer);

}  // namespace dune::ground
