#include <algorithm>
#include <cstdio>

#include "batch/flags.h"
#include "core/base/file.h"
#include "core/exchange/csv.h"
#include "core/exchange/mesh_files.h"
#include "core/system/threads.h"
#include "core/trace/file.h"

namespace dune::batch {

namespace {

struct Flags {
  std::string mesh, agents, out, steering = "reciprocal";
  double seconds = 30, rate = 30;
  int threads = 0;
};

int run(const Flags& flags) {
  const auto content = exchange::readMesh(flags.mesh);
  if (!content) return fail(content.problem());
  const nav::Agent& agent = content->mesh.agent;
  const auto text = readFile(flags.agents);
  if (!text) return fail(text.problem());
  crowd::Walker like;
  like.radius = agent.radius, like.speed = agent.speed, like.acceleration = agent.acceleration;
  like.turnRate = agent.turnRate, like.arriveWithin = agent.arriveWithin, like.passWithin = agent.passWithin;
  const auto walkers = exchange::walkersFromCsv(*text, like, agent.originHeight);
  if (!walkers) return fail(walkers.problem().within(flags.agents));
  ThreadedJob job(interrupted(), progress(), flags.threads);
  job.step("crowd", 1);
  crowd::SceneOptions options;
  options.rate = flags.rate;
  const route::Field field(content->mesh, content->rules);
  auto crowd = crowd::Crowd::make(field, *walkers, options);
  if (!crowd) {
    // A number in the file that makes no sense is the file's fault, not the command line's.
    Problem problem = crowd.problem();
    if (!problem.where.empty()) problem.code = ProblemCode::damaged, problem = problem.within(flags.agents);
    return fail(problem);
  }
  auto sink = trace::createTrace(flags.out, agent.originHeight);
  if (!sink) return fail(sink.problem());
  if (const auto recorded = trace::record(crowd.value(), flags.seconds, **sink, job); !recorded) return fail(recorded.problem());
  const auto arrived = std::ranges::count(crowd->bodies(), crowd::State::arrived, &crowd::BodyState::state);
  std::fprintf(stderr, "%zd of %zu agents arrived within %.1f s: %s\n", arrived, crowd->size(), flags.seconds, flags.out.c_str());
  return 0;
}

}  // namespace

std::function<int()> setUpCrowd(CLI::App& app) {
  auto flags = std::make_shared<Flags>();
  app.add_option("mesh", flags->mesh, "A .dsmesh or .json mesh")->required();
  app.add_option("--agents", flags->agents, "CSV: id,x,y,z,goal_x,goal_y,goal_z,radius,speed")->required();
  app.add_option("--seconds", flags->seconds, "How long to let them walk")->check(CLI::Range(0.0, 86400.0))->required();
  app.add_option("--rate", flags->rate, "Steps a second")->capture_default_str();
  app.add_option("--steering", flags->steering, "How they avoid each other: reciprocal")
      ->check(CLI::IsMember({"reciprocal"}))
      ->capture_default_str();
  app.add_option("--threads", flags->threads, "Threads to use; 0: all")->check(CLI::Range(0, 1024));
  app.add_option("-o,--out", flags->out, "Trace to write: .csv, or .dstrace, which is compact")->required();
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
