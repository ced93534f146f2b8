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

/// Of the cells [first, last), all of one chunk.
class Connector {
 public:
  Connector(const Space& space, int bends, NodeId first, NodeId last)
      : space_(space), m_(space.measure()), bends_(bends), units_(space, first, last) {}

  /// Directions [first, last).
  template <class Wanted>
  void from(NodeId n, std::size_t first, std::size_t last, std::vector<Tie>& ties, Wanted&& wanted) const {
    const auto asks = [&](NodeId other) { return bends_ == 0 || space_.cell(other).kind != Cell::Kind::free; };
    static const auto kDirections = directions();
    const Cell& cell = space_.cell(n);
    for (std::size_t k = first; k < last; ++k) {
      const NodeId other = beside(n, kDirections[k]);
      // The smaller one asks; of two as large the earlier one that does ask.
      if (other == kNoNode || space_.cell(other).level < cell.level) continue;
      if (space_.cell(other).level == cell.level && other < n && asks(other)) continue;
      if (wanted(other)) tie(n, other, ties);
    }
  }

 private:
  /// The cell beyond the first unit of the side, edge or corner of a cell.
  NodeId beside(NodeId n, const std::array<int, 3>& direction) const {
    const Cell& c = space_.cell(n);
    std::array<int, 3> unit{c.x, c.y, c.z};
    for (std::size_t i = 0; i < 3; ++i) unit[i] += direction[i] > 0 ? 1 << c.level : direction[i];
    if (units_.know(unit)) return units_[unit];
    return space_.covering(space_.wholeBox(n).min + (Vec3(unit[0] - c.x, unit[1] - c.y, unit[2] - c.z) + Vec3(0.5)) * m_.unit());
  }

  void tie(NodeId a, NodeId b, std::vector<Tie>& ties) const {
    const bool freeA = space_.cell(a).kind == Cell::Kind::free, freeB = space_.cell(b).kind == Cell::Kind::free;
    if (freeA && freeB) {
      Vec3 middle;
      if (commonSide(space_.box(a), space_.box(b), middle)) ties.push_back({a, b, {}});
      return;
    }
    const Vec3 pa = space_.at(a), pb = space_.at(b);
    const Vec3 from = freeA ? clampTo(space_.box(a), pb) : pa, to = freeB ? clampTo(space_.box(b), pa) : pb;
    Tie found{a, b, {}};
    if (bend(from, to, bends_, found.bends)) ties.push_back(std::move(found));
  }

  /// A clear way from a to b, parted in the middle until it is; its corners go to `corners`.
  bool bend(const Vec3& a, const Vec3& b, int times, std::vector<Vec3>& corners) const {
    if (m_.clear(a, b)) return true;
    const Vec3 way = b - a;
    if (times == 0 || glm::dot(way, way) < 1e-6 * m_.radius * m_.radius) return false;
    Vec3 half = (a + b) * 0.5;
    const double reach = glm::length(way);
    Box3 around;
    around.add(half - Vec3(reach)), around.add(half + Vec3(reach));
    if (!m_.push(half, around)) return false;
    m_.centre(half, around);
    return bend(a, half, times - 1, corners) && (corners.push_back(half), bend(half, b, times - 1, corners));
  }

  static Vec3 clampTo(const Box3& box, const Vec3& p) { return glm::clamp(p, box.min, box.max); }

  const Space& space_;
  Measure m_;
  int bends_;
  Units units_;
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

std::vector<Tie> connectSides(const Space& space, NodeId first, NodeId last) {
  std::vector<Tie> ties;
  const Connector connector(space, 0, first, last);
  for (NodeId n = first; n < last; ++n) connector.from(n, 0, kSides, ties, [](NodeId) { return true; });
  return ties;
}

std::vector<Tie> connectParts(const Space& space, NodeId first, NodeId last, const std::vector<std::uint32_t>& part) {
  std::vector<Tie> ties;
  const Connector connector(space, tuning::kBends, first, last);
  for (NodeId n = first; n < last; ++n)
    if (space.cell(n).kind != Cell::Kind::free) connector.from(n, 0, kAll, ties, [&](NodeId other) { return part[other] != part[n]; });
  return ties;
}

}  // namespace dune::flight
