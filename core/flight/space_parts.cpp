#include "core/flight/space_parts.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

Problem damaged(const std::string& what) { return {ProblemCode::damaged, what, "", "building the free space again."}; }

bool fits(const Cell& c) {
  const int width = 1 << c.level;
  return c.level <= tuning::kLevels && c.x + width <= tuning::kChunkUnits && c.y + width <= tuning::kChunkUnits &&
         c.z + width <= tuning::kChunkUnits && c.x % width == 0 && c.y % width == 0 && c.z % width == 0;
}

std::optional<Problem> checkCells(const SpaceParts& p) {
  const std::uint64_t ordered = std::accumulate(p.cellsOf.begin(), p.cellsOf.end(), std::uint64_t{0});
  if (p.cellsOf.size() != p.chunks.size() || ordered + p.jointChunk.size() != p.cells.size())
    return damaged("The cells of the chunks do not add up.");
  if (!std::is_sorted(p.chunks.begin(), p.chunks.end()) || std::adjacent_find(p.chunks.begin(), p.chunks.end()) != p.chunks.end())
    return damaged("The chunks are not in order.");
  std::size_t at = 0;
  for (const std::uint32_t count : p.cellsOf) {
    std::uint32_t after = 0;
    for (const std::size_t last = at + count; at < last; ++at) {
      const Cell& c = p.cells[at];
      if (!fits(c) || c.kind > Cell::Kind::beside) return damaged("Cell " + std::to_string(at) + " is none.");
      const std::uint32_t code = zOrder(c.x, c.y, c.z);
      if (code < after) return damaged("Cell " + std::to_string(at) + " overlaps the one before it.");
      after = code + (1u << (3 * c.level));
    }
  }
  for (const std::uint32_t chunk : p.jointChunk)
    if (chunk >= p.chunks.size()) return damaged("A joint is of no chunk.");
  for (const Cell& c : p.cells)
    for (const float v : c.at)
      if (!std::isfinite(v) || !std::isfinite(c.clearance)) return damaged("A place of a cell is not finite.");
  for (std::size_t i = at; i < p.cells.size(); ++i)
    if (p.cells[i].kind != Cell::Kind::joint) return damaged("A joint is none.");
  return std::nullopt;
}

std::optional<Problem> checkTies(const SpaceParts& p) {
  if (p.start.size() != p.cells.size() + 1 || p.start.front() != 0 || p.start.back() != p.next.size() ||
      !std::is_sorted(p.start.begin(), p.start.end()))
    return damaged("The ties of the cells do not add up.");
  if (std::any_of(p.next.begin(), p.next.end(), [&](NodeId n) { return n >= p.cells.size(); })) return damaged("A tie leads to no cell.");
  if (p.part.size() != p.cells.size()) return damaged("The parts of the cells do not add up.");
  for (NodeId n = 0; n < p.cells.size(); ++n) {
    if (p.part[n] != kNoNode && p.part[n] >= p.partSize.size()) return damaged("A cell is of no part.");
    for (std::uint32_t k = p.start[n]; k < p.start[n + 1]; ++k)
      if (p.part[p.next[k]] != p.part[n]) return damaged("A tie leads to another part.");
  }
  return std::nullopt;
}

std::optional<Problem> checkInput(const SpaceParts& p) {
  if (auto problem = checkFlyer(p.flyer)) {
    problem->code = ProblemCode::damaged;
    return problem;
  }
  if (p.boxes.empty()) return damaged("There is no volume.");
  for (const Box3& b : p.boxes)
    if (!isFinite(b.min) || !isFinite(b.max) || !(b.min.x < b.max.x && b.min.y < b.max.y && b.min.z < b.max.z))
      return damaged("A volume has no extent.");
  for (const AirZone& z : p.zones)
    if (!makesSense(z)) return damaged("What air costs makes no sense.");
  for (const Barrier& b : p.barriers)
    for (const Vec3& c : b.corner)
      if (!isFinite(c)) return damaged("A corner is not finite.");
  if (p.barriers.size() >= (std::uint64_t{1} << 31)) return damaged("There are too many triangles.");
  const double most = 1e9;
  for (const ChunkAt& c : p.chunks)
    if (std::abs(static_cast<double>(c.x)) > most || std::abs(static_cast<double>(c.y)) > most || std::abs(static_cast<double>(c.z)) > most)
      return damaged("A chunk is too far away.");
  return std::nullopt;
}

}  // namespace

SpaceParts takeApart(const Space& s) {
  SpaceParts p;
  p.zones = s.airs_.zones();
  p.flyer = s.flyer_, p.boxes = s.boxes_, p.names = s.names_, p.barriers = s.obstacles_.all();
  for (const Space::Chunk& c : s.chunks_) p.chunks.push_back(c.at);
  p.cellsOf = s.ordered_, p.cells = s.cells_;
  const std::size_t ordered = std::accumulate(s.ordered_.begin(), s.ordered_.end(), std::size_t{0});
  p.jointChunk.assign(s.chunkOf_.begin() + static_cast<std::ptrdiff_t>(ordered), s.chunkOf_.end());
  p.start = s.start_, p.next = s.next_, p.part = s.part_, p.partSize = s.partSize_;
  return p;
}

Result<std::shared_ptr<const Space>> putTogether(SpaceParts p) {
  if (auto problem = checkInput(p)) return *problem;
  if (auto problem = checkCells(p)) return *problem;
  if (auto problem = checkTies(p)) return *problem;
  auto space = std::make_shared<Space>();
  Space& s = *space;
  s.flyer_ = p.flyer, s.boxes_ = std::move(p.boxes), s.names_ = std::move(p.names);
  std::vector<Box3> boxes;
  for (const Box3& b : s.boxes_) boxes.push_back(s.flyer_.stretched(b));
  s.volume_ = Volume(std::move(boxes));
  s.airs_ = AirCosts(std::move(p.zones), s.flyer_);
  s.obstacles_ = Obstacles(std::move(p.barriers));
  NodeId first = 0;
  for (std::size_t i = 0; i < p.chunks.size(); ++i) {
    s.chunks_.push_back({p.chunks[i], first});
    s.chunkOf_.insert(s.chunkOf_.end(), p.cellsOf[i], static_cast<std::uint32_t>(i));
    first += p.cellsOf[i];
  }
  s.chunkOf_.insert(s.chunkOf_.end(), p.jointChunk.begin(), p.jointChunk.end());
  s.ordered_ = std::move(p.cellsOf), s.cells_ = std::move(p.cells), s.start_ = std::move(p.start), s.next_ = std::move(p.next);
  s.noteOrder();
  s.part_ = std::move(p.part), s.partSize_ = std::move(p.partSize);
  return std::shared_ptr<const Space>(std::move(space));
}

}  // namespace dune::flight
