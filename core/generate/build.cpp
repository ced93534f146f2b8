#include "core/generate/build.h"

#include <algorithm>
#include <atomic>
#include <chrono>

#include "core/base/parallel.h"
#include "core/generate/cells.h"
#include "core/generate/crumbs.h"
#include "core/generate/islands.h"
#include "core/generate/join.h"
#include "core/generate/label.h"
#include "core/generate/tuning.h"
#include "core/ground/bridged.h"
#include "core/ground/heap.h"

namespace dune::generate {

namespace {

/// Two passes over the chunks: the limits of each, then the faces of each, which needs the limits of the chunks around it.
class Builder {
 public:
  Builder(Built& built, const nav::Agent& agent, const Built* before, Job& job) : built_(built), tall_(agent), before_(before), job_(job) {
    for (const ground::ChunkId& id : built_.survey->chunks()) built_.chunks.push_back({id, nullptr, nullptr});
    for (std::size_t i = 0; i < built_.chunks.size(); ++i) wanted_.push_back(inScope(i));
    for (const ChunkRecord& record : built_.chunks) {
      bool near = false;
      eachAround(record.id, [&](std::size_t k) { near = near || wanted_[k]; });
      needsLimits_.push_back(near);
    }
    limitsCurrent_.assign(built_.chunks.size(), 1);
    heaps_.resize(built_.chunks.size());
  }

  std::optional<Problem> run() {
    job_.step("limits of the ground", 0.4);
    if (!parallelFor(
            job_, built_.chunks.size(), [&](std::size_t i) { findLimits(i); }, 1))
      return Job::cancelledProblem();
    for (const auto& heap : heaps_)
      if (heap) return heap;
    job_.step("faces", 0.95);
    if (!parallelFor(
            job_, built_.chunks.size(), [&](std::size_t i) { makeMesh(i); }, 1))
      return Job::cancelledProblem();
    built_.chunksMade = made_;
    for (const ChunkRecord& record : built_.chunks) built_.chunksLeft += !record.current;
    return std::nullopt;
  }

 private:
  bool inScope(std::size_t i) const {
    const ChunkRecord* old = keptBefore(built_.chunks[i].id);
    return looksAt(built_.scope, boxOf(i), old ? old->mesh.get() : nullptr);
  }

  /// What the scope may leave as it was: never another agent's ground.
  const ChunkRecord* keptBefore(ground::ChunkId id) const {
    return before_ && before_->mesh.agent.name == tall_.name ? recordBefore(id) : nullptr;
  }

  const ChunkRecord* recordBefore(ground::ChunkId id) const {
    if (!before_) return nullptr;
    const std::ptrdiff_t at = before_->survey->find(id);
    return at < 0 ? nullptr : &before_->chunks[static_cast<std::size_t>(at)];
  }

  Box2 boxOf(std::size_t i) const { return ground::chunkBox(built_.chunks[i].id, built_.survey->chunkSize()); }

  void findLimits(std::size_t i) {
    ChunkRecord& record = built_.chunks[i];
    const Key key = limitsKey(built_.world, built_.agent, tall_.height, *built_.survey, i);
    std::vector<std::uint32_t> objects = objectsAt(*built_.survey, i);
    if (const ChunkRecord* old = recordBefore(record.id); old && old->limits->key == key) {
      record.limits = old->limits->objects == objects ? old->limits : std::make_shared<ChunkLimits>(renumbered(*old->limits, objects));
      return;
    }
    if (!needsLimits_[i]) {
      const ChunkRecord* kept = keptBefore(record.id);
      limitsCurrent_[i] = 0;
      // Left as they were; where objects have come or gone their numbers say nothing any more.
      if (kept && kept->limits->objects == objects) return void(record.limits = kept->limits);
      if (!kept) return void(record.limits = std::make_shared<ChunkLimits>());
      limitsCurrent_[i] = 1;
    }
    ground::Soup soup(built_.world, *built_.survey, built_.survey->touching(i));
    if ((heaps_[i] = ground::findHeap(soup, built_.world))) return;
    soup.weld();
    auto found = ground::findLimits(soup, built_.world, built_.agent, boxOf(i), job_);
    if (!found) return;
    auto limits = std::make_shared<ChunkLimits>(ChunkLimits{key, std::move(objects), *std::move(found), {}});
    if (tall_.crouches()) {
      auto upright = ground::findLimits(soup, built_.world, tall_, boxOf(i), job_);
      if (!upright) return;
      limits->upright = std::move(upright->limits);
    }
    record.limits = std::move(limits);
  }

  template <class Visit>
  void eachAround(ground::ChunkId id, Visit&& visit) const {
    for (std::int32_t row = id.row - 1; row <= id.row + 1; ++row)
      for (std::int32_t column = id.column - 1; column <= id.column + 1; ++column)
        if (const std::ptrdiff_t at = built_.survey->find({row, column}); at >= 0) visit(static_cast<std::size_t>(at));
  }

  void makeMesh(std::size_t i) {
    ChunkRecord& record = built_.chunks[i];
    Around near;
    bool current = true;
    eachAround(record.id, [&](std::size_t k) {
      near.push_back(built_.chunks[k].limits.get());
      current = current && limitsCurrent_[k];
    });
    const LatticeBox box = latticeBox(record.id, built_.survey->chunkSize());
    const Key key =
        meshKey(built_.world, built_.agent, tall_.crouches(), record.limits->key, groundKey(built_.world, *built_.survey, i), near, box);
    const ChunkRecord* old = recordBefore(record.id);
    if (old && current && old->mesh->key == key) {
      record.mesh = old->mesh;
      return;
    }
    if (!wanted_[i]) {
      const ChunkRecord* kept = keptBefore(record.id);
      record.mesh = kept ? kept->mesh : std::make_shared<ChunkMesh>();
      record.current = false;
      return;
    }
    ++made_;
    ground::Soup soup(built_.world, *built_.survey, built_.survey->touching(i));
    if (soup.hasKinds()) soup.weld();
    auto mesh = meshChunk(built_.world, built_.agent, tall_.height, soup, near, *record.limits, box, job_);
    if (!mesh) return;
    mesh->key = key;
    record.mesh = std::make_shared<ChunkMesh>(*std::move(mesh));
  }

  Built& built_;
  const nav::Agent& tall_;
  const Built* before_;
  Job& job_;
  std::vector<char> wanted_, needsLimits_, limitsCurrent_;  // one a chunk
  std::vector<std::optional<Problem>> heaps_;               // likewise: what cannot be measured there
  std::atomic<std::size_t> made_{0};
};

level::World withCrouching(level::World world, const nav::Agent& agent) {
  if (agent.crouches()) world.kinds.push_back(level::lowGround(agent));
  return world;
}

std::optional<Problem> checkTags(const level::World& world, const std::vector<std::string>& tags) {
  if (tags.size() > nav::kMostTags)
    return Problem{ProblemCode::unusable, "There are " + std::to_string(tags.size()) + " different tags.", tags[nav::kMostTags],
                   "at most " + std::to_string(nav::kMostTags) + "."};
  if (!tags.empty() && world.kinds.size() >= kMostKindsWithTags)
    return Problem{ProblemCode::unusable, "There are " + std::to_string(world.kinds.size()) + " kinds of ground, and tags besides.", "",
                   "fewer kinds, or no tags."};
  return std::nullopt;
}

/// Of everything that the ways off the border of a chunk depend on.
Key waysKey(const Built& built, ground::ChunkId id) {
  const nav::Agent& agent = built.mesh.agent;
  Digest digest;
  for (const double v :
       {agent.radius, agent.height, agent.maxSlope, agent.stepHeight, agent.maxDrop, agent.maxJump, agent.maxRise, built.world.linkSpacing})
    digest.add(v);
  const auto around = static_cast<std::int32_t>(std::ceil((2 * links::reachOf(agent) + 1) / built.survey->chunkSize()));
  for (std::int32_t row = id.row - around; row <= id.row + around; ++row)
    for (std::int32_t column = id.column - around; column <= id.column + around; ++column) {
      const std::ptrdiff_t at = built.survey->find({row, column});
      digest.add(at >= 0);
      if (at < 0) continue;
      const ChunkRecord& record = built.chunks[static_cast<std::size_t>(at)];
      digest.add(record.limits->key), digest.add(record.mesh->key);
    }
  return digest.key();
}

std::optional<Problem> join(Built& built, const nav::Agent& agent, const Built* before, Job& job) {
  std::vector<ChunkPart> parts;
  std::vector<ground::Limit> limits, upright;
  std::vector<ground::Bridge> bridges;
  for (const ChunkRecord& record : built.chunks) {
    parts.push_back({record.id, record.mesh.get()});
    bridges.insert(bridges.end(), record.limits->found.bridges.begin(), record.limits->found.bridges.end());
    limits.insert(limits.end(), record.limits->found.limits.begin(), record.limits->found.limits.end());
    upright.insert(upright.end(), record.limits->upright.begin(), record.limits->upright.end());
  }
  built.clearance = ground::Clearance(ground::withoutBridged(std::move(limits), bridges, built.agent.height), built.agent.height);
  if (agent.crouches())
    built.uprightClearance = ground::Clearance(ground::withoutBridged(std::move(upright), bridges, agent.height), agent.height);
  built.mesh = withoutCrumbs(joinChunks(built.world, agent, parts, meetsWithin(built.agent)));
  if (built.world.findLinks) {
    job.step("drops and jumps", 0.99);
    const auto keyOf = [&](ground::ChunkId id) { return waysKey(built, id); };
    auto found = links::find(built.mesh, built.world, *built.survey, keyOf, before ? before->ways : links::WaysByChunk(), job);
    if (!found) return found.problem();
    built.mesh.links = std::move(found->links), built.ways = std::move(found->ways);
  }
  // Of a part of the level nobody knows how far its islands go on beyond.
  const level::LeastIsland least = built.scope.kind == Scope::Kind::box ? level::LeastIsland{} : built.world.leastIsland;
  built.mesh = keepIslands(std::move(built.mesh), built.world, least, built.agent.height + built.agent.radius);
  resolveLabels(built.mesh, built.world.tags);
  return std::nullopt;
}

}  // namespace

bool looksAt(const Scope& scope, const Box2& chunk, const ChunkMesh* before) {
  if (scope.kind == Scope::Kind::box) return chunk.overlaps(scope.box);
  return scope.kind == Scope::Kind::everything || !before || before->area.empty();
}

const ChunkRecord* Built::chunkAt(const Vec2& q) const {
  const std::ptrdiff_t at = survey->find(ground::chunkAt(q, survey->chunkSize()));
  return at < 0 ? nullptr : &chunks[static_cast<std::size_t>(at)];
}

ground::Soup Built::soupNear(const Box2& box) const {
  const std::vector<std::size_t> near = survey->chunksIn(box);
  std::vector<ground::Bridge> bridges;
  for (const std::size_t i : near) {
    const auto& more = chunks[i].limits->found.bridges;
    bridges.insert(bridges.end(), more.begin(), more.end());
  }
  ground::Soup soup(world, *survey, survey->touchingAny(near));
  soup.addBridges(bridges);
  return soup;
}

Result<std::shared_ptr<const Built>> build(const level::World& world, const nav::Agent& agent, Job& job,
                                           const std::shared_ptr<const Built>& before, const Scope& scope) {
  if (auto problem = nav::checkAgent(agent)) return *problem;
  if (world.roles.size() != world.level->objects.size() || world.kinds.empty())
    return Problem{ProblemCode::unusable, "The world's roles or kinds of ground do not fit its level.", "", ""};
  auto tags = level::tagNames(world.volumes);
  if (auto problem = checkTags(world, tags)) return *problem;
  const auto begin = std::chrono::steady_clock::now();
  job.step("sorting triangles", 0.05);
  auto survey =
      ground::Survey::make(world, ground::chunkSize(agent), ground::haloFor(world, agent), job, before ? before->survey.get() : nullptr);
  if (!survey) return survey.problem();
  auto built =
      std::make_shared<Built>(Built{withCrouching(world, agent), agent.crouching(), *std::move(survey), {}, {}, {}, {}, {}, 0, 0, {}, 0});
  built->world.tags = std::move(tags);
  built->scope = scope;
  const bool sameGrid = before && before->survey->chunkSize() == built->survey->chunkSize();
  if (auto problem = Builder(*built, agent, sameGrid ? before.get() : nullptr, job).run()) return *problem;
  job.step("joining faces", 0.97);
  if (auto problem = join(*built, agent, sameGrid ? before.get() : nullptr, job)) return *problem;
  if (job.cancelled()) return Job::cancelledProblem();
  job.step("joining faces", 1);
  job.advance(1);
  built->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  return std::shared_ptr<const Built>(std::move(built));
}

}  // namespace dune::generate
