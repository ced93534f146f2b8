#include "core/generate/creases.h"

#include <algorithm>
#include <limits>

#include "core/base/plan_geometry.h"

namespace dune::generate {

namespace {

constexpr double kFlatShore = 1e-3;    // ground that differs by less in a metre meets in no line to speak of
constexpr double kLeastBend = 0.02;    // rise in a metre by which ground has to bend to be noticed
constexpr double kLeastCrease = 0.05;  // m

/// The part of a line p + t d, from..to, that lies in a triangle seen from above.
void clipTo(const ground::Triangle& t, const Vec2& p, const Vec2& d, Interval& part) {
  for (std::size_t e = 0; e < 3; ++e) {
    const Vec2 side = t.q[(e + 1) % 3] - t.q[e];
    const double at = cross(side, p - t.q[e]), grows = cross(side, d);
    if (grows > 0) part.from = std::max(part.from, -at / grows);
    if (grows < 0) part.to = std::min(part.to, -at / grows);
    if (grows == 0 && at < 0) part.to = part.from;
  }
}

bool shareCorner(const ground::Triangle& a, const ground::Triangle& b) {
  return std::ranges::any_of(a.p, [&](const Vec3& p) { return std::ranges::find(b.p, p) != b.p.end(); });
}

}  // namespace

std::optional<Crease> creaseOf(const ground::Triangle& a, const ground::Triangle& b) {
  const Vec2 rise{a.gu - b.gu, a.gv - b.gv};
  const double steep = glm::length(rise);
  if (steep < kFlatShore) return std::nullopt;
  const Vec2 along = leftOf(rise / steep), on = rise * ((b.y0 - a.y0) / (steep * steep));
  Interval part{-std::numeric_limits<double>::max(), std::numeric_limits<double>::max()};
  clipTo(a, on, along, part), clipTo(b, on, along, part);
  if (part.to - part.from < kLatticeStep) return std::nullopt;
  const Vec2 from = on + along * part.from, to = on + along * part.to;
  return Crease{from, to, a.heightAt(from), a.heightAt(to)};
}

LineGrid<Crease> findCreases(const ground::Standing& standing, const Cells& cells, const LatticeBox& chunk) {
  constexpr double kCell = 1;  // m
  const ground::Soup& soup = standing.soup();
  const Box2 within = Box2(toPlan(chunk.min), toPlan(chunk.max)).grown(kLatticeStep);
  const Box2 inner = within.grown(-2 * kLatticeStep);
  const auto isLarge = [](const Box2& box) { return glm::distance(box.min, box.max) >= kLeastCrease; };
  const auto ground = [&](const ground::Triangle& t) { return !t.upright && isLarge(t.box()) && standing.walkable(t); };
  std::vector<Crease> creases;
  std::vector<std::uint32_t> near;
  std::vector<ground::Surface> column;
  std::int32_t hint = 0;
  const auto isGround = [&](const Vec2& q, double y) {
    if (!within.contains(q)) return false;
    hint = cells.plan().locate(toLattice(q), hint);
    if (cells.storeyCount(hint) == 0) return false;
    standing.standable(q, column);
    return std::ranges::any_of(column, [y](const ground::Surface& s) { return std::abs(s.y - y) < kLeastCrease; });
  };
  for (std::uint32_t i = 0; i < soup.triangles().size(); ++i) {
    const ground::Triangle& t = soup.triangles()[i];
    if (!ground(t) || !t.box().overlaps(within)) continue;
    soup.near(t.box(), t.heights(), near);
    for (const std::uint32_t n : near) {
      const ground::Triangle& other = soup.triangles()[n];
      if (n <= i || !ground(other) || std::hypot(t.gu - other.gu, t.gv - other.gv) < kLeastBend || shareCorner(t, other)) continue;
      const auto crease = creaseOf(t, other);
      if (!crease || glm::distance(crease->a, crease->b) < kLeastCrease || !clipToBox(crease->a, crease->b, within)) continue;
      // What comes to a side of the chunk is for the chunk beyond to see as well: both have to come to the same corners on it.
      const bool atSide = !inner.contains(crease->a) || !inner.contains(crease->b);
      const bool stands = atSide || std::ranges::any_of(std::array{0.1, 0.5, 0.9}, [&](double part) {
                            return isGround(glm::mix(crease->a, crease->b, part), glm::mix(crease->ya, crease->yb, part));
                          });
      if (stands) creases.push_back(*crease);
    }
  }
  return {std::move(creases), kCell};
}

}  // namespace dune::generate
