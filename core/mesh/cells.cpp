#include "core/mesh/cells.h"

#include <algorithm>

#include "core/base/parallel.h"
#include "core/mesh/tuning.h"

namespace dune::mesh {

namespace {

constexpr std::int64_t kMargin = 4096;  // lattice steps between the outermost piece and the rectangle
constexpr std::uint8_t kOutlineMask = 1;

/// Whether a triangle is a sliver that rounding made: two lines that were one before their ends went to the lattice.
bool isSliver(const std::array<Vec2, 3>& c) {
  const double longest = std::max({glm::distance(c[0], c[1]), glm::distance(c[1], c[2]), glm::distance(c[2], c[0])});
  return cross(c[1] - c[0], c[2] - c[0]) < 2 * kLatticeStep * longest;
}

}  // namespace

std::array<Vec2, 3> Cells::cornersOf(std::int32_t cell) const {
  return {toPlan(plan_.corner(cell, 0)), toPlan(plan_.corner(cell, 1)), toPlan(plan_.corner(cell, 2))};
}

Vec2 Cells::centre(std::int32_t cell) const {
  const auto c = cornersOf(cell);
  return (c[0] + c[1] + c[2]) / 3.0;
}

Result<Cells> Cells::build(const ground::Standing& standing, const ground::Clearance& clearance, const std::vector<Grown>& grown,
                           const std::vector<OutlinePiece>& pieces, Job& job) {
  LatticePoint min{0, 0}, max{0, 0};
  std::vector<LatticePoint> points;
  points.reserve(pieces.size() * 2);
  for (const OutlinePiece& p : pieces) points.push_back(toLattice(p.a)), points.push_back(toLattice(p.b));
  if (!points.empty()) min = max = points[0];
  for (const LatticePoint& p : points) {
    min = {std::min(min.u, p.u), std::min(min.v, p.v)};
    max = {std::max(max.u, p.u), std::max(max.v, p.v)};
  }
  Triangulation plan({min.u - kMargin, min.v - kMargin}, {max.u + kMargin, max.v + kMargin});
  if (!points.empty() && !plan.insertSorted(std::move(points), job)) return Job::cancelledProblem();
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    if (i % 256 == 0) {
      if (job.cancelled()) return Job::cancelledProblem();
      job.advance(0.4 * static_cast<double>(i) / static_cast<double>(pieces.size()));
    }
    plan.constrain(toLattice(pieces[i].a), toLattice(pieces[i].b), kOutlineMask);
  }
  Cells cells(standing, std::move(plan));
  if (!cells.findStoreys(clearance, grown, job) || !cells.joinStoreys(job)) return Job::cancelledProblem();
  cells.gatherSheets();
  return cells;
}

bool Cells::findStoreys(const ground::Clearance& clearance, const std::vector<Grown>& grown, Job& job) {
  std::vector<Box2> boxes;
  boxes.reserve(grown.size());
  for (const Grown& g : grown) boxes.push_back(g.box);
  const PlanGrid grid(boxes, 1.0);
  const double height = standing_->agent().height, radius = standing_->agent().radius;
  const std::size_t count = plan_.triangles().size();
  std::vector<std::vector<ground::Followed>> found(count);
  const bool whole = parallelFor(job, count, [&](std::size_t t) {
    const Vec2 q = centre(static_cast<std::int32_t>(t));
    std::vector<ground::Surface> column;
    standing_->standable(q, column);
    const auto corners = cornersOf(static_cast<std::int32_t>(t));
    const bool sliver = isSliver(corners);
    for (const ground::Surface& s : column) {
      bool blocked = false;
      for (const std::uint32_t i : grid.at(q)) {
        if (!grown[i].box.contains(q) || !clearance.limits()[i].countsAt(q, s.y, height)) continue;
        blocked = nearestOnConvex(grown[i].border, q) == q;
        if (blocked) break;
      }
      // The centre of a sliver may be free while its tip lies deep in the forbidden.
      if (!blocked && sliver)
        blocked = std::ranges::any_of(corners, [&](const Vec2& c) {
          const auto near = clearance.nearest(c, s.y, radius);
          return near && near->distance < radius - tuning::kNearer;
        });
      if (!blocked) found[t].push_back({s.y, s.triangle});
    }
  });
  if (!whole) return false;
  start_.assign(1, 0);
  for (std::size_t t = 0; t < count; ++t) {
    for (const ground::Followed& f : found[t]) storeys_.push_back({static_cast<std::int32_t>(t), f, {-1, -1, -1}, -1});
    start_.push_back(static_cast<std::uint32_t>(storeys_.size()));
  }
  return true;
}

bool Cells::joinStoreys(Job& job) {
  // Two storeys that can both be stood on are an agent height apart, so meeting within a step is no coincidence.
  const double meets = std::max(0.02, standing_->agent().stepHeight);
  return parallelFor(job, storeys_.size(), [&](std::size_t i) {
    Storey& s = storeys_[i];
    for (int e = 0; e < 3; ++e) {
      const std::int32_t other = plan_.triangles()[static_cast<std::size_t>(s.cell)].n[static_cast<std::size_t>(e)];
      if (other == Triangulation::kOutside) continue;
      const auto first = start_[static_cast<std::size_t>(other)], last = start_[static_cast<std::size_t>(other) + 1];
      if (first == last) continue;
      const Vec2 middle = (toPlan(plan_.corner(s.cell, e)) + toPlan(plan_.corner(s.cell, e + 1))) * 0.5;
      const double y = ground::follow(*standing_, centre(s.cell), s.ground, middle).y;
      double best = meets;
      for (std::uint32_t k = first; k < last; ++k)
        if (const double d = std::abs(ground::follow(*standing_, centre(other), storeys_[k].ground, middle).y - y); d <= best)
          best = d, s.across[static_cast<std::size_t>(e)] = static_cast<std::int32_t>(k);
    }
  });
}

void Cells::gatherSheets() {
  // A join must be seen from both sides.
  for (std::size_t i = 0; i < storeys_.size(); ++i)
    for (std::int32_t& k : storeys_[i].across)
      if (k >= 0 && std::ranges::count(storeys_[static_cast<std::size_t>(k)].across, static_cast<std::int32_t>(i)) == 0) k = -1;
  // A sheet has one height at each corner of the plan: cells of another storey may not even touch it there.
  const double meets = std::max(0.02, standing_->agent().stepHeight);
  struct Taken {
    std::int32_t sheet = -1;
    double y = 0;
  };
  std::vector<std::int32_t> takenCell(plan_.triangles().size(), -1);
  std::vector<Taken> takenCorner(plan_.points().size());
  auto fits = [&](const Storey& s, std::int32_t sheet) {
    if (takenCell[static_cast<std::size_t>(s.cell)] == sheet) return false;
    std::array<double, 3> y;
    for (int i = 0; i < 3; ++i) {
      y[static_cast<std::size_t>(i)] = ground::follow(*standing_, centre(s.cell), s.ground, toPlan(plan_.corner(s.cell, i))).y;
      const Taken& t = takenCorner[plan_.triangles()[static_cast<std::size_t>(s.cell)].v[static_cast<std::size_t>(i)]];
      if (t.sheet == sheet && std::abs(t.y - y[static_cast<std::size_t>(i)]) > meets) return false;
    }
    for (std::size_t i = 0; i < 3; ++i) takenCorner[plan_.triangles()[static_cast<std::size_t>(s.cell)].v[i]] = {sheet, y[i]};
    takenCell[static_cast<std::size_t>(s.cell)] = sheet;
    return true;
  };
  std::vector<std::size_t> queue;
  for (std::size_t first = 0; first < storeys_.size(); ++first) {
    if (storeys_[first].sheet >= 0) continue;
    const std::int32_t sheet = sheetCount_++;
    queue.assign(1, first);
    storeys_[first].sheet = sheet;
    fits(storeys_[first], sheet);
    for (std::size_t head = 0; head < queue.size(); ++head)
      for (const std::int32_t k : storeys_[queue[head]].across) {
        if (k < 0) continue;
        Storey& next = storeys_[static_cast<std::size_t>(k)];
        if (next.sheet >= 0 || !fits(next, sheet)) continue;
        next.sheet = sheet;
        queue.push_back(static_cast<std::size_t>(k));
      }
  }
}

std::int32_t Cells::storeyOf(std::int32_t cell, std::int32_t sheet) const {
  for (std::uint32_t i = start_[static_cast<std::size_t>(cell)]; i < start_[static_cast<std::size_t>(cell) + 1]; ++i)
    if (storeys_[i].sheet == sheet) return static_cast<std::int32_t>(i);
  return -1;
}

}  // namespace dune::mesh
