#include "core/pipeline/ground.h"

#include <chrono>
#include <filesystem>
#include <set>

#include "core/base/file.h"
#include "core/generate/islands.h"
#include "core/meshes/raw_mesh_files.h"
#include "core/pipeline/given_review.h"
#include "core/pipeline/hand_review.h"
#include "core/pipeline/kept_routes.h"
#include "core/pipeline/link_review.h"
#include "core/pipeline/world.h"
#include "core/project/file.h"
#include "core/project/rules.h"

namespace dune::pipeline {

links::Attached linksOn(const nav::NavMesh& mesh, const nav::Locator& locator, const project::Project& project) {
  const project::LinksSection& section = *project.links;
  const project::AgentKind* agent = project::agentNamed(*project.agents, mesh.agent.name);
  links::Attached drawn = links::attach(mesh, locator, section.links, agent ? agent->id : 0);
  std::vector<nav::Link> all;
  for (const nav::Link& found : mesh.links) {
    const auto covers = [&](const links::RefusedLink& r) { return r.covers(found); };
    // One that is drawn at the same place stands for it.
    const auto stands = [&](const nav::Link& l) { return covers(links::RefusedLink::of(l)); };
    if (found.generated && std::ranges::none_of(section.refused, covers) && std::ranges::none_of(drawn.links, stands)) all.push_back(found);
  }
  drawn.links.insert(drawn.links.begin(), all.begin(), all.end());
  return drawn;
}

namespace {

/// A mesh of one kind of agent, and what was noted where it is from elsewhere.
struct Base {
  std::shared_ptr<const generate::Built> built;
  std::shared_ptr<const hand::TakeNotes> given{};
};

/// What was made by hand has the tags of the volumes that hold its middle.
void tagHandWork(Ground& ground, const project::AreasSection& areas) {
  nav::NavMesh& mesh = ground.mesh;
  if (mesh.tags.empty()) return;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const std::uint8_t tags =
        ground.origin[f].patch == 0 ? std::uint8_t{0} : level::tagsAt(areas.volumes, mesh.tags, nav::middleOf(mesh, nav::FaceId{f}));
    if (tags == 0) continue;
    mesh.tagged.resize(mesh.faceCount(), 0);
    mesh.tagged[f] = tags;
  }
}

/// With ids that no other link has, drawn ones that do not hold included.
void addCrossings(nav::NavMesh& mesh, const project::Project& project, const std::vector<nav::Link>& crossings) {
  int last = 0;
  for (const nav::Link& l : mesh.links) last = std::max(last, l.id);
  for (const links::HandLink& l : project.links->links) last = std::max(last, l.id);
  for (nav::Link crossing : crossings) crossing.id = ++last, mesh.links.push_back(std::move(crossing));
}

std::shared_ptr<const Ground> tieLinks(const project::Project& project, std::shared_ptr<const level::Level> source, std::size_t agentNumber,
                                       Base base, Job& job) {
  auto ground = std::make_shared<Ground>();
  auto& built = base.built;
  ground->given = std::move(base.given);
  ground->from = project;
  ground->source = std::move(source);
  const project::AgentKind& kind = project.agents->agents[agentNumber];
  ground->standing = standingFor(project, kind.name);
  hand::Laid laid = hand::lay(built->mesh, *project.hand, kind.id, ground->standing);
  ground->mesh = std::move(laid.mesh), ground->origin = std::move(laid.origin), ground->notLaid = std::move(laid.notLaid);
  tagHandWork(*ground, *project.areas);
  ground->built = std::move(built);
  const nav::Locator locator(ground->mesh);
  links::Attached attached = linksOn(ground->mesh, locator, project);
  ground->mesh.links = std::move(attached.links);
  addCrossings(ground->mesh, project, laid.crossings);
  ground->broken = std::move(attached.broken), ground->beyond = std::move(attached.beyond);
  ground->notFor = std::move(attached.notFor);
  ground->rules = project::rulesFor(*project.areas, project.agents->agents[agentNumber]);
  for (std::size_t k = 0; k < project.areas->kinds.size(); ++k)
    ground->mesh.kinds[k] = {project.areas->kinds[k].name, project.areas->kinds[k].colour};
  ground->field = std::make_unique<route::Field>(ground->mesh, ground->rules);
  (void)ground->field->facets();  // with all that is searched; here, and not when the first path is asked for on the window's thread
  ground->forbidden = nav::forbiddenArea(ground->mesh, ground->rules);
  ground->area = nav::totalArea(ground->mesh) - ground->forbidden, ground->islands = nav::countIslands(ground->mesh);
  ground->findings = review::reviewMesh(ground->mesh, ground->rules, ground->broken, ground->beyond);
  reviewLinks(project, *ground->built, ground->mesh, ground->findings);
  reviewHandWork(*ground, agentNumber, ground->findings);
  if (ground->given) reviewGiven(*ground, agentNumber, ground->findings, job);
  return ground;
}

/// Of a file and of those that it was read from besides.
std::string stampOf(const std::string& path, const std::vector<std::string>& besides) {
  std::string stamp = fileStamp(path);
  for (const std::string& beside : besides) stamp += "|" + fileStamp(beside);
  return stamp;
}

/// What a mesh from elsewhere comes to in the world of the project: that is looked at, but nothing is built in it.
Result<Base> takeGiven(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, std::size_t given,
                       const Ground* before, Job& job) {
  const project::AgentKind& kind = project.agents->agents[agent];
  level::World world = makeWorld(project, level, agent);
  std::vector<nav::Kind> kinds;
  for (const level::AreaKind& k : world.kinds) kinds.push_back({k.name, k.colour});
  const bool findLinks = std::exchange(world.findLinks, false);  // along the mesh, not along what is not built
  if (given >= level->given.size())
    return Problem{ProblemCode::unusable, "The mesh from elsewhere is not read.", project.level->given[given].path,
                   "reading it again (F5)."};
  const auto begin = std::chrono::steady_clock::now();
  auto nothing = generate::build(world, kind, job, before && before->given ? before->built : nullptr, {generate::Scope::Kind::box, {}});
  if (!nothing) return nothing.problem();
  hand::Taken taken = hand::takeOver(*level->given[given], kind, kinds, project.level->given[given].mends);
  auto built = std::make_shared<generate::Built>(**nothing);
  built->mesh = generate::keepIslands(std::move(taken.mesh), world, world.leastIsland, kind.height + kind.radius);
  built->scope = {}, built->chunksLeft = 0;
  if (findLinks) {
    // Of another mesh nothing can be taken over, so nothing need be told apart.
    auto found = links::find(
        built->mesh, world, *built->survey, [](ground::ChunkId) { return Key{}; }, {}, job);
    if (!found) return found.problem();
    built->mesh.links = std::move(found->links);
  }
  built->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  return Base{std::move(built), std::make_shared<const hand::TakeNotes>(std::move(taken.notes))};
}

const LoadedFile* sameFile(const LoadedLevel& before, const LoadedFile& now) {
  for (const LoadedFile& f : before.files)
    if (f.path == now.path && f.import == now.import && !now.stamp.empty() && f.stamp == stampOf(now.path, f.level->besides)) return &f;
  return nullptr;
}

const LoadedMesh* sameMesh(const LoadedLevel& before, const LoadedMesh& now) {
  for (const LoadedMesh& m : before.given)
    if (m.path == now.path && m.import == now.import && !now.stamp.empty() && m.stamp == now.stamp) return &m;
  return nullptr;
}

std::shared_ptr<const level::Level> together(const std::vector<LoadedFile>& files, const std::vector<LoadedMesh>& given) {
  if (files.size() == 1 && given.empty()) return files[0].level;
  auto all = std::make_shared<level::Level>();
  for (const LoadedMesh& m : given) all->given.push_back(m.mesh);
  std::set<std::string> names;
  for (std::size_t i = 0; i < files.size(); ++i)
    for (level::Object object : files[i].level->objects) {
      object.file = std::filesystem::path(files[i].path).stem().string();
      if (i > 0) object.name = object.file + "/" + object.name;
      while (!names.insert(object.name).second) object.name += "'";
      all->objects.push_back(std::move(object));
    }
  return all;
}

}  // namespace

bool LoadedLevel::flat() const {
  return given.empty() && std::ranges::all_of(files, [](const LoadedFile& f) { return level::isTileMap(f.path); });
}

bool hasLevel(const project::Project& project) {
  const project::LevelSection& s = *project.level;
  return !s.files.empty() || !s.blockers.empty() || !s.given.empty();
}

namespace {
/// Where files lie says nothing of what was read from them: a project that is saved elsewhere names them by other paths.
project::LevelSection withoutPaths(project::LevelSection section) {
  project::changePaths(section, [](const std::string&) { return std::string(); });
  return section;
}
}  // namespace

namespace {

/// Where things stand that need ground, however little there is of it.
std::vector<Vec3> usedPlaces(const project::Project& project, const level::Level& level) {
  std::vector<Vec3> places;
  for (const links::HandLink& link : project.links->links) places.push_back(link.from), places.push_back(link.to);
  for (const project::KeptRoute& route : project.routes->routes) {
    const Ends ends = endsOf(project, level, route);
    places.push_back(ends.from), places.push_back(ends.to);
  }
  for (const hand::Patch& patch : project.hand->patches)
    for (const hand::Face& face : patch.faces) places.insert(places.end(), face.corners.begin(), face.corners.end());
  for (const project::CrowdGroup& group : project.crowd->groups) {
    places.push_back(group.start), places.push_back(group.goal);
    if (group.startForm == project::StartForm::line) places.push_back(group.startEnd);
    places.insert(places.end(), group.round.begin(), group.round.end());
  }
  return places;
}

}  // namespace

bool sameWorld(const project::Project& a, const project::Project& b, const level::Level& read) {
  const bool level = a.level == b.level || withoutPaths(*a.level) == withoutPaths(*b.level);
  const bool used = !a.level->leastIsland.any() || usedPlaces(a, read) == usedPlaces(b, read);
  return level && used && a.links->find == b.links->find && (a.areas == b.areas || *a.areas == *b.areas);
}

bool sameLinks(const project::Project& a, const project::Project& b) { return a.links == b.links || *a.links == *b.links; }

bool sameHand(const project::Project& a, const project::Project& b, int agent) {
  if (a.hand == b.hand) return true;
  const auto same = [agent](auto mine, auto theirs) {  // copies
    const auto isNotFor = [agent](const auto& item) { return !item.isFor(agent); };
    std::erase_if(mine, isNotFor), std::erase_if(theirs, isNotFor);
    return mine == theirs;
  };
  return same(a.hand->patches, b.hand->patches) && same(a.hand->parts, b.hand->parts);
}

const level::UnitsGuess* guessOf(const LoadedLevel& level, const project::LevelSection& section, std::size_t file) {
  if (file >= level.files.size() || file >= section.files.size()) return nullptr;
  const LoadedFile& read = level.files[file];
  return read.units && read.import == section.files[file].import ? &*read.units : nullptr;
}

bool holds(const Ground& ground, const project::Project& project, std::size_t agent, const generate::Scope& scope) {
  return ground.built->covers(scope) && agent < project.agents->agents.size() && ground.mesh.agent == project.agents->agents[agent] &&
         sameWorld(ground.from, project, *ground.source) && sameLinks(ground.from, project) &&
         sameHand(ground.from, project, project.agents->agents[agent].id);
}

level::World makeWorld(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent) {
  const project::LevelSection& section = *project.level;
  level::World world = worldOf(project, level, project.agents->agents[agent].name);
  world.seeds = section.seeds;
  world.joinDistance = section.joinDistance;
  world.leastIsland = section.leastIsland;
  if (world.leastIsland.any()) world.used = usedPlaces(project, *level);
  world.kinds = project.areas->kinds;
  world.volumes = project.areas->volumes;
  world.ground = level::groundKinds(*world.level, level->objects.size(), project.areas->byName, world.kinds);
  world.findLinks = project.links->find;
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
  for (const project::GivenMesh& given : project.level->given) {
    LoadedMesh now{project::levelPath(given.path, projectFile), given.import, {}, nullptr};
    now.stamp = fileStamp(now.path);
    if (const LoadedMesh* then = before ? sameMesh(*before, now) : nullptr) {
      now.mesh = then->mesh;
    } else {
      auto read = meshes::readRawMesh(now.path, now.import, job);
      if (!read) return read.problem();
      now.mesh = std::make_shared<const level::RawMesh>(*std::move(read));
    }
    loaded->given.push_back(std::move(now));
  }
  loaded->level = together(loaded->files, loaded->given);
  return std::shared_ptr<const LoadedLevel>(std::move(loaded));
}

Result<std::shared_ptr<const Ground>> makeGround(const project::Project& project, std::shared_ptr<const level::Level> level,
                                                 std::size_t agent, std::shared_ptr<const Ground> before, Job& job,
                                                 const generate::Scope& scope) {
  if (before && before->source == level) {
    if (holds(*before, project, agent, scope)) return before;
    if (before->built->covers(scope) && sameWorld(before->from, project, *level) && before->mesh.agent == project.agents->agents[agent])
      return tieLinks(project, level, agent, {before->built, before->given}, job);
  }
  const project::AgentKind& kind = project.agents->agents[agent];
  if (const auto given = project::givenFor(*project.level, kind.id)) {
    auto base = takeGiven(project, level, agent, *given, before.get(), job);
    if (!base) return base.problem();
    return tieLinks(project, level, agent, *std::move(base), job);
  }
  auto built = generate::build(makeWorld(project, level, agent), kind, job, before ? before->built : nullptr, scope);
  if (!built) return built.problem();
  return tieLinks(project, level, agent, {*std::move(built)}, job);
}

}  // namespace dune::pipeline
