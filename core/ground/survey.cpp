// A chunk and a triangle's number go into one 64-bit word; sorting the words gives chunks in order, each with its triangles in
// order. Large triangles are cut row by row, so that a long thin one touches a line of chunks and not their whole rectangle.

#include "core/ground/survey.h"

#include <algorithm>
#include <limits>
#include <map>
#include <set>
#include <string_view>

#include "core/base/parallel.h"
#include "core/base/plan_geometry.h"
#include "core/base/text.h"
#include "core/system/threads.h"

namespace dune::ground {

namespace {

constexpr std::uint32_t kTrianglesUnchecked = 1 << 14;  // triangles
constexpr std::int32_t kMiddle = 1 << 15;               // chunks from -32768 to 32767 each way: 65 km is 4096 of the smallest
constexpr double kBytesPerTriangle = 100;               // of a level while it is built, with all that is made from it; measured 60
constexpr double kBytesPerTouch = 24;                   // of one triangle in one chunk
constexpr double kBytesPerChunk = 2'000;                // of an empty piece of floor, which a wide triangle has many of; measured 1 100
constexpr double kAtACorner = 4;                        // chunks that a small triangle touches at the most

std::uint64_t word(std::int32_t row, std::int32_t column, std::uint32_t number) {
  return static_cast<std::uint64_t>(row + kMiddle) << 48 | static_cast<std::uint64_t>(column + kMiddle) << 32 | number;
}

struct Columns {
  std::int32_t from, to;
};

/// The columns of chunks that a plan triangle touches within a row.
Columns columnsInRow(const std::array<Vec2, 3>& q, std::int32_t row, double size, double halo) {
  std::vector<Vec3> part;
  for (const Vec2& p : q) part.push_back({p.x, p.y, 0});
  clipByPlane(part, {0, -1, 0}, -(row * size - halo));
  clipByPlane(part, {0, 1, 0}, (row + 1) * size + halo);
  Box2 box;
  for (const Vec3& p : part) box.add({p.x, p.y});
  if (part.empty()) return {0, -1};
  return {chunkAt(box.min - Vec2(halo), size).column, chunkAt(box.max + Vec2(halo), size).column};
}

/// Where chunks are needed at all: everywhere, or within the playable bounds.
Box2 playable(const level::World& world) {
  constexpr double kEverywhere = 1e6;
  Box2 box;
  box.add(Vec2(-kEverywhere)), box.add(Vec2(kEverywhere));
  if (!world.bounds) return box;
  Box2 bounds;
  bounds.add(plan(world.bounds->min)), bounds.add(plan(world.bounds->max));
  return bounds;
}

template <class Visit>
void eachChunk(const std::array<Vec2, 3>& q, const Box2& within, double size, double halo, Visit&& visit) {
  Box2 box;
  for (const Vec2& p : q) box.add(p);
  if (!box.overlaps(within.grown(halo))) return;
  const ChunkId low = chunkAt(glm::max(box.min, within.min) - Vec2(halo), size),
                high = chunkAt(glm::min(box.max, within.max) + Vec2(halo), size);
  const bool few = high.row - low.row < 2 || high.column - low.column < 2;
  for (std::int32_t row = low.row; row <= high.row; ++row) {
    Columns c = few ? Columns{low.column, high.column} : columnsInRow(q, row, size, halo);
    c = {std::max(c.from, low.column), std::min(c.to, high.column)};
    if (c.from <= c.to) visit(row, c.from, c.to);
  }
}

/// Visits the chunks of all triangles of some objects that count.
template <class Visit>
void eachTouch(const level::World& world, std::uint32_t object, double size, double halo, const Job& job, Visit&& visit) {
  if (world.roles[object] == level::Role::ignored) return;
  const level::Object& o = world.level->objects[object];
  const Box2 within = playable(world);
  for (std::uint32_t t = 0; t < o.triangles.size(); ++t) {
    if (t % kTrianglesUnchecked == 0 && job.cancelled()) return;
    const auto& v = o.triangles[t];
    eachChunk({plan(o.vertices[v[0]]), plan(o.vertices[v[1]]), plan(o.vertices[v[2]])}, within, size, halo,
              [&](std::int32_t row, std::int32_t from, std::int32_t to) { visit(t, row, from, to); });
  }
}

/// How many chunks an object's triangles touch, and how many of those are more than a small triangle ever does.
struct Touches {
  double all = 0, wide = 0;
};

Touches countTouches(const level::World& world, std::uint32_t object, double size, double halo, const Job& job) {
  Touches count;
  std::uint32_t now = 0;
  double ofThis = 0;
  auto next = [&](std::uint32_t triangle) {
    count.all += ofThis, count.wide += std::max(0.0, ofThis - kAtACorner);
    now = triangle, ofThis = 0;
  };
  eachTouch(world, object, size, halo, job, [&](std::uint32_t t, std::int32_t, std::int32_t from, std::int32_t to) {
    if (t != now) next(t);
    ofThis += to - from + 1;
  });
  next(now);
  return count;
}

/// Bytes that a build will take, from counting alone, or that they are over the limit.
Result<double> estimateMemory(const level::World& world, double size, double halo, Job& job) {
  std::vector<Touches> touches(world.level->objects.size());
  if (!parallelFor(job, touches.size(),
                   [&](std::size_t o) { touches[o] = countTouches(world, static_cast<std::uint32_t>(o), size, halo, job); }))
    return Job::cancelledProblem();
  std::size_t most = 0;
  Touches sum;
  for (std::size_t o = 0; o < touches.size(); ++o) {
    sum.all += touches[o].all, sum.wide += touches[o].wide;
    if (touches[o].all > touches[most].all) most = o;
  }
  const double triangles = static_cast<double>(world.level->triangleCount());
  const double bytes = triangles * kBytesPerTriangle + sum.all * kBytesPerTouch + sum.wide * kBytesPerChunk;
  const double limit = static_cast<double>(job.memoryLimit());
  if (bytes <= limit) return bytes;
  constexpr double kMiB = 1024 * 1024;
  return Problem{ProblemCode::overLimit,
                 text("Building would take about %.0f MiB of memory against a limit of %.0f MiB.", bytes / kMiB, limit / kMiB),
                 text("object %s, which reaches over %.0f chunks", world.level->objects[most].name.c_str(), touches[most].all),
                 "playable bounds around what matters, ignoring objects that are not needed, or a higher limit."};
}

}  // namespace

/// Closed pieces belong to an object alone: the same object has the same ones.
void Survey::takeOver(const Survey& before) {
  std::map<std::string_view, std::size_t> known;
  for (std::size_t i = 0; i < before.level_->objects.size(); ++i)
    if (before.solids_[i]) known.emplace(before.level_->objects[i].name, i);
  for (std::size_t o = 0; o < solids_.size(); ++o) {
    const auto at = known.find(level_->objects[o].name);
    if (at == known.end()) continue;
    const level::Object &now = level_->objects[o], &then = before.level_->objects[at->second];
    if (now.vertices == then.vertices && now.triangles == then.triangles) solids_[o] = before.solids_[at->second];
  }
}

Result<std::shared_ptr<const Survey>> Survey::make(const level::World& world, double chunkSize, double halo, Job& job,
                                                   const Survey* before) {
  const auto memory = estimateMemory(world, chunkSize, halo, job);
  if (!memory) return memory.problem();
  auto survey = std::make_shared<Survey>();
  survey->memory_ = *memory;
  survey->size_ = chunkSize;
  const auto& objects = world.level->objects;
  survey->first_.assign(1, 0);
  for (const level::Object& o : objects) survey->first_.push_back(survey->first_.back() + static_cast<std::uint32_t>(o.triangles.size()));
  survey->level_ = world.level;
  survey->solids_.resize(objects.size());
  if (before) survey->takeOver(*before);
  std::vector<std::vector<std::uint64_t>> found(objects.size());
  const bool whole = parallelFor(
      job, objects.size(),
      [&](std::size_t i) {
        const auto o = static_cast<std::uint32_t>(i);
        if (world.roles[o] == level::Role::ignored) return;
        if (!survey->solids_[o]) survey->solids_[o] = std::make_shared<Solids>(findSolids(objects[o], job));
        const std::vector<char>& repeated = survey->solids_[o]->repeated;
        eachTouch(world, o, chunkSize, halo, job, [&](std::uint32_t t, std::int32_t row, std::int32_t from, std::int32_t to) {
          if (repeated[t]) return;
          for (std::int32_t c = from; c <= to; ++c) found[o].push_back(word(row, c, survey->first_[o] + t));
        });
      },
      1);
  if (!whole) return Job::cancelledProblem();
  std::vector<std::uint64_t> words;
  for (auto& f : found) words.insert(words.end(), f.begin(), f.end()), f = {};
  sortWords(job, words);
  survey->numbers_.reserve(words.size());
  for (const std::uint64_t w : words) {
    const ChunkId id{static_cast<std::int32_t>(w >> 48) - kMiddle, static_cast<std::int32_t>(w >> 32 & 0xffff) - kMiddle};
    if (survey->chunks_.empty() || survey->chunks_.back() != id)
      survey->chunks_.push_back(id), survey->start_.push_back(survey->numbers_.size());
    survey->numbers_.push_back(static_cast<std::uint32_t>(w));
  }
  survey->start_.push_back(survey->numbers_.size());
  return std::shared_ptr<const Survey>(std::move(survey));
}

Result<Survey::Ahead> Survey::lookAhead(const level::World& world, double chunkSize, double halo, Job& job) {
  const auto bytes = estimateMemory(world, chunkSize, halo, job);
  if (!bytes) return bytes.problem();
  std::set<std::pair<std::int32_t, std::int32_t>> chunks;
  std::pair<std::int32_t, std::int32_t> last{std::numeric_limits<std::int32_t>::min(), 0};
  for (std::uint32_t o = 0; o < world.level->objects.size(); ++o)
    eachTouch(world, o, chunkSize, halo, job, [&](std::uint32_t, std::int32_t row, std::int32_t from, std::int32_t to) {
      for (std::int32_t column = from; column <= to; ++column)
        if (std::pair(row, column) != last) chunks.insert(last = {row, column});
    });
  if (job.cancelled()) return Job::cancelledProblem();
  return Ahead{*bytes, chunks.size()};
}

std::span<const std::uint32_t> Survey::touching(std::size_t chunk) const {
  return std::span(numbers_).subspan(start_[chunk], start_[chunk + 1] - start_[chunk]);
}

std::vector<std::size_t> Survey::chunksIn(const Box2& box) const {
  const ChunkId low = chunkAt(box.min, size_), high = chunkAt(box.max, size_);
  std::vector<std::size_t> found;
  auto at = std::ranges::lower_bound(chunks_, low);
  while (at != chunks_.end() && at->row <= high.row) {
    if (at->column < low.column)
      at = std::lower_bound(at, chunks_.end(), ChunkId{at->row, low.column});
    else if (at->column > high.column)
      at = std::lower_bound(at, chunks_.end(), ChunkId{at->row + 1, low.column});
    else
      found.push_back(static_cast<std::size_t>(at++ - chunks_.begin()));
  }
  return found;
}

std::vector<std::uint32_t> Survey::touchingAny(std::span<const std::size_t> chunks) const {
  std::vector<std::uint32_t> all;
  for (const std::size_t chunk : chunks) {
    const auto more = touching(chunk);
    all.insert(all.end(), more.begin(), more.end());
  }
  std::ranges::sort(all);
  all.erase(std::unique(all.begin(), all.end()), all.end());
  return all;
}

std::ptrdiff_t Survey::find(ChunkId id) const {
  const auto at = std::lower_bound(chunks_.begin(), chunks_.end(), id);
  return at != chunks_.end() && *at == id ? at - chunks_.begin() : -1;
}

Survey::Source Survey::sourceOf(std::uint32_t number) const {
  const auto next = std::upper_bound(first_.begin(), first_.end(), number);
  const auto object = static_cast<std::uint32_t>(next - first_.begin() - 1);
  return {object, number - first_[object]};
}

}  // namespace dune::ground
