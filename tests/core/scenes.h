#pragma once
// Small levels for tests, one line a shape.

#include "core/generate/build.h"
#include "core/nav/locator.h"
#include "core/nav/structure.h"
#include "core/system/threads.h"
#include "demo/glb_writer.h"

namespace dune::test {

/// Gathers shapes into a level.
class Scene {
 public:
  /// A flat rectangle at height y.
  Scene& floor(double x0, double z0, double x1, double z1, double y = 0, const std::string& name = "floor") {
    return quad({x0, y, z0}, {x0, y, z1}, {x1, y, z1}, {x1, y, z0}, name);
  }
  /// A rectangle that rises along x from y0 to y1.
  Scene& ramp(double x0, double z0, double x1, double z1, double y0, double y1, const std::string& name = "ramp") {
    return quad({x0, y0, z0}, {x0, y0, z1}, {x1, y1, z1}, {x1, y1, z0}, name);
  }
  Scene& quad(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d, const std::string& name) {
    level::Object o;
    o.name = name;
    o.vertices = {a, b, c, d};
    o.triangles = {{0, 1, 2}, {0, 2, 3}};
    level_.objects.push_back(std::move(o));
    return *this;
  }
  /// A closed box whose faces look outward.
  Scene& box(const Vec3& a, const Vec3& b, const std::string& name = "box") {
    level::Object o;
    o.name = name;
    for (int i = 0; i < 8; ++i) o.vertices.edit().push_back({i & 1 ? b.x : a.x, i & 2 ? b.y : a.y, i & 4 ? b.z : a.z});
    o.triangles = {{0, 5, 4}, {0, 1, 5}, {2, 7, 3}, {2, 6, 7}, {0, 3, 1}, {0, 2, 3},
                   {4, 7, 6}, {4, 5, 7}, {0, 6, 2}, {0, 4, 6}, {1, 7, 5}, {1, 3, 7}};
    level_.objects.push_back(std::move(o));
    return *this;
  }
  /// Turns everything so far about the y axis and moves it.
  Scene& turned(double angle, const Vec3& by = {0, 0, 0}) {
    for (level::Object& o : level_.objects)
      for (Vec3& v : o.vertices.edit())
        v = Vec3{std::cos(angle) * v.x + std::sin(angle) * v.z, v.y, -std::sin(angle) * v.x + std::cos(angle) * v.z} + by;
    return *this;
  }
  Scene& flipped() {
    for (level::Object& o : level_.objects)
      for (auto& t : o.triangles.edit()) std::swap(t[1], t[2]);
    return *this;
  }
  std::vector<level::Object>& objects() { return level_.objects; }
  level::World world() const { return level::plainWorld(std::make_shared<level::Level>(level_)); }

 private:
  level::Level level_;
};

inline std::shared_ptr<const generate::Built> built(const level::World& world, const nav::Agent& agent = {}, int threads = 0) {
  ThreadedJob job;
  job.setThreads(threads);
  auto result = generate::build(world, agent, job);
  return result ? *result : nullptr;
}

/// A generator of numbers with a fixed seed, the same everywhere.
class Random {
 public:
  explicit Random(std::uint64_t seed) : state_(seed * 0x9E3779B97F4A7C15ull + 1) {}
  std::uint64_t next() {
    state_ ^= state_ << 13, state_ ^= state_ >> 7, state_ ^= state_ << 17;
    return state_;
  }
  double in(double low, double high) { return low + (high - low) * static_cast<double>(next() >> 11) / 9007199254740992.0; }
  int upTo(int n) { return static_cast<int>(next() % static_cast<std::uint64_t>(n)); }

 private:
  std::uint64_t state_;
};

/// The place on the mesh straight at p, invalid when the mesh has none within 0.3 m of its height.
inline nav::Place on(const nav::NavMesh& m, const Vec3& p) { return nav::Locator(m).under(p, 0.3); }

}  // namespace dune::test
