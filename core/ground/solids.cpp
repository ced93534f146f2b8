// Everything goes through buckets in the order of the input, so nothing depends on the order of a hash table, and a cancel is heard
// in between.

#include "core/ground/solids.h"

#include <algorithm>
#include <array>
#include <span>

#include "core/base/plan_tree.h"
#include "core/base/union_find.h"
#include "core/ground/triangle.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr std::size_t kCornersUnchecked = 1 << 15;

/// Sorts numbers into buckets and visits the buckets one after the other, each with its numbers ascending; false when cancelled.
template <class BucketOf, class Visit>
bool eachBucket(std::size_t count, std::size_t buckets, const Job& job, BucketOf&& bucketOf, Visit&& visit) {
  std::vector<std::uint32_t> start(buckets + 1, 0), items(count);
  for (std::size_t i = 0; i < count; ++i) {
    if (i % kCornersUnchecked == 0 && job.cancelled()) return false;
    ++start[bucketOf(i) + 1];
  }
  for (std::size_t i = 1; i <= buckets; ++i) start[i] += start[i - 1];
  std::vector<std::uint32_t> next(start.begin(), start.end() - 1);
  for (std::size_t i = 0; i < count; ++i) {
    if (i % kCornersUnchecked == 0 && job.cancelled()) return false;
    items[next[bucketOf(i)]++] = static_cast<std::uint32_t>(i);
  }
  for (std::size_t i = 0; i < buckets; ++i) {
    if (i % kCornersUnchecked == 0 && job.cancelled()) return false;
    if (start[i] < start[i + 1]) visit(std::span(items).subspan(start[i], start[i + 1] - start[i]));
  }
  return true;
}

using Cell = std::array<std::int64_t, 3>;

Cell cellOf(const Vec3& p) {
  return {std::llround(p.x / tuning::kWeld), std::llround(p.y / tuning::kWeld), std::llround(p.z / tuning::kWeld)};
}

std::size_t mixed(const Cell& c) {
  std::uint64_t h = 0;
  for (const std::int64_t x : c) h = (h ^ static_cast<std::uint64_t>(x)) * 0x9E3779B97F4A7C15ull, h ^= h >> 29;
  return h;
}

/// A number for every vertex, the same for vertices at one place: that of the first of them.
std::vector<std::uint32_t> weldVertices(const level::Object& object, const Job& job) {
  const std::size_t n = object.vertices.size();
  std::vector<std::uint32_t> welded(n, 0);
  std::vector<std::pair<Cell, std::uint32_t>> group;
  eachBucket(
      n, n, job, [&](std::size_t i) { return mixed(cellOf(object.vertices[i])) % n; },
      [&](std::span<const std::uint32_t> items) {
        group.clear();
        for (const std::uint32_t i : items) group.emplace_back(cellOf(object.vertices[i]), i);
        std::sort(group.begin(), group.end());
        for (std::size_t k = 0; k < group.size(); ++k)
          welded[group[k].second] = k > 0 && group[k].first == group[k - 1].first ? welded[group[k - 1].second] : group[k].second;
      });
  return welded;
}

/// Triangles that lie exactly on earlier ones. Of each heap one stays where their number is odd and two where it is even, so that
/// counting crossings gives what it gave.
std::vector<char> findRepeated(const level::Object& object, const std::vector<char>& counts, const std::vector<std::uint32_t>& welded) {
  std::vector<char> repeated(object.triangles.size(), 0);
  struct Corners {
    std::array<std::uint32_t, 3> at;
    std::uint32_t number;
    auto operator<=>(const Corners&) const = default;
  };
  std::vector<Corners> all;
  for (std::uint32_t t = 0; t < object.triangles.size(); ++t) {
    if (!counts[t]) continue;
    const auto& v = object.triangles[t];
    Corners c{{welded[v[0]], welded[v[1]], welded[v[2]]}, t};
    std::sort(c.at.begin(), c.at.end());
    all.push_back(c);
  }
  std::sort(all.begin(), all.end());
  for (std::size_t i = 0, end; i < all.size(); i = end) {
    for (end = i + 1; end < all.size() && all[end].at == all[i].at;) ++end;
    for (std::size_t k = i + ((end - i) % 2 == 1 ? 1 : 2); k < end; ++k) repeated[all[k].number] = 1;
  }
  return repeated;
}

/// An even number of triangles closes an edge; a piece is closed when all of its edges are.
std::vector<std::int32_t> closedPieces(const level::Object& object, const std::vector<char>& counts,
                                       const std::vector<std::uint32_t>& welded, const Job& job) {
  const std::size_t n = object.triangles.size();
  UnionFind pieces(n);
  std::vector<char> openTriangle(n, 0);
  auto ends = [&](std::size_t half) {
    const auto& t = object.triangles[half / 3];
    return std::minmax({welded[t[half % 3]], welded[t[(half + 1) % 3]]});
  };
  std::vector<std::pair<std::uint32_t, std::uint32_t>> edges;  // other end and triangle, of the edges at one vertex
  eachBucket(
      n * 3, object.vertices.size(), job, [&](std::size_t half) { return ends(half).first; },
      [&](std::span<const std::uint32_t> halves) {
        edges.clear();
        for (const std::uint32_t half : halves)
          if (counts[half / 3]) edges.emplace_back(ends(half).second, half / 3);
        std::sort(edges.begin(), edges.end());
        for (std::size_t i = 0; i < edges.size();) {
          std::size_t end = i + 1;
          for (; end < edges.size() && edges[end].first == edges[i].first; ++end) pieces.unite(edges[end].second, edges[i].second);
          if ((end - i) % 2 != 0) openTriangle[edges[i].second] = 1;
          i = end;
        }
      });
  std::vector<char> open(n, 0);
  for (std::uint32_t t = 0; t < n; ++t)
    if (openTriangle[t]) open[pieces.find(t)] = 1;
  std::vector<std::int32_t> piece(n, -1);
  for (std::uint32_t t = 0; t < n; ++t)
    if (const std::uint32_t root = pieces.find(t); counts[t] && !open[root]) piece[t] = static_cast<std::int32_t>(root);
  return piece;
}

/// Which closed pieces are rooms: their faces look inward, all of them. Where they do not agree, or enclose nothing, facing says nothing
/// and the piece is a solid.
std::vector<char> findRooms(const level::Object& object, const std::vector<char>& counts, const std::vector<std::uint32_t>& welded,
                            const std::vector<std::int32_t>& piece, const Job& job) {
  constexpr double kLeastFilled = 1e-4;  // of the box around it: less is no room, but a sheet with two sides
  const std::size_t n = object.triangles.size();
  std::vector<char> room(n, 0);
  std::vector<std::uint32_t> roots;  // of the closed pieces: terrain has none, and costs nothing here
  for (std::uint32_t t = 0; t < n; ++t)
    if (piece[t] == static_cast<std::int32_t>(t)) roots.push_back(t);
  if (roots.empty()) return room;
  std::vector<char> mixed(n, 0);
  std::vector<std::pair<std::uint32_t, std::uint32_t>> edges;  // other end, and half edge
  eachBucket(
      n * 3, object.vertices.size(), job,
      [&](std::size_t half) {
        const auto& t = object.triangles[half / 3];
        return std::min(welded[t[half % 3]], welded[t[(half + 1) % 3]]);
      },
      [&](std::span<const std::uint32_t> halves) {
        edges.clear();
        for (const std::uint32_t half : halves) {
          const auto& t = object.triangles[half / 3];
          if (counts[half / 3]) edges.emplace_back(std::max(welded[t[half % 3]], welded[t[(half + 1) % 3]]), half);
        }
        std::sort(edges.begin(), edges.end());
        for (std::size_t i = 0, end; i < edges.size(); i = end) {
          std::ptrdiff_t forward = 0;
          for (end = i; end < edges.size() && edges[end].first == edges[i].first; ++end) {
            const auto& t = object.triangles[edges[end].second / 3];
            forward += welded[t[edges[end].second % 3]] < edges[end].first ? 1 : -1;
          }
          if (const std::int32_t root = piece[edges[i].second / 3]; forward != 0 && root >= 0) mixed[static_cast<std::size_t>(root)] = 1;
        }
      });
  struct Extent {
    double volume = 0;
    Box3 box;
  };
  std::vector<Extent> extents(roots.size());
  for (std::uint32_t t = 0; t < n; ++t) {
    if (piece[t] < 0) continue;
    const auto root = static_cast<std::uint32_t>(piece[t]);
    Extent& e = extents[static_cast<std::size_t>(std::ranges::lower_bound(roots, root) - roots.begin())];
    const Vec3 origin = object.vertices[object.triangles[root][0]];
    const auto corner = [&](std::size_t k) { return object.vertices[object.triangles[t][k]] - origin; };
    e.volume += glm::dot(corner(0), glm::cross(corner(1), corner(2))) / 6;
    for (std::size_t k = 0; k < 3; ++k) e.box.add(corner(k));
  }
  for (std::size_t i = 0; i < roots.size(); ++i) {
    const Vec3 size = extents[i].box.max - extents[i].box.min;
    room[roots[i]] = !mixed[roots[i]] && extents[i].volume < -kLeastFilled * size.x * size.y * size.z;
  }
  return room;
}

/// Within one closed piece the upper side of a triangle is inside or outside all over; its centre decides.
std::vector<char> findUndersides(const std::vector<Triangle>& triangles, const std::vector<std::uint32_t>& numbers,
                                 const std::vector<std::int32_t>& piece, const std::vector<char>& room, const Job& job) {
  std::vector<char> underside(piece.size(), 0);
  std::vector<std::array<Vec2, 3>> plan;
  std::vector<std::uint32_t> flat;
  plan.reserve(triangles.size());
  for (std::uint32_t i = 0; i < triangles.size(); ++i) {
    plan.push_back(triangles[i].q);
    if (!triangles[i].upright) flat.push_back(i);
  }
  const PlanTree tree(plan, std::move(flat));
  for (std::size_t i = 0; i < triangles.size(); ++i) {
    if (i % 1024 == 0 && job.cancelled()) break;
    if (triangles[i].upright) continue;
    const Vec2 q = (triangles[i].q[0] + triangles[i].q[1] + triangles[i].q[2]) / 3.0;
    const double y = triangles[i].heightAt(q);
    int above = 0;
    for (const std::uint32_t k : tree.at(q))
      above += k != i && piece[numbers[k]] == piece[numbers[i]] && triangles[k].owns(q) && triangles[k].heightAt(q) > y;
    // Within a room the upper side of its floor is where one stands; beyond its ceiling there is nothing.
    underside[numbers[i]] = (above % 2 == 1) != (room[static_cast<std::size_t>(piece[numbers[i]])] != 0);
  }
  return underside;
}

}  // namespace

Solids findSolids(const level::Object& object, const Job& job) {
  std::vector<char> counts(object.triangles.size(), 0);
  for (std::uint32_t t = 0; t < counts.size(); ++t) {
    if (t % kCornersUnchecked == 0 && job.cancelled()) break;
    counts[t] = makeTriangle(object, t).has_value();
  }
  Solids solids;
  const std::vector<std::uint32_t> welded = weldVertices(object, job);
  solids.repeated.assign(counts.size(), 0);
  if (!job.cancelled()) solids.repeated = findRepeated(object, counts, welded);
  solids.piece = closedPieces(object, counts, welded, job);
  solids.underside.assign(counts.size(), 0);
  if (job.cancelled()) return solids;
  std::vector<Triangle> closed;
  std::vector<std::uint32_t> numbers;
  for (std::uint32_t t = 0; t < counts.size(); ++t)
    if (solids.piece[t] >= 0 && !solids.repeated[t]) closed.push_back(*makeTriangle(object, t)), numbers.push_back(t);
  const std::vector<char> room = findRooms(object, counts, welded, solids.piece, job);
  solids.underside = findUndersides(closed, numbers, solids.piece, room, job);
  for (std::int32_t& piece : solids.piece)
    if (piece >= 0 && room[static_cast<std::size_t>(piece)]) piece = -1;  // what is in a room is not in a solid
  return solids;
}

}  // namespace dune::ground
