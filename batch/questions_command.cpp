// Questions about a mesh that are no paths: what is within reach, what is in sight, places by chance.

#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "core/meshes/mesh_files.h"
#include "core/nav/walk.h"
#include "core/route/distances.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

using Json = nlohmann::ordered_json;
using nav::Place;

constexpr double kNear = 2;  // m from ground that a place may be

struct QuestionsFlags {
  std::string mesh;
  PointFlag from, to;
  double within = 20, every = 5;
  int count = 1;
  std::uint64_t seed = 1;
  bool towards = false, json = false;
};

/// A mesh and a place on it, at the feet of a body whose origin is at the given point.
struct Asked {
  meshfile::Content content;
  std::unique_ptr<const route::Field> field;
  Place from;
};

Result<std::unique_ptr<Asked>> open(const QuestionsFlags& flags) {
  const auto at = flags.from.value();
  if (!at) return at.problem();
  auto content = meshes::readMesh(flags.mesh);
  if (!content) return content.problem();
  auto asked = std::make_unique<Asked>(Asked{*std::move(content), nullptr, {}});
  asked->field = std::make_unique<const route::Field>(asked->content.mesh, asked->content.rules);
  asked->from = asked->field->locator().nearest(*at - Vec3{0, asked->content.mesh.agent.originHeight, 0}, kNear);
  return asked;
}

int noGround() {
  std::printf("There is no ground within %.1f m of the place.\n", kNear);
  return 1;
}

int runReach(const QuestionsFlags& flags) {
  if (!(flags.within > 0 && flags.every > 0)) return fail({ProblemCode::usage, "--within and --every are distances above zero.", "", ""});
  const auto asked = open(flags);
  if (!asked) return fail(asked.problem());
  const Asked& a = **asked;
  if (!a.from.valid()) return noGround();
  ThreadedJob job(interrupted(), progress());
  const route::Distances distances(*a.field, a.from, flags.towards ? route::Heading::to : route::Heading::from, flags.within, job);
  constexpr double kFinest = 0.25, kParts = 60;
  const auto rings = route::ringsOf(*a.field, distances, flags.every, std::max(kFinest, flags.within / kParts), job);
  if (job.cancelled()) return fail(Job::cancelledProblem());
  if (!flags.json) {
    for (const route::Ring& r : rings) std::printf("within %.2f: %.1f m²\n", r.distance, r.area);
    return 0;
  }
  Json list = Json::array();
  for (const route::Ring& r : rings) {
    Json pieces = Json::array();
    for (const auto& [p, q] : r.pieces) pieces.push_back({pointJson(p), pointJson(q)});
    list.push_back({{"distance", r.distance}, {"area", r.area}, {"pieces", pieces}});
  }
  printJson({{"at", pointJson(a.from.position)}, {"complete", distances.complete()}, {"rings", list}}, -1);
  return 0;
}

int runSight(const QuestionsFlags& flags) {
  const auto to = flags.to.value();
  if (!to) return fail(to.problem());
  const auto asked = open(flags);
  if (!asked) return fail(asked.problem());
  const Asked& a = **asked;
  if (!a.from.valid()) return noGround();
  const nav::NavMesh& mesh = a.content.mesh;
  const Vec3 target = *to - Vec3{0, mesh.agent.originHeight, 0};
  const nav::Ray ray = nav::castRay(mesh, a.from, plan(target), &a.content.rules);
  constexpr double kStorey = 0.5;  // m: what is seen above or below the goal is not the goal
  const bool other = ray.reached && std::abs(ray.end.position.y - target.y) > std::max(kStorey, kNear / 2);
  // What stands at the end: the border, or ground that may not be walked on just beyond.
  std::string by = other ? "another storey" : "the border of the ground";
  if (!ray.reached) {
    const Vec2 on = plan(target) - plan(ray.end.position);
    const nav::Ray past = nav::castRay(mesh, ray.end, plan(ray.end.position) + on * (0.01 / std::max(0.01, glm::length(on))));
    if (!a.field->passable(past.end.face)) by = mesh.kindOf(past.end.face).name + ", which is forbidden";
  }
  const bool sees = ray.reached && !other;
  const double distance = glm::distance(a.from.position, ray.end.position);
  if (flags.json) {
    Json j{{"sees", sees}, {"from", pointJson(a.from.position)}, {"end", pointJson(ray.end.position)}, {"distance", distance}};
    if (!sees) j["blockedBy"] = by;
    printJson(j);
  } else if (sees) {
    std::printf("in sight, %.2f m\n", distance);
  } else {
    std::printf("blocked after %.2f m at %.3f,%.3f,%.3f by %s\n", distance, ray.end.position.x, ray.end.position.y, ray.end.position.z,
                by.c_str());
  }
  return sees ? 0 : 1;
}

int runRandom(const QuestionsFlags& flags) {
  if (!(flags.within > 0)) return fail({ProblemCode::usage, "--within is a distance above zero.", "", ""});
  const auto asked = open(flags);
  if (!asked) return fail(asked.problem());
  const Asked& a = **asked;
  if (!a.from.valid()) return noGround();
  ThreadedJob job(interrupted(), progress());
  const route::Distances distances(*a.field, a.from, route::Heading::from, flags.within, job);
  const auto places = route::randomPlaces(*a.field, distances, flags.count, flags.seed);
  if (flags.json) {
    Json list = Json::array();
    for (const Place& p : places) list.push_back(pointJson(p.position));
    printJson({{"places", list}});
  } else {
    for (const Place& p : places) std::printf("%.3f,%.3f,%.3f\n", p.position.x, p.position.y, p.position.z);
  }
  return static_cast<int>(places.size()) == flags.count ? 0 : 1;
}

std::shared_ptr<QuestionsFlags> common(CLI::App& app) {
  auto flags = std::make_shared<QuestionsFlags>();
  app.add_option("mesh", flags->mesh, "A .dsmesh or .json mesh")->required();
  flags->from.add(app, "--from", "The place that is asked about")->required();
  app.add_flag("--json", flags->json, "One JSON document");
  return flags;
}

}  // namespace

std::function<int()> setUpReach(CLI::App& app) {
  const auto flags = common(app);
  app.add_option("--within", flags->within, "How far, in cost: metres of plain ground")->capture_default_str();
  app.add_option("--every", flags->every, "A ring at each multiple of this")->capture_default_str();
  app.add_flag("--to", flags->towards, "Ways that lead to the place instead of from it");
  return [flags] { return runReach(*flags); };
}

std::function<int()> setUpSight(CLI::App& app) {
  const auto flags = common(app);
  flags->to.add(app, "--to", "What is looked at")->required();
  return [flags] { return runSight(*flags); };
}

std::function<int()> setUpRandom(CLI::App& app) {
  const auto flags = common(app);
  app.add_option("--within", flags->within, "How far, in cost: metres of plain ground")->capture_default_str();
  app.add_option("--count", flags->count, "How many places")->check(CLI::Range(1, 1'000'000))->capture_default_str();
  app.add_option("--seed", flags->seed, "The same places for the same number")->capture_default_str();
  return [flags] { return runRandom(*flags); };
}

}  // namespace dune::batch
