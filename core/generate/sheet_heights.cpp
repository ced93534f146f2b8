#include "core/generate/sheet_heights.h"

#include <algorithm>
#include <queue>

#include "core/base/plan_geometry.h"
#include "core/ground/follow.h"

namespace dune::generate {

/// Heights that the sheet's ground may have: from the centre of a cell it climbs no more than the steepest slope lets it.
SheetHeights::SheetHeights(const SheetInput& input, std::int32_t sheet) : in_(input), sheet_(sheet) {
  const nav::Agent& agent = in_.standing.agent();
  const double climb = steepest() + 1;  // and steps
  for (const std::int32_t k : in_.cells.sheet(sheet_)) {
    const Storey& s = in_.cells.storeys()[static_cast<std::size_t>(k)];
    const Vec2 centre = in_.cells.centre(s.cell);
    double rise = agent.height;
    for (const Vec2& corner : in_.cells.cornersOf(s.cell)) rise = std::max(rise, agent.stepHeight + glm::distance(centre, corner) * climb);
    low_ = std::min(low_, s.ground.y - rise), high_ = std::max(high_, s.ground.y + rise);
  }
}

std::int32_t SheetHeights::cellAt(const Vec2& q, std::int32_t& hint) const {
  const LatticePoint p = toLattice(q), min = in_.cells.plan().points()[0], max = in_.cells.plan().points()[2];
  if (p.u < min.u || p.v < min.v || p.u > max.u || p.v > max.v) return -1;
  return hint = in_.cells.plan().locate(p, hint);
}

double SheetHeights::at(const Vec2& q, std::int32_t sheet) {
  const double y = followedTo(q, sheet);
  if (in_.chunk.sidesAt(toLattice(q)) == 0) return y;
  // A block may end just at the side. One chunk comes there over its top, the other over the floor before it, and both have to say the
  // same.
  in_.standing.standable(q, column_);
  double high = y;
  for (const ground::Surface& s : column_)
    if (s.y > high && s.y <= y + in_.standing.agent().stepHeight + kSeamJump) high = s.y;
  return high;
}

double SheetHeights::followedTo(const Vec2& q, std::int32_t sheet) {
  const std::int32_t cell = cellAt(q, hint_);
  // Over most places there is one ground only, and no need to find the way to it. Where a cell has more, a place on a hairline gap of
  // this one may show another.
  if (cell < 0 || in_.cells.storeyCount(cell) < 2) {
    in_.standing.standable(q, column_);
    const bool only = cell < 0 || !in_.cells.hasStoreys();
    const std::int32_t own = only ? -1 : in_.cells.storeyOf(cell, sheet);
    // A corner of the border may lie on a cell of another sheet, whose ground it is then.
    if (column_.size() == 1 && (only || (own >= 0 && isOwn(q, column_[0].y, cell, own)))) return column_[0].y;
  }
  if (cell < 0) return (low_ + high_) / 2;
  const std::int32_t best = nearestStorey(cell, q, sheet);
  if (best < 0) return (low_ + high_) / 2;
  const Storey& s = in_.cells.storeys()[static_cast<std::size_t>(best)];
  return ground::follow(in_.standing, in_.cells.centre(s.cell), s.ground, q).y;
}

/// The storey of a sheet on the cell that lies nearest to a place, from the cell that it lies on; -1 when none is near. Nearest first:
/// around a corner at which very many cells meet, all of them come before what lies beyond.
std::int32_t SheetHeights::nearestStorey(std::int32_t cell, const Vec2& q, std::int32_t sheet) const {
  constexpr std::size_t kMostCells = 96;
  using Far = std::pair<double, std::int32_t>;
  std::priority_queue<Far, std::vector<Far>, std::greater<>> next;
  std::vector<std::int32_t> seen{cell};
  next.push({0, cell});
  for (std::size_t looked = 0; !next.empty() && looked < kMostCells; ++looked) {
    const std::int32_t here = next.top().second;
    next.pop();
    if (const std::int32_t storey = in_.cells.storeyOf(here, sheet); storey >= 0) return storey;
    for (const std::int32_t n : in_.cells.plan().triangles()[static_cast<std::size_t>(here)].n)
      if (n != Triangulation::kOutside && !std::ranges::count(seen, n)) seen.push_back(n), next.push({distanceToCell(n, q), n});
  }
  return -1;
}

/// Whether the one ground over a place is that of a storey on the cell that it lies on: as near in height as ground can climb from the
/// cell's centre, and no other storey that shows through a crack.
bool SheetHeights::isOwn(const Vec2& q, double found, std::int32_t cell, std::int32_t storey) const {
  const double known = in_.cells.storeys()[static_cast<std::size_t>(storey)].ground.y;
  const double climb = glm::distance(in_.cells.centre(cell), q) * std::max(1.0, steepest()) + in_.standing.agent().stepHeight + kSeamJump;
  return std::abs(found - known) <= climb && ground::isSameStorey(in_.standing, q, found, known);
}

double SheetHeights::distanceToCell(std::int32_t cell, const Vec2& q) const {
  return glm::distance(nearestOnConvex(in_.cells.cornersOf(cell), q), q);
}

}  // namespace dune::generate
