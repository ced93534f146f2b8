#include "window/scene/coarse.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_map>
#include <unordered_set>

namespace dune::window {

namespace {

using level::Level;
using level::Object;

constexpr int kMostRounds = 12;
constexpr std::size_t kChecksEvery = 1 << 16;

struct Hash {
  template <std::size_t N, class T>
  std::size_t operator()(const std::array<T, N>& key) const {
    std::uint64_t h = 0;
    for (const T x : key) h = (h ^ static_cast<std::uint64_t>(x)) * 0x9E3779B97F4A7C15ull, h ^= h >> 29;
    return h;
  }
};

double surfaceOf(const Level& level, const Job& job) {
  double area = 0;
  for (const Object& o : level.objects) {
    if (job.cancelled()) break;
    for (const auto& t : o.triangles)
      area += glm::length(glm::cross(o.vertices[t[1]] - o.vertices[t[0]], o.vertices[t[2]] - o.vertices[t[0]])) / 2;
  }
  return area;
}

/// Which height stands for those of a cell. Ground is seen through, and looks folded where one stands over another, so its cells are high.
enum class Keep { lowest, highest };

Object clustered(const Object& object, double size, Keep keep, const Job& job) {
  Object result;
  result.name = object.name, result.counts = object.counts;
  std::vector<Vec3> corners;
  std::unordered_map<std::array<std::int64_t, 3>, std::uint32_t, Hash> cells;
  std::vector<std::uint32_t> standsFor(object.vertices.size()), count;
  for (std::size_t i = 0; i < object.vertices.size(); ++i) {
    if (i % kChecksEvery == 0 && job.cancelled()) return result;
    const Vec3 &v = object.vertices[i], c = glm::floor(v / (keep == Keep::lowest ? Vec3(size) : Vec3(size, 4 * size, size)));
    const auto [cell, fresh] =
        cells.try_emplace({std::llround(c.x), std::llround(c.y), std::llround(c.z)}, static_cast<std::uint32_t>(corners.size()));
    if (fresh) corners.push_back({0, v.y, 0}), count.push_back(0);
    Vec3& mean = corners[cell->second];
    mean = {mean.x + v.x, keep == Keep::lowest ? std::min(mean.y, v.y) : std::max(mean.y, v.y), mean.z + v.z};
    ++count[cell->second];
    standsFor[i] = cell->second;
  }
  for (std::size_t i = 0; i < count.size(); ++i) corners[i].x /= count[i], corners[i].z /= count[i];
  result.vertices = std::move(corners);
  // Ground is seen from above; what is turned over there is a fold of the stand-in alone.
  const auto turnedOver = [&](const std::array<std::uint32_t, 3>& t) {
    const Vec2 a = plan(result.vertices[t[0]]);
    return cross(plan(result.vertices[t[1]]) - a, plan(result.vertices[t[2]]) - a) <= 0;
  };
  std::unordered_set<std::array<std::uint32_t, 3>, Hash> seen;
  for (std::size_t i = 0; i < object.triangles.size(); ++i) {
    if (i % kChecksEvery == 0 && job.cancelled()) return result;
    std::array<std::uint32_t, 3> t;
    for (std::size_t k = 0; k < 3; ++k) t[k] = standsFor[object.triangles[i][k]];
    if (t[0] == t[1] || t[1] == t[2] || t[2] == t[0]) continue;
    std::array<std::uint32_t, 3> key = t;
    std::sort(key.begin(), key.end());
    if (keep == Keep::highest && turnedOver(t)) continue;
    if (seen.insert(key).second) result.triangles.edit().push_back(t);
  }
  return result;
}

std::shared_ptr<const Level> coarser(const Level& level, const Job& job, std::size_t most, Keep keep) {
  // A surface has about two triangles a cell that it goes through.
  double size = std::sqrt(2 * surfaceOf(level, job) / static_cast<double>(most));
  auto coarse = std::make_shared<Level>();
  for (int round = 0; round < kMostRounds && !job.cancelled(); ++round, size *= 1.4) {
    coarse->objects.clear();
    for (const Object& o : level.objects) coarse->objects.push_back(clustered(o, size, keep, job));
    if (coarse->triangleCount() <= most) break;
  }
  return coarse;
}

}  // namespace

std::shared_ptr<const Level> coarseLevel(const std::shared_ptr<const Level>& level, const Job& job, std::size_t most) {
  return level->triangleCount() <= most ? level : coarser(*level, job, most, Keep::lowest);
}

std::shared_ptr<const Level> coarseGround(const nav::NavMesh& mesh, const Job& job, std::size_t most) {
  if (mesh.corners.size() <= most + 2 * mesh.faceCount()) return nullptr;
  Level whole;
  whole.objects.resize(mesh.kinds.size());
  std::vector<std::vector<std::array<std::uint32_t, 3>>> triangles(mesh.kinds.size());
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const auto corners = mesh.cornersOf(nav::FaceId{f});
    for (std::size_t i = 1; i + 1 < corners.size(); ++i) triangles[mesh.area[f]].push_back({corners[0], corners[i], corners[i + 1]});
  }
  const SharedArray<Vec3> vertices(mesh.vertices);
  for (std::size_t kind = 0; kind < triangles.size(); ++kind)
    whole.objects[kind] = {mesh.kinds[kind].name, vertices, std::move(triangles[kind])};
  return coarser(whole, job, most, Keep::highest);
}

std::shared_ptr<const Level> coarserGround(const Level& standIn, const Job& job, std::size_t most) {
  return standIn.triangleCount() <= most ? nullptr : coarser(standIn, job, most, Keep::highest);
}

std::optional<std::vector<std::uint32_t>> facesWithin(const nav::NavMesh& mesh, const nav::Locator& locator, const Box2& plan,
                                                      std::size_t most) {
  std::vector<std::uint32_t> found = locator.within(plan);
  std::size_t corners = 0;
  for (const std::uint32_t f : found)
    if ((corners += mesh.cornerCount(nav::FaceId{f})) > most) return std::nullopt;
  return found;
}

}  // namespace dune::window
