#pragma once
// Levels of fine detail: round things, railings, towers. Shared by tests and benchmarks.

#include "tests/core/scenes.h"

namespace dune::test {

/// A ball of 2 · rings · segments triangles whose faces look outward; `squeeze` scales its height.
inline level::Object ball(const std::string& name, const Vec3& centre, double radius, std::uint32_t rings, std::uint32_t segments,
                          double squeeze = 1) {
  level::Object o;
  o.name = name;
  for (std::uint32_t i = 0; i <= rings; ++i)
    for (std::uint32_t k = 0; k < segments; ++k) {
      const double a = kPi * i / rings, b = 2 * kPi * k / segments;
      o.vertices.edit().push_back(centre + Vec3{std::sin(a) * std::cos(b), squeeze * std::cos(a), std::sin(a) * std::sin(b)} * radius);
    }
  auto& triangles = o.triangles.edit();
  for (std::uint32_t i = 0; i < rings; ++i)
    for (std::uint32_t k = 0; k < segments; ++k) {
      const std::uint32_t a = i * segments + k, b = i * segments + (k + 1) % segments;
      if (i > 0) triangles.push_back({a, b, a + segments});
      if (i + 1 < rings) triangles.push_back({b, b + segments, a + segments});
    }
  return o;
}

/// Twenty round things of as many triangles in all, on a floor of 20 by 20 m.
inline level::World roundThings(std::size_t triangles) {
  auto level = std::make_shared<level::Level>();
  level->objects.push_back(Scene().floor(0, 0, 20, 20).world().level->objects[0]);
  const auto parts = static_cast<std::uint32_t>(std::max(6.0, std::sqrt(static_cast<double>(triangles) / 40)));
  Random random(5);
  for (int i = 0; i < 20; ++i) {
    const Vec3 at{2 + 4.0 * (i % 5) + random.in(-0.5, 0.5), random.in(0.1, 0.6), 2.5 + 5.0 * (i / 5)};
    level->objects.push_back(ball("thing_" + std::to_string(i), at, random.in(0.4, 1.0), parts, parts));
  }
  return level::plainWorld(level);
}

/// A house of floors of 16 by 20 m with a stair of sixteen steps at one side from each to the next.
inline level::World tower(int storeys) {
  Scene scene;
  for (int s = 0; s < storeys; ++s) {
    const double y = s * 3.2;
    scene.floor(0, 0, 16, 20, y, "floor_" + std::to_string(s));
    scene.floor(16, 0, 20, 2, y, "landing_a" + std::to_string(s)).floor(16, 18, 20, 20, y, "landing_b" + std::to_string(s));
    for (int k = 0; k < 16; ++k) {
      const double h = y + 0.2 * (k + 1), z = 2 + k;
      scene.floor(16.2, z, 17.8, z + 1, h, "tread");
      scene.quad({16.2, h - 0.2, z}, {16.2, h, z}, {17.8, h, z}, {17.8, h - 0.2, z}, "riser");
    }
  }
  return scene.world();
}

/// A railing of some tubes one over the other across a floor, at any turn of the level.
inline level::World railing(std::uint32_t tubes, std::uint32_t sides, double turn) {
  Scene scene;
  scene.floor(0, 0, 10, 8);
  for (std::uint32_t t = 0; t < tubes; ++t)
    for (std::uint32_t i = 0; i < sides; ++i) {
      const auto at = [&](std::uint32_t k, double x) {
        const double a = 2 * kPi * k / sides;
        return Vec3{x, 0.2 + 0.15 * t + 0.01 * std::sin(a), 4 + 0.01 * std::cos(a)};
      };
      scene.quad(at(i, 3), at(i, 7), at(i + 1, 7), at(i + 1, 3), "tube_" + std::to_string(t));
    }
  return scene.turned(turn).world();
}

}  // namespace dune::test
