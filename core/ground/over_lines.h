#pragma once
// What is to note of lines of one triangle of ground over which ground goes on: cracks along them, folds, and steps of which this ground
// is the upper side.

#include "core/ground/bridging.h"

namespace dune::ground {

class OverLines {
 public:
  /// Keeps references; what is noted is added to `found`, as far as it lies in a box.
  OverLines(const Standing& standing, std::uint32_t number, const Box2& within, Bridging& bridging, Limits& found)
      : standing_(standing),
        number_(number),
        ground_(standing.soup().triangles()[number]),
        within_(within),
        bridging_(bridging),
        found_(found) {}

  /// Of a line within the box, which has this ground on its left.
  void note(const Vec2& a, const Vec2& b, const Vec2& left);
  /// Folds that faces would miss by much are lines that they should follow; fine terrain is fitted by points instead.
  void noteFold(Vec2 a, Vec2 b, const Triangle& other);

 private:
  void foldBeyond(const Vec2& a, const Vec2& b, const Vec2& there, double y);

  const Standing& standing_;
  std::uint32_t number_;
  const Triangle& ground_;
  const Box2& within_;
  Bridging& bridging_;
  Limits& found_;
};

}  // namespace dune::ground
