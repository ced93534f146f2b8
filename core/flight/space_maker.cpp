#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>

#include "core/base/parallel.h"
#include "core/base/union_find.h"
#include "core/flight/changes.h"
#include "core/flight/connect.h"
#include "core/flight/tuning.h"
#include "core/flight/waking.h"

// In order: which chunks there are, their cells, which cells along walls are woken by narrow places near them, what is connected with what,
// and which parts hang together.

namespace dune::flight {

namespace {

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
    space_->work_ = std::move(work_);
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
    space_->obstacles_ = Obstacles(std::move(input_.barriers), &job_);
    compare();
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
        if (!space_->measure().box(at, chunkCell()).empty()) chunks.push_back(at);
      });
    std::sort(chunks.begin(), chunks.end());
    chunks.erase(std::unique(chunks.begin(), chunks.end()), chunks.end());
    for (const ChunkAt& at : chunks) space_->chunks_.push_back({at, 0});
    return std::nullopt;
  }

  /// What of the space before may be taken over, if it is of the same body and volume.
  void compare() {
    const auto same = [](const Box3& a, const Box3& b) { return a.min == b.min && a.max == b.max; };
    if (!before_ || before_->work_.empty() || before_->flyer_.radius != space_->flyer_.radius ||
        before_->flyer_.halfHeight != space_->flyer_.halfHeight ||
        !std::ranges::equal(before_->volume_.boxes(), space_->volume_.boxes(), same)) {
      before_ = nullptr;
      return;
    }
    // Large cells do not cross the sides of zones, whatever they cost.
    std::vector<Box3> zones;
    const auto only = [&](const AirCosts& these, const AirCosts& others) {
      for (const AirZone& z : these.zones())
        if (std::ranges::none_of(others.zones(), [&](const AirZone& o) { return same(z.box, o.box); }))
          zones.push_back(space_->flyer_.stretched(z.box));
    };
    only(before_->airs_, space_->airs_), only(space_->airs_, before_->airs_);
    changes_ = Changes(before_->obstacles_.all(), space_->obstacles_.all(), std::move(zones));
  }

  /// Whether something changed that cells in a box may ask about.
  bool touched(Box3 box) const {
    const Vec3 reach(1.001 * tuning::kReach * space_->flyer_.radius);
    box.min -= reach, box.max += reach;
    return changes_.touch(box);
  }

  bool findAllCells() {
    job_.step("Finding free space", 0.7);
    work_.resize(space_->chunks_.size());
    std::atomic<std::size_t> renewed{0}, cells{0};
    const auto one = [&](std::size_t i) {
      if (overMemory_) return;
      work_[i].found = found(i, renewed);
      if ((cells += work_[i].found->size()) * tuning::kCellBytes > job_.memoryLimit()) overMemory_ = true;
    };
    const bool done = parallelFor(job_, work_.size(), one, 4);
    space_->renewed_ = renewed;
    return done && !overMemory_;
  }

  /// The cells of a chunk, as far as they are not those before.
  std::shared_ptr<const std::vector<Cell>> found(std::size_t chunk, std::atomic<std::size_t>& renewed) const {
    const ChunkAt& at = space_->chunks_[chunk].at;
    const Measure m = space_->measure();
    if (!before_) {
      renewed += kBlocks;
      return std::make_shared<const std::vector<Cell>>(findCells(at, m));
    }
    const auto& old = before_->work_[chunk].found;
    if (!touched(m.wholeBox(at, chunkCell()))) return old;
    CellsBefore known{*old, {}};
    for (std::size_t block = 0; block < kBlocks; ++block) known.touched[block] = touched(m.wholeBox(at, blockCell(block)));
    renewed += known.touched.count();
    return std::make_shared<const std::vector<Cell>>(findCells(at, m, &known));
  }

  /// Whether a chunk's cells were taken over: nothing changed within their reach.
  bool isAsBefore(std::size_t chunk, std::shared_ptr<const std::vector<Cell>> ChunkWork::*cells) const {
    return before_ && work_[chunk].*cells == before_->work_[chunk].*cells;
  }

  bool wake() {
    job_.step("Joining narrow places", 0.75);
    const Waker waker(*space_, work_);
    const auto one = [&](std::size_t i) {
      ChunkWork& now = work_[i];
      const ChunkWork* old = isAsBefore(i, &ChunkWork::found) ? &before_->work_[i] : nullptr;
      bool still = old;
      if (still) space_->eachAround(i, [&](std::size_t c) { still = still && isAsBefore(c, &ChunkWork::found); });
      now.woken = still ? old->woken : waker.keyOf(i);
      now.cells = old && now.woken == old->woken ? old->cells : std::make_shared<const std::vector<Cell>>(waker.woken(i));
    };
    if (!parallelFor(job_, work_.size(), one, 4)) return false;
    std::size_t count = 0;
    for (const ChunkWork& w : work_) count += w.cells->size();
    space_->cells_.reserve(count), space_->chunkOf_.reserve(count);
    for (std::size_t i = 0; i < work_.size(); ++i) {
      const std::vector<Cell>& cells = *work_[i].cells;
      space_->chunks_[i].first = static_cast<NodeId>(space_->cells_.size());
      space_->ordered_.push_back(static_cast<std::uint32_t>(cells.size()));
      space_->cells_.insert(space_->cells_.end(), cells.begin(), cells.end());
      space_->chunkOf_.insert(space_->chunkOf_.end(), cells.size(), static_cast<std::uint32_t>(i));
      same_.push_back(isAsBefore(i, &ChunkWork::cells));
    }
    space_->noteOrder();
    return true;
  }

  bool connectAll() {
    job_.step("Connecting cells", 0.97);
    const NodeId count = static_cast<NodeId>(space_->cells_.size());
    joined_ = UnionFind(count);
    const auto straight = [&](const ChunkCells& chunk) { return connectSides(*space_, chunk); };
    if (!tie(straight, &ChunkWork::straight, 0, 0.8)) return false;
    std::vector<std::uint32_t> part(count);
    for (NodeId n = 0; n < count; ++n) part[n] = joined_.find(n);
    const auto bent = [&](const ChunkCells& chunk) { return connectParts(*space_, chunk, part); };
    if (!tie(bent, &ChunkWork::bent, 0.8, 1)) return false;
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
  bool tie(Connect&& connect, std::shared_ptr<const Answers> ChunkWork::*answers, double from, double to) {
    const auto& chunks = space_->chunks_;
    std::vector<std::vector<Tie>> ties(chunks.size());
    const auto one = [&](std::size_t i) {
      ChunkCells chunk{chunks[i].first, chunks[i].first + space_->ordered_[i], nullptr, same_};
      if (same_[i]) chunk.known = (before_->work_[i].*answers).get();
      Tied tied = connect(chunk);
      ties[i] = std::move(tied.ties), work_[i].*answers = std::make_shared<const Answers>(std::move(tied.answers));
    };
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
  Changes changes_{{}, {}};      // since the space before
  std::vector<ChunkWork> work_;  // one a chunk
  std::vector<char> same_;       // likewise: whether its cells are those before
  std::atomic<bool> overMemory_{false};
  UnionFind joined_;             // of cells
  std::vector<NodeId> jointOf_;  // one a joint: a cell of its part
  std::vector<std::pair<NodeId, NodeId>> edges_;
};

Result<std::shared_ptr<const Space>> Space::make(SpaceInput input, Job& job, const Space* before) {
  return SpaceMaker(std::move(input), job, before).run();
}

}  // namespace dune::flight
