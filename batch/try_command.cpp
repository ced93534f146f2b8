// "fits" finds the widest and the tallest agent that gets from one place to another; "sweep" tries one limit over a range; "compare"
// says what is different between the grounds of two projects.

#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "batch/flight_commands.h"
#include "core/meshfile/space_file.h"
#include "core/pipeline/change.h"
#include "core/pipeline/kept_routes.h"
#include "core/pipeline/sweep.h"
#include "core/project/file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

using Json = nlohmann::ordered_json;
using pipeline::SweptLimit;

struct TryFlags {
  std::string input, other, agent, limit = "radius";
  PointFlag from, to;
  pipeline::SweepPlan plan;
  bool json = false;
};

struct Opened {
  project::Project project;
  std::shared_ptr<const level::Level> level;
  std::size_t agent;
};

Result<Opened> open(const std::string& path, const std::string& agentName, Job& job) {
  auto project = project::load(path);
  if (!project) return project.problem();
  const auto agent = agentNamed(*project, agentName);
  if (!agent) return agent.problem();
  const auto level = pipeline::loadLevel(*project, path, job);
  if (!level) return level.problem();
  return Opened{*std::move(project), (*level)->level, *agent};
}

Json json(const pipeline::Tightest& t) {
  Json j{{"most", t.most}, {"open", t.open}};
  if (!t.cause.empty()) j["at"] = {t.at.x, t.at.y, t.at.z}, j["cause"] = t.cause;
  return j;
}

void print(const char* what, const pipeline::Tightest& t) {
  if (t.open)
    std::printf("%s: even %.2f m passes\n", what, t.most);
  else if (t.most == 0)
    std::printf("%s: nobody gets there\n", what);
  else
    std::printf("%s: up to %.2f m; a larger one is stopped at %.2f,%.2f,%.2f: %s\n", what, t.most, t.at.x, t.at.y, t.at.z, t.cause.c_str());
}

int runFits(const TryFlags& flags) {
  const auto from = flags.from.value(), to = flags.to.value();
  if (!from) return fail(from.problem());
  if (!to) return fail(to.problem());
  ThreadedJob job(interrupted(), progress());
  if (meshfile::isSpaceFile(flags.input)) return fitsInSpace(flags.input, *from, *to, flags.json, job);
  const auto opened = open(flags.input, flags.agent, job);
  if (!opened) return fail(opened.problem());
  const auto found = pipeline::widestPassing(opened->project, opened->level, opened->agent, *from, *to, job);
  if (!found) return fail(found.problem());
  if (flags.json)
    printJson(Json{{"radius", json(found->radius)}, {"height", json(found->height)}});
  else
    print("radius", found->radius), print("height", found->height);
  return found->radius.most > 0 && found->height.most > 0 ? 0 : 1;
}

int runSweep(const TryFlags& flags) {
  ThreadedJob job(interrupted(), progress());
  const auto opened = open(flags.input, flags.agent, job);
  if (!opened) return fail(opened.problem());
  pipeline::SweepPlan plan = flags.plan;
  const std::pair<const char*, SweptLimit> kLimits[] = {
      {"radius", SweptLimit::radius}, {"height", SweptLimit::height}, {"slope", SweptLimit::maxSlope}, {"step", SweptLimit::stepHeight}};
  for (const auto& [name, limit] : kLimits)
    if (flags.limit == name) plan.limit = limit;
  const auto sweep = pipeline::sweep(opened->project, opened->level, opened->agent, plan, job);
  if (!sweep) return fail(sweep.problem());
  const auto& routes = (*sweep)->routes.routes;
  if (flags.json) {
    Json points = Json::array(), thresholds = Json::array();
    for (const pipeline::SweepPoint& p : (*sweep)->points)
      points.push_back({{"value", p.value}, {"reachable", p.reachable}, {"complete", p.complete}});
    for (const pipeline::Threshold& t : (*sweep)->thresholds)
      thresholds.push_back({{"route", routes[t.route].name},
                            {"value", t.value},
                            {"completeAbove", t.above},
                            {"at", {t.at.x, t.at.y, t.at.z}},
                            {"cause", t.cause}});
    printJson(Json{{"limit", flags.limit}, {"reachable", (*sweep)->measure}, {"points", points}, {"thresholds", thresholds}});
    return 0;
  }
  for (const pipeline::SweepPoint& p : (*sweep)->points) std::printf("%s %.3f: %.1f m²\n", flags.limit.c_str(), p.value, p.reachable);
  for (const pipeline::Threshold& t : (*sweep)->thresholds)
    std::printf("%s: complete %s %.3f%s%s\n", routes[t.route].name.c_str(), t.above ? "from" : "up to", t.value,
                t.cause.empty() ? "" : "; else stopped: ", t.cause.c_str());
  return 0;
}

int runCompare(const TryFlags& flags) {
  ThreadedJob job(interrupted(), progress());
  std::shared_ptr<const pipeline::Ground> grounds[2];
  project::RoutesSection routes;  // of the second project
  for (int i = 0; i < 2; ++i) {
    const auto opened = open(i == 0 ? flags.input : flags.other, flags.agent, job);
    if (!opened) return fail(opened.problem());
    const auto ground = pipeline::makeGround(opened->project, opened->level, opened->agent, nullptr, job);
    if (!ground) return fail(ground.problem());
    grounds[i] = *ground;
    routes = pipeline::routesOf(opened->project, *opened->level, opened->project.agents->agents[opened->agent].id);
  }
  const auto change = pipeline::compare(grounds[0], grounds[1], routes, job);
  if (!change) return fail(change.problem());
  const pipeline::Change& c = **change;
  const bool same = c.places.empty() && c.routes.empty();
  if (flags.json) {
    Json places = Json::array(), changed = Json::array();
    for (const pipeline::ChangedPlace& p : c.places)
      places.push_back(
          {{"gained", p.gained}, {"area", p.ground.area}, {"at", {p.ground.at.x, p.ground.at.y, p.ground.at.z}}, {"cause", p.cause}});
    for (const pipeline::ChangedRoute& r : c.routes) changed.push_back({{"id", r.id}, {"change", r.sentence}});
    printJson(Json{{"gained", c.gained}, {"lost", c.lost}, {"places", places}, {"routes", changed}});
  } else {
    std::printf("%.2f m² gained, %.2f m² lost\n", c.gained, c.lost);
    for (const pipeline::ChangedPlace& p : c.places)
      std::printf("%c%.2f m² at %.2f,%.2f,%.2f: %s\n", p.gained ? '+' : '-', p.ground.area, p.ground.at.x, p.ground.at.y, p.ground.at.z,
                  p.cause.c_str());
    for (const pipeline::ChangedRoute& r : c.routes) std::printf("route %d: %s\n", r.id, r.sentence.c_str());
  }
  return same ? 0 : 1;
}

std::shared_ptr<TryFlags> tried(CLI::App& app) {
  auto flags = std::make_shared<TryFlags>();
  app.add_option("project", flags->input, "A project; of fits also a .dsfly")->required();
  app.add_option("--agent", flags->agent, "The project's agent to use");
  app.add_flag("--json", flags->json, "One JSON document");
  return flags;
}

}  // namespace

std::function<int()> setUpFits(CLI::App& app) {
  auto flags = tried(app);
  flags->from.add(app, "--from", "Where it starts")->required();
  flags->to.add(app, "--to", "Where it goes")->required();
  return [flags] { return runFits(*flags); };
}

std::function<int()> setUpSweep(CLI::App& app) {
  auto flags = tried(app);
  app.add_option("--limit", flags->limit, "The limit to try")
      ->check(CLI::IsMember({"radius", "height", "slope", "step"}))
      ->capture_default_str();
  app.add_option("--least", flags->plan.from, "From this value, metres or degrees")->required();
  app.add_option("--most", flags->plan.to, "To this value")->required();
  app.add_option("--steps", flags->plan.steps, "How many values, both ends among them")->capture_default_str();
  return [flags] { return runSweep(*flags); };
}

std::function<int()> setUpCompare(CLI::App& app) {
  auto flags = tried(app);
  app.add_option("other", flags->other, "The project that it is compared with")->required();
  return [flags] { return runCompare(*flags); };
}

}  // namespace dune::batch
