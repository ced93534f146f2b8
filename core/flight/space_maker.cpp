#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstring>

#include "core/base/parallel.h"
#include "core/base/union_find.h"
#include "core/flight/connect.h"
#include "core/flight/space.h"
#include "core/flight/tuning.h"

// In order: which chunks there are, their cells, which cells along walls are woken by narrow places near them, what is connected with what,
// and which parts hang together.

namespace dune::flight {

namespace {

constexpr int kSide = tuning::kChunkUnits + 2 * tuning::kWake;  // units: a chunk with what wakes its cells

std::uint64_t mixed(std::uint64_t a, std::uint64_t b) {
  a ^= b + 0x9e3779b97f4a7c15ull + (a << 6) + (a >> 2);
  a ^= a >> 31;
  return a * 0xbf58476d1ce4e5b9ull;
}

std::uint64_t bitsOf(double value) {
  std::uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  return bits;
}

std::uint64_t keyOf(const Barrier& barrier) {
  std::uint64_t key = mixed(static_cast<std::uint64_t>(barrier.solid), static_cast<std::uint64_t>(barrier.of));
  for (const Vec3& p : barrier.corner)
    for (int i = 0; i < 3; ++i) key = mixed(key, bitsOf(p[i]));
  return key;
}

std::int32_t chunkIndex(double at, double size) { return static_cast<std::int32_t>(std::floor(at / size)); }

struct ChunkRange {
  ChunkAt from, to;
};

ChunkRange chunksOf(const Box3& box, double size) {
  return {{chunkIndex(box.min.x, size), chunkIndex(box.min.y, size), chunkIndex(box.min.z, size)},
          {chunkIndex(box.max.x, size), chunkIndex(box.max.y, size), chunkIndex(box.max.z, size)}};
}

template <class Visit>
void each(const ChunkRange& range, Visit&& visit) {
  for (std::int32_t x = range.from.x; x <= range.to.x; ++x)
    for (std::int32_t y = range.from.y; y <= range.to.y; ++y)
      for (std::int32_t z = range.from.z; z <= range.to.z; ++z) visit(ChunkAt{x, y, z});
}

}  // namespace

class SpaceMaker {
 public:
  SpaceMaker(SpaceInput input, Job& job, const Space* before) : input_(std::move(input)), job_(job), before_(before) {}

  Result<std::shared_ptr<const Space>> run() {
    const auto start = std::chrono::steady_clock::now();
    space_ = std::make_shared<Space>();
    if (auto problem = prepare()) return *problem;
    const bool made = findAllCells() && wake() && connectAll();
    if (overMemory_) return tooLarge();
    if (!made) return Job::cancelledProblem();
    nameParts();
    space_->seconds_ = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return std::shared_ptr<const Space>(space_);
  }

 private:
  std::optional<Problem> prepare() {
    if (auto problem = checkFlyer(input_.flyer)) return problem;
    std::vector<Box3> boxes;
    for (const Box3& b : input_.boxes) {
      const Vec3 size = b.size();
      if (!isFinite(b.min) || !isFinite(b.max) || !(size.x > 0 && size.y > 0 && size.z > 0))
        return Problem{ProblemCode::usage, "A volume to fly in has no extent.", "flyer " + input_.flyer.name,
                       "a box with a greatest corner above the least."};
      boxes.push_back(input_.flyer.stretched(b));
    }
    if (boxes.empty())
      return Problem{ProblemCode::usage, "There is no volume to fly in.", "flyer " + input_.flyer.name,
                     "draw a box, or give the level bounds."};
    space_->flyer_ = input_.flyer, space_->boxes_ = std::move(input_.boxes), space_->names_ = std::move(input_.names);
    space_->volume_ = Volume(std::move(boxes));
    for (const AirZone& z : input_.zones)
      if (!makesSense(z))
        return Problem{ProblemCode::usage, "What air costs makes no sense.", "flyer " + input_.flyer.name,
                       "a cost above zero and an entry cost of zero or more."};
    space_->airs_ = AirCosts(std::move(input_.zones), input_.flyer);
    if (auto problem = listChunks()) return problem;
    if (!addHeightWalls(input_.barriers, input_.flyer, job_)) return job_.cancelled() ? Job::cancelledProblem() : tooLarge();
    for (Barrier& b : input_.barriers)
      for (Vec3& p : b.corner) p = input_.flyer.stretched(p);
    job_.step("Sorting triangles", 0.05);
    space_->obstacles_ = Obstacles(std::move(input_.barriers));
    findKeys();
    return std::nullopt;
  }

  Problem tooLarge() const {
    return {ProblemCode::overLimit, "The free space of so small a body in so large a volume needs more memory than is allowed.",
            "flyer " + space_->flyer_.name, "a smaller volume, a larger body, or more memory."};
  }

  std::optional<Problem> listChunks() {
    const double size = space_->measure().chunkSize();
    double count = 0;
    for (const Box3& b : space_->volume_.boxes()) {
      const Vec3 n = glm::ceil(b.size() / size) + Vec3(1);
      count += n.x * n.y * n.z;
    }
    if (count > tuning::kMostChunks || count * tuning::kCellBytes > static_cast<double>(job_.memoryLimit())) return tooLarge();
    std::vector<ChunkAt> chunks;
    for (const Box3& b : space_->volume_.boxes())
      each(chunksOf(b, size), [&](const ChunkAt& at) {
        Cell all;
        all.level = tuning::kLevels;
        if (!space_->measure().box(at, all).empty()) chunks.push_back(at);
      });
    std::sort(chunks.begin(), chunks.end());
    chunks.erase(std::unique(chunks.begin(), chunks.end()), chunks.end());
    for (const ChunkAt& at : chunks) space_->chunks_.push_back({at, 0, 0});
    return std::nullopt;
  }

  /// What a chunk is made from: the body, the volume, and the triangles that any of its cells may ask about.
  void findKeys() {
    const Measure m = space_->measure();
    const double size = m.chunkSize(), reach = 1.001 * tuning::kReach * m.radius;
    std::uint64_t common = 1;
    const auto take = [&](double value) { common = mixed(common, bitsOf(value)); };
    take(space_->flyer_.radius), take(space_->flyer_.halfHeight);
    for (const Box3& b : space_->volume_.boxes())
      for (int i = 0; i < 3; ++i) take(b.min[i]), take(b.max[i]);
    for (Space::Chunk& c : space_->chunks_) {
      c.key = common;
      Box3 own;
      own.min = m.corner(c.at), own.max = own.min + Vec3(size);
      for (const AirZone& z : space_->airs_.zones())
        if (const Box3 zone = space_->flyer_.stretched(z.box); zone.overlaps(own))
          for (int i = 0; i < 3; ++i) c.key = mixed(mixed(c.key, bitsOf(zone.min[i])), bitsOf(zone.max[i]));
    }
    Box3 all;
    for (const Box3& b : space_->volume_.boxes()) all.add(b.min - Vec3(reach)), all.add(b.max + Vec3(reach));
    for (const Barrier& barrier : space_->obstacles_.all()) {
      Box3 box;
      for (const Vec3& p : barrier.corner) box.add(p - Vec3(reach)), box.add(p + Vec3(reach));
      if (!box.overlaps(all)) continue;
      const std::uint64_t key = keyOf(barrier);
      box.min = glm::max(box.min, all.min), box.max = glm::min(box.max, all.max);
      each(chunksOf(box, size), [&](const ChunkAt& at) {
        if (const std::ptrdiff_t c = space_->findChunk(at); c >= 0)
          space_->chunks_[static_cast<std::size_t>(c)].key = mixed(space_->chunks_[static_cast<std::size_t>(c)].key, key);
      });
    }
  }

  bool findAllCells() {
    job_.step("Finding free space", 0.7);
    const Measure m = space_->measure();
    auto& chunks = space_->chunks_;
    space_->raw_.resize(chunks.size());
    std::atomic<std::size_t> renewed{0}, cells{0};
    const auto one = [&](std::size_t i) {
      if (overMemory_) return;
      if (auto same = fromBefore(chunks[i])) {
        space_->raw_[i] = std::move(same);
      } else {
        space_->raw_[i] = std::make_shared<const std::vector<Cell>>(findCells(chunks[i].at, m));
        ++renewed;
      }
      if ((cells += space_->raw_[i]->size()) * tuning::kCellBytes > job_.memoryLimit()) overMemory_ = true;
    };
    const bool done = parallelFor(job_, chunks.size(), one, 4);
    space_->renewed_ = renewed;
    return done && !overMemory_;
  }

  /// The cells of a chunk of the space before, if it was made from the same; null where it was not.
  std::shared_ptr<const std::vector<Cell>> fromBefore(const Space::Chunk& chunk) const {
    if (!before_ || before_->raw_.empty()) return nullptr;
    const std::ptrdiff_t c = before_->findChunk(chunk.at);
    return c >= 0 && before_->chunks_[static_cast<std::size_t>(c)].key == chunk.key ? before_->raw_[static_cast<std::size_t>(c)] : nullptr;
  }

  /// Cells along walls near narrow places become places to stand, so that what is narrow is joined to what is open.
  bool wake() {
    job_.step("Joining narrow places", 0.75);
    const auto& chunks = space_->chunks_;
    std::vector<char> narrow(chunks.size(), 0);
    for (std::size_t i = 0; i < chunks.size(); ++i)
      narrow[i] = std::any_of(space_->raw_[i]->begin(), space_->raw_[i]->end(), [](const Cell& c) { return c.kind == Cell::Kind::narrow; });
    std::vector<std::vector<Cell>> cells(chunks.size());
    const Measure m = space_->measure();
    if (!parallelFor(
            job_, chunks.size(), [&](std::size_t i) { cells[i] = woken(i, narrow, m); }, 4))
      return false;
    std::size_t count = 0;
    for (const auto& list : cells) count += list.size();
    space_->cells_.reserve(count), space_->chunkOf_.reserve(count);
    for (std::size_t i = 0; i < chunks.size(); ++i) {
      space_->chunks_[i].first = static_cast<NodeId>(space_->cells_.size());
      space_->ordered_.push_back(static_cast<std::uint32_t>(cells[i].size()));
      space_->cells_.insert(space_->cells_.end(), cells[i].begin(), cells[i].end());
      space_->chunkOf_.insert(space_->chunkOf_.end(), cells[i].size(), static_cast<std::uint32_t>(i));
      cells[i] = {};
    }
    space_->noteOrder();
    return true;
  }

  std::vector<Cell> woken(std::size_t chunk, const std::vector<char>& narrow, const Measure& m) const {
    std::vector<char> awake;
    std::vector<Cell> cells;
    const bool any = findAwake(chunk, narrow, awake);
    for (Cell c : *space_->raw_[chunk]) {
      if (c.kind != Cell::Kind::beside) {
        cells.push_back(c);
      } else if (any && isAwake(c, awake)) {
        wakeUp(c, chunk, awake, m, cells);
      }
    }
    return cells;
  }

  /// A cell that is woken, with a place to stand; a large one in parts, of which only those are woken that are near enough.
  void wakeUp(const Cell& cell, std::size_t chunk, const std::vector<char>& awake, const Measure& m, std::vector<Cell>& cells) const {
    if (cell.level <= 1) {
      Cell c = cell;
      if (stand(c, chunk, m)) cells.push_back(c);
      return;
    }
    for (const Cell& part : divideCell(space_->chunks_[chunk].at, cell, m)) {
      if (part.kind != Cell::Kind::beside)
        cells.push_back(part);
      else if (isAwake(part, awake))
        wakeUp(part, chunk, awake, m, cells);
    }
  }

  static std::size_t unitAt(int x, int y, int z) { return static_cast<std::size_t>((z * kSide + y) * kSide + x); }

  static bool isAwake(const Cell& c, const std::vector<char>& awake) {
    const int width = 1 << c.level;
    for (int z = c.z; z < c.z + width; ++z)
      for (int y = c.y; y < c.y + width; ++y)
        for (int x = c.x; x < c.x + width; ++x)
          if (awake[unitAt(x + tuning::kWake, y + tuning::kWake, z + tuning::kWake)]) return true;
    return false;
  }

  /// Marks the units of a chunk, and around it, within kWake units of a narrow one; whether there are any.
  bool findAwake(std::size_t chunk, const std::vector<char>& narrow, std::vector<char>& awake) const {
    const ChunkAt& at = space_->chunks_[chunk].at;
    bool any = false;
    each({{at.x - 1, at.y - 1, at.z - 1}, {at.x + 1, at.y + 1, at.z + 1}}, [&](const ChunkAt& of) {
      const std::ptrdiff_t c = of == at ? static_cast<std::ptrdiff_t>(chunk) : space_->findChunk(of);
      if (c < 0 || !narrow[static_cast<std::size_t>(c)]) return;
      if (awake.empty()) awake.assign(static_cast<std::size_t>(kSide) * kSide * kSide, 0);
      const auto along = [](std::int32_t other, std::int32_t own) { return (other - own) * tuning::kChunkUnits + tuning::kWake; };
      for (const Cell& cell : *space_->raw_[static_cast<std::size_t>(c)]) {
        const int x = cell.x + along(of.x, at.x), y = cell.y + along(of.y, at.y), z = cell.z + along(of.z, at.z);
        if (cell.kind != Cell::Kind::narrow || std::min({x, y, z}) < 0 || std::max({x, y, z}) >= kSide) continue;
        awake[unitAt(x, y, z)] = any = true;
      }
    });
    if (any)
      for (const std::size_t step : {unitAt(1, 0, 0), unitAt(0, 1, 0), unitAt(0, 0, 1)}) widen(awake, step);
    return any;
  }

  /// Marks what is within kWake units of a marked one along one axis.
  static void widen(std::vector<char>& marks, std::size_t step) {
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

  bool stand(Cell& c, std::size_t chunk, const Measure& m) const {
    const ChunkAt& at = space_->chunks_[chunk].at;
    const Box3 box = m.box(at, c);
    Vec3 p = box.centre();
    const bool fits = c.clearance > m.radius * (1 + 2 * tuning::kPush);  // what it has was measured there
    if (!fits && !m.push(p, box)) return false;
    c.standAt(p - m.corner(at));
    if (!fits) c.clearance = static_cast<float>(m.obstacles->nearest(p, 2 * m.radius).distance);
    return true;
  }

  bool connectAll() {
    job_.step("Connecting cells", 0.97);
    const NodeId count = static_cast<NodeId>(space_->cells_.size());
    joined_ = UnionFind(count);
    if (!tie([&](NodeId from, NodeId to) { return connectSides(*space_, from, to); }, 0, 0.8)) return false;
    std::vector<std::uint32_t> part(count);
    for (NodeId n = 0; n < count; ++n) part[n] = joined_.find(n);
    if (!tie([&](NodeId from, NodeId to) { return connectParts(*space_, from, to, part); }, 0.8, 1)) return false;
    dropNeedless();
    layOut();
    return true;
  }

  /// Cells that were woken for nothing: they hang together with no narrow one and with no free one, to which each of their places leads
  /// straight out. Nothing is lost without them, and they are no part of their own.
  void dropNeedless() {
    auto& cells = space_->cells_;
    const NodeId count = static_cast<NodeId>(joined_.size()), all = static_cast<NodeId>(cells.size());
    std::vector<char> needed(count, 0);
    for (NodeId n = 0; n < count; ++n)
      if (cells[n].kind != Cell::Kind::beside) needed[joined_.find(n)] = 1;
    std::vector<NodeId> now(all, kNoNode);
    NodeId kept = 0;
    for (NodeId n = 0; n < all; ++n)
      if (needed[joined_.find(n < count ? n : jointOf_[n - count])]) now[n] = kept++;
    if (kept == all) return;
    UnionFind joined(static_cast<std::size_t>(std::count_if(now.begin(), now.begin() + count, [](NodeId n) { return n != kNoNode; })));
    std::vector<NodeId> firstOf(count, kNoNode), jointOf;
    for (NodeId n = 0; n < all; ++n) {
      if (now[n] == kNoNode) continue;
      cells[now[n]] = cells[n], space_->chunkOf_[now[n]] = space_->chunkOf_[n];
      if (n >= count) {
        jointOf.push_back(now[jointOf_[n - count]]);
      } else if (NodeId& first = firstOf[joined_.find(n)]; first == kNoNode) {
        first = now[n];
      } else {
        joined.unite(first, now[n]);
      }
    }
    cells.resize(kept), space_->chunkOf_.resize(kept);
    joined_ = std::move(joined), jointOf_ = std::move(jointOf);
    countAgain(static_cast<NodeId>(joined_.size()));
    std::erase_if(edges_, [&](const auto& e) { return now[e.first] == kNoNode; });
    for (auto& [a, b] : edges_) a = now[a], b = now[b];
  }

  /// Which of the first `count` cells are of which chunk.
  void countAgain(NodeId count) {
    std::ranges::fill(space_->ordered_, 0);
    for (NodeId n = 0; n < count; ++n) ++space_->ordered_[space_->chunkOf_[n]];
    NodeId first = 0;
    for (std::size_t c = 0; c < space_->chunks_.size(); ++c) space_->chunks_[c].first = first, first += space_->ordered_[c];
    space_->noteOrder();
  }

  /// Ties of all chunks side by side, taken in their order.
  template <class Connect>
  bool tie(Connect&& connect, double from, double to) {
    const auto& chunks = space_->chunks_;
    std::vector<std::vector<Tie>> ties(chunks.size());
    const auto one = [&](std::size_t i) { ties[i] = connect(chunks[i].first, chunks[i].first + space_->ordered_[i]); };
    if (!parallelFor(job_, chunks.size(), one, 4, from, to)) return false;
    for (std::size_t i = 0; i < chunks.size(); ++i)
      for (const Tie& tie : ties[i]) take(tie, i);
    return true;
  }

  void take(const Tie& tie, std::size_t chunk) {
    joined_.unite(tie.a, tie.b);
    NodeId last = tie.a;
    for (const Vec3& corner : tie.bends) {
      const NodeId joint = static_cast<NodeId>(space_->cells_.size());
      Cell cell;
      cell.kind = Cell::Kind::joint;
      cell.standAt(corner - space_->measure().corner(space_->chunks_[chunk].at));
      cell.clearance = static_cast<float>(space_->flyer_.radius);
      space_->cells_.push_back(cell), space_->chunkOf_.push_back(static_cast<std::uint32_t>(chunk));
      jointOf_.push_back(tie.a);
      edges_.push_back({last, joint});
      last = joint;
    }
    edges_.push_back({last, tie.b});
  }

  void layOut() {
    const auto& edges = edges_;
    auto& start = space_->start_;
    start.assign(space_->cells_.size() + 1, 0);
    for (const auto& [a, b] : edges) ++start[a + 1], ++start[b + 1];
    for (std::size_t i = 1; i < start.size(); ++i) start[i] += start[i - 1];
    space_->next_.resize(edges.size() * 2);
    std::vector<std::uint32_t> fill(start.begin(), start.end() - 1);
    for (const auto& [a, b] : edges) space_->next_[fill[a]++] = b, space_->next_[fill[b]++] = a;
    for (std::size_t n = 0; n + 1 < start.size(); ++n) std::sort(space_->next_.begin() + start[n], space_->next_.begin() + start[n + 1]);
  }

  void nameParts() {
    job_.step("Telling parts apart", 1);
    const NodeId count = static_cast<NodeId>(space_->cells_.size()), cells = static_cast<NodeId>(joined_.size());
    const auto rootOf = [&](NodeId n) { return joined_.find(n < cells ? n : jointOf_[n - cells]); };
    struct Part {
      NodeId first, best;
      double size = 0;
    };
    std::vector<std::uint32_t> number(cells, kNoNode);
    std::vector<Part> parts;
    for (NodeId n = 0; n < count; ++n) {
      std::uint32_t& at = number[rootOf(n)];
      if (at == kNoNode) at = static_cast<std::uint32_t>(parts.size()), parts.push_back({n, n});
      Part& part = parts[at];
      const Cell& cell = space_->cells_[n];
      if (cell.clearance > space_->cells_[part.best].clearance) part.best = n;
      if (cell.kind != Cell::Kind::free) continue;
      const Vec3 size = space_->box(n).size();
      part.size += size.x * size.y * size.z / space_->flyer_.stretch();
    }
    std::vector<std::uint32_t> order;
    for (std::uint32_t i = 0; i < parts.size(); ++i)
      if (const Vec3 at = space_->at(parts[i].best); !space_->obstacles_.inSolid(at) && space_->heightAt(at).is == HeightAt::Is::fine)
        order.push_back(i);
    std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
      return parts[a].size != parts[b].size ? parts[a].size > parts[b].size : parts[a].first < parts[b].first;
    });
    std::vector<std::uint32_t> rank(parts.size(), kNoNode);
    for (std::uint32_t i = 0; i < order.size(); ++i) rank[order[i]] = i, space_->partSize_.push_back(parts[order[i]].size);
    space_->part_.resize(count);
    for (NodeId n = 0; n < count; ++n) space_->part_[n] = rank[number[rootOf(n)]];
  }

  SpaceInput input_;
  Job& job_;
  const Space* before_;
  std::shared_ptr<Space> space_;
  std::atomic<bool> overMemory_{false};
  UnionFind joined_;             // of cells
  std::vector<NodeId> jointOf_;  // one a joint: a cell of its part
  std::vector<std::pair<NodeId, NodeId>> edges_;
};

Result<std::shared_ptr<const Space>> Space::make(SpaceInput input, Job& job, const Space* before) {
  return SpaceMaker(std::move(input), job, before).run();
}

}  // namespace dune::flight
