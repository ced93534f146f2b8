#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "batch/flight_commands.h"
#include "core/meshes/mesh_files.h"
#include "core/pipeline/content.h"
#include "core/project/file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

struct BuildCommandFlags {
  std::vector<std::string> inputs;
  std::string out;
  BuildFlags build;
  FlyFlags fly;
  int threads = 0;
  std::string box;
  bool json = false;
};

struct Made {
  meshes::Content content;
  double seconds;
  std::size_t triangles, limits;
  std::vector<links::Broken> broken;
  std::vector<links::Beyond> beyond;
};

Result<Made> fromProject(const BuildCommandFlags& flags, const generate::Scope& scope, Job& job) {
  const auto project = project::load(flags.inputs[0]);
  if (!project) return project.problem();
  const auto agent = agentNamed(*project, flags.build.agentName);
  if (!agent) return agent.problem();
  const auto level = pipeline::loadLevel(*project, flags.inputs[0], job);
  if (!level) return level.problem();
  const auto ground = pipeline::makeGround(*project, (*level)->level, *agent, nullptr, job, scope);
  if (!ground) return ground.problem();
  const generate::Built& built = *(*ground)->built;
  return Made{pipeline::contentOf(**ground),   built.seconds,     built.survey->triangleCount(),
              built.clearance.limits().size(), (*ground)->broken, (*ground)->beyond};
}

Result<Made> fromLevels(const BuildCommandFlags& flags, const generate::Scope& scope, Job& job) {
  if (auto problem = nav::checkAgent(flags.build.agent)) return *problem;
  const auto world = flags.build.world(flags.inputs, job);
  if (!world) return world.problem();
  level::World asked = *world;
  asked.findLinks = flags.build.agent.maxDrop > 0 || flags.build.agent.maxJump > 0;
  const auto built = generate::build(asked, flags.build.agent, job, nullptr, scope);
  if (!built) return built.problem();
  return Made{{(*built)->mesh, level::rulesFor(world->kinds, flags.build.agent)},
              (*built)->seconds,
              (*built)->survey->triangleCount(),
              (*built)->clearance.limits().size(),
              {},
              {}};
}

Result<generate::Scope> scopeOf(const std::string& box) {
  if (box.empty()) return generate::Scope{};
  const auto sides = parsePlanBox(box, "--box");
  if (!sides) return sides.problem();
  return generate::Scope{generate::Scope::Kind::box, *sides};
}

int run(const BuildCommandFlags& flags) {
  ThreadedJob job(interrupted(), progress(), flags.threads);
  job.setMemoryLimit(flags.build.maxMemory);
  const bool project = isProject(flags.inputs[0]);
  if (project && flags.inputs.size() > 1)
    return fail({ProblemCode::usage, "A project is built alone.", flags.inputs[1], "one project, or several level files."});
  if (flags.fly.fly) return buildFlight(flags.inputs, flags.build, flags.fly, flags.out, flags.json, job);
  const auto scope = scopeOf(flags.box);
  if (!scope) return fail(scope.problem());
  const auto outcome = project ? fromProject(flags, *scope, job) : fromLevels(flags, *scope, job);
  if (!outcome) return fail(outcome.problem());
  const nav::NavMesh& mesh = outcome->content.mesh;
  const double forbidden = nav::forbiddenArea(mesh, outcome->content.rules), area = nav::totalArea(mesh) - forbidden;
  if (const auto written = meshes::writeMesh(flags.out, outcome->content); !written) return fail(written.problem());
  const nlohmann::ordered_json statistics{{"triangles", outcome->triangles},
                                          {"limits", outcome->limits},
                                          {"faces", mesh.faceCount()},
                                          {"vertices", mesh.vertices.size()},
                                          {"area", area},
                                          {"forbiddenArea", forbidden},
                                          {"islands", nav::countIslands(mesh)},
                                          {"links", mesh.links.size()},
                                          {"brokenLinks", outcome->broken.size()},
                                          {"seconds", outcome->seconds},
                                          {"out", flags.out}};
  if (flags.json)
    printJson(statistics);
  else
    std::fprintf(stderr, "%zu faces, %.1f m², %zu islands, %zu links in %.2f s: %s\n", mesh.faceCount(), area, nav::countIslands(mesh),
                 mesh.links.size(), outcome->seconds, flags.out.c_str());
  for (const links::Beyond& b : outcome->beyond) std::fprintf(stderr, "link %d is left out: %s\n", b.id, b.why.c_str());
  for (const links::Broken& b : outcome->broken) std::fprintf(stderr, "link %d is left out: %s\n", b.id, b.why.c_str());
  return 0;
}

}  // namespace

std::function<int()> setUpBuild(CLI::App& app) {
  auto flags = std::make_shared<BuildCommandFlags>();
  app.add_option("input", flags->inputs, "Level files, or one project")->required();
  app.add_option("-o,--out", flags->out, "Mesh to write: .dsmesh, .json, .obj or .glb; with --fly a .dsfly")->required();
  flags->build.add(app);
  app.add_option("--box", flags->box, "Build only the squares of the plan that this box touches")->type_name("X0,Z0,X1,Z1");
  flags->fly.add(app);
  app.add_option("--threads", flags->threads, "Threads to use; 0: all")->check(CLI::Range(0, 1024));
  app.add_flag("--json", flags->json, "Build statistics as JSON on standard output");
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
