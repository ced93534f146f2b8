#include "core/flight/connect.h"

#include <algorithm>

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

constexpr std::size_t kSides = 6, kAll = 26;

/// Sides first, then edges, then corners, so that the ways that are most likely to be free come first.
std::vector<std::array<int, 3>> directions() {
  std::vector<std::array<int, 3>> list;
  for (int count = 1; count <= 3; ++count)
    for (int x = -1; x <= 1; ++x)
      for (int y = -1; y <= 1; ++y)
        for (int z = -1; z <= 1; ++z)
          if (std::abs(x) + std::abs(y) + std::abs(z) == count) list.push_back({x, y, z});
  return list;
}

/// Which cell of a chunk has which of its units: asked some ten times a cell, so laid out once where there are many.
class Units {
 public:
  Units(const Space& space, NodeId first, NodeId last) {
    if (last - first < kMany) return;
    of_.assign(std::size_t(kSide) * kSide * kSide, kNoNode);
    for (NodeId n = first; n < last; ++n) {
      const Cell& c = space.cell(n);
      const int width = 1 << c.level;
      for (int z = c.z; z < c.z + width; ++z)
        for (int y = c.y; y < c.y + width; ++y) std::fill_n(of_.begin() + index(c.x, y, z), width, n);
    }
  }
  bool know(const std::array<int, 3>& at) const {
    return !of_.empty() && std::all_of(at.begin(), at.end(), [](int i) { return i >= 0 && i < kSide; });
  }
  NodeId operator[](const std::array<int, 3>& at) const { return of_[static_cast<std::size_t>(index(at[0], at[1], at[2]))]; }

 private:
  static constexpr int kSide = tuning::kChunkUnits;
  static constexpr NodeId kMany = 200;
  static std::ptrdiff_t index(int x, int y, int z) { return (std::ptrdiff_t(z) * kSide + y) * kSide + x; }
  std::vector<NodeId> of_;
};

class Connector {
 public:
  Connector(const Space& space, int bends, const ChunkCells& chunk)
      : space_(space), m_(space.measure()), bends_(bends), chunk_(chunk), units_(space, chunk.first, chunk.last) {}

  /// Directions [0, count) of a cell; cells in their order.
  template <class Wanted>
  void from(NodeId n, std::size_t count, Wanted&& wanted) {
    const auto asks = [&](NodeId other) { return bends_ == 0 || space_.cell(other).kind != Cell::Kind::free; };
    static const auto kDirections = directions();
    const Cell& cell = space_.cell(n);
    for (std::size_t k = 0; k < count; ++k) {
      const NodeId other = beside(n, kDirections[k]);
      // The smaller one asks; of two as large the earlier one that does ask.
      if (other == kNoNode || space_.cell(other).level < cell.level) continue;
      if (space_.cell(other).level == cell.level && other < n && asks(other)) continue;
      if (wanted(other)) tie(n, k, other);
    }
  }

  Tied take() { return std::move(tied_); }

 private:
  /// The cell beyond the first unit of the side, edge or corner of a cell.
  NodeId beside(NodeId n, const std::array<int, 3>& direction) const {
    const Cell& c = space_.cell(n);
    std::array<int, 3> unit{c.x, c.y, c.z};
    for (std::size_t i = 0; i < 3; ++i) unit[i] += direction[i] > 0 ? 1 << c.level : direction[i];
    if (units_.know(unit)) return units_[unit];
    return space_.covering(space_.wholeBox(n).min + (Vec3(unit[0] - c.x, unit[1] - c.y, unit[2] - c.z) + Vec3(0.5)) * m_.unit());
  }

  void tie(NodeId a, std::size_t direction, NodeId b) {
    const bool freeA = space_.cell(a).kind == Cell::Kind::free, freeB = space_.cell(b).kind == Cell::Kind::free;
    if (freeA && freeB) {
      Vec3 middle;
      if (commonSide(space_.box(a), space_.box(b), middle)) tied_.ties.push_back({a, b, {}});
      return;
    }
    Tie found{a, b, {}};
    if (answer(a, direction, found)) tied_.ties.push_back(std::move(found));
  }

  /// Whether two cells are tied, from before if that is known, and how; noted for the next time.
  bool answer(NodeId a, std::size_t direction, Tie& found) {
    Asked asked;
    asked.cell = a - chunk_.first, asked.direction = static_cast<std::uint8_t>(direction);
    if (const Asked* old = chunk_.same[space_.chunkOf(found.b)] ? known(asked) : nullptr) {
      const auto first = chunk_.known->bends.begin() + old->firstBend;
      asked.tied = old->tied, found.bends.assign(first, first + old->bends);
    } else {
      asked.tied = sweep(a, found.b, found.bends);
    }
    if (!asked.tied) found.bends.clear();
    Answers& answers = tied_.answers;
    asked.bends = static_cast<std::uint16_t>(found.bends.size()), asked.firstBend = static_cast<std::uint32_t>(answers.bends.size());
    answers.bends.insert(answers.bends.end(), found.bends.begin(), found.bends.end());
    answers.asked.push_back(asked);
    return asked.tied;
  }

  const Asked* known(const Asked& asked) {
    if (!chunk_.known) return nullptr;
    const auto before = [](const Asked& x, const Asked& y) { return x.cell != y.cell ? x.cell < y.cell : x.direction < y.direction; };
    const auto& list = chunk_.known->asked;
    while (next_ < list.size() && before(list[next_], asked)) ++next_;
    return next_ < list.size() && !before(asked, list[next_]) ? &list[next_] : nullptr;
  }

  bool sweep(NodeId a, NodeId b, std::vector<Vec3>& bends) const {
    const bool freeA = space_.cell(a).kind == Cell::Kind::free, freeB = space_.cell(b).kind == Cell::Kind::free;
    const Vec3 pa = space_.at(a), pb = space_.at(b);
    const Vec3 from = freeA ? clampTo(space_.box(a), pb) : pa, to = freeB ? clampTo(space_.box(b), pa) : pb;
    Box3 room;
    const Vec3 more(tuning::kBendRoom * m_.radius);
    for (const Vec3& p : {from, to}) room.add(p - more), room.add(p + more);
    return bend(from, to, room, bends_, bends);
  }

  /// A clear way from a to b, parted in the middle until it is; its corners go to `corners`.
  bool bend(const Vec3& a, const Vec3& b, const Box3& room, int times, std::vector<Vec3>& corners) const {
    if (m_.clear(a, b)) return true;
    const Vec3 way = b - a;
    if (times == 0 || glm::dot(way, way) < 1e-6 * m_.radius * m_.radius) return false;
    Vec3 half = (a + b) * 0.5;
    const double reach = glm::length(way);
    Box3 around;
    around.min = glm::max(half - Vec3(reach), room.min), around.max = glm::min(half + Vec3(reach), room.max);
    if (!m_.push(half, around)) return false;
    m_.centre(half, around);
    return bend(a, half, room, times - 1, corners) && (corners.push_back(half), bend(half, b, room, times - 1, corners));
  }

  static Vec3 clampTo(const Box3& box, const Vec3& p) { return glm::clamp(p, box.min, box.max); }

  const Space& space_;
  Measure m_;
  int bends_;
  const ChunkCells& chunk_;
  Units units_;
  std::size_t next_ = 0;  // of what is known
  Tied tied_;
};

}  // namespace

bool commonSide(const Box3& a, const Box3& b, Vec3& middle) {
  int flat = 0;
  for (int i = 0; i < 3; ++i) {
    const double low = std::max(a.min[i], b.min[i]), high = std::min(a.max[i], b.max[i]);
    const double small = 1e-9 * (1 + std::abs(low));
    if (high < low - small) return false;
    flat += high - low <= small;
    middle[i] = (low + high) / 2;
  }
  return flat <= 1;
}

Tied connectSides(const Space& space, const ChunkCells& chunk) {
  Connector connector(space, 0, chunk);
  for (NodeId n = chunk.first; n < chunk.last; ++n) connector.from(n, kSides, [](NodeId) { return true; });
  return connector.take();
}

Tied connectParts(const Space& space, const ChunkCells& chunk, const std::vector<std::uint32_t>& part) {
  Connector connector(space, tuning::kBends, chunk);
  for (NodeId n = chunk.first; n < chunk.last; ++n)
    if (space.cell(n).kind != Cell::Kind::free) connector.from(n, kAll, [&](NodeId other) { return part[other] != part[n]; });
  return connector.take();
}

}  // namespace dune::flight
