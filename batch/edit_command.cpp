// "edit" makes changes by hand in a project, or in a mesh from elsewhere, from a script; and mends what is wrong with such a mesh.

#include <cstdio>

#include "batch/flags.h"
#include "core/base/file.h"
#include "core/exchange/hand_script.h"
#include "core/meshes/given_project.h"
#include "core/meshes/mesh_files.h"
#include "core/pipeline/content.h"
#include "core/pipeline/mend.h"
#include "core/project/file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

struct EditFlags {
  std::string input, script, out, up = "y", agent;
  std::vector<std::string> mend;
  double scale = 1;
};

Result<project::Project> projectOf(const EditFlags& flags) {
  if (isProject(flags.input)) return project::load(flags.input);
  level::ImportOptions import;
  import.scale = flags.scale, import.up = flags.up == "z" ? level::UpAxis::z : level::UpAxis::y;
  return meshes::withGivenMesh({}, flags.input, flags.input, import);
}

/// "all", or kinds of findings.
Outcome mend(const EditFlags& flags, project::Project& project, std::shared_ptr<const level::Level> level, Job& job) {
  const auto agent = agentNamed(project, flags.agent);
  if (!agent) return agent.problem();
  for (const std::string& what : flags.mend) {
    auto mended = pipeline::mendAll(std::move(project), level, *agent, what == "all" ? "" : what, job);
    if (!mended) return mended.problem();
    project = std::move(mended->project);
    std::printf("%s: %zu mended, %zu left%s\n", what.c_str(), mended->done, mended->left,
                mended->firstLeft ? (": " + mended->firstLeft->text()).c_str() : "");
  }
  return Nothing{};
}

Outcome write(const EditFlags& flags, project::Project project, std::shared_ptr<const level::Level> level, Job& job) {
  if (!isProject(flags.out)) {
    const auto agent = agentNamed(project, flags.agent);
    if (!agent) return agent.problem();
    const auto ground = pipeline::makeGround(project, level, *agent, nullptr, job);
    if (!ground) return ground.problem();
    return meshes::writeMesh(flags.out, pipeline::contentOf(**ground));
  }
  // Files are named from where the project lies.
  project::edit(project.level, [&](project::LevelSection& s) {
    project::changePaths(s, [&](const std::string& path) {
      const std::string from = isProject(flags.input) ? project::levelPath(path, flags.input) : path;
      return project::storedPath(from, flags.out);
    });
  });
  return project::save(flags.out, project);
}

int runEdit(EditFlags flags) {
  ThreadedJob job(interrupted(), progress());
  if (flags.script.empty() && flags.mend.empty())
    return fail({ProblemCode::usage, "Nothing is to be done.", flags.input, "--script FILE, or --mend all."});
  if (flags.out.empty() && !isProject(flags.input))
    return fail({ProblemCode::usage, "It is not said where the mesh goes.", flags.input, "--out with a project or a mesh file."});
  if (flags.out.empty()) flags.out = flags.input;
  auto project = projectOf(flags);
  if (!project) return fail(project.problem());
  const auto level = pipeline::loadLevel(*project, flags.input, job);
  if (!level) return fail(level.problem());
  if (const auto done = mend(flags, project.value(), (*level)->level, job); !done) return fail(done.problem());
  if (!flags.script.empty()) {
    const auto script = readFile(flags.script);
    if (!script) return fail(script.problem());
    auto changed = exchange::runHandScript(*script, *std::move(project), (*level)->level, job);
    if (!changed) return fail(changed.problem().within(flags.script));
    project = std::move(changed);
  }
  const std::size_t patches = project->hand->patches.size(), parts = project->hand->parts.size();
  if (const auto saved = write(flags, *std::move(project), (*level)->level, job); !saved) return fail(saved.problem());
  std::printf("%zu patches, %zu parts: %s\n", patches, parts, flags.out.c_str());
  return 0;
}

}  // namespace

std::function<int()> setUpEdit(CLI::App& app) {
  auto flags = std::make_shared<EditFlags>();
  app.add_option("input", flags->input, "A project, or a mesh: .obj, .glb, .gltf, .ply, .stl, .dsmesh or .json")->required();
  app.add_option("--script", flags->script, "The changes, as JSON");
  app.add_option("--mend", flags->mend, "What is mended of a mesh from elsewhere: all, or kinds of findings such as needle-face")
      ->delimiter(',');
  app.add_option("--agent", flags->agent, "The project's agent whose mesh is mended or written");
  app.add_option("--out", flags->out, "A project or a mesh to write; the project itself unless said");
  app.add_option("--scale", flags->scale, "Metres a unit of the mesh")->check(CLI::Range(1e-6, 1e6))->capture_default_str();
  app.add_option("--up", flags->up, "The axis of the mesh that is up")->check(CLI::IsMember({"y", "z"}))->capture_default_str();
  return [flags] { return runEdit(*flags); };
}

}  // namespace dune::batch
