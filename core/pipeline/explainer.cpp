#include "core/pipeline/explainer.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/ground/bridged.h"
#include "core/hand/pick.h"

namespace dune::pipeline {

namespace {

/// What an answer may look at: ground just beyond a limit that is a radius away.
Box2 reach(const Vec3& place, const nav::Agent& agent) {
  Box2 box;
  box.add(plan(place));
  return box.grown(agent.radius + 0.1);
}

/// Where an agent can stand but the mesh has no ground, the seeds took it away, or the least size of islands.
void sayUnreached(ground::Explanation& e, const level::World& world, const nav::Locator& locator) {
  constexpr double kNear = 0.1;  // metres: the mesh's border is simplified
  const bool seeds = !world.seeds.empty(), sizes = world.leastIsland.any();
  if (!e.walkable() || (!seeds && !sizes) || locator.nearest(e.at, kNear).valid()) return;
  const char* where = !sizes  ? "on ground that no seed reaches"
                      : seeds ? "on ground that no seed reaches, or on an island below the least size"
                              : "on an island below the least size";
  e.decides = {ground::Verdict::unreached,
               0,
               0,
               e.surface,
               where,
               "",
               sizes ? "a smaller least size, or a seed here" : "a seed here, or a way from one"};
  e.all = {e.decides};
  e.sentence = "Not walkable: " + e.decides.clause() + ".";
}

/// Where the last build did not look; whether that is all there is to say.
bool sayUnbuilt(ground::Explanation& e, const generate::Built& built) {
  const generate::ChunkRecord* chunk = built.chunkAt(plan(e.at));
  if (!chunk || chunk->current) return false;
  if (!chunk->mesh->area.empty()) {
    e.sentence = "As an earlier build left it: " + e.sentence;
    return false;
  }
  e.decides = {ground::Verdict::unbuilt, 0, 0, e.surface, "outside what was built", "", "building everything, or a box around it"};
  e.all = {e.decides};
  e.sentence = "Not built: the last build did not look here.";
  return true;
}

/// Of a mesh from elsewhere nobody knows why it is as it is: whether it has ground there is all there is to say.
void sayGiven(ground::Explanation& e, const Ground& ground) {
  constexpr double kOn = 0.5;  // m over or under the level that it may lie
  const nav::Place place = ground.locator().under(e.at, kOn);
  if (place.valid()) {
    e.at = place.position;
    e.all.clear(), e.upright.reset();
    e.decides = {ground::Verdict::walkable, 0, 0, e.surface, "ground of the mesh from elsewhere", "", ""};
    e.sentence = "Walkable: the mesh from elsewhere has ground here.";
    return;
  }
  e.decides = {ground::Verdict::unbuilt,
               0,
               0,
               e.surface,
               "where the mesh from elsewhere has no ground",
               "",
               "drawing a patch, or building from the level"};
  e.all = {e.decides};
  e.sentence = "Not walkable: the mesh from elsewhere has no ground here.";
}

/// The first patch for the ground's kind of agent of which one of the outlines that `of` gives lies at a place; 0: none does.
template <class Outlines>
int patchAt(const Ground& ground, const Vec3& at, Outlines&& of) {
  constexpr double kOver = 1;  // m
  const project::AgentKind* agent = project::agentNamed(*ground.from.agents, ground.mesh.agent.name);
  const auto lies = [&](const std::vector<Vec3>& corners) {
    Polygon outline;
    for (const Vec3& c : corners) outline.push_back(plan(c));
    return contains(outline, plan(at)) && std::abs(meanOf(corners).y - at.y) < kOver;
  };
  for (const hand::Patch& patch : ground.from.hand->patches)
    if (agent && patch.isFor(agent->id) && of(patch, lies)) return patch.id;
  return 0;
}

/// The patch by which built ground at a place was taken away; 0 where none did.
int takenAwayBy(const Ground& ground, const Vec3& at) {
  return patchAt(ground, at, [](const hand::Patch& p, const auto& lies) { return std::ranges::any_of(p.instead, lies); });
}

/// The patch whose ground lies there, or would; or 0.
int drawnAt(const Ground& ground, const Vec3& at) {
  return patchAt(ground, at,
                 [](const hand::Patch& p, const auto& lies) { return std::ranges::any_of(p.faces, lies, &hand::Face::corners); });
}

/// What stands on ground that was made by hand, or is of a mesh from elsewhere, takes it away.
void sayStanding(ground::Explanation& e, const Ground& ground, const Vec3& at) {
  constexpr double kOn = 0.5;  // m over or under the ground that it may lie
  if (ground.locator().under(at, kOn).valid()) return;
  const int patch = drawnAt(ground, at);
  if (patch == 0 && !(ground.given && hand::faceUnder(ground.built->mesh, at) != nav::kNoFace)) return;
  for (const hand::Solid& solid : ground.standing.solids) {
    if (!hand::takes(solid, at, ground.mesh.agent)) continue;
    const std::string blocker = "blocker " + std::to_string(solid.blocker),
                      on =
                          patch == 0 ? std::string("the mesh from elsewhere") : "ground made by hand (patch " + std::to_string(patch) + ")";
    e.decides = {ground::Verdict::nearWall, 0, 0, blocker, blocker + " stands on " + on, "", "moving " + blocker};
    e.all = {e.decides}, e.upright.reset();
    e.sentence = "Not walkable: " + e.decides.clause() + ".";
    return;
  }
}

/// Where a person made the ground, or took it away, that is what decides.
void sayByHand(ground::Explanation& e, const Ground& ground) {
  constexpr double kOn = 0.5;  // m over or under the level that it may lie
  if (ground.from.hand->patches.empty()) return;
  const nav::Place place = ground.locator().under(e.at, kOn);
  if (place.valid()) {
    if (const int patch = ground.origin[nav::index(place.face)].patch; patch != 0)
      e.sentence = "Made by hand (patch " + std::to_string(patch) + "). Built, it would be: " + e.sentence;
  } else if (const int patch = takenAwayBy(ground, e.at); patch != 0 && e.walkable()) {
    e.sentence = "Taken away by hand (patch " + std::to_string(patch) + "). Built, it would be: " + e.sentence;
  }
}

/// What stands against an agent as low as it gets; where nothing does, whether it must crouch there.
ground::Explanation explainBoth(const ground::Soup& soup, const generate::Built& built, const nav::Agent& agent, const Vec3& place) {
  ground::Explanation e = ground::explain(ground::Standing(soup, built.world, built.agent), built.clearance, place);
  if (!e.walkable() || !agent.crouches()) return e;
  const ground::Explanation tall = ground::explain(ground::Standing(soup, built.world, agent), built.uprightClearance, e.at);
  if (tall.walkable()) return e;
  e.upright = tall.decides;
  e.sentence = "Walkable crouching: " + tall.decides.clause() + ".";
  return e;
}

}  // namespace

ground::Explanation Explainer::at(const std::shared_ptr<const generate::Built>& built, const Vec3& place) {
  const Box2 box = reach(place, built->agent);
  const double size = built->survey->chunkSize();
  const ground::ChunkId low = ground::chunkAt(box.min, size), high = ground::chunkAt(box.max, size);
  if (built != built_ || low != low_ || high != high_ || !soup_) {
    built_ = built, low_ = low, high_ = high;
    soup_.emplace(built->soupNear(box));
  }
  return explainBoth(*soup_, *built, built->mesh.agent, place);
}

ground::Explanation Explainer::at(const Ground& ground, const Vec3& place) {
  ground::Explanation e = at(ground.built, place);
  if (ground.given)
    sayGiven(e, ground);
  else if (!sayUnbuilt(e, *ground.built))
    sayUnreached(e, ground.built->world, ground.locator());
  sayByHand(e, ground);
  sayStanding(e, ground, place);
  return e;
}

Result<ground::Explanation> explainPlace(const level::World& world, const nav::Agent& agent, const Vec3& place, Job& job) {
  if (auto problem = nav::checkAgent(agent)) return *problem;
  if (!world.seeds.empty() || world.leastIsland.any()) {
    const auto built = generate::build(world, agent, job);
    if (!built) return built.problem();
    ground::Explanation e = Explainer().at(*built, place);
    sayUnreached(e, world, nav::Locator((*built)->mesh));
    return e;
  }
  const auto survey = ground::Survey::make(world, ground::chunkSize(agent), ground::haloFor(world, agent), job);
  if (!survey) return survey.problem();
  constexpr double kRoom = 10;  // metres in which the room around a place is measured
  Box2 box;
  box.add(plan(place));
  const ground::ChunkId low = ground::chunkAt(box.min - Vec2(kRoom), (*survey)->chunkSize()),
                        high = ground::chunkAt(box.max + Vec2(kRoom), (*survey)->chunkSize());
  generate::Built part{world, agent.crouching(), *survey, {}, {}, {}, {}, {}, 0, 0, {}, 0};
  std::vector<ground::Limit> limits, upright;
  std::vector<ground::Bridge> bridges;
  for (std::size_t i = 0; i < (*survey)->chunks().size(); ++i) {
    const ground::ChunkId id = (*survey)->chunks()[i];
    auto own = std::make_shared<generate::ChunkLimits>();
    if (id.row >= low.row && id.row <= high.row && id.column >= low.column && id.column <= high.column) {
      ground::Soup soup(world, **survey, (*survey)->touching(i));
      soup.weld();
      const Box2 chunk = ground::chunkBox(id, (*survey)->chunkSize());
      auto found = ground::findLimits(soup, world, part.agent, chunk, job);
      if (!found) return found.problem();
      limits.insert(limits.end(), found->limits.begin(), found->limits.end());
      bridges.insert(bridges.end(), found->bridges.begin(), found->bridges.end());
      own->found = *std::move(found);
      if (agent.crouches()) {
        auto tall = ground::findLimits(soup, world, agent, chunk, job);
        if (!tall) return tall.problem();
        upright.insert(upright.end(), tall->limits.begin(), tall->limits.end());
      }
    }
    part.chunks.push_back({id, std::move(own), nullptr});
  }
  part.clearance = ground::Clearance(ground::withoutBridged(std::move(limits), bridges, part.agent.height), part.agent.height);
  part.uprightClearance = ground::Clearance(ground::withoutBridged(std::move(upright), bridges, agent.height), agent.height);
  const ground::Soup soup = part.soupNear(reach(place, agent));
  return explainBoth(soup, part, agent, place);
}

}  // namespace dune::pipeline
