#include "core/flight/cells.h"

#include <algorithm>
#include <cmath>

#include "core/flight/tuning.h"

// Tens of cells a square metre of surface are looked at, each with one to three questions of a microsecond to the tree of triangles; that
// is where the time goes.

namespace dune::flight {

namespace {

const double kHalfDiagonal = std::sqrt(3.0) / 2;

/// The direction in which one gets away from all of `from` fastest, longest first; the shortest vector of their hull, found by steps
/// towards the corner that it heeds least (Gilbert, "An iterative procedure for computing the minimum of a quadratic form on a convex set",
/// 1966).
Vec3 awayFrom(const std::vector<Vec3>& from) {
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
  const double length = glm::length(best);
  return length > 1e-9 ? best / length : Vec3(0);
}

class Divider {
 public:
  Divider(const ChunkAt& chunk, const Measure& measure, int mostBeside)
      : chunk_(chunk), m_(measure), corner_(measure.corner(chunk)), mostBeside_(mostBeside) {}

  std::vector<Cell> run(const Cell& all) {
    visit(all);
    return std::move(cells_);
  }

 private:
  void visit(Cell cell) {
    bool whole = true;
    const Box3 box = m_.box(chunk_, cell, whole);
    if (box.empty()) return;
    if (!whole && cell.level > 0) return divide(cell);
    if (cell.level > tuning::kMostMixed && m_.airs && m_.airs->isMixed(box)) return divide(cell);
    const Vec3 middle = box.centre();
    const double half = glm::length(box.size()) / 2;
    const Obstacles::Near near = m_.obstacles->nearest(middle, m_.radius + half);
    if (near.distance >= m_.radius + half) return take(cell, Cell::Kind::free, middle, near.distance);
    if (near.distance <= m_.radius - half) return;
    if (cell.level <= mostBeside_ && drains(cell.level, box, near)) return take(cell, Cell::Kind::beside, middle, near.distance);
    if (cell.level > 0) return divide(cell);
    Vec3 at = middle;
    if (!m_.push(at, box) && !(nearly(at) && fromCorners(at, box))) return;
    m_.centre(at, box);
    take(cell, Cell::Kind::narrow, at, m_.obstacles->nearest(at, 2 * m_.radius).distance);
  }

  void divide(const Cell& cell) {
    const std::uint8_t half = static_cast<std::uint8_t>(1 << (cell.level - 1));
    for (std::uint8_t part = 0; part < 8; ++part) {
      Cell c = cell;
      c.level = static_cast<std::uint8_t>(cell.level - 1);
      if (part & 1) c.x = static_cast<std::uint8_t>(c.x + half);
      if (part & 2) c.y = static_cast<std::uint8_t>(c.y + half);
      if (part & 4) c.z = static_cast<std::uint8_t>(c.z + half);
      visit(c);
    }
  }

  void take(Cell cell, Cell::Kind kind, const Vec3& at, double clearance) {
    cell.kind = kind, cell.clearance = static_cast<float>(clearance);
    cell.standAt(at - corner_);
    cells_.push_back(cell);
  }

  /// Whether the whole cell, as far as it is free, leads straight out to a cell of its level that is free from side to side. For the
  /// smallest also to one of its own size: if that is not a cell of its own it is part of one beside a wall that leads on.
  bool drains(int level, const Box3& box, const Obstacles::Near& near) {
    if (near.distance <= 0) return false;
    const Vec3 middle = box.centre();
    const double size = m_.unit() * (1 << std::max(level, 1)), open = m_.radius + kHalfDiagonal * size;
    from_.assign(1, middle - near.on);
    for (int attempt = 0; attempt < 6; ++attempt) {
      const Vec3 away = awayFrom(from_);
      if (away == Vec3(0)) return false;
      const double cosine = std::max(glm::dot(away, middle - near.on) / near.distance, 0.3);
      bool stopped = false;
      for (const double go : {open + tuning::kGo * size, level == 0 ? tuning::kGoNear * m_.radius : 0.0}) {
        if (go == 0) break;
        const double far = std::max((go - near.distance) / cosine, 0.0);
        if (far > tuning::kDrain * size) continue;
        const Vec3 out = middle + away * far;
        if (!m_.volume->contains(middle, out)) continue;
        Vec3 stops{};
        stopped = !leadsTo(box, out, away, stops);
        if (stopped) from_.push_back(stops);
        if (stopped) break;
        if (isFree(out, size) || (level == 0 && isFree(out, m_.unit()))) return true;
      }
      if (!stopped) return false;
    }
    return false;
  }

  /// Whether from every place of a box one gets away from all that comes near on a straight way. That holds for what lies all behind the
  /// box, and for what its middle gets away from by half a diagonal; else the one that one gets away from least is what stops, and of
  /// equals the first, whatever the tree is like.
  bool leadsTo(const Box3& box, const Vec3& out, const Vec3& away, Vec3& stops) const {
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
    m_.obstacles->inBoxes(meets, [&](std::uint32_t number, const Corners& corner) {
      if (level - std::max({glm::dot(away, corner[0]), glm::dot(away, corner[1]), glm::dot(away, corner[2])}) >= behind) return;
      const Vec3 v = middle - nearestOn(corner, middle);
      const double along = glm::dot(away, v);
      if (along > least || (along == least && (least == half || number > which))) return;
      if (nearestBetween(middle, out, corner).square < reach * reach) least = along, stops = v, which = number;
    });
    return least >= half;
  }

  /// Whether the cell of a size that holds a place is free from side to side.
  bool isFree(const Vec3& at, double size) const {
    const Vec3 middle = (glm::floor(at / size) + Vec3(0.5)) * size;
    return m_.obstacles->nearest(middle, m_.radius + kHalfDiagonal * size).barrier < 0;
  }

  bool nearly(const Vec3& at) const { return m_.obstacles->nearest(at, tuning::kNearly * m_.radius).barrier < 0; }

  /// From the middle the push may end at a place that gives way to the wrong side.
  bool fromCorners(Vec3& at, const Box3& box) const {
    for (int corner = 0; corner < 8; ++corner) {
      const Vec3 share((corner & 1) ? 0.8 : 0.2, (corner & 2) ? 0.8 : 0.2, (corner & 4) ? 0.8 : 0.2);
      at = box.min + box.size() * share;
      if (m_.push(at, box)) return true;
    }
    return false;
  }

  ChunkAt chunk_;
  const Measure& m_;
  Vec3 corner_;
  int mostBeside_;
  std::vector<Cell> cells_;
  std::vector<Vec3> from_;
};

}  // namespace

double Measure::unit() const { return radius * tuning::kUnit; }
double Measure::swept() const { return radius * (1 - tuning::kSweep); }
double Measure::chunkSize() const { return unit() * tuning::kChunkUnits; }
Vec3 Measure::corner(const ChunkAt& chunk) const { return Vec3(chunk.x, chunk.y, chunk.z) * chunkSize(); }

Box3 Measure::box(const ChunkAt& chunk, const Cell& cell, bool& whole) const {
  Box3 all;
  all.min = corner(chunk) + Vec3(cell.x, cell.y, cell.z) * unit();
  all.max = all.min + Vec3(unit() * (1 << cell.level));
  return volume->clip(all, whole);
}

Box3 Measure::box(const ChunkAt& chunk, const Cell& cell) const {
  bool whole = true;
  return box(chunk, cell, whole);
}

bool Measure::clear(const Vec3& a, const Vec3& b) const { return volume->contains(a, b) && obstacles->clear(a, b, swept()); }

void Measure::centre(Vec3& p, const Box3& within) const {
  for (const double share : tuning::kCentre) {
    Vec3 better = p;
    if (push(better, within, radius * share)) return void(p = better);
  }
}

bool Measure::push(Vec3& p, const Box3& within, double room) const {
  const double wanted = room * (1 + tuning::kPush);
  struct Contact {
    std::uint32_t number;
    Vec3 normal;
    double missing;
  };
  std::vector<Contact> contacts;
  for (int round = 0, vain = 0; round < 12 && vain < 4; ++round) {
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
      worst = 0;
      for (const Contact& c : contacts) {
        const double missing = c.missing - glm::dot(c.normal, by);
        if (missing <= 0) continue;
        worst = std::max(worst, missing);
        by += c.normal * missing;
      }
      by = glm::clamp(p + by, within.min, within.max) - p;
      if (worst < radius * tuning::kPush * 0.1) break;
    }
    if (glm::dot(by, by) < 1e-18) break;
    if (worst > 0.05 * radius) ++vain;  // they do not go together, from here at least
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

std::vector<Cell> findCells(const ChunkAt& chunk, const Measure& measure) {
  Cell all;
  all.level = tuning::kLevels;
  return Divider(chunk, measure, tuning::kMostBeside).run(all);
}

std::vector<Cell> divideCell(const ChunkAt& chunk, const Cell& cell, const Measure& measure) {
  Cell plain = cell;
  plain.kind = Cell::Kind::free, plain.at = {}, plain.clearance = 0;
  return Divider(chunk, measure, 1).run(plain);
}

}  // namespace dune::flight
