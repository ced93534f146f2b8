#include <algorithm>
#include <map>
#include <set>

#include "core/base/box_tree.h"
#include "core/base/plan_geometry.h"
#include "core/hand/loose_mesh.h"
#include "core/hand/shape.h"
#include "core/hand/take_over.h"

namespace dune::hand {

namespace {

using Loop = LooseMesh::Loop;

constexpr double kLevels = 0.02;         // m in height that a corner on a border may lie off it
constexpr double kOn = 0.003;            // m in plan: the lattice rounds
constexpr double kFarthest = 2 * kSeam;  // m between corners that become one by way of others
constexpr double kBeside = 0.02;         // m between a border and the place where it was told

/// Corners of borders, by place.
class BorderCorners {
 public:
  BorderCorners(const LooseMesh& mesh, const std::vector<LooseMesh::Border>& borders) {
    std::set<std::uint32_t> ends;
    for (const auto& [f, i] : borders) ends.insert(mesh.corner(f, i)), ends.insert(mesh.corner(f, i + 1));
    corners_.assign(ends.begin(), ends.end());
    std::vector<Box3> boxes;
    for (const std::uint32_t v : corners_) boxes.push_back({mesh.corners[v], mesh.corners[v]});
    tree_ = BoxTree(std::move(boxes));
  }
  /// Ascending.
  std::vector<std::uint32_t> near(const Vec3& a, const Vec3& b, double within) const {
    Box3 box;
    for (const Vec3& p : {a, b}) box.add(p - Vec3(within)), box.add(p + Vec3(within));
    std::vector<std::uint32_t> found;
    for (const std::uint32_t n : tree_.collect(box)) found.push_back(corners_[n]);
    return found;
  }
  const std::vector<std::uint32_t>& all() const { return corners_; }

 private:
  std::vector<std::uint32_t> corners_;
  BoxTree tree_;
};

class Closing {
 public:
  Closing(LooseMesh& mesh, const Where& where) : mesh_(mesh), where_(where), facesOf_(mesh.facesOfCorners()) {}

  void run() {
    mergeCorners();
    moveOnBorders();
  }

 private:
  bool chosen(const LooseMesh::Border& b) const {
    return where_.near(mesh_.corners[mesh_.corner(b.face, b.side)], mesh_.corners[mesh_.corner(b.face, b.side + 1)], kBeside);
  }
  bool share(std::uint32_t u, std::uint32_t v) const {
    return std::ranges::any_of(facesOf_[u], [&](std::size_t f) { return std::ranges::count(mesh_.faces[f].loop, v) > 0; });
  }
  /// Whether all faces with a corner keep most of their area when it comes to another place.
  bool mayMove(std::uint32_t v, const Vec3& to) const {
    constexpr double kLeastShare = 0.3;
    return std::ranges::all_of(facesOf_[v], [&](std::size_t f) {
      std::vector<Vec3> outline = mesh_.outlineOf(mesh_.faces[f].loop);
      const double before = planArea(outline);
      for (std::size_t i = 0; i < outline.size(); ++i)
        if (mesh_.faces[f].loop[i] == v) outline[i] = to;
      return planArea(outline) > kLeastShare * before;
    });
  }
  void merge(std::uint32_t v, std::uint32_t into) {
    for (const std::size_t f : facesOf_[v]) {
      std::ranges::replace(mesh_.faces[f].loop, v, into);
      facesOf_[into].push_back(f);
    }
    facesOf_[v].clear();
    into_[v] = into;
  }
  /// What a corner has become.
  std::uint32_t now(std::uint32_t v) const {
    for (auto at = into_.find(v); at != into_.end(); at = into_.find(v)) v = at->second;
    return v;
  }

  /// The nearest first.
  void mergeCorners() {
    const auto borders = mesh_.borders();
    const BorderCorners corners(mesh_, borders);
    std::set<std::pair<double, std::pair<std::uint32_t, std::uint32_t>>> pairs;
    for (const LooseMesh::Border& b : borders) {
      if (!chosen(b)) continue;
      for (const std::uint32_t v : {mesh_.corner(b.face, b.side), mesh_.corner(b.face, b.side + 1)}) {
        const Vec3& p = mesh_.corners[v];
        for (const std::uint32_t u : corners.near(p, p, kSeam))
          if (const double far = glm::distance(p, mesh_.corners[u]); u != v && far <= kSeam) pairs.insert({far, std::minmax(u, v)});
      }
    }
    for (const auto& [far, pair] : pairs) {
      const std::uint32_t u = now(pair.first), v = now(pair.second);
      if (u == v || share(u, v) || glm::distance(mesh_.corners[u], mesh_.corners[v]) > kFarthest) continue;
      if (mayMove(v, mesh_.corners[u]))
        merge(v, u);
      else if (mayMove(u, mesh_.corners[v]))
        merge(u, v);
    }
  }

  /// A corner that is nearly on another face's border comes to lie on it; meetOnBorders() does the rest.
  void moveOnBorders() {
    const auto borders = mesh_.borders();
    const BorderCorners corners(mesh_, borders);
    std::set<std::uint32_t> ends;  // of the chosen ones
    for (const LooseMesh::Border& b : borders)
      if (chosen(b)) ends.insert(mesh_.corner(b.face, b.side)), ends.insert(mesh_.corner(b.face, b.side + 1));
    std::set<std::uint32_t> moved;
    for (const LooseMesh::Border& b : borders) {
      const std::uint32_t from = mesh_.corner(b.face, b.side), to = mesh_.corner(b.face, b.side + 1);
      const bool own = chosen(b);
      for (const std::uint32_t v : corners.near(mesh_.corners[from], mesh_.corners[to], kSeam)) {
        if ((!own && !ends.contains(v)) || std::ranges::count(mesh_.faces[b.face].loop, v) > 0) continue;
        const Vec3 &a = mesh_.corners[from], &c = mesh_.corners[to];
        const auto [part, off] = along(a, c, mesh_.corners[v]);
        const Vec3 on = onLattice(glm::mix(a, c, part));
        if (part <= 0 || part >= 1 || glm::distance(on, mesh_.corners[v]) > kSeam || moved.contains(from) || moved.contains(to)) continue;
        if (mayMove(v, on) && moved.insert(v).second) mesh_.corners[v] = on;
      }
    }
  }

  LooseMesh& mesh_;
  const Where& where_;
  std::vector<std::vector<std::size_t>> facesOf_;
  std::map<std::uint32_t, std::uint32_t> into_;  // corners that are others now
};

/// Other corners on a border, in their order along it.
Loop cornersOn(const LooseMesh& mesh, const LooseMesh::Border& border, const BorderCorners& corners) {
  const Vec3 &a = mesh.corners[mesh.corner(border.face, border.side)], &b = mesh.corners[mesh.corner(border.face, border.side + 1)];
  const double length = glm::distance(plan(a), plan(b));
  std::vector<std::pair<double, std::uint32_t>> on;
  for (const std::uint32_t v : corners.near(a, b, kLevels)) {
    if (std::ranges::count(mesh.faces[border.face].loop, v) > 0) continue;
    const auto [part, off] = along(a, b, mesh.corners[v]);
    if (part * length <= kOn || (1 - part) * length <= kOn || off > kOn) continue;
    if (std::abs(glm::mix(a.y, b.y, part) - mesh.corners[v].y) <= kLevels) on.emplace_back(part, v);
  }
  std::ranges::sort(on);
  Loop found;
  for (const auto& [part, v] : on)
    if (found.empty() || plan(mesh.corners[found.back()]) != plan(mesh.corners[v])) found.push_back(v);
  return found;
}

}  // namespace

std::size_t meetOnBorders(LooseMesh& mesh) {
  const auto borders = mesh.borders();
  const BorderCorners corners(mesh, borders);
  std::map<std::size_t, std::vector<std::pair<std::size_t, Loop>>> more;  // of each face: after which of its corners
  for (const LooseMesh::Border& b : borders)
    if (Loop between = cornersOn(mesh, b, corners); !between.empty()) more[b.face].push_back({b.side, std::move(between)});
  std::size_t inserted = 0;
  for (auto& [f, list] : more) {
    std::ranges::sort(list, std::ranges::greater{}, &std::pair<std::size_t, Loop>::first);
    for (const auto& [side, between] : list) {
      Loop& loop = mesh.faces[f].loop;
      loop.insert(loop.begin() + static_cast<std::ptrdiff_t>(side) + 1, between.begin(), between.end());
      inserted += between.size();
    }
  }
  return inserted;
}

void closeSeams(LooseMesh& mesh, const Where& where) { Closing(mesh, where).run(); }

}  // namespace dune::hand
