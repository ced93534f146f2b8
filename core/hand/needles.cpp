#include <algorithm>
#include <map>
#include <set>
#include <unordered_map>

#include "core/base/lattice.h"
#include "core/base/plan_geometry.h"
#include "core/hand/loose_mesh.h"
#include "core/hand/shape.h"
#include "core/hand/take_over.h"

namespace dune::hand {

namespace {

using Loop = LooseMesh::Loop;

constexpr double kFarthest = 3 * kNeedle;  // m that a corner may be moved
constexpr double kTold = 0.02;             // m between the middle of a needle and the place where it was told
constexpr double kOn = 0.004;              // m between corners, at the least
constexpr int kMostSweeps = 4;
constexpr double kLeastArea = 1e-6;  // m²

/// Counter-clockwise, with corners no more than kBent inside of what would be convex.
bool nearlyConvex(const std::vector<Vec3>& p) {
  constexpr double kBent = 0.004;  // m
  if (p.size() < 3 || planArea(p) <= kLeastArea) return false;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Vec2 a = plan(p[(i + p.size() - 1) % p.size()]), b = plan(p[i]), c = plan(p[(i + 1) % p.size()]);
    const double across = glm::distance(a, c);
    if (across < kLatticeStep || glm::dot(b - a, c - b) < 0 ? cross(b - a, c - b) <= 0 : cross(c - a, b - a) / across > kBent) return false;
  }
  return true;
}

class ThinningOut {
 public:
  ThinningOut(LooseMesh& mesh, const Where& where) : mesh_(mesh), where_(where), facesOf_(mesh.facesOfCorners()) {
    for (std::size_t f = 0; f < mesh_.faces.size(); ++f) enter(f);
  }

  void run() {
    for (int sweep = 0; sweep < kMostSweeps; ++sweep) {
      bool any = false;
      for (std::size_t f = 0; f < mesh_.faces.size(); ++f)
        if (isNeedle(f) && collapse(f)) any = true;
      if (!any) break;
    }
    std::erase_if(mesh_.faces, [](const LooseMesh::Face& face) { return face.loop.empty(); });
  }

 private:
  /// A corner that comes to another, or to a place on a side of the face.
  struct Way {
    double far;
    std::uint32_t corner;
    std::optional<std::uint32_t> into;  ///< another corner
    std::uint32_t from = 0, to = 0;     ///< or a side
    Vec3 on{};
  };

  bool isNeedle(std::size_t f) const {
    const Loop& loop = mesh_.faces[f].loop;
    return !loop.empty() && mesh_.widthOf(loop) < kNeedle && where_.near(meanOf(mesh_.outlineOf(loop)), kTold);
  }

  void enter(std::size_t f) {
    const Loop& loop = mesh_.faces[f].loop;
    for (std::size_t i = 0; i < loop.size(); ++i) side_[sideKey(loop[i], loop[(i + 1) % loop.size()])] = f;
  }
  void leave(std::size_t f) {
    const Loop& loop = mesh_.faces[f].loop;
    for (std::size_t i = 0; i < loop.size(); ++i)
      if (const auto at = side_.find(sideKey(loop[i], loop[(i + 1) % loop.size()])); at != side_.end() && at->second == f) side_.erase(at);
  }
  void replace(std::size_t f, Loop loop) {
    leave(f);
    for (const std::uint32_t v : mesh_.faces[f].loop) std::erase(facesOf_[v], f);
    mesh_.faces[f].loop = std::move(loop);
    for (const std::uint32_t v : mesh_.faces[f].loop) facesOf_[v].push_back(f);
    enter(f);
  }

  bool collapse(std::size_t f) {
    std::vector<Way> ways;
    const Loop loop = mesh_.faces[f].loop;
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const std::uint32_t a = loop[i], b = loop[(i + 1) % loop.size()];
      const double far = glm::distance(mesh_.corners[a], mesh_.corners[b]);
      if (far <= kFarthest) ways.push_back({far, a, b}), ways.push_back({far, b, a});
      if (loop.size() != 3) continue;
      const std::uint32_t c = loop[(i + 2) % 3];
      const Vec3 &p = mesh_.corners[a], &q = mesh_.corners[b];
      const double part = along(p, q, mesh_.corners[c]).part;
      const Vec3 on = onLattice(glm::mix(p, q, part));
      const double ends = std::min(glm::distance(plan(on), plan(p)), glm::distance(plan(on), plan(q)));  // at one of them it is that corner
      if (part > 0 && part < 1 && ends > kOn && glm::distance(on, mesh_.corners[c]) <= kFarthest)
        ways.push_back({glm::distance(on, mesh_.corners[c]), c, std::nullopt, a, b, on});
    }
    std::ranges::stable_sort(ways, {}, &Way::far);
    return std::ranges::any_of(ways, [&](const Way& way) { return way.into ? toCorner(way) : toSide(f, way); });
  }

  /// A face with its new corners: convex but for what the lattice rounds, and no needle that was none.
  bool fine(const Loop& before, const Loop& after) const { return fine(mesh_.widthOf(before), after); }
  bool fine(double widthBefore, const Loop& after) const {
    return nearlyConvex(mesh_.outlineOf(after)) && mesh_.widthOf(after) >= std::min(kNeedle, widthBefore);
  }

  bool has(std::uint32_t from, std::uint32_t to) const { return side_.contains(sideKey(from, to)); }
  /// Whether the ground ends at a corner.
  bool onBorder(std::uint32_t v) const {
    return std::ranges::any_of(facesOf_[v], [&](std::size_t f) {
      const Loop& loop = mesh_.faces[f].loop;
      const auto i = static_cast<std::size_t>(std::ranges::find(loop, v) - loop.begin()), n = loop.size();
      return !has(loop[(i + 1) % n], v) || !has(v, loop[(i + n - 1) % n]);
    });
  }

  bool toCorner(const Way& way) {
    // From border to border through the ground: it would be pinched off there (the link condition of edge collapses).
    if (has(way.corner, *way.into) && has(*way.into, way.corner) && onBorder(way.corner) && onBorder(*way.into)) return false;
    std::vector<std::pair<std::size_t, Loop>> changed;
    for (const std::size_t f : facesOf_[way.corner]) {
      Loop loop = mesh_.faces[f].loop;
      std::ranges::replace(loop, way.corner, *way.into);
      loop = tidy(loop);
      const std::set<std::uint32_t> each(loop.begin(), loop.end());
      if (each.size() < 3)
        loop.clear();
      else if (each.size() < loop.size() || !fine(mesh_.faces[f].loop, loop))
        return false;
      changed.emplace_back(f, std::move(loop));
    }
    if (!sidesStayApart(changed)) return false;
    for (auto& [f, loop] : changed) replace(f, std::move(loop));
    return true;
  }

  /// Whether no side comes to be that of two faces: then one of them would lose what it hangs together with.
  bool sidesStayApart(const std::vector<std::pair<std::size_t, Loop>>& changed) const {
    std::set<std::uint64_t> taken;
    for (const auto& [f, loop] : changed)
      for (std::size_t i = 0; i < loop.size(); ++i) {
        const std::uint64_t key = sideKey(loop[i], loop[(i + 1) % loop.size()]);
        if (!taken.insert(key).second) return false;
        const auto owner = side_.find(key);
        const auto isOwner = [&](const auto& one) { return one.first == owner->second; };
        if (owner != side_.end() && std::ranges::none_of(changed, isOwner)) return false;
      }
    return true;
  }

  bool toSide(std::size_t needle, const Way& way) {
    const auto beyond = side_.find(sideKey(way.to, way.from));
    // Likewise: what lies on the two other sides hangs together by the needle alone.
    if (beyond == side_.end() && onBorder(way.corner) && has(way.corner, way.to) && has(way.from, way.corner)) return false;
    std::map<std::size_t, double> widths;  // of those that go along
    for (const std::size_t f : facesOf_[way.corner])
      if (f != needle) widths[f] = mesh_.widthOf(mesh_.faces[f].loop);
    Loop across;
    if (beyond != side_.end()) {
      across = mesh_.faces[beyond->second].loop;
      if (std::ranges::count(across, way.corner) > 0) return false;
      across.insert(std::ranges::find(across, way.to) + 1, way.corner);
    }
    const Vec3 was = std::exchange(mesh_.corners[way.corner], way.on);
    const bool can = (across.empty() || nearlyConvex(mesh_.outlineOf(across))) &&
                     std::ranges::all_of(widths, [&](const auto& w) { return fine(w.second, mesh_.faces[w.first].loop); });
    if (!can) return mesh_.corners[way.corner] = was, false;
    const std::size_t other = beyond == side_.end() ? needle : beyond->second;
    replace(needle, {});
    if (!across.empty()) replace(other, std::move(across));
    return true;
  }

  LooseMesh& mesh_;
  const Where& where_;
  std::vector<std::vector<std::size_t>> facesOf_;
  std::unordered_map<std::uint64_t, std::size_t> side_;  // which face has each
};

}  // namespace

void thinOut(LooseMesh& mesh, const Where& where) { ThinningOut(mesh, where).run(); }

}  // namespace dune::hand
