#include "core/generate/cells.h"

#include <algorithm>
#include <optional>

#include "core/base/plan_geometry.h"
#include "core/generate/sheet_squares.h"
#include "core/generate/slits.h"
#include "core/generate/tuning.h"
#include "core/ground/tuning.h"

namespace dune::generate {

namespace {

constexpr std::size_t kChecksEvery = 256;
constexpr std::uint8_t kOutlineMask = 1;
constexpr double kSameStorey = 0.01;  // metres
constexpr double kSpeck = 0.02;       // m²

/// Whether a triangle is a sliver that rounding made: two lines that were one before their ends went to the lattice.
bool isSliver(const std::array<Vec2, 3>& corners) { return widthOf(corners) < 2 * kLatticeStep; }

}  // namespace

double meetsWithin(const nav::Agent& agent) { return std::max(tuning::kMeets, agent.stepHeight); }

std::array<Vec2, 3> Cells::cornersOf(std::int32_t cell) const {
  return {toPlan(plan_.corner(cell, 0)), toPlan(plan_.corner(cell, 1)), toPlan(plan_.corner(cell, 2))};
}

Vec2 Cells::centre(std::int32_t cell) const {
  const auto c = cornersOf(cell);
  return (c[0] + c[1] + c[2]) / 3.0;
}

Result<Cells> Cells::build(const ground::Standing& standing, const ground::Clearance& clearance, const std::vector<Grown>& grown,
                           const std::vector<OutlinePiece>& pieces, const LatticeBox& chunk, const Upright* upright, Job& job) {
  Triangulation plan(chunk.min, chunk.max);
  std::vector<std::array<LatticePoint, 2>> lines;
  std::vector<LatticePoint> points;
  for (const OutlinePiece& p : pieces) {
    const LatticePoint a = toLattice(p.a), b = toLattice(p.b);
    if (a == b) continue;
    lines.push_back({a, b});
    points.push_back(a), points.push_back(b);
  }
  if (!plan.insertSorted(std::move(points), job)) return Job::cancelledProblem();
  for (std::size_t i = 0; i < lines.size(); ++i) {
    if (i % kChecksEvery == 0 && job.cancelled()) return Job::cancelledProblem();
    plan.constrain(lines[i][0], lines[i][1], kOutlineMask);
  }
  Cells cells(standing, std::move(plan));
  if (!cells.findStoreys(clearance, grown, job) || !cells.joinStoreys(job) || !cells.closeSlits(clearance, job))
    return Job::cancelledProblem();
  if (upright) cells.findLow(*upright), cells.dropSpecks();
  cells.gatherSheets();
  return cells;
}

bool Cells::findStoreys(const ground::Clearance& clearance, const std::vector<Grown>& grown, const Job& job) {
  std::vector<Box2> boxes;
  boxes.reserve(grown.size());
  for (const Grown& g : grown) boxes.push_back(g.box.grown(ground::Limit::kOnLine));
  const PlanGrid grid(boxes, 1.0);
  const double height = standing_->agent().height;
  const Forbidden forbidden = [&](const Vec2& q, double y) {
    return std::ranges::any_of(grid.at(q),
                               [&](std::uint32_t i) { return grown[i].contains(q) && clearance.limits()[i].countsAt(q, y, height); });
  };
  std::vector<ground::Surface> column;
  std::size_t most = 1;  // storeys over any cell
  start_.assign(1, 0);
  for (std::size_t t = 0; t < plan_.triangles().size(); ++t) {
    if (t % kChecksEvery == 0 && job.cancelled()) return false;
    const auto cell = static_cast<std::int32_t>(t);
    const auto corners = cornersOf(cell);
    const Vec2 q = (corners[0] + corners[1] + corners[2]) / 3.0;
    standing_->standable(q, column);
    const bool sliver = isSliver(corners);
    // Right beyond the tip of a narrowing gap neither of its sides counts, each being there for its own: a chink in the outline, in which
    // the centre may lie while most around it is forbidden. Elsewhere all of a cell is forbidden, or none.
    const auto isChink = [&](double y) {
      int inside = 0;
      for (std::size_t i = 0; i < 3; ++i)
        for (const Vec2& towards : {corners[i], (corners[i] + corners[(i + 1) % 3]) * 0.5})
          inside += forbidden(glm::mix(q, towards, 0.5), y);
      return inside > 3;
    };
    for (const ground::Surface& s : column) {
      bool blocked = forbidden(q, s.y);
      if (!blocked) blocked = sliver ? hasForbiddenTip(clearance, cell, {s.y, s.triangle}) : isChink(s.y) || isHair(cell, q, s);
      if (!blocked) storeys_.push_back({cell, {s.y, s.triangle}, {-1, -1, -1}, -1});
    }
    most = std::max(most, column.size());
    if (column.size() < most && !sliver) lookBesideCrack(cell, column, forbidden);
    start_.push_back(static_cast<std::uint32_t>(storeys_.size()));
  }
  hasStoreys_ = most > 1;
  return true;
}

/// Whether the ground followed from a place to another, where it is at a height, falls to another storey on its way: halves the way where
/// it changes most until only a jump can be as high.
bool Cells::fallsBetween(const Vec2& from, const ground::Followed& at, const Vec2& to, double y) const {
  constexpr double kNear = 0.05;  // m
  const nav::Agent& agent = standing_->agent();
  const double climb = ground::steepestRise(agent), meets = meetsWithin(agent);
  Vec2 a = from, b = to;
  double ya = at.y, yb = y;
  while (std::abs(yb - ya) > meets) {
    const double apart = glm::distance(a, b);
    if (apart < kNear) return std::abs(yb - ya) > meets + 2 * climb * apart;
    const Vec2 middle = (a + b) * 0.5;
    const double ym = ground::follow(*standing_, from, at, middle).y;
    if (std::abs(ym - ya) > std::abs(yb - ym))
      b = middle, yb = ym;
    else
      a = middle, ya = ym;
  }
  return false;
}

/// Whether the ground over a place in a cell is but a hair of it: the narrow tread of a cliff, or what shows through a crack. Ground
/// that is the cell's own lies over nearly all of it.
bool Cells::isHair(std::int32_t cell, const Vec2& q, const ground::Surface& s) const {
  constexpr double kHair = 0.005;  // m
  const auto corners = cornersOf(cell);
  const nav::Agent& agent = standing_->agent();
  const double climb = std::max(1.0, ground::steepestRise(agent));
  const auto goesOn = [&](const Vec2& aside) { return !std::isnan(standing_->nearest(q + aside, s.y, 2 * climb * kHair)); };
  if (goesOn({kHair, 0}) && goesOn({-kHair, 0}) && goesOn({0, kHair}) && goesOn({0, -kHair})) return false;
  const auto lies = [&](const Vec2& p) { return !std::isnan(standing_->nearest(p, s.y, climb * glm::distance(q, p) + agent.stepHeight)); };
  // The way to a corner may lie in a crack, or in several.
  constexpr double kBeside = ground::tuning::kBesideCrack;
  const auto liesNear = [&](const Vec2& p) {
    return lies(p) || lies(p + Vec2{kBeside, 0}) || lies(p - Vec2{kBeside, 0}) || lies(p + Vec2{0, kBeside}) || lies(p - Vec2{0, kBeside});
  };
  return std::ranges::any_of(
      corners, [&](const Vec2& corner) { return !liesNear(glm::mix(q, corner, 0.5)) && !liesNear(glm::mix(q, corner, 0.37)); });
}

/// The centre of a sliver may be free while its tip lies deep in the forbidden, or beyond all ground. It may be long, and the ground steep.
bool Cells::hasForbiddenTip(const ground::Clearance& clearance, std::int32_t cell, const ground::Followed& at) const {
  const nav::Agent& agent = standing_->agent();
  const Vec2 q = centre(cell);
  return std::ranges::any_of(cornersOf(cell), [&](const Vec2& corner) {
    // Rounding may have moved the corner just beyond a limit's line, where it is not the limit's own ground any more.
    const double far = glm::distance(corner, q);
    const Vec2 c = far > 0 ? glm::mix(corner, q, std::min(1.0, 2 * kLatticeStep / far)) : corner;
    const double y = ground::follow(*standing_, q, at, c).y;
    const auto near = clearance.nearest(c, y, agent.radius);
    if (near && near->distance < agent.radius - tuning::kNearer) return true;
    if (fallsBetween(q, at, c, y)) return true;
    // Where that is but a crack, which may be as wide as what is joined, ground goes on a little nearer to the centre.
    const auto lacksGround = [&](const Vec2& p) { return std::isnan(standing_->nearest(p, y, meetsWithin(agent))); };
    return lacksGround(c) && lacksGround(glm::mix(corner, q, far > 0 ? std::min(0.5, standing_->world().joinDistance / far) : 0.0));
  });
}

/// Cracks too narrow to be limits, and meetings of wider ones, cut no cells, and the centre of a cell may lie in one. Within a cell all
/// ground is one, so what is beside it answers as well, and what is forbidden on one side of it is on all. `known` is what was found at
/// the centre.
void Cells::lookBesideCrack(std::int32_t cell, std::span<const ground::Surface> known, const Forbidden& forbidden) {
  constexpr double kWithin = 0.4;
  const double apart = ground::storeysApart(standing_->agent());
  const auto corners = cornersOf(cell);
  const Vec2 q = centre(cell);
  struct Found {
    ground::Surface surface;
    Vec2 at;
    bool free;
  };
  std::vector<Found> found;
  std::vector<ground::Surface> beside;
  const auto look = [&](const Vec2& towards, double aside) {
    const double far = glm::distance(q, towards);
    if (far == 0) return;
    const Vec2 p = q + (towards - q) * std::min(kWithin, aside / far);
    standing_->standable(p, beside);
    for (const ground::Surface& s : beside) {
      const auto same = [&](const ground::Surface& o) { return std::abs(o.y - s.y) < apart; };
      if (std::ranges::any_of(known, same)) continue;
      const auto there = std::ranges::find_if(found, same, &Found::surface);
      Found& f = there != found.end() ? *there : found.emplace_back(Found{s, p, true});
      f.free = f.free && !forbidden(p, s.y);
    }
  };
  for (std::size_t i = 0; i < 3; ++i) {
    look(nearestOnSegment(corners[i], corners[(i + 1) % 3], q), ground::tuning::kBesideCrack);
    look(corners[i], standing_->world().joinDistance);
  }
  const auto first = static_cast<std::ptrdiff_t>(storeys_.size());
  for (const Found& f : found)
    if (f.free && !isHair(cell, f.at, f.surface))
      storeys_.push_back({cell, ground::follow(*standing_, f.at, {f.surface.y, f.surface.triangle}, q), {-1, -1, -1}, -1});
  std::sort(storeys_.begin() + first, storeys_.end(), [](const Storey& a, const Storey& b) { return a.ground.y < b.ground.y; });
}

void Cells::findLow(const Upright& upright) {
  std::vector<Box2> boxes;
  boxes.reserve(upright.grown.size());
  for (const Grown& g : upright.grown) boxes.push_back(g.box.grown(ground::Limit::kOnLine));
  const PlanGrid grid(boxes, 1.0);
  const double height = upright.standing.agent().height;
  for (Storey& s : storeys_) {
    const Vec2 q = centre(s.cell);
    s.low = std::isnan(upright.standing.nearest(q, s.ground.y, kSameStorey)) || std::ranges::any_of(grid.at(q), [&](std::uint32_t i) {
              return upright.grown[i].contains(q) && upright.limits[i].countsAt(q, s.ground.y, height);
            });
  }
}

/// Specks of low ground, or of other ground in it, are slivers that rounding made between two lines that are nearly one.
void Cells::dropSpecks() {
  std::vector<char> seen(storeys_.size(), 0);
  std::vector<std::int32_t> piece;
  for (std::size_t first = 0; first < storeys_.size(); ++first) {
    if (seen[first]) continue;
    piece.assign(1, static_cast<std::int32_t>(first));
    seen[first] = 1;
    double area = 0;
    bool alone = true;
    for (std::size_t head = 0; head < piece.size(); ++head) {
      const Storey& s = storeys_[static_cast<std::size_t>(piece[head])];
      const auto c = cornersOf(s.cell);
      area += cross(c[1] - c[0], c[2] - c[0]) / 2;
      for (const std::int32_t k : s.across) {
        if (k < 0) continue;
        const Storey& next = storeys_[static_cast<std::size_t>(k)];
        alone = alone && next.low == s.low;
        if (next.low != s.low || seen[static_cast<std::size_t>(k)]) continue;
        seen[static_cast<std::size_t>(k)] = 1;
        piece.push_back(k);
      }
    }
    if (area < kSpeck && !alone)
      for (const std::int32_t k : piece) storeys_[static_cast<std::size_t>(k)].low = !storeys_[static_cast<std::size_t>(k)].low;
  }
}

bool Cells::joinStoreys(const Job& job) {
  // Two storeys that can both be stood on are an agent height apart, so meeting within a step is no coincidence.
  const double meets = meetsWithin(standing_->agent());
  for (std::size_t i = 0; i < storeys_.size(); ++i) {
    if (i % kChecksEvery == 0 && job.cancelled()) return false;
    Storey& s = storeys_[i];
    for (std::size_t e = 0; e < 3; ++e) {
      const std::int32_t other = plan_.triangles()[static_cast<std::size_t>(s.cell)].n[e];
      if (other == Triangulation::kOutside) {
        s.across[e] = Storey::kSeam;
        continue;
      }
      const auto first = start_[static_cast<std::size_t>(other)], last = start_[static_cast<std::size_t>(other) + 1];
      if (first == last) continue;
      const int corner = static_cast<int>(e);
      const Vec2 middle = (toPlan(plan_.corner(s.cell, corner)) + toPlan(plan_.corner(s.cell, corner + 1))) * 0.5;
      const double y = ground::follow(*standing_, centre(s.cell), s.ground, middle).y;
      double best = meets;
      for (std::uint32_t k = first; k < last; ++k)
        if (const double d = std::abs(ground::follow(*standing_, centre(other), storeys_[k].ground, middle).y - y); d <= best)
          best = d, s.across[e] = static_cast<std::int32_t>(k);
    }
  }
  return true;
}

void Cells::gatherSheets() {
  // A join must be seen from both sides.
  for (std::size_t i = 0; i < storeys_.size(); ++i)
    for (std::int32_t& k : storeys_[i].across)
      if (k >= 0 && std::ranges::count(storeys_[static_cast<std::size_t>(k)].across, static_cast<std::int32_t>(i)) == 0) k = -1;
  // A sheet has one height at each corner of the plan: cells of another storey may not even touch it there.
  const double meets = meetsWithin(standing_->agent());
  struct Taken {
    std::int32_t sheet = -1;
    double y = 0;
  };
  std::vector<std::int32_t> takenCell(plan_.triangles().size(), -1);
  std::vector<Taken> takenCorner(plan_.points().size());
  // Nor come near to it.
  std::optional<SheetSquares> squares;
  if (hasStoreys_) squares.emplace(toPlan(plan_.points()[0]), toPlan(plan_.points()[2]));
  const double apart = meets + 3 * SheetSquares::kSquare * ground::steepestRise(standing_->agent());
  auto fits = [&](const Storey& s, std::int32_t sheet) {
    if (takenCell[static_cast<std::size_t>(s.cell)] == sheet) return false;
    std::array<double, 3> y;
    for (int i = 0; i < 3; ++i) {
      y[static_cast<std::size_t>(i)] = ground::follow(*standing_, centre(s.cell), s.ground, toPlan(plan_.corner(s.cell, i))).y;
      const Taken& t = takenCorner[plan_.triangles()[static_cast<std::size_t>(s.cell)].v[static_cast<std::size_t>(i)]];
      if (t.sheet == sheet && std::abs(t.y - y[static_cast<std::size_t>(i)]) > meets) return false;
    }
    if (squares && !squares->take(cornersOf(s.cell), y, sheet, apart)) return false;
    for (std::size_t i = 0; i < 3; ++i) takenCorner[plan_.triangles()[static_cast<std::size_t>(s.cell)].v[i]] = {sheet, y[i]};
    takenCell[static_cast<std::size_t>(s.cell)] = sheet;
    return true;
  };
  const auto gather = [&](std::size_t first) {
    const auto sheet = static_cast<std::int32_t>(sheets_.size());
    std::vector<std::int32_t> queue(1, static_cast<std::int32_t>(first));
    storeys_[first].sheet = sheet;
    fits(storeys_[first], sheet);
    for (std::size_t head = 0; head < queue.size(); ++head)
      for (const std::int32_t k : storeys_[static_cast<std::size_t>(queue[head])].across) {
        if (k < 0) continue;
        Storey& next = storeys_[static_cast<std::size_t>(k)];
        if (next.sheet >= 0 || !fits(next, sheet)) continue;
        next.sheet = sheet;
        queue.push_back(k);
      }
    sheets_.push_back(std::move(queue));
  };
  // A sheet never begins with a sliver that another sheet can take.
  for (const bool slivers : {false, true})
    for (std::size_t first = 0; first < storeys_.size(); ++first)
      if (storeys_[first].sheet < 0 && (slivers || !isSliver(cornersOf(storeys_[first].cell)))) gather(first);
}

bool Cells::isThin(std::int32_t number) const {
  return std::ranges::all_of(sheet(number),
                             [&](std::int32_t k) { return isSliver(cornersOf(storeys_[static_cast<std::size_t>(k)].cell)); });
}

std::int32_t Cells::storeyOf(std::int32_t cell, std::int32_t sheet) const {
  for (std::uint32_t i = start_[static_cast<std::size_t>(cell)]; i < start_[static_cast<std::size_t>(cell) + 1]; ++i)
    if (storeys_[i].sheet == sheet) return static_cast<std::int32_t>(i);
  return -1;
}

}  // namespace dune::generate
