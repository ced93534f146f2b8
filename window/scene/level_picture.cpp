#include "window/scene/level_picture.h"

#include <algorithm>
#include <tuple>

#include "window/scene/coarse.h"

namespace dune::window {

namespace {

using level::Object;

constexpr double kFold = 0.9;   // cosine between neighbours
constexpr double kSame = 1e-4;  // metres: corners nearer than this are one

struct Side {
  std::array<std::int64_t, 3> a, b;
  std::array<std::uint32_t, 2> ends;
  Vec3 normal;
};

std::vector<Side> sidesOf(const Object& object) {
  auto key = [&](std::uint32_t v) {
    const Vec3 p = object.vertices[v] / kSame;
    return std::array<std::int64_t, 3>{std::llround(p.x), std::llround(p.y), std::llround(p.z)};
  };
  std::vector<Side> sides;
  sides.reserve(object.triangles.size() * 3);
  for (const auto& t : object.triangles) {
    const Vec3 n = glm::cross(object.vertices[t[1]] - object.vertices[t[0]], object.vertices[t[2]] - object.vertices[t[0]]);
    if (glm::length(n) < 1e-12) continue;
    for (std::size_t e = 0; e < 3; ++e) {
      Side s{key(t[e]), key(t[(e + 1) % 3]), {t[e], t[(e + 1) % 3]}, glm::normalize(n)};
      if (s.b < s.a) std::swap(s.a, s.b);
      sides.push_back(s);
    }
  }
  return sides;
}

/// Edges at which an object folds or ends, so that its shape can be read where the light makes no difference.
std::vector<std::array<std::uint32_t, 2>> featureEdges(const Object& object) {
  std::vector<Side> sides = sidesOf(object);
  std::stable_sort(sides.begin(), sides.end(), [](const Side& x, const Side& y) { return std::tie(x.a, x.b) < std::tie(y.a, y.b); });
  std::vector<std::array<std::uint32_t, 2>> edges;
  for (std::size_t i = 0; i < sides.size();) {
    std::size_t j = i + 1;
    while (j < sides.size() && sides[j].a == sides[i].a && sides[j].b == sides[i].b) ++j;
    if (j - i != 2 || std::abs(glm::dot(sides[i].normal, sides[i + 1].normal)) < kFold) edges.push_back(sides[i].ends);
    i = j;
  }
  return edges;
}

}  // namespace

std::shared_ptr<const LevelPicture> pictureOf(const std::shared_ptr<const level::Level>& level, const Job& job) {
  auto picture = std::make_shared<LevelPicture>();
  picture->level = coarseLevel(level, job);
  picture->edges.resize(level->objects.size());
  if (picture->level == level)
    for (std::size_t o = 0; o < level->objects.size() && !job.cancelled(); ++o) picture->edges[o] = featureEdges(level->objects[o]);
  else
    picture->sketch = coarseLevel(picture->level, job, kMostSketched);
  return picture;
}

}  // namespace dune::window
