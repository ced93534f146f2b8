#include "core/flight/cells.h"

#include <algorithm>
#include <cmath>

#include "core/flight/room.h"
#include "core/flight/tuning.h"

// Tens of cells a square metre of surface are looked at, each with one to three questions of a microsecond to the tree of triangles; that
// is where the time goes.

namespace dune::flight {

namespace {

const double kHalfDiagonal = std::sqrt(3.0) / 2;

/// The shortest vector of the hull of `from`, in whose direction one gets away from all of them fastest; found by steps towards the corner
/// that it heeds least (Gilbert, "An iterative procedure for computing the minimum of a quadratic form on a convex set", 1966).
Vec3 shortestOf(const std::vector<Vec3>& from) {
  Vec3 best = from[0];
  for (int step = 0; step < 12; ++step) {
    const Vec3* least = &from[0];
    for (const Vec3& v : from)
      if (glm::dot(v, best) < glm::dot(*least, best)) least = &v;
    const Vec3 way = *least - best;
    const double square = glm::dot(way, way);
    if (square < 1e-12) break;
    best += way * std::clamp(-glm::dot(best, way) / square, 0.0, 1.0);
  }
  return best;
}

class Divider {
 public:
  Divider(const ChunkAt& chunk, const Measure& measure, int mostBeside, const CellsBefore* before = nullptr)
      : chunk_(chunk), m_(measure), corner_(measure.corner(chunk)), mostBeside_(mostBeside), before_(before) {}

  std::vector<Cell> run(const Cell& all) {
    visit(all, nullptr);
    return std::move(cells_);
  }

 private:
  /// `known`: a place of something that is likely near, none where nothing is known: no nearest one is farther. `dense`: much was near to
  /// the cell that it is a part of.
  void visit(Cell cell, const Vec3* known, bool dense = false) {
    if (before_ && cell.level == kBlockLevel && takeOver(cell)) return;
    bool whole = true;
    const Box3 box = m_.box(chunk_, cell, whole);
    if (box.empty()) return;
    if (!whole && cell.level > 0) return divide(cell, known);
    if (cell.level > tuning::kMostMixed && m_.airs && m_.airs->isMixed(box)) return divide(cell, known);
    const Vec3 middle = box.centre();
    const double half = glm::length(box.size()) / 2;
    double limit = m_.radius + half;
    if (known) {
      const double most = glm::distance(middle, *known);
      if (most <= m_.radius - half) return;
      limit = std::min(limit, most * (1 + 1e-9));
    }
    const Obstacles::Near near = m_.obstacles->nearest(middle, limit);
    if (near.distance >= m_.radius + half) return take(cell, Cell::Kind::free, middle, near.distance);
    if (near.distance <= m_.radius - half) return;
    gathered_ = false;
    if (cell.level <= mostBeside_ && drains(cell.level, box, near, dense)) return take(cell, Cell::Kind::beside, middle, near.distance);
    if (cell.level > 0) return divide(cell, &near.on, gathered_ && close_.size() >= tuning::kDense);
    if (!gathered_) gather(middle, m_.radius + half);
    std::optional<Vec3> at = placeIn(box, m_, numbers_);
    if (!at) return;
    m_.centre(*at, box);
    take(cell, Cell::Kind::narrow, *at, m_.obstacles->nearest(*at, 2 * m_.radius).distance);
  }

  /// The cells that a block had before, where nothing has changed and they are its own, not one that goes beyond it.
  bool takeOver(const Cell& block) {
    const auto place = [](const Cell& c) { return zOrder(c.x, c.y, c.z); };
    const auto after = [&](const Cell& c) { return place(c) + (1u << 3 * c.level); };
    if (before_->touched[place(block) >> 3 * kBlockLevel]) return false;
    const auto& cells = before_->cells;
    const auto first = std::ranges::upper_bound(cells, place(block), {}, after);
    if (first != cells.end() && first->level > kBlockLevel && place(*first) <= place(block)) return false;
    cells_.insert(cells_.end(), first, std::ranges::lower_bound(first, cells.end(), after(block), {}, place));
    return true;
  }

  /// Notes what comes nearer to a place than `reach`, by number, and the ways from it.
  void gather(const Vec3& p, double reach) {
    gathered_ = true, close_.clear(), from_.clear();
    m_.obstacles->around(p, reach, [&](std::uint32_t number, const Vec3& on) {
      close_.push_back({number, p - on});
      return true;
    });
    std::sort(close_.begin(), close_.end(), [](const Close& a, const Close& b) { return a.number < b.number; });
    numbers_.clear();
    for (const Close& c : close_) from_.push_back(c.way), numbers_.push_back(c.number);
  }

  void divide(const Cell& cell, const Vec3* known, bool dense = false) {
    const std::uint8_t half = static_cast<std::uint8_t>(1 << (cell.level - 1));
    for (std::uint8_t part = 0; part < 8; ++part) {
      Cell c = cell;
      c.level = static_cast<std::uint8_t>(cell.level - 1);
      if (part & 1) c.x = static_cast<std::uint8_t>(c.x + half);
      if (part & 2) c.y = static_cast<std::uint8_t>(c.y + half);
      if (part & 4) c.z = static_cast<std::uint8_t>(c.z + half);
      visit(c, known, dense);
    }
  }

  void take(Cell cell, Cell::Kind kind, const Vec3& at, double clearance) {
    cell.kind = kind, cell.clearance = static_cast<float>(clearance);
    cell.standAt(at - corner_);
    cells_.push_back(cell);
  }

  /// Whether the whole cell, as far as it is free, leads straight out to a cell of its level that is free from side to side. For the
  /// smallest also to one of its own size: if that is not a cell of its own it is part of one beside a wall that leads on. Away from what
  /// is nearest is tried first, unless so much is near that it is likely vain; then away from all that is near, and from what is in the
  /// way farther out.
  bool drains(int level, const Box3& box, const Obstacles::Near& near, bool dense) {
    if (near.distance <= 0) return false;
    const Vec3 middle = box.centre(), sides = box.size();
    const double leastSide = std::min({sides.x, sides.y, sides.z}), reach = m_.radius + glm::length(sides) / 2;
    if (dense)
      gather(middle, reach);
    else
      from_.assign(1, middle - near.on);
    Vec3 stops{};
    for (int attempt = 0; attempt < 6; ++attempt) {
      const Vec3 shortest = shortestOf(from_);
      // Whatever the direction, one gets away from one of them no faster than that.
      const double fast = glm::length(shortest);
      if (fast < leastSide / 2 || fast < 1e-9 * m_.radius) return false;
      const bool best = gathered_;
      const Way way = leadsOut(level, box, near, glm::normalize(shortest), stops);
      if (way == Way::open || way == Way::nowhere) return way == Way::open;
      if (best && way == Way::stoppedNear) return false;  // the best direction for that was found already
      if (!gathered_) gather(middle, reach);
      if (way == Way::stoppedFar) from_.push_back(stops);
    }
    return false;
  }

  enum class Way { open, nowhere, stoppedNear, stoppedFar };

  Way leadsOut(int level, const Box3& box, const Obstacles::Near& near, const Vec3& away, Vec3& stops) {
    const Vec3 middle = box.centre();
    const double size = m_.unit() * (1 << std::max(level, 1)), open = m_.radius + kHalfDiagonal * size;
    const double cosine = std::max(glm::dot(away, middle - near.on) / near.distance, 0.3);
    const double goes[] = {open + tuning::kGo * size, tuning::kGoNear * m_.radius};
    for (const double go : std::span(goes).first(level == 0 ? 2 : 1)) {
      const double far = std::max((go - near.distance) / cosine, 0.0);
      if (far > tuning::kDrain * size) continue;
      const Vec3 out = middle + away * far;
      if (!m_.volume->contains(middle, out)) continue;
      if (const Way way = leadsTo(box, out, away, stops); way != Way::open) return way;
      if (isFree(out, size) || (level == 0 && isFree(out, m_.unit()))) return Way::open;
    }
    return Way::nowhere;
  }

  /// Whether from every place of a box one gets away from all that comes near on a straight way. That holds for what lies all behind the
  /// box, and for what its middle gets away from by half a diagonal. Else something stops it: near, within reach of the middle; or far, and
  /// then it is the one that one gets away from least, and of equals the first, whatever the tree is like.
  Way leadsTo(const Box3& box, const Vec3& out, const Vec3& away, Vec3& stops) const {
    const Vec3 middle = box.centre(), sides = box.size() * 0.5;
    const double half = glm::length(sides), behind = glm::dot(glm::abs(away), sides), level = glm::dot(away, middle);
    double least = half;
    std::uint32_t which = 0;
    const Slabs slabs(middle, out);
    const double reach = m_.radius + half;
    const auto meets = [&](const Box3& b) {
      const Vec3 farthest(away.x > 0 ? b.max.x : b.min.x, away.y > 0 ? b.max.y : b.min.y, away.z > 0 ? b.max.z : b.min.z);
      return level - glm::dot(away, farthest) < behind && slabs.meets(b, reach);
    };
    const auto lets = [&](std::uint32_t number, const Corners& corner) {
      if (level - std::max({glm::dot(away, corner[0]), glm::dot(away, corner[1]), glm::dot(away, corner[2])}) >= behind) return true;
      const Vec3 v = middle - nearestOn(corner, middle);
      const double along = glm::dot(away, v);
      if (along >= half) return true;
      if (glm::dot(v, v) < reach * reach) return false;
      if (along < least || (along == least && number < which))
        if (comesNearer(middle, out, corner, reach * reach)) least = along, stops = v, which = number;
      return true;
    };
    if (!m_.obstacles->inBoxes(meets, lets)) return Way::stoppedNear;
    return least >= half ? Way::open : Way::stoppedFar;
  }

  /// Whether the cell of a size that holds a place is free from side to side.
  bool isFree(const Vec3& at, double size) const {
    const Vec3 middle = (glm::floor(at / size) + Vec3(0.5)) * size;
    return m_.obstacles->nearest(middle, m_.radius + kHalfDiagonal * size).barrier < 0;
  }

  ChunkAt chunk_;
  const Measure& m_;
  Vec3 corner_;
  int mostBeside_;
  const CellsBefore* before_;
  std::vector<Cell> cells_;
  std::vector<Vec3> from_;
  bool gathered_ = false;  // for the cell that is looked at
  struct Close {
    std::uint32_t number;
    Vec3 way;
  };
  std::vector<Close> close_;
  std::vector<std::uint32_t> numbers_;
};

}  // namespace

double Measure::unit() const { return radius * tuning::kUnit; }
double Measure::swept() const { return radius * (1 - tuning::kSweep); }
double Measure::chunkSize() const { return unit() * tuning::kChunkUnits; }
Vec3 Measure::corner(const ChunkAt& chunk) const { return Vec3(chunk.x, chunk.y, chunk.z) * chunkSize(); }

Box3 Measure::wholeBox(const ChunkAt& chunk, const Cell& cell) const {
  Box3 box;
  box.min = corner(chunk) + Vec3(cell.x, cell.y, cell.z) * unit();
  box.max = box.min + Vec3(unit() * (1 << cell.level));
  return box;
}

Box3 Measure::box(const ChunkAt& chunk, const Cell& cell, bool& whole) const { return volume->clip(wholeBox(chunk, cell), whole); }

Box3 Measure::box(const ChunkAt& chunk, const Cell& cell) const {
  bool whole = true;
  return box(chunk, cell, whole);
}

bool Measure::clear(const Vec3& a, const Vec3& b) const { return volume->contains(a, b) && obstacles->clear(a, b, swept()); }

void Measure::centre(Vec3& p, const Box3& within) const {
  for (const double share : tuning::kCentre) {
    Vec3 better = p;
    if (push(better, within, radius * share, 1)) return void(p = better);
  }
}

bool Measure::push(Vec3& p, const Box3& within, double room, int patience) const {
  const double wanted = room * (1 + tuning::kPush);
  struct Contact {
    std::uint32_t number;
    Vec3 normal;
    double missing;
  };
  std::vector<Contact> contacts;
  for (int round = 0, vain = 0; round < 12 && vain < patience; ++round) {
    contacts.clear();
    bool through = false;
    obstacles->around(p, wanted + unit() / 2, [&](std::uint32_t number, const Vec3& on) {
      const double distance = glm::length(p - on);
      if (distance <= 0) return through = true, false;
      contacts.push_back({number, (p - on) / distance, wanted - distance});
      return true;
    });
    if (through) return false;
    std::sort(contacts.begin(), contacts.end(), [](const Contact& a, const Contact& b) { return a.number < b.number; });
    if (std::all_of(contacts.begin(), contacts.end(), [](const Contact& c) { return c.missing <= 0; })) return true;
    Vec3 by(0);
    double worst = 0;
    for (int sweep = 0; sweep < 16; ++sweep) {
      const double before = worst;
      worst = 0;
      for (const Contact& c : contacts) {
        const double missing = c.missing - glm::dot(c.normal, by);
        if (missing <= 0) continue;
        worst = std::max(worst, missing);
        by += c.normal * missing;
      }
      by = glm::clamp(p + by, within.min, within.max) - p;
      if (worst < radius * tuning::kPush * 0.1) break;
      if (sweep >= tuning::kLeastSweeps && worst > tuning::kVain * radius && worst > tuning::kStalls * before) break;
    }
    if (glm::dot(by, by) < 1e-18) break;
    if (worst > tuning::kVain * radius) ++vain;  // they do not go together, from here at least
    p += by;
  }
  return obstacles->nearest(p, room).barrier < 0 && within.contains(p);
}

std::uint32_t zOrder(std::uint32_t x, std::uint32_t y, std::uint32_t z) {
  static const auto kSpread = [] {
    std::array<std::uint32_t, tuning::kChunkUnits> spread{};
    for (std::uint32_t i = 0; i < spread.size(); ++i)
      for (std::uint32_t bit = 0; bit < tuning::kLevels; ++bit) spread[i] |= (i >> bit & 1) << (3 * bit);
    return spread;
  }();
  return kSpread[x] | kSpread[y] << 1 | kSpread[z] << 2;
}

Cell chunkCell() {
  Cell all;
  all.level = tuning::kLevels;
  return all;
}

Cell blockCell(std::size_t block) {
  Cell cell;
  cell.level = kBlockLevel;
  for (int bit = 0; bit < tuning::kLevels - kBlockLevel; ++bit) {
    const auto along = [&](int axis) { return static_cast<std::uint8_t>((block >> (3 * bit + axis) & 1) << (kBlockLevel + bit)); };
    cell.x |= along(0), cell.y |= along(1), cell.z |= along(2);
  }
  return cell;
}

std::vector<Cell> findCells(const ChunkAt& chunk, const Measure& measure, const CellsBefore* before) {
  return Divider(chunk, measure, tuning::kMostBeside, before).run(chunkCell());
}

std::vector<Cell> divideCell(const ChunkAt& chunk, const Cell& cell, const Measure& measure) {
  Cell plain = cell;
  plain.kind = Cell::Kind::free, plain.at = {}, plain.clearance = 0;
  return Divider(chunk, measure, 1).run(plain);
}

}  // namespace dune::flight
