#include "core/route/simple_ground.h"

#include <algorithm>

#include "core/base/union_find.h"
#include "core/nav/walk.h"
#include "core/route/gates.h"
#include "core/route/triangles.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;
using nav::kNoFace;

constexpr std::uint32_t kNone = 0xffffffffu;
constexpr std::size_t kRounds[] = {8, 12, 24};  // triangles around a corner that is taken out: few first, so that they stay few

std::vector<std::uint16_t> classes(const nav::NavMesh& mesh, const nav::Rules& rules) {
  std::vector<std::uint16_t> found(mesh.kinds.size());
  for (std::uint16_t k = 0; k < found.size(); ++k) {
    found[k] = k;
    const nav::KindRule& rule = rules.of(k);
    for (std::uint16_t j = 0; j < k && rule.entryCost == 0 && found[k] == k; ++j)
      if (rules.of(j) == rule) found[k] = j;
  }
  return found;
}

std::vector<nav::Rules> onlyOf(const std::vector<std::uint16_t>& classOf, const nav::Rules& rules) {
  std::vector<nav::Rules> found(classOf.size());
  for (std::size_t k = 0; k < found.size(); ++k) {
    for (std::size_t j = 0; j < classOf.size(); ++j) {
      found[k].kinds.push_back(rules.of(j));
      found[k].kinds.back().forbidden |= classOf[j] != classOf[k];
    }
  }
  return found;
}

Vec2 middleOf(const nav::NavMesh& mesh, FaceId f, std::size_t edge) {
  return (plan(mesh.cornerAt(f, edge)) + plan(mesh.cornerAt(f, (edge + 1) % mesh.cornerCount(f)))) / 2.0;
}

/// Grounds that touch at a corner only get a corner each: what is known of one says nothing of the other.
void splitCorners(nav::NavMesh& mesh) {
  UnionFind same = joinedCorners(Adjacency(mesh), [](std::uint32_t) { return true; });
  std::vector<Vec3> vertices;
  std::vector<std::uint32_t> number(mesh.corners.size(), kNone);
  for (std::uint32_t c = 0; c < mesh.corners.size(); ++c) {
    std::uint32_t& v = number[same.find(c)];
    if (v == kNone) v = static_cast<std::uint32_t>(vertices.size()), vertices.push_back(mesh.vertices[mesh.corners[c]]);
    number[c] = v;
  }
  for (std::uint32_t c = 0; c < mesh.corners.size(); ++c) mesh.corners[c] = number[c];
  mesh.vertices = std::move(vertices);
}

class Simplifier {
 public:
  Simplifier(const Adjacency& whole, const nav::Rules& rules)
      : adjacency_(whole), mesh_(whole.mesh()), rules_(rules), triangles_(places(mesh_)), halfOf_(mesh_.corners.size(), kNoHalf) {
    out_.classOf = classes(mesh_, rules);
    out_.only = onlyOf(out_.classOf, rules);
  }

  SimpleGround simplified() {
    if (!triangulate()) return asItIs();
    joinFaces();
    for (const std::size_t most : kRounds)
      for (std::uint32_t v = 0; v < mesh_.vertices.size(); ++v) triangles_.remove(v, most);
    triangles_.flip();
    leaveOut();
    write();
    splitCorners(out_.mesh);
    placeCentres();
    findWhole();
    placeLinks();
    return std::move(out_);
  }
  SimpleGround asItIs() {
    copy();
    splitCorners(out_.mesh);
    findWhole();
    placeLinks();
    return std::move(out_);
  }

 private:
  static std::vector<Vec2> places(const nav::NavMesh& mesh) {
    std::vector<Vec2> at;
    at.reserve(mesh.vertices.size());
    for (const Vec3& v : mesh.vertices) at.push_back(plan(v));
    return at;
  }
  bool passable(FaceId f) const { return f != kNoFace && rules_.passable(mesh_, f); }
  std::uint16_t classOf(FaceId f) const { return out_.classOf[mesh_.area[index(f)]]; }

  /// False where a face has no area to speak of: then everything stays as it is.
  bool triangulate() {
    Ring ring;
    std::vector<std::uint32_t> sides;
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
      if (!passable(FaceId{f})) continue;
      ring.clear();
      for (const std::uint32_t v : mesh_.cornersOf(FaceId{f})) ring.push_back({v, kNoHalf, kNoHalf, classOf(FaceId{f})});
      if (!triangles_.cut(ring, sides)) return false;
      std::ranges::copy(sides, halfOf_.begin() + mesh_.start[f]);
    }
    return true;
  }

  void joinFaces() {
    auto& halves = triangles_.halves();
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) {
        const std::uint32_t h = halfOf_[c];
        if (h == kNoHalf) continue;
        const FaceId g = mesh_.across[c];
        if (passable(g)) halves[h].twin = halfOf_[mesh_.start[index(g)] + adjacency_.edgeBeyond(c)];
        if (!passable(g) || classOf(FaceId{f}) != classOf(g)) halves[h].side = c;
      }
  }

  /// Edges without which what lies on both sides is convex are left out.
  void leaveOut() {
    const auto& halves = triangles_.halves();
    const auto count = static_cast<std::uint32_t>(halves.size());
    next_.resize(count), before_.resize(count), joined_ = UnionFind(count / 3);
    for (std::uint32_t h = 0; h < count; ++h) next_[h] = Triangles::next(h), before_[h] = Triangles::before(h);
    std::vector<std::pair<double, std::uint32_t>> open;
    for (std::uint32_t h = 0; h < count; ++h)
      if (halves[h].corner != kNoHalf && !halves[h].fixed() && h < halves[h].twin)
        open.emplace_back(-glm::distance(triangles_.at(halves[h].corner), triangles_.at(triangles_.endOf(h))), h);
    std::ranges::sort(open);
    gone_.assign(count, 0);
    for (const auto& [length, h] : open) {
      const std::uint32_t t = halves[h].twin;
      if (joined_.find(h / 3) == joined_.find(t / 3) || !isConvex(h, t) || !isConvex(t, h)) continue;
      const std::uint32_t hb = before_[h], hn = next_[h], tb = before_[t], tn = next_[t];
      next_[hb] = tn, before_[tn] = hb, next_[tb] = hn, before_[hn] = tb;
      gone_[h] = gone_[t] = 1;
      joined_.unite(h / 3, t / 3);
    }
  }
  /// Whether the ground at the corner where h begins and t ends is convex without them.
  bool isConvex(std::uint32_t h, std::uint32_t t) const {
    const auto& halves = triangles_.halves();
    const Vec2 in = triangles_.at(halves[h].corner) - triangles_.at(halves[before_[h]].corner);
    const std::uint32_t out = next_[t];
    const Vec2 on = triangles_.at(halves[next_[out]].corner) - triangles_.at(halves[out].corner);
    const double turn = cross(in, on);
    return turn > 0 || (turn == 0 && glm::dot(in, on) > 0);
  }

  void write() {
    const auto& halves = triangles_.halves();
    nav::NavMesh& mesh = out_.mesh;
    mesh.agent = mesh_.agent, mesh.kinds = mesh_.kinds;
    std::vector<std::uint32_t> number(mesh_.vertices.size(), kNone);
    faceOf_.assign(halves.size() / 3, kNone);
    for (std::uint32_t h = 0; h < halves.size(); ++h) {
      if (halves[h].corner == kNoHalf || gone_[h]) continue;
      const std::uint32_t set = joined_.find(h / 3);
      if (faceOf_[set] != kNone) continue;
      faceOf_[set] = static_cast<std::uint32_t>(mesh.faceCount());
      for (std::uint32_t at = h;;) {
        std::uint32_t& v = number[halves[at].corner];
        if (v == kNone) v = static_cast<std::uint32_t>(mesh.vertices.size()), mesh.vertices.push_back(mesh_.vertices[halves[at].corner]);
        mesh.corners.push_back(v), written_.push_back(at);
        at = next_[at];
        if (at == h) break;
      }
      mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
      mesh.area.push_back(halves[h].area);
    }
    mesh.island.assign(mesh.faceCount(), 0);
    for (const std::uint32_t h : written_) {
      const std::uint32_t t = halves[h].twin;
      mesh.across.push_back(t == kNoHalf ? kNoFace : FaceId{faceOf_[joined_.find(t / 3)]});
    }
  }

  const Adjacency& adjacency_;
  const nav::NavMesh& mesh_;
  const nav::Rules& rules_;
  Triangles triangles_;
  std::vector<std::uint32_t> halfOf_;  // one a corner of the mesh: the half of the edge that begins there
  std::vector<std::uint32_t> next_, before_, faceOf_, written_;
  std::vector<char> gone_;
  UnionFind joined_;
  SimpleGround out_;

  void copy();
  void placeCentres();
  void findWhole();
  void placeFrom(FaceId f, nav::Place from);
  void placeLinks();
  std::vector<FaceId> placed_;
};

/// The mesh as it is, without what is forbidden.
void Simplifier::copy() {
  nav::NavMesh& mesh = out_.mesh;
  mesh = mesh_;
  mesh.links.clear();
  for (std::uint16_t& area : mesh.area) area = out_.classOf[area];
  out_.inside.assign(mesh.faceCount(), kNoFace);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    if (passable(FaceId{f})) out_.inside[f] = FaceId{f};
    for (std::uint32_t c = mesh.start[f]; c < mesh.start[f + 1]; ++c)
      if (!passable(FaceId{f}) || !passable(mesh.across[c])) mesh.across[c] = kNoFace;
  }
}

/// From the edges that are in both meshes to the faces at them, and from face to face.
void Simplifier::placeCentres() {
  out_.inside.assign(mesh_.faceCount(), kNoFace);
  std::vector<FaceId> faceAt(mesh_.corners.size(), kNoFace);
  for (std::size_t i = 0; i < written_.size(); ++i)
    if (const std::uint32_t side = triangles_.halves()[written_[i]].side; side != kNoHalf)
      faceAt[side] = FaceId{faceOf_[joined_.find(written_[i] / 3)]};
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
    for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c)
      if (faceAt[c] != kNoFace) placeFrom(FaceId{f}, {faceAt[c], lift(middleOf(mesh_, FaceId{f}, c - mesh_.start[f]), 0)});
  for (std::size_t i = 0; i < placed_.size(); ++i) {
    const FaceId f = placed_[i];
    const nav::Place centre{out_.inside[index(f)], lift(plan(nav::middleOf(mesh_, f)), 0)};
    for (std::size_t e = 0; e < mesh_.cornerCount(f); ++e) {
      const FaceId g = mesh_.acrossOf(f)[e];
      if (!passable(g) || out_.inside[index(g)] != kNoFace || classOf(f) != classOf(g)) continue;
      // Mostly all of the way there is in one face.
      const Vec2 over = middleOf(mesh_, f, e);
      const auto here = [&](const Vec2& q) { return nav::coversPlan(out_.mesh, centre.face, q); };
      if (here(over) && here(plan(nav::middleOf(mesh_, g))))
        out_.inside[index(g)] = centre.face, placed_.push_back(g);
      else
        placeFrom(g, nav::castRay(out_.mesh, centre, over, &out_.only[classOf(f)]).end);
    }
  }
}

void Simplifier::placeFrom(FaceId f, nav::Place from) {
  if (out_.inside[index(f)] != kNoFace) return;
  out_.inside[index(f)] = nav::castRay(out_.mesh, from, plan(nav::middleOf(mesh_, f)), &out_.only[classOf(f)]).end.face;
  placed_.push_back(f);
}

void Simplifier::findWhole() {
  out_.wholly.assign(mesh_.faceCount(), 0);
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    const FaceId in = out_.inside[f];
    out_.wholly[f] = in != kNoFace && std::ranges::all_of(mesh_.cornersOf(FaceId{f}), [&](std::uint32_t v) {
                       return nav::coversPlan(out_.mesh, in, plan(mesh_.vertices[v]), 0);
                     });
  }
}

void Simplifier::placeLinks() {
  for (std::uint32_t i = 0; i < mesh_.links.size(); ++i) {
    for (const LinkLane& lane : adjacency_.lanes(i)) {
      nav::Link link = mesh_.links[i];
      link.fromHalf = link.toHalf = Vec3{0};
      link.from = lane.from.position, link.to = lane.to.position;
      link.fromFace = out_.at(mesh_, lane.from).face, link.toFace = out_.at(mesh_, lane.to).face;
      if (link.fromFace == kNoFace || link.toFace == kNoFace) continue;
      out_.mesh.links.push_back(link), out_.linkOf.push_back(i), out_.laneOf.push_back(lane.t);
    }
  }
  placeGates(mesh_, out_);
}

}  // namespace

nav::Place SimpleGround::at(const nav::NavMesh& whole, const nav::Place& place) const {
  if (!place.valid() || inside[index(place.face)] == kNoFace) return {};
  if (wholly[index(place.face)] != 0) return {inside[index(place.face)], place.position};
  const nav::Place centre{inside[index(place.face)], lift(plan(nav::middleOf(whole, place.face)), 0)};
  const nav::Rules& same = only[classOf[whole.area[index(place.face)]]];
  return {nav::castRay(mesh, centre, plan(place.position), &same).end.face, place.position};
}

SimpleGround simplify(const Adjacency& whole, const nav::Rules& rules) { return Simplifier(whole, rules).simplified(); }
SimpleGround asItIs(const Adjacency& whole, const nav::Rules& rules) { return Simplifier(whole, rules).asItIs(); }

}  // namespace dune::route
