#include <cstdio>

#include "batch/flags.h"
#include "core/base/file.h"
#include "core/exchange/csv.h"
#include "core/exchange/mesh_files.h"

namespace dune::batch {

namespace {

struct Flags {
  std::string mesh, agents, out, steering = "reciprocal";
  double seconds = 30, rate = 30;
  int threads = 0;
};

int run(const Flags& flags) {
  const auto mesh = exchange::readMesh(flags.mesh);
  if (!mesh) return fail(mesh.problem());
  const auto text = readFile(flags.agents);
  if (!text) return fail(text.problem());
  crowd::Walker like;
  like.radius = mesh->agent.radius, like.speed = mesh->agent.speed, like.acceleration = mesh->agent.acceleration;
  like.turnRate = mesh->agent.turnRate, like.arriveWithin = mesh->agent.arriveWithin, like.passWithin = mesh->agent.passWithin;
  const auto walkers = exchange::walkersFromCsv(*text, like);
  if (!walkers) return fail(walkers.problem().within(flags.agents));
  Job job(interrupted(), progress(), flags.threads);
  job.step("crowd", 1);
  crowd::SceneOptions options;
  options.seconds = flags.seconds, options.rate = flags.rate;
  const route::Field field(*mesh);
  auto trace = crowd::run(field, *walkers, options, job);
  if (!trace) {
    // A number in the file that makes no sense is the file's fault, not the command line's.
    Problem problem = trace.problem();
    if (problem.code == ProblemCode::usage && !problem.where.empty())
      problem.code = ProblemCode::damaged, problem = problem.within(flags.agents);
    return fail(problem);
  }
  if (const auto written = writeFile(flags.out, exchange::traceToCsv(*trace, mesh->agent.originHeight)); !written)
    return fail(written.problem());
  std::size_t arrived = 0;
  if (trace->frameCount() > 0)
    for (std::size_t b = 0; b < trace->ids.size(); ++b) arrived += trace->at(trace->frameCount() - 1, b).state == crowd::State::arrived;
  std::fprintf(stderr, "%zu of %zu agents arrived within %.1f s: %s\n", arrived, trace->ids.size(), flags.seconds, flags.out.c_str());
  return 0;
}

}  // namespace

std::function<int()> setUpCrowd(CLI::App& app) {
  auto flags = std::make_shared<Flags>();
  app.add_option("mesh", flags->mesh, "A .dsmesh or .json mesh")->required();
  app.add_option("--agents", flags->agents, "CSV: id,x,y,z,goal_x,goal_y,goal_z,radius,speed")->required();
  app.add_option("--seconds", flags->seconds, "How long to let them walk")->required();
  app.add_option("--rate", flags->rate, "Steps a second")->capture_default_str();
  app.add_option("--steering", flags->steering, "How they avoid each other: reciprocal")
      ->check(CLI::IsMember({"reciprocal"}))
      ->capture_default_str();
  app.add_option("--threads", flags->threads, "Threads to use; 0: all")->check(CLI::Range(0, 1024));
  app.add_option("-o,--out", flags->out, "Trace to write (CSV)")->required();
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
