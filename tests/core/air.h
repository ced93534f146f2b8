#pragma once
// Spaces of small scenes for the tests of what flies.

#include "core/flight/path.h"
#include "core/flight/tighten.h"
#include "core/pipeline/flight.h"
#include "tests/core/scenes.h"

namespace dune::test {

inline flight::Flyer flyer(double radius, double halfHeight) {
  flight::Flyer f;
  f.radius = radius, f.halfHeight = halfHeight;
  return f;
}

inline Box3 boxOf(const Vec3& a, const Vec3& b) {
  Box3 all;
  all.add(a), all.add(b);
  return all;
}

inline std::shared_ptr<const flight::Space> spaceOf(const Scene& scene, const flight::Flyer& kind, std::vector<Box3> volumes,
                                                    const flight::Space* before = nullptr, int threads = 0) {
  ThreadedJob job({}, {}, threads);
  auto input = pipeline::flightInput(scene.world(), kind, std::move(volumes), job);
  if (!input) throw std::runtime_error(input.problem().text());
  auto made = flight::Space::make(*std::move(input), job, before);
  if (!made) throw std::runtime_error(made.problem().text());
  return *made;
}

inline std::shared_ptr<const flight::Space> spaceOf(const Scene& scene, const flight::Flyer& kind, const Box3& volume,
                                                    const flight::Space* before = nullptr, int threads = 0) {
  return spaceOf(scene, kind, std::vector{volume}, before, threads);
}

/// Three volumes that are one room with two bends, in a block of 18 × 9 × 18 m.
inline std::vector<Box3> bentRoom() {
  return {boxOf({0, 0, 0}, {7, 9, 18}), boxOf({5, 2, 11}, {18, 8, 18}), boxOf({12, 0, 0}, {18, 6, 12})};
}

inline void addSphere(Scene& scene, const Vec3& middle, double radius, const std::string& name, int rings = 10) {
  level::Object o;
  o.name = name;
  const auto place = [&](int i, int j) {
    const double a = kPi * i / rings, b = kPi * j / rings;
    return middle + Vec3(std::sin(a) * std::cos(b), std::cos(a), std::sin(a) * std::sin(b)) * radius;
  };
  for (int i = 0; i <= rings; ++i)
    for (int j = 0; j < 2 * rings; ++j) o.vertices.edit().push_back(place(i, j));
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * 2 * rings + j % (2 * rings)); };
  for (int i = 0; i < rings; ++i)
    for (int j = 0; j < 2 * rings; ++j) {
      o.triangles.edit().push_back({at(i, j), at(i, j + 1), at(i + 1, j + 1)});
      o.triangles.edit().push_back({at(i, j), at(i + 1, j + 1), at(i + 1, j)});
    }
  scene.objects().push_back(std::move(o));
}

/// Boxes and spheres by chance.
inline void scatter(Scene& scene, Random& random, int count, const Vec3& size) {
  for (int i = 0; i < count; ++i) {
    const Vec3 c(random.in(0, size.x), random.in(0, size.y), random.in(0, size.z));
    if (i % 2)
      addSphere(scene, c, random.in(0.5, 2.5), "ball " + std::to_string(i));
    else {
      const Vec3 half(random.in(0.3, 3), random.in(0.3, 4), random.in(0.3, 3));
      scene.box(c - half, c + half, "box " + std::to_string(i));
    }
  }
}

inline Vec3 chanceFit(const flight::Space& space, Random& random, const Box3& volume) {
  for (;;) {
    const Vec3 p(random.in(volume.min.x, volume.max.x), random.in(volume.min.y, volume.max.y), random.in(volume.min.z, volume.max.z));
    if (space.fits(space.stretched(p)) && !space.obstacles().inSolid(space.stretched(p))) return p;
  }
}

/// A wall across a hall of 20 × 8 × 10 m with an opening of width × height in it, 0.3 m thick, its middle at (10, 4, 5).
inline Scene wallWithOpening(double width, double height) {
  Scene scene;
  const double x0 = 9.85, x1 = 10.15, y0 = 4 - height / 2, y1 = 4 + height / 2, z0 = 5 - width / 2, z1 = 5 + width / 2;
  scene.box({x0, -1, -1}, {x1, y0, 11}, "below").box({x0, y1, -1}, {x1, 9, 11}, "above");
  scene.box({x0, y0, -1}, {x1, y1, z0}, "beside").box({x0, y0, z1}, {x1, y1, 11}, "beside");
  return scene;
}

/// A way through an opening of a share of the body's size, of the n-th body, by chance: wide and low, narrow and high, or tight both ways;
/// turned and moved by chance.
struct Gap {
  std::shared_ptr<const flight::Space> space;
  flight::Way way;
};
inline Gap throughGap(Random& random, int n, double share) {
  const double radius = random.in(0.2, 0.9), half = radius * random.in(0.4, 1.5);
  Scene scene = wallWithOpening(2 * radius * (n % 3 == 0 ? 2.5 : share), 2 * half * (n % 3 == 1 ? 2.5 : share));
  const double turn = random.in(0, 6.2), y = random.in(-0.5, 0.5);
  const Vec3 by(random.in(-3, 3), y, random.in(-3, 3));
  const auto place = [&](const Vec3& p) {
    const Vec3 v = p - Vec3(10, 0, 5);
    return Vec3(std::cos(turn) * v.x + std::sin(turn) * v.z, v.y, -std::sin(turn) * v.x + std::cos(turn) * v.z) + by;
  };
  for (level::Object& o : scene.objects())
    for (Vec3& v : o.vertices.edit()) v = place(v);
  // The volume ends within the wall, however it is turned.
  const Box3 volume = boxOf(place({10, 1, 5}) - Vec3(4.2, 0, 4.2), place({10, 7, 5}) + Vec3(4.2, 0, 4.2));
  Gap gap{spaceOf(scene, flyer(radius, half), volume), {}};
  gap.way = flight::Searcher(*gap.space).find({place({7.5, 4, 5}), place({12.5, 3, 5})});
  return gap;
}

/// The least length of ways between two places over some others by chance, each made taut as a whole.
inline double shortestOver(flight::Searcher& search, const flight::Space& space, const Vec3& a, const Vec3& b, const Box3& volume,
                           int count, Random& random) {
  double best = std::numeric_limits<double>::infinity();
  for (int n = 0; n < count; ++n) {
    const Vec3 over = chanceFit(space, random, volume);
    const flight::Way one = search.find({a, over}), two = search.find({over, b});
    if (!one.found() || !two.found()) continue;
    std::vector<Vec3> both;
    for (const Vec3& p : one.points) both.push_back(space.stretched(p));
    for (std::size_t i = 1; i < two.points.size(); ++i) both.push_back(space.stretched(two.points[i]));
    flight::tighten(space, both);
    best = std::min(best, flight::lengthOf(space, both));
  }
  return best;
}

}  // namespace dune::test
