#include "batch/flight_commands.h"

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "batch/kind_flag.h"
#include "core/base/file.h"
#include "core/exchange/csv.h"
#include "core/flight/path.h"
#include "core/meshfile/space_file.h"
#include "core/pipeline/flight.h"
#include "core/pipeline/ground.h"
#include "core/project/file.h"
#include "core/review/flight_review.h"
#include "core/system/threads.h"
#include "core/trace/file.h"

namespace dune::batch {

namespace {

using Json = nlohmann::ordered_json;
using SpacePtr = std::shared_ptr<const flight::Space>;

Result<std::size_t> flyerNamed(const project::Project& project, const std::string& name) {
  const auto& flyers = project.flight->flyers;
  if (flyers.empty())
    return Problem{ProblemCode::usage, "The project has no kind of agent that flies.", "--fly", "one under \"flight\" of the project."};
  if (name.empty()) return std::size_t{0};
  for (std::size_t i = 0; i < flyers.size(); ++i)
    if (flyers[i].name == name) return i;
  return Problem{ProblemCode::usage, "The project has no flyer named '" + name + "'.", "--flyer", "'" + flyers[0].name + "'."};
}

Result<SpacePtr> fromProject(const std::string& file, const std::string& name, Job& job) {
  const auto project = project::load(file);
  if (!project) return project.problem();
  const auto flyer = flyerNamed(*project, name);
  if (!flyer) return flyer.problem();
  const auto level = pipeline::loadLevel(*project, file, job);
  if (!level) return level.problem();
  const auto air = pipeline::makeAir(*project, (*level)->level, *flyer, nullptr, job);
  if (!air) return air.problem();
  return (*air)->space;
}

/// X0,…,Z1=COST[:ENTRY] or =forbidden.
Result<pipeline::AirSaid> airFrom(const std::string& text, std::uint32_t kind) {
  const std::size_t equals = text.find('=');
  const auto rule = equals == std::string::npos ? std::nullopt : ruleFrom(text.substr(equals + 1));
  if (!rule)
    return Problem{ProblemCode::usage, "What air costs makes no sense.", "--air " + text, "--air 0,0,0,10,5,10=2:3, or =forbidden."};
  const auto box = parseBox(text.substr(0, equals), "--air");
  if (!box) return box.problem();
  return pipeline::AirSaid{*box, *rule, kind};
}

Result<flight::SpaceInput> fromLevels(const std::vector<std::string>& inputs, const BuildFlags& build, const FlyFlags& fly, Job& job) {
  const auto world = build.world(inputs, job);
  if (!world) return world.problem();
  flight::Flyer kind;
  kind.radius = fly.radius.value_or(kind.radius), kind.halfHeight = fly.halfHeight.value_or(kind.radius);
  kind.leastHeight = fly.leastHeight, kind.mostHeight = fly.mostHeight;
  std::vector<Box3> boxes;
  for (const std::string& text : fly.volumes) {
    const auto box = parseBox(text, "--volume");
    if (!box) return box.problem();
    boxes.push_back(*box);
  }
  if (boxes.empty()) boxes.push_back(pipeline::usualVolume(*world));
  std::vector<pipeline::AirSaid> said;
  for (const std::string& text : fly.air) {
    const auto air = airFrom(text, static_cast<std::uint32_t>(said.size()));
    if (!air) return air.problem();
    said.push_back(*air);
  }
  pipeline::AirVolumes air = pipeline::airVolumes(std::move(boxes), said);
  if (air.boxes.empty()) return Problem{ProblemCode::usage, "All of the volume is forbidden.", "--air", "a smaller box."};
  auto input = pipeline::flightInput(*world, kind, std::move(air.boxes), job);
  if (input) input->zones = std::move(air.zones);
  return input;
}

std::size_t narrowCells(const flight::Space& space) {
  std::size_t count = 0;
  for (flight::NodeId n = 0; n < space.size(); ++n) count += space.cell(n).kind != flight::Cell::Kind::free;
  return count;
}

const char* outcomeName(flight::Way::Outcome outcome) {
  switch (outcome) {
    case flight::Way::Outcome::found:
      return "complete";
    case flight::Way::Outcome::partial:
      return "partial";
    case flight::Way::Outcome::none:
      break;
  }
  return "none";
}

Json wayJson(const flight::Space& space, const flight::Way& way) {
  Json points = Json::array();
  for (const Vec3& p : way.points) points.push_back(pointJson(p));
  Json j{{"status", outcomeName(way.outcome)},
         {"length", way.length},
         {"cost", way.cost},
         {"points", points},
         {"missing", way.missing},
         {"note", way.why}};
  if (way.barrier >= 0) j["object"] = space.nameOf(way.barrier);
  return j;
}

int fromPairs(const flight::Space& space, const std::string& file, bool json) {
  const auto text = readFile(file);
  if (!text) return fail(text.problem());
  const auto pairs = exchange::pairsFromCsv(*text);
  if (!pairs) return fail(pairs.problem().within(file));
  flight::Searcher search(space);
  bool all = true;
  for (const exchange::Pair& pair : *pairs) {
    const flight::Way way = search.find({pair.from, pair.to});
    all &= way.found();
    if (json)
      printJson(wayJson(space, way), -1);
    else
      std::printf("%s %.3f\n", outcomeName(way.outcome), way.length);
  }
  return all ? 0 : 1;
}

/// What flies, and in what: it owns the spaces.
struct FleetOnSpaces {
  std::map<int, std::shared_ptr<const pipeline::Air>> airs;
  SpacePtr own;
  pipeline::FleetInput input;
};

Result<FleetOnSpaces> fleetOfProject(const std::string& file, Job& job) {
  const auto project = project::load(file);
  if (!project) return project.problem();
  const project::FlightSection& section = *project->flight;
  if (section.groups.empty())
    return Problem{ProblemCode::usage, "No group of the project flies.", file, "groups under \"flight\" of the project."};
  const auto level = pipeline::loadLevel(*project, file, job);
  if (!level) return level.problem();
  FleetOnSpaces fleet;
  for (std::size_t i = 0; i < section.flyers.size(); ++i) {
    if (std::ranges::count(section.groups, section.flyers[i].id, &project::FlyerGroup::flyer) == 0) continue;
    const auto air = pipeline::makeAir(*project, (*level)->level, i, nullptr, job);
    if (!air) return air.problem();
    fleet.airs[section.flyers[i].id] = *air;
  }
  auto input = pipeline::fleetOf(section.groups, fleet.airs);
  if (!input) return input.problem();
  fleet.input = *std::move(input);
  return fleet;
}

Result<FleetOnSpaces> fleetOfTable(const std::string& file, const std::string& agents) {
  if (agents.empty()) return Problem{ProblemCode::usage, "A .dsfly needs a table of agents.", "--agents", "--agents FILE.csv"};
  const auto space = meshfile::readSpace(file);
  if (!space) return space.problem();
  FleetOnSpaces fleet;
  fleet.own = *space;
  const auto text = readFile(agents);
  if (!text) return text.problem();
  crowd::Walker like;
  like.radius = fleet.own->flyer().radius;
  const auto table = exchange::crowdFromCsv(*text, {{fleet.own->flyer().name, like, 0}});
  if (!table) return table.problem().within(agents);
  fleet.input.spaces.push_back(fleet.own.get());
  for (const crowd::Walker& w : table->walkers) {
    flight::Pilot pilot;
    pilot.id = w.id, pilot.start = w.start, pilot.goal = w.goal, pilot.startTime = w.startTime;
    pilot.lookAhead();
    fleet.input.pilots.push_back(pilot), fleet.input.groupOf.push_back(w.group);
  }
  return fleet;
}

}  // namespace

void FlyFlags::add(CLI::App& app) {
  CLI::Option* on = app.add_flag("--fly", fly, "Build the free space of a body that flies, a .dsfly, in place of a mesh");
  app.add_option("--flyer", flyer, "The project's kind of agent that flies; its first otherwise")->needs(on);
  app.add_option("--body-radius", radius, "With --fly and levels: of the body to the sides, metres; 0.5")->needs(on);
  app.add_option("--half-height", halfHeight, "With --fly and levels: of the body up and down from its middle, metres; as its radius")
      ->needs(on);
  app.add_option("--least-height", leastHeight, "With --fly and levels: of its underside over ground, metres; 0: any")->needs(on);
  app.add_option("--greatest-height", mostHeight, "With --fly and levels: of its underside over the level, metres; 0: any")->needs(on);
  app.add_option("--volume", volumes,
                 "With --fly and levels: where its middle may be; may be repeated; the bounds, or around the level, otherwise")
      ->type_name("X0,Y0,Z0,X1,Y1,Z1")
      ->allow_extra_args(false)
      ->needs(on);
  app.add_option("--air", air,
                 "With --fly and levels: what a metre of air costs in a box, and to come into it; or that it is forbidden; may be "
                 "repeated, the last one counts")
      ->type_name("X0,Y0,Z0,X1,Y1,Z1=COST[:ENTRY]|forbidden")
      ->allow_extra_args(false)
      ->needs(on);
  // What is about those who walk.
  for (const char* name :
       {"--agent-radius", "--agent-height", "--crouch-height", "--crouch-cost", "--max-slope", "--step-height", "--max-drop", "--max-jump",
        "--max-rise", "--link-spacing", "--seed", "--join", "--least-island", "--least-island-width", "--agent", "--box"})
    on->excludes(app.get_option(name));
}

int buildFlight(const std::vector<std::string>& inputs, const BuildFlags& build, const FlyFlags& fly, const std::string& out, bool json,
                Job& job) {
  if (std::filesystem::path(out).extension() != ".dsfly")
    return fail({ProblemCode::usage, "Free space is written as a .dsfly.", "--out " + out, "a name that ends in .dsfly."});
  Result<SpacePtr> space = Problem{};
  if (isProject(inputs[0])) {
    space = fromProject(inputs[0], fly.flyer, job);
  } else {
    auto input = fromLevels(inputs, build, fly, job);
    if (!input) return fail(input.problem());
    space = flight::Space::make(*std::move(input), job);
  }
  if (!space) return fail(space.problem());
  const flight::Space& s = **space;
  if (const auto written = writeFile(out, meshfile::spaceToBytes(s)); !written) return fail(written.problem());
  const Json statistics{{"triangles", std::ranges::count_if(s.obstacles().all(), &flight::Barrier::ofLevel)},
                        {"chunks", s.chunkCount()},
                        {"cells", s.size()},
                        {"narrowCells", narrowCells(s)},
                        {"parts", s.parts()},
                        {"freeVolume", s.freeVolume()},
                        {"seconds", s.seconds()},
                        {"out", out}};
  if (json)
    printJson(statistics);
  else
    std::fprintf(stderr, "%zu cells, %.1f m³, %zu parts in %.2f s: %s\n", s.size(), s.freeVolume(), s.parts(), s.seconds(), out.c_str());
  return 0;
}

int pathInSpace(const std::string& file, const std::optional<std::pair<Vec3, Vec3>>& ends, const std::string& pairs, bool json) {
  const auto space = meshfile::readSpace(file);
  if (!space) return fail(space.problem());
  if (!ends) return fromPairs(**space, pairs, json);
  const flight::Way way = flight::Searcher(**space).find({ends->first, ends->second});
  if (json) {
    printJson(wayJson(**space, way));
  } else {
    std::printf("%s: length %.2f m", outcomeName(way.outcome), way.length);
    if ((*space)->airs().any()) std::printf(", costs %.2f", way.cost);
    std::printf("\n");
    if (!way.why.empty()) std::printf("%s\n", way.why.c_str());
    for (const Vec3& p : way.points) std::printf("%.3f,%.3f,%.3f\n", p.x, p.y, p.z);
  }
  return way.found() ? 0 : 1;
}

int explainInSpace(const std::string& file, const Vec3& at, bool json) {
  const auto space = meshfile::readSpace(file);
  if (!space) return fail(space.problem());
  const pipeline::FlightAnswer answer = pipeline::explainFlight(**space, at);
  if (json) {
    Json j{{"fits", answer.fits},
           {"reason", answer.reason},
           {"object", answer.object},
           {"missing", answer.missing},
           {"sentence", answer.sentence}};
    if (std::isfinite(answer.distance)) j["distance"] = answer.distance;
    if (answer.part != flight::kNoNode) j["part"] = answer.part, j["partVolume"] = answer.partSize;
    printJson(j);
  } else {
    std::printf("%s\n", answer.sentence.c_str());
  }
  return answer.fits ? 0 : 1;
}

int crowdInSpace(const FlightCrowdFlags& flags, Job& job) {
  trace::Trace walkers;
  if (!flags.among.empty()) {
    auto read = trace::readTrace(flags.among, 0, job);
    if (!read) return fail(read.problem());
    walkers = *std::move(read);
  }
  auto input = isProject(flags.input) ? fleetOfProject(flags.input, job) : fleetOfTable(flags.input, flags.agents);
  if (!input) return fail(input.problem());
  for (const pipeline::TooFew& few : input->input.tooFew)
    std::fprintf(stderr, "group '%s': there is room for %d of %d\n", few.group.c_str(), few.placed, few.wanted);
  flight::FleetOptions options;
  options.rate = flags.rate;
  auto fleet = flight::Fleet::make(input->input.spaces, input->input.pilots, options, job);
  if (!fleet) return fail(fleet.problem());
  const double seconds = flags.seconds.value_or(60);
  pipeline::Flying how{seconds};
  if (!flags.among.empty())
    how.movers = [&](double time) { return pipeline::moversOf(walkers, time, [](std::size_t) { return pipeline::PersonSize{}; }); };
  auto sink = trace::createTrace(flags.out);
  if (!sink) return fail(sink.problem());
  job.step("flight", 1);
  if (const auto recorded = pipeline::recordFlight(fleet.value(), input->input.groupOf, how, **sink, job); !recorded)
    return fail(recorded.problem());
  const auto arrived = std::ranges::count(fleet->bodies(), flight::FlightState::arrived, &flight::Airborne::state);
  if (flags.json) printJson(Json{{"agents", fleet->size()}, {"arrived", arrived}, {"seconds", fleet->time()}});
  std::fprintf(stderr, "%zd of %zu flyers arrived within %.1f s: %s\n", arrived, fleet->size(), seconds, flags.out.c_str());
  return 0;
}

int fitsInSpace(const std::string& file, const Vec3& from, const Vec3& to, bool json, Job& job) {
  const auto space = meshfile::readSpace(file);
  if (!space) return fail(space.problem());
  const auto widest = pipeline::widestFlyer(pipeline::inputOf(**space), from, to, job);
  if (!widest) return fail(widest.problem());
  const bool any = widest->radius > 0;
  if (json) {
    Json j{{"radius", widest->radius}, {"halfHeight", widest->halfHeight}};
    if (any) j["at"] = pointJson(widest->at), j["object"] = widest->object;
    printJson(j);
  } else if (any) {
    std::printf("a body of radius %.3f m and half height %.3f m gets there; at %.2f,%.2f,%.2f \"%s\" lets no larger one through\n",
                widest->radius, widest->halfHeight, widest->at.x, widest->at.y, widest->at.z, widest->object.c_str());
  } else {
    std::printf("no body of these proportions gets there\n");
  }
  return any ? 0 : 1;
}

Result<std::vector<review::Finding>> inspectSpace(const std::string& file, const trace::Trace* trace, const review::MovementLimits& limits,
                                                  Job& job) {
  const auto space = meshfile::readSpace(file);
  if (!space) return space.problem();
  std::vector<review::Finding> findings = review::reviewSpace(**space);
  if (!trace) return findings;
  const flight::Space* const spaces[] = {space->get()};
  auto moved = review::reviewFlight(spaces, {}, *trace, limits, job);
  if (!moved) return moved.problem();
  findings.insert(findings.end(), std::make_move_iterator(moved->begin()), std::make_move_iterator(moved->end()));
  return findings;
}

}  // namespace dune::batch
