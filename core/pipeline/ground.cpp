#include "core/pipeline/ground.h"

#include <filesystem>
#include <set>

#include "core/base/file.h"
#include "core/project/file.h"

namespace dune::pipeline {

namespace {

constexpr double kSmallIsland = 1.0;  // m²: the tops of walls and crates are islands too, and rarely a mistake

std::shared_ptr<const Ground> tieLinks(const project::Project& project, std::shared_ptr<const level::Level> source,
                                       std::shared_ptr<const generate::Built> built) {
  auto ground = std::make_shared<Ground>();
  ground->from = project;
  ground->source = std::move(source);
  ground->mesh = built->mesh;
  ground->built = std::move(built);
  const nav::Locator locator(ground->mesh);
  links::Attached attached = links::attach(ground->mesh, locator, project.links->links);
  ground->mesh.links = std::move(attached.links);
  ground->broken = std::move(attached.broken), ground->beyond = std::move(attached.beyond);
  const nav::Agent& agent = ground->mesh.agent;
  ground->rules = level::rulesFor(project.areas->kinds, agent);
  for (std::size_t k = 0; k < project.areas->kinds.size(); ++k)
    ground->mesh.kinds[k] = {project.areas->kinds[k].name, project.areas->kinds[k].colour};
  ground->field = std::make_unique<route::Field>(ground->mesh, ground->rules);
  ground->forbidden = nav::forbiddenArea(ground->mesh, ground->rules);
  ground->area = nav::totalArea(ground->mesh) - ground->forbidden, ground->islands = nav::countIslands(ground->mesh);
  ground->findings = review::reviewMesh(ground->mesh, ground->broken, ground->beyond, {kSmallIsland});
  return ground;
}

/// Of a file and of those that it was read from besides.
std::string stampOf(const std::string& path, const std::vector<std::string>& besides) {
  std::string stamp = fileStamp(path);
  for (const std::string& beside : besides) stamp += "|" + fileStamp(beside);
  return stamp;
}

const LoadedFile* sameFile(const LoadedLevel& before, const LoadedFile& now) {
  for (const LoadedFile& f : before.files)
    if (f.path == now.path && f.import == now.import && !now.stamp.empty() && f.stamp == stampOf(now.path, f.level->besides)) return &f;
  return nullptr;
}

std::shared_ptr<const level::Level> together(const std::vector<LoadedFile>& files) {
  if (files.size() == 1) return files[0].level;
  auto all = std::make_shared<level::Level>();
  std::set<std::string> names;
  for (std::size_t i = 0; i < files.size(); ++i)
    for (level::Object object : files[i].level->objects) {
      if (i > 0) object.name = std::filesystem::path(files[i].path).stem().string() + "/" + object.name;
      while (!names.insert(object.name).second) object.name += "'";
      all->objects.push_back(std::move(object));
    }
  return all;
}

}  // namespace

bool LoadedLevel::flat() const {
  return std::ranges::all_of(files, [](const LoadedFile& f) { return level::isTileMap(f.path); });
}

bool hasLevel(const project::Project& project) { return !project.level->files.empty() || !project.level->blockers.empty(); }

namespace {
/// Where files lie says nothing of what was read from them: a project that is saved elsewhere names them by other paths.
project::LevelSection withoutPaths(project::LevelSection section) {
  for (project::LevelFile& f : section.files) f.path.clear();
  return section;
}
}  // namespace

bool sameWorld(const project::Project& a, const project::Project& b) {
  const bool level = a.level == b.level || withoutPaths(*a.level) == withoutPaths(*b.level);
  return level && (a.areas == b.areas || *a.areas == *b.areas);
}

bool sameLinks(const project::Project& a, const project::Project& b) { return a.links == b.links || *a.links == *b.links; }
bool sameCrowd(const project::Project& a, const project::Project& b) { return a.crowd == b.crowd || *a.crowd == *b.crowd; }

bool holds(const Ground& ground, const project::Project& project, std::size_t agent, const generate::Scope& scope) {
  return ground.built->covers(scope) && agent < project.agents->agents.size() && ground.mesh.agent == project.agents->agents[agent] &&
         sameWorld(ground.from, project) && sameLinks(ground.from, project);
}

level::World makeWorld(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent) {
  const project::LevelSection& section = *project.level;
  const std::size_t own = level->objects.size();
  const std::string& name = project.agents->agents[agent].name;
  level::World world = level::plainWorld(level::withBlockers(std::move(level), section.blockers, name));
  for (std::size_t i = 0; i < own; ++i) world.roles[i] = level::roleOf(world.level->objects[i], section.roles, section.rules);
  std::size_t at = own;
  for (const level::Blocker& b : section.blockers)
    if (b.holds(name)) world.roles[at++] = b.role;
  world.bounds = section.bounds;
  world.seeds = section.seeds;
  world.joinDistance = section.joinDistance;
  world.kinds = project.areas->kinds;
  world.volumes = project.areas->volumes;
  return world;
}

Result<std::shared_ptr<const LoadedLevel>> loadLevel(const project::Project& project, const std::string& projectFile, Job& job,
                                                     const LoadedLevel* before) {
  if (!hasLevel(project))
    return Problem{ProblemCode::unusable, "The project names no level file.", projectFile, "opening a level, or drawing a floor by hand."};
  auto loaded = std::make_shared<LoadedLevel>();
  const auto& files = project.level->files;
  for (const project::LevelFile& file : files) {
    LoadedFile now{project::levelPath(file, projectFile), file.import, {}, nullptr, std::nullopt};
    now.stamp = fileStamp(now.path);
    if (const LoadedFile* then = before ? sameFile(*before, now) : nullptr) {
      now.level = then->level, now.stamp = then->stamp, now.units = then->units;
    } else {
      const auto done = static_cast<double>(loaded->files.size()), all = static_cast<double>(files.size());
      auto level = level::importLevel(now.path, now.import, job, done / all, (done + 1) / all);
      if (!level) return level.problem();
      now.level = *level;
      now.units = level::guessUnits(*now.level, now.path, now.import);
      // A file that changed while it was read is told apart from what was read by the stamp from before.
      now.stamp = now.level->besides.empty() ? now.stamp : stampOf(now.path, now.level->besides);
    }
    loaded->files.push_back(std::move(now));
  }
  loaded->level = together(loaded->files);
  return std::shared_ptr<const LoadedLevel>(std::move(loaded));
}

Result<std::shared_ptr<const Ground>> makeGround(const project::Project& project, std::shared_ptr<const level::Level> level,
                                                 std::size_t agent, std::shared_ptr<const Ground> before, Job& job,
                                                 const generate::Scope& scope) {
  if (before && before->source == level) {
    if (holds(*before, project, agent, scope)) return before;
    if (before->built->covers(scope) && sameWorld(before->from, project) && before->mesh.agent == project.agents->agents[agent])
      return tieLinks(project, level, before->built);
  }
  auto built =
      generate::build(makeWorld(project, level, agent), project.agents->agents[agent], job, before ? before->built : nullptr, scope);
  if (!built) return built.problem();
  return tieLinks(project, level, *built);
}

Placed makeWalkers(const project::Project& project, const Ground& ground, std::size_t agent) {
  const nav::Agent& kind = project.agents->agents[agent];
  Placed result;
  std::vector<crowd::Walker>& walkers = result.walkers;
  for (const project::CrowdGroup& group : project.crowd->groups) {
    const double radius = group.radius > 0 ? group.radius : kind.radius;
    const nav::Place centre = ground.locator().nearest(group.start, 2);
    int placed = 0;
    // Rings of places around the start, kept where the ground goes on in a straight line from it; without ground at all, the
    // bodies are put where they were drawn, and the review says so.
    for (int ring = 0; placed < group.count && ring < 60; ++ring) {
      const int seats = ring == 0 ? 1 : 6 * ring;
      for (int seat = 0; seat < seats && placed < group.count; ++seat) {
        const double angle = 2 * kPi * seat / seats, out = ring * radius * 2.3;
        const Vec2 q = plan(centre.valid() ? centre.position : group.start) + Vec2{std::cos(angle), std::sin(angle)} * out;
        Vec3 at = lift(q, group.start.y);
        if (centre.valid()) {
          bool reached = false;
          at = nav::sightEnd(ground.mesh, centre, q, &reached);
          if (!reached) continue;
        }
        const int id = static_cast<int>(walkers.size()) + 1;
        walkers.push_back(
            {id, at, group.goal, radius, kind.speed, kind.acceleration, kind.turnRate, kind.arriveWithin, kind.passWithin, 0, group.id});
        ++placed;
      }
    }
    if (placed < group.count) result.tooFew.push_back({group.id, group.count, placed, group.start});
  }
  return result;
}

Result<std::shared_ptr<const Run>> runCrowd(const project::Project& project, std::shared_ptr<const Ground> ground, std::size_t agent,
                                            Job& job) {
  auto run = std::make_shared<Run>();
  run->from = project;
  run->ground = ground;
  crowd::SceneOptions options;
  job.step("crowd", 0.8);
  Placed placed = makeWalkers(project, *ground, agent);
  auto crowd = crowd::Crowd::make(*ground->field, std::move(placed.walkers), options);
  if (!crowd) return crowd.problem();
  if (auto recorded = trace::record(crowd.value(), project.crowd->seconds, run->trace, job); !recorded) return recorded.problem();
  job.step("review", 0.95);
  auto findings = review::reviewMovement(ground->mesh, ground->locator(), run->trace, {}, job);
  if (!findings) return findings.problem();
  run->findings = *std::move(findings);
  for (const Placed::TooFew& few : placed.tooFew) run->findings.push_back(review::tooFewPlaces(few.group, few.wanted, few.placed, few.at));
  job.step("distances", 1);
  const review::WallDistance walls(ground->mesh);
  run->wallDistance.reserve(run->trace.sampleCount());
  for (const auto& block : run->trace.blocks())
    for (const trace::Block::Place& p : block->at) {
      if (run->wallDistance.size() % 4096 == 0 && job.cancelled()) return Job::cancelledProblem();
      run->wallDistance.push_back(static_cast<float>(walls.at({p.x, p.y, p.z}, 5)));
    }
  return std::shared_ptr<const Run>(std::move(run));
}

}  // namespace dune::pipeline
