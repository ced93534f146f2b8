#include <algorithm>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/crowd_scene.h"
#include "batch/flags.h"
#include "batch/flight_commands.h"
#include "core/base/file.h"
#include "core/meshfile/space_file.h"
#include "core/pipeline/crowd_run.h"
#include "core/project/crowd_json.h"
#include "core/review/movement.h"
#include "core/system/threads.h"
#include "core/trace/file.h"

namespace dune::batch {

namespace {

Result<crowd::Crowd> crowdOf(const CrowdFlags& flags, const CrowdInput& input, const std::optional<crowd::SteeringSettings>& instead) {
  crowd::SceneOptions options = input.options;
  if (instead) std::ranges::fill(options.steerings, *instead);
  auto crowd = crowd::Crowd::make(input.fields, input.walkers, options);
  if (crowd || crowd.problem().where.empty() || flags.agents.empty()) return crowd;
  // A number in the file that makes no sense is the file's fault, not the command line's.
  Problem problem = crowd.problem().within(flags.agents);
  problem.code = ProblemCode::damaged;
  return problem;
}

int runOne(const CrowdFlags& flags, const CrowdInput& input, Job& job) {
  const auto steering = steeringOf(flags);
  if (!steering) return fail(steering.problem());
  auto crowd = crowdOf(flags, input, *steering);
  if (!crowd) return fail(crowd.problem());
  auto sink = trace::createTrace(flags.out);
  if (!sink) return fail(sink.problem());
  job.step("crowd", 1);
  if (const auto recorded = trace::record(crowd.value(), input.seconds, **sink, job); !recorded) return fail(recorded.problem());
  const auto arrived = std::ranges::count(crowd->bodies(), crowd::State::arrived, &crowd::BodyState::state);
  std::fprintf(stderr, "%zd of %zu agents arrived within %.1f s: %s\n", arrived, crowd->size(), input.seconds, flags.out.c_str());
  return 0;
}

/// "run.csv" for the second settings is "run-b.csv".
std::string beside(const std::string& out, const char* which) {
  const std::size_t dot = out.find_last_of('.');
  return dot == std::string::npos ? out + which : out.substr(0, dot) + which + out.substr(dot);
}

Result<pipeline::RunFigures> figuresOf(const CrowdFlags& flags, const CrowdInput& input, const std::string& settings,
                                       const std::string& out, Job& job) {
  const auto text = readFile(settings);
  if (!text) return text.problem();
  const auto steering = project::steeringFromText(*text);
  if (!steering) return steering.problem().within(settings);
  auto crowd = crowdOf(flags, input, *steering);
  if (!crowd) return crowd.problem();
  trace::Trace trace;
  const auto took = pipeline::recordTimed(crowd.value(), input.seconds, trace, job);
  if (!took) return took.problem();
  std::vector<review::Ground> grounds;
  for (const route::Field* field : input.fields) grounds.push_back({field->mesh(), field->locator(), field});
  std::vector<std::size_t> groundOf;
  for (std::size_t i = 0; i < crowd->size(); ++i) groundOf.push_back(crowd->walker(i).mesh);
  const auto findings = review::reviewMovement(grounds, groundOf, trace, {}, job);
  if (!findings) return findings.problem();
  if (auto written = trace::writeTrace(out, trace); !written) return written.problem();
  return pipeline::figuresOf(trace, *findings, *took);
}

int compare(const CrowdFlags& flags, const CrowdInput& input, Job& job) {
  pipeline::RunFigures runs[2];
  for (const std::size_t i : {0u, 1u}) {
    job.step("crowd", i == 0 ? 0.5 : 1);
    auto figures = figuresOf(flags, input, flags.compare[i], beside(flags.out, i == 0 ? "-a" : "-b"), job);
    if (!figures) return fail(figures.problem());
    runs[i] = *figures;
  }
  const auto &a = runs[0], &b = runs[1];
  if (flags.json) {
    nlohmann::ordered_json j{{"agents", a.bodies}, {"seconds", input.seconds}};
    for (const pipeline::Figure& f : pipeline::figures()) j[f.name] = {{"a", a.*f.value}, {"b", b.*f.value}};
    printJson(j);
    return 0;
  }
  std::printf("%-14s %12s %12s %12s  (%.0f agents, %.0f s)\n", "", "A", "B", "B - A", a.bodies, input.seconds);
  for (const pipeline::Figure& f : pipeline::figures())
    std::printf("%-14s %12.*f %12.*f %+12.*f  %s\n", f.name, f.digits, a.*f.value, f.digits, b.*f.value, f.digits, b.*f.value - a.*f.value,
                f.unit);
  return 0;
}

int run(const CrowdFlags& flags) {
  if (!flags.compare.empty() && !(flags.steering.empty() && flags.set.empty()))
    return fail({ProblemCode::usage, "--compare says how both runs steer.", "--steering", "leaving out --steering and --set."});
  if (const auto steering = steeringOf(flags); !steering) return fail(steering.problem());
  ThreadedJob job(interrupted(), progress(), flags.threads);
  job.setMemoryLimit(flags.maxMemory);
  if (flags.fly || meshfile::isSpaceFile(flags.input)) {
    if (!flags.scene.empty() || !flags.agent.empty() || !flags.steering.empty() || !flags.set.empty() || !flags.compare.empty())
      return fail({ProblemCode::usage, "Who flies has no --scene, --agent, --steering, --set or --compare.", "crowd", "leaving them out."});
    return crowdInSpace({flags.input, flags.agents, flags.out, flags.seconds, flags.rate, flags.json, flags.among}, job);
  }
  if (!flags.among.empty())
    return fail({ProblemCode::usage, "Only who flies goes --among recorded movement.", "--among", "--fly, or a .dsfly."});
  job.step("ground", 0.3);
  const auto input = crowdInput(flags, job);
  if (!input) return fail(input.problem());
  for (const review::Finding& f : input->findings) std::fprintf(stderr, "%s\n", f.sentence.c_str());
  return flags.compare.empty() ? runOne(flags, *input, job) : compare(flags, *input, job);
}

}  // namespace

std::function<int()> setUpCrowd(CLI::App& app) {
  auto flags = std::make_shared<CrowdFlags>();
  std::vector<std::string> names;
  for (std::size_t i = 0; i < crowd::kSteerings; ++i) names.emplace_back(crowd::steeringName(static_cast<crowd::Steering>(i)));
  app.add_option("input", flags->input, "A .dsmesh or .json mesh, a .dsfly, or a project")->required();
  app.add_flag("--fly", flags->fly, "Of a project: the groups that fly, in place of those that walk");
  app.add_option("--among", flags->among, "Who flies makes way for the bodies of a recording: people who walk, from its first time on");
  app.add_option("--agents", flags->agents, "CSV: id,x,y,z,goal_x,goal_y,goal_z,radius,speed,…; needed with a mesh");
  app.add_option("--scene", flags->scene, "Which scene of the project walks");
  app.add_option("--agent", flags->agent, "The kind of agent of groups that name none; the first of the project otherwise");
  app.add_option("--seconds", flags->seconds, "How long to let them walk; a project says it itself")->check(CLI::Range(0.0, 86400.0));
  app.add_option("--rate", flags->rate, "Steps a second")->capture_default_str();
  app.add_option("--steering", flags->steering, "How all of them steer")->check(CLI::IsMember(names));
  app.add_option("--set", flags->set, "NAME=NUMBER, how it steers: look-ahead, range, side …");
  app.add_option("--compare", flags->compare, "Two files of settings: both runs are recorded and set side by side")->expected(2);
  app.add_option("--threads", flags->threads, "Threads to use; 0: all")->check(CLI::Range(0, 1024));
  addMaxMemory(app, flags->maxMemory);
  app.add_flag("--json", flags->json, "The comparison as one JSON document");
  app.add_option("-o,--out", flags->out, "Trace to write: .csv, or .dstrace, which is compact")->required();
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
