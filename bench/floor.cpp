#include "bench/floor.h"

#include "core/ground/triangle.h"

namespace dune::bench {

namespace {
struct Kept {
  double height, slope;
  std::uint32_t object, next;
};
}  // namespace

std::size_t floorProgram(const level::Level& level, double spacing) {
  Box2 box;
  for (const level::Object& o : level.objects)
    for (const Vec3& v : o.vertices) box.add(plan(v));
  const auto columns = static_cast<std::int64_t>((box.max.x - box.min.x) / spacing) + 1,
             rows = static_cast<std::int64_t>((box.max.y - box.min.y) / spacing) + 1;
  std::vector<std::uint32_t> first(static_cast<std::size_t>(columns * rows), 0xffffffffu);
  std::vector<Kept> kept;
  for (std::uint32_t o = 0; o < level.objects.size(); ++o)
    for (std::uint32_t i = 0; i < level.objects[o].triangles.size(); ++i) {
      const auto t = ground::makeTriangle(level.objects[o], i);
      if (!t || t->upright) continue;
      const Box2 b = t->box();
      const auto r0 = static_cast<std::int64_t>(std::ceil((b.min.y - box.min.y) / spacing)),
                 r1 = static_cast<std::int64_t>((b.max.y - box.min.y) / spacing);
      for (std::int64_t r = r0; r <= r1; ++r) {
        const double y = box.min.y + static_cast<double>(r) * spacing;
        double from = b.max.x, to = b.min.x;
        for (std::size_t e = 0; e < 3; ++e) {
          const Vec2 &p = t->q[e], &q = t->q[(e + 1) % 3];
          if ((p.y > y) == (q.y > y)) continue;
          const double x = p.x + (q.x - p.x) * (y - p.y) / (q.y - p.y);
          from = std::min(from, x), to = std::max(to, x);
        }
        const auto c1 = static_cast<std::int64_t>((to - box.min.x) / spacing);
        for (auto c = static_cast<std::int64_t>(std::ceil((from - box.min.x) / spacing)); from <= to && c <= c1; ++c) {
          std::uint32_t& sample = first[static_cast<std::size_t>(r * columns + c)];
          kept.push_back({t->heightAt({box.min.x + static_cast<double>(c) * spacing, y}), t->slope, o, sample});
          sample = static_cast<std::uint32_t>(kept.size() - 1);
        }
      }
    }
  return kept.size();
}

}  // namespace dune::bench
