// "edit" makes changes by hand in a project, from a script.

#include <cstdio>

#include "batch/flags.h"
#include "core/base/file.h"
#include "core/exchange/hand_script.h"
#include "core/project/file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

struct Flags {
  std::string project, script, out;
};

int runEdit(const Flags& flags) {
  ThreadedJob job(interrupted(), progress());
  const auto project = project::load(flags.project);
  if (!project) return fail(project.problem());
  const auto script = readFile(flags.script);
  if (!script) return fail(script.problem());
  const auto level = pipeline::loadLevel(*project, flags.project, job);
  if (!level) return fail(level.problem());
  auto changed = exchange::runHandScript(*script, *project, (*level)->level, job);
  if (!changed) return fail(changed.problem().within(flags.script));
  const std::string& out = flags.out.empty() ? flags.project : flags.out;
  if (const auto saved = project::save(out, *changed); !saved) return fail(saved.problem());
  std::printf("%zu patches, %zu parts: %s\n", changed->hand->patches.size(), changed->hand->parts.size(), out.c_str());
  return 0;
}

}  // namespace

std::function<int()> setUpEdit(CLI::App& app) {
  auto flags = std::make_shared<Flags>();
  app.add_option("project", flags->project, "The project")->required();
  app.add_option("--script", flags->script, "The changes, as JSON")->required();
  app.add_option("--out", flags->out, "Where the changed project is written; the project itself unless said");
  return [flags] { return runEdit(*flags); };
}

}  // namespace dune::batch
