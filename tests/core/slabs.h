#pragma once
// Levels of slabs over slabs over a floor, by chance.

#include "tests/core/scenes.h"

namespace dune::test {

/// A convex surface; the ground is the highest of them.
struct Slab {
  std::vector<Vec3> corners;
  Vec2 middle, slant;
  double high;

  double heightAt(const Vec2& q) const { return high + glm::dot(slant, q - middle); }
  bool isOver(const Vec2& q) const {
    for (std::size_t c = 0; c < corners.size(); ++c)
      if (const Vec2 a = plan(corners[c]), b = plan(corners[(c + 1) % corners.size()]); cross(b - a, q - a) < 0) return false;
    return true;
  }
};

/// Two to five, of 5 cm to `highest` in their middle, over a floor of 12 × 12 m that is the first of them.
inline std::vector<Slab> slabs(Random& random, double highest, double slant) {
  std::vector<Slab> all{{{{0, 0, 0}, {0, 0, 12}, {12, 0, 12}, {12, 0, 0}}, {}, {}, 0}};
  for (int i = 2 + random.upTo(4); i > 0; --i) {
    const bool square = random.upTo(3) == 0;
    const int corners = square ? 4 : 3 + random.upTo(3);
    const double first = square ? kPi / 4 : random.in(0, 6), size = random.in(0.8, 5);
    const double x = random.in(1, 11), y = -random.in(1, 11), alongX = random.in(-slant, slant), alongY = random.in(-slant, slant);
    Slab& slab = all.emplace_back(Slab{{}, {x, y}, {alongX, alongY}, random.in(0.05, highest)});
    for (int c = 0; c < corners; ++c) {
      const double angle = first + 2 * kPi * (c + (square ? 0 : random.in(0, 0.6))) / corners;
      const Vec2 at = glm::round((slab.middle + size * Vec2(std::cos(angle), std::sin(angle))) * 64.0) / 64.0;
      slab.corners.push_back(lift(at, slab.heightAt(at)));
    }
  }
  return all;
}

inline Scene sceneOf(const std::vector<Slab>& slabs) {
  Scene scene;
  for (const Slab& slab : slabs) {
    level::Object object;
    object.name = "slab", object.vertices = slab.corners;
    for (std::uint32_t c = 1; c + 1 < slab.corners.size(); ++c) object.triangles.edit().push_back({0, c, c + 1});
    scene.objects().push_back(object);
  }
  return scene;
}

}  // namespace dune::test
