#include "core/flight/waking.h"

#include <algorithm>
#include <array>

#include "core/flight/tuning.h"

#define XXH_INLINE_ALL
#include "xxhash.h"

namespace dune::flight {

namespace {

constexpr int kSide = tuning::kChunkUnits + 2 * tuning::kWake;  // units: a chunk with what wakes its cells

std::size_t unitAt(int x, int y, int z) { return static_cast<std::size_t>((z * kSide + y) * kSide + x); }

bool isAwake(const Cell& c, const std::vector<char>& awake) {
  const int width = 1 << c.level;
  for (int z = c.z; z < c.z + width; ++z)
    for (int y = c.y; y < c.y + width; ++y)
      for (int x = c.x; x < c.x + width; ++x)
        if (awake[unitAt(x + tuning::kWake, y + tuning::kWake, z + tuning::kWake)]) return true;
  return false;
}

/// Marks what is within kWake units of a marked one along one axis.
void widen(std::vector<char>& marks, std::size_t step) {
  const std::size_t line = step * kSide;
  for (std::size_t begin = 0; begin < marks.size(); begin += line)
    for (std::size_t first = begin; first < begin + step; ++first) {
      int seen = -1000;
      std::array<char, kSide> wide{};
      for (int i = 0; i < kSide; ++i) {
        if (marks[first + static_cast<std::size_t>(i) * step]) seen = i;
        wide[static_cast<std::size_t>(i)] = i - seen <= tuning::kWake;
      }
      seen = 1000;
      for (int i = kSide - 1; i >= 0; --i) {
        if (marks[first + static_cast<std::size_t>(i) * step]) seen = i;
        wide[static_cast<std::size_t>(i)] |= seen - i <= tuning::kWake;
      }
      for (int i = 0; i < kSide; ++i) marks[first + static_cast<std::size_t>(i) * step] = wide[static_cast<std::size_t>(i)];
    }
}

}  // namespace

Waker::Waker(const Space& space, std::span<const ChunkWork> work) : space_(space), m_(space.measure()), work_(work), narrow_(work.size()) {
  for (std::size_t i = 0; i < work.size(); ++i)
    std::ranges::copy_if(*work[i].found, std::back_inserter(narrow_[i]), [](const Cell& c) { return c.kind == Cell::Kind::narrow; });
}

/// Calls visit(x, y, z) for the narrow units of a chunk, and around it within kWake units, which are counted from there.
template <class Visit>
void Waker::eachNarrow(std::size_t chunk, Visit&& visit) const {
  const ChunkAt& at = space_.chunkAt(chunk);
  const auto along = [](std::int32_t other, std::int32_t own) { return (other - own) * tuning::kChunkUnits + tuning::kWake; };
  space_.eachAround(chunk, [&](std::size_t c) {
    const ChunkAt& of = space_.chunkAt(c);
    for (const Cell& cell : narrow_[c]) {
      const int x = cell.x + along(of.x, at.x), y = cell.y + along(of.y, at.y), z = cell.z + along(of.z, at.z);
      if (std::min({x, y, z}) >= 0 && std::max({x, y, z}) < kSide) visit(x, y, z);
    }
  });
}

std::uint64_t Waker::keyOf(std::size_t chunk) const {
  std::vector<std::size_t> units;
  eachNarrow(chunk, [&](int x, int y, int z) { units.push_back(unitAt(x, y, z)); });
  return XXH3_64bits(units.data(), units.size() * sizeof units[0]);
}

std::vector<Cell> Waker::woken(std::size_t chunk) const {
  std::vector<char> awake;
  eachNarrow(chunk, [&](int x, int y, int z) {
    if (awake.empty()) awake.assign(static_cast<std::size_t>(kSide) * kSide * kSide, 0);
    awake[unitAt(x, y, z)] = 1;
  });
  if (!awake.empty())
    for (const std::size_t step : {unitAt(1, 0, 0), unitAt(0, 1, 0), unitAt(0, 0, 1)}) widen(awake, step);
  std::vector<Cell> cells;
  for (const Cell& c : *work_[chunk].found) {
    if (c.kind != Cell::Kind::beside)
      cells.push_back(c);
    else if (!awake.empty() && isAwake(c, awake))
      wakeUp(c, space_.chunkAt(chunk), awake, cells);
  }
  return cells;
}

/// A cell that is woken, with a place to stand; a large one in parts, of which only those are woken that are near enough.
void Waker::wakeUp(const Cell& cell, const ChunkAt& at, const std::vector<char>& awake, std::vector<Cell>& cells) const {
  if (cell.level <= 1) {
    Cell c = cell;
    if (stand(c, at)) cells.push_back(c);
    return;
  }
  for (const Cell& part : divideCell(at, cell, m_)) {
    if (part.kind != Cell::Kind::beside)
      cells.push_back(part);
    else if (isAwake(part, awake))
      wakeUp(part, at, awake, cells);
  }
}

bool Waker::stand(Cell& c, const ChunkAt& at) const {
  const Box3 box = m_.box(at, c);
  Vec3 p = box.centre();
  const bool fits = c.clearance > m_.radius * (1 + 2 * tuning::kPush);  // what it has was measured there
  if (!fits && !m_.push(p, box)) return false;
  c.standAt(p - m_.corner(at));
  if (!fits) c.clearance = static_cast<float>(m_.obstacles->nearest(p, 2 * m_.radius).distance);
  return true;
}

}  // namespace dune::flight
