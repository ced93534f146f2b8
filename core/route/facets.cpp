#include "core/route/facets.h"

#include <algorithm>
#include <limits>

#include "core/base/plan_geometry.h"

namespace dune::route {

using nav::FaceId;
using nav::kNoFace;

namespace {

/// Metres from the outside of an edge, in plan; nothing inside.
double outsideOf(const Vec2& a, const Vec2& b, const Vec2& q) {
  const double length = glm::distance(a, b);
  return length > 0 ? std::max(0.0, -cross(b - a, q - a) / length) : 0;
}

}  // namespace

Facets::Facets(const Adjacency& adjacency, const nav::Rules& rules, const std::vector<std::uint16_t>& classOf)
    : adjacency_(adjacency), mesh_(adjacency.mesh()), rules_(rules), classOf_(classOf) {
  cutFaces();
  UnionFind same = joinedCorners(
      adjacency_, [&](std::uint32_t c) { return goesOn(c, mesh_.across[mesh_.start[index(mesh_.across[c])] + adjacency_.edgeBeyond(c)]); });
  spot_.resize(mesh_.corners.size());
  std::uint32_t spots = 0;
  for (std::uint32_t c = 0; c < spot_.size(); ++c) spot_[c] = same.find(c) == c ? spots++ : spot_[same.find(c)];
  around_.assign(spots, 0);
  border_.assign(spots, 0);
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    const std::uint32_t first = mesh_.start[f], end = mesh_.start[f + 1];
    for (std::uint32_t c = first; c < end; ++c)
      if (!goesOn(c, FaceId{f})) border_[spot_[c]] = border_[spot_[c + 1 == end ? first : c + 1]] = 1;
    for (std::uint32_t fan = 0; fan + 2 < end - first; ++fan) {
      const Facet t{FaceId{f}, fan};
      level_ = level_ && (!rules_.passable(mesh_, t.face) || isLevel(t));
      for (unsigned i = 0; i < 3; ++i) around_[spot(t, i)] += angleAt(t, i);
    }
  }
}

void Facets::cutFaces() {
  cutAt_.assign(mesh_.faceCount(), kFan);
  std::vector<Vec2> corners;
  for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
    corners.clear();
    for (const std::uint32_t v : mesh_.cornersOf(FaceId{f})) corners.push_back(plan(mesh_.vertices[v]));
    if (corners.size() == 3 || isFan(corners)) continue;
    const std::vector<CutTriangle> cut = cutFace(corners);
    cutAt_[f] = static_cast<std::uint32_t>(cuts_.size());
    cuts_.insert(cuts_.end(), cut.begin(), cut.end());
  }
}

bool Facets::goesOn(std::uint32_t corner, FaceId before) const {
  const FaceId beyond = mesh_.across[corner];
  if (beyond == kNoFace) return false;
  const std::uint16_t here = mesh_.area[index(before)], there = mesh_.area[index(beyond)];
  return rules_.passable(mesh_, beyond) && (here == there || (rules_.passable(mesh_, before) && classOf_[here] == classOf_[there]));
}

bool Facets::isLevel(const Facet& t) const {
  constexpr double kSlope = 0.0141;  // rise over run at which length grows by a ten thousandth
  const Vec3 normal = glm::cross(at(t, 1) - at(t, 0), at(t, 2) - at(t, 0));
  return std::hypot(normal.x, normal.z) <= kSlope * std::abs(normal.y);
}

FacetPart Facets::over(const Facet& t, unsigned edge) const {
  if (const std::uint32_t cut = cutAt_[index(t.face)]; cut != kFan) {
    const CutTriangle::Beyond& beyond = cuts_[cut + t.fan].beyond[edge];
    return beyond.isSide ? overSide(t.face, beyond.number) : FacetPart{{t.face, beyond.number}, beyond.edge};
  }
  const auto corners = static_cast<std::uint32_t>(mesh_.cornerCount(t.face));
  if (edge == 0 && t.fan > 0) return {{t.face, t.fan - 1}, 2};
  if (edge == 2 && t.fan + 3 < corners) return {{t.face, t.fan + 1}, 0};
  return overSide(t.face, edge == 0 ? 0 : t.fan + edge);
}

/// What lies over a side of a face, by the corner that it begins at.
FacetPart Facets::overSide(FaceId f, std::uint32_t side) const {
  const std::uint32_t c = mesh_.start[index(f)] + side;
  const FaceId beyond = mesh_.across[c];
  if (!goesOn(c, f)) return {};
  const std::uint32_t back = adjacency_.edgeBeyond(c), corners = static_cast<std::uint32_t>(mesh_.cornerCount(beyond));
  if (const std::uint32_t cut = cutAt_[index(beyond)]; cut != kFan) {
    for (std::uint32_t fan = 0; fan + 2 < corners; ++fan)
      for (unsigned e = 0; e < 3; ++e)
        if (const CutTriangle::Beyond& b = cuts_[cut + fan].beyond[e]; b.isSide && b.number == back) return {{beyond, fan}, e};
  }
  if (back == 0) return {{beyond, 0}, 0};
  const bool last = back + 1 == corners;
  return {{beyond, last ? back - 2 : back - 1}, last ? 2u : 1u};
}

FacetPart Facets::rightOf(const FacetPart& corner) const {
  const FacetPart beside = over(corner.facet, corner.i);
  return {beside.facet, (beside.i + 1) % 3};
}

void Facets::around(const Facet& t, const Vec3& at, std::vector<Facet>& all) const {
  constexpr double kOnEdge = 1e-9;  // metres
  all.assign(1, t);
  for (std::size_t i = 0; i < all.size(); ++i)
    for (unsigned e = 0; e < 3; ++e) {
      const Facet in = all[i];
      const Vec2 p = flat(in, e, at);
      if (p.y > kOnEdge || p.x < -kOnEdge || p.x > glm::distance(this->at(in, e), this->at(in, e + 1)) + kOnEdge) continue;
      const Facet beside = over(in, e).facet;
      if (beside.valid() && std::ranges::find(all, beside) == all.end()) all.push_back(beside);
    }
}

Facet Facets::under(const nav::Place& place) const {
  const Vec2 q = plan(place.position);
  Facet best;
  double least = std::numeric_limits<double>::infinity();
  for (std::uint32_t fan = 0; fan + 2 < mesh_.cornerCount(place.face); ++fan) {
    const Facet t{place.face, fan};
    const Vec2 a = plan(at(t, 0)), b = plan(at(t, 1)), c = plan(at(t, 2));
    const double off = std::max({outsideOf(a, b, q), outsideOf(b, c, q), outsideOf(c, a, q)});
    if (off < least) best = t, least = off;
  }
  return best;
}

Vec3 Facets::lifted(const Facet& t, const Vec2& q) const {
  const Vec3 &a = at(t, 0), &b = at(t, 1), &c = at(t, 2);
  const double all = cross(plan(b - a), plan(c - a));
  if (all <= 0) return lift(q, a.y);
  const Vec2 d = q - plan(a);
  return lift(q, a.y + (b.y - a.y) * cross(d, plan(c - a)) / all + (c.y - a.y) * cross(plan(b - a), d) / all);
}

FlatFacet Facets::flat(const Facet& t, unsigned edge) const {
  return {glm::distance(at(t, edge), at(t, edge + 1)), flat(t, edge, at(t, edge + 2))};
}

Vec2 Facets::flat(const Facet& t, unsigned edge, const Vec3& p) const {
  const Vec3 &a = at(t, edge), along = glm::normalize(at(t, edge + 1) - a), d = p - a;
  return {glm::dot(d, along), glm::length(glm::cross(along, d))};
}

double Facets::angleAt(const Facet& t, unsigned corner) const {
  const Vec3 &o = at(t, corner), a = at(t, corner + 1) - o, b = at(t, corner + 2) - o;
  return std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b));
}

bool Facets::bends(std::uint32_t spot) const {
  constexpr double kSumRounded = 1e-9;  // radians
  return isBorder(spot) ? around(spot) > kPi - kSumRounded : around(spot) > 2 * kPi + kSumRounded;
}

}  // namespace dune::route
