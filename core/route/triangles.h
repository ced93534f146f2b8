#pragma once
// Ground in plan as triangles that know their neighbours, to be changed around one corner or edge at a time.

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/vec.h"

namespace dune::route {

constexpr std::uint32_t kNoHalf = 0xffffffffu;

/// One side of an edge: from its corner to that of the next one of its triangle, the triangle on the left.
struct Half {
  std::uint32_t corner = kNoHalf;  // of a triangle that is no more: none
  std::uint32_t twin = kNoHalf;    // the other side; none at the border
  std::uint32_t side = kNoHalf;    // which edge of the border, or between kinds of ground, it is: these stay
  std::uint16_t area = 0;          // what kind of ground the triangle is
  bool fixed() const { return side != kNoHalf; }
};

/// A polygon to be cut into triangles: its corners, each with what is known of the edge from there to the next one.
using Ring = std::vector<Half>;

class Triangles {
 public:
  explicit Triangles(std::vector<Vec2> places) : at_(std::move(places)), from_(at_.size(), kNoHalf) {}

  const std::vector<Half>& halves() const { return halves_; }
  std::vector<Half>& halves() { return halves_; }
  const Vec2& at(std::uint32_t corner) const { return at_[corner]; }
  static std::uint32_t next(std::uint32_t h) { return h % 3 == 2 ? h - 2 : h + 1; }
  static std::uint32_t before(std::uint32_t h) { return h % 3 == 0 ? h + 2 : h - 1; }
  std::uint32_t endOf(std::uint32_t h) const { return halves_[next(h)].corner; }

  /// Cuts a simple polygon, counter-clockwise in plan, into triangles of which none is empty; the halves of its edges go to `sides`. False,
  /// and nothing is changed, where rounding leaves none to cut off. O(n²) of few corners.
  bool cut(const Ring& ring, std::vector<std::uint32_t>& sides);
  /// Takes out a corner around which there is ground of one kind. False where it has to stay: it is on a fixed edge, has more than `most`
  /// triangles around it, or the ground around it lies above itself.
  bool remove(std::uint32_t corner, std::size_t most);
  /// Flips the edges that make better triangles the other way, until there is none.
  void flip();

 private:
  std::uint32_t newTriangle();
  bool isBetter(std::uint32_t h) const;
  void flipEdge(std::uint32_t h);
  bool gather(std::uint32_t corner, std::size_t most);
  bool isEar(std::span<const std::uint32_t> ring, std::size_t i) const;
  double worth(std::uint32_t a, std::uint32_t b, std::uint32_t c) const;
  void link(std::uint32_t a, std::uint32_t b);

  std::vector<Vec2> at_;
  std::vector<std::uint32_t> from_;   // one a corner: a half that begins there
  std::vector<Half> halves_;          // three a triangle
  std::vector<std::uint32_t> spare_;  // the first halves of triangles that are no more
  Ring around_;
  std::vector<std::uint32_t> old_, sides_, left_, ears_;
};

}  // namespace dune::route
