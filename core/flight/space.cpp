#include "core/flight/space.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/flight/tuning.h"

namespace dune::flight {

const std::string& Space::nameOf(std::int64_t barrier) const {
  static const std::string kNone;
  if (barrier < 0) return kNone;
  const std::uint32_t object = obstacles_[static_cast<std::size_t>(barrier)].object;
  return object < names_.size() ? names_[object] : kNone;
}

Vec3 Space::at(NodeId n) const {
  const Cell& c = cells_[n];
  return measure().corner(chunks_[chunkOf_[n]].at) + Vec3(c.at[0], c.at[1], c.at[2]);
}

Box3 Space::box(NodeId n) const {
  if (cells_[n].kind == Cell::Kind::joint) {
    Box3 point;
    point.add(at(n));
    return point;
  }
  return measure().box(chunks_[chunkOf_[n]].at, cells_[n]);
}

Box3 Space::wholeBox(NodeId n) const { return measure().wholeBox(chunks_[chunkOf_[n]].at, cells_[n]); }

double Space::freeVolume() const {
  double sum = 0;
  for (const double size : partSize_) sum += size;
  return sum;
}

std::ptrdiff_t Space::findChunk(const ChunkAt& at) const {
  const auto found = std::lower_bound(chunks_.begin(), chunks_.end(), at, [](const Chunk& c, const ChunkAt& a) { return c.at < a; });
  return found != chunks_.end() && found->at == at ? found - chunks_.begin() : -1;
}

NodeId Space::findIn(std::size_t chunk, const std::array<std::uint32_t, 3>& unit) const {
  const std::uint32_t code = zOrder(unit[0], unit[1], unit[2]);
  auto first = order_.begin() + chunks_[chunk].first, from = first, to = first + ordered_[chunk];
  if (const std::uint32_t row = blocksOf_[chunk]; row != kNoNode) {
    const std::uint32_t* block = &blocks_[row] + (code >> 3 * kBlockLevel);
    from = order_.begin() + block[0], to = order_.begin() + block[1];
  }
  const auto after = std::upper_bound(from, to, code);
  if (after == first) return kNoNode;
  const auto n = static_cast<NodeId>(after - 1 - order_.begin());
  return code < order_[n] + (1u << (3 * cells_[n].level)) ? n : kNoNode;
}

void Space::noteOrder() {
  static_assert(3 * tuning::kLevels <= 16);
  constexpr std::uint32_t kMany = 16;  // cells of a chunk; fewer are found as soon without
  order_.clear(), order_.reserve(cells_.size());
  blocksOf_.assign(chunks_.size(), kNoNode), blocks_.clear();
  for (std::size_t c = 0; c < chunks_.size(); ++c) {
    const bool many = ordered_[c] > kMany;
    if (many) blocksOf_[c] = static_cast<std::uint32_t>(blocks_.size());
    std::uint32_t block = 0;
    for (NodeId n = chunks_[c].first; n < chunks_[c].first + ordered_[c]; ++n) {
      const std::uint32_t code = zOrder(cells_[n].x, cells_[n].y, cells_[n].z);
      for (; many && block <= code >> 3 * kBlockLevel; ++block) blocks_.push_back(n);
      order_.push_back(static_cast<std::uint16_t>(code));
    }
    for (; many && block <= kBlocks; ++block) blocks_.push_back(chunks_[c].first + ordered_[c]);
  }
}

NodeId Space::covering(const Vec3& p) const {
  std::ptrdiff_t chunk = -1;
  return covering(p, chunk);
}

NodeId Space::covering(const Vec3& p, std::ptrdiff_t& found) const {
  const Measure m = measure();
  ChunkAt at;
  std::array<std::uint32_t, 3> unit;
  std::int32_t* const parts[] = {&at.x, &at.y, &at.z};
  for (int i = 0; i < 3; ++i) {
    const double along = p[i] / m.unit();
    if (!(std::abs(along) < 1e9)) return kNoNode;
    auto units = static_cast<std::int32_t>(along);
    units -= static_cast<double>(units) > along;  // down, not towards zero
    *parts[i] = units >> tuning::kLevels;
    unit[static_cast<std::size_t>(i)] = static_cast<std::uint32_t>(units & (tuning::kChunkUnits - 1));
  }
  if (found < 0 || chunks_[static_cast<std::size_t>(found)].at != at) found = findChunk(at);
  return found < 0 ? kNoNode : findIn(static_cast<std::size_t>(found), unit);
}

std::vector<NodeId> Space::touching(const Box3& box) const {
  std::vector<NodeId> found;
  const Measure m = measure();
  for (std::size_t c = 0; c < chunks_.size(); ++c) {
    if (!m.wholeBox(chunks_[c].at, chunkCell()).overlaps(box)) continue;
    for (NodeId n = chunks_[c].first; n < chunks_[c].first + ordered_[c]; ++n)
      if (this->box(n).overlaps(box)) found.push_back(n);
  }
  return found;
}

bool Space::fits(const Vec3& p) const {
  return volume_.contains(p) && obstacles_.nearest(p, measure().swept()).barrier < 0 && heightAt(p).is == HeightAt::Is::fine;
}

std::optional<Vec3> Space::overLow(const Vec3& p) const {
  constexpr int kTries = 200;
  const double step = tuning::kLift * flyer_.radius;
  const HeightAt at = heightAt(p);
  const bool low = at.is == HeightAt::Is::low;
  if (!low) {  // a part of it may be
    const Obstacles::Near near = obstacles_.nearest(p, measure().swept());
    if (near.barrier < 0 || obstacles_[static_cast<std::size_t>(near.barrier)].of != Barrier::Of::low) return std::nullopt;
  }
  double up = step + (low ? (flyer_.leastHeight - at.height) * flyer_.stretch() : 0);
  for (int tries = 0; tries < kTries; ++tries, up += step) {
    const Vec3 over = p + Vec3(0, up, 0);
    if (fits(over)) return clear(p, over, Obstacles::Which::ofLevel) ? std::optional(over) : std::nullopt;
  }
  return std::nullopt;
}

std::string Space::whyNotSoHigh(const Vec3& p) const {
  if (!flyer_.keepsHeight()) return {};
  const auto named = [&](std::uint32_t object) {
    return object < names_.size() ? "\"" + names_[object] + "\"" : std::string("the ground");
  };
  const std::string least = text("%.2f m", flyer_.leastHeight), most = text("%.2f m", flyer_.mostHeight);
  const HeightAt at = heightAt(p);
  if (at.is == HeightAt::Is::low)
    return text("it is %.2f m over ", at.height) + named(at.object) + ", and flies no lower than " + least + " over ground";
  if (at.is == HeightAt::Is::high && !std::isfinite(at.height))
    return "nothing is under it, and it flies no higher than " + most + " over the level";
  if (at.is == HeightAt::Is::high)
    return text("it is %.2f m over ", at.height) + named(at.object) + ", and flies no higher than " + most + " over the level";
  const Obstacles::Near near = obstacles_.nearest(p, measure().swept());
  if (near.barrier < 0 || obstacles_[static_cast<std::size_t>(near.barrier)].ofLevel()) return {};
  const Barrier& wall = obstacles_[static_cast<std::size_t>(near.barrier)];
  const std::string where = text("a part of it, %.2f m from its middle, ", length(p - near.on));
  return wall.of == Barrier::Of::low ? where + "is lower over " + named(wall.object) + " than " + least
                                     : where + "is higher over " + named(wall.object) + " than " + most + ", or beside it";
}

}  // namespace dune::flight
