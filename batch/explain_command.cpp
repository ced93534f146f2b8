#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "core/ground/explain.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/ground.h"
#include "core/project/file.h"

namespace dune::batch {

namespace {

struct Flags {
  std::string input;
  BuildFlags build;
  PointFlag at;
  bool json = false;
};

struct Question {
  level::World world;
  level::Agent agent;
};

Result<Question> question(const Flags& flags, Job& job) {
  if (!isProject(flags.input)) {
    if (auto problem = level::checkAgent(flags.build.agent)) return *problem;
    auto world = flags.build.world({flags.input}, job);
    if (!world) return world.problem();
    return Question{*std::move(world), flags.build.agent};
  }
  const auto project = project::load(flags.input);
  if (!project) return project.problem();
  const auto agent = agentNamed(*project, flags.build.agentName);
  if (!agent) return agent.problem();
  const auto level = pipeline::loadLevel(*project, flags.input, job);
  if (!level) return level.problem();
  return Question{pipeline::makeWorld(*project, (*level)->level, *agent), project->agents->agents[*agent]};
}

int run(const Flags& flags) {
  const auto at = flags.at.value();
  if (!at) return fail(at.problem());
  Job job(interrupted(), progress());
  job.setMemoryLimit(flags.build.maxMemory);
  auto asked = question(flags, job);
  if (!asked) return fail(asked.problem());
  const auto answer = pipeline::explainPlace(asked->world, asked->agent, *at, job);
  if (!answer) return fail(answer.problem());
  const ground::Explanation& e = answer->first;
  if (flags.json) {
    nlohmann::ordered_json j{{"walkable", e.verdict == ground::Verdict::walkable},
                             {"reason", ground::verdictName(e.verdict)},
                             {"measured", e.measured},
                             {"limit", e.limit},
                             {"object", e.object},
                             {"surface", e.surface},
                             {"at", {e.at.x, e.at.y, e.at.z}},
                             {"sentence", e.sentence}};
    if (e.verdict == ground::Verdict::nearEnd && std::isfinite(e.rise)) j["rise"] = e.rise;
    auto& reasons = j["reasons"] = nlohmann::ordered_json::array();
    for (const ground::Hindrance& h : answer->all)
      reasons.push_back({{"reason", ground::verdictName(h.verdict)}, {"measured", h.measured}, {"limit", h.limit}, {"object", h.object},
                         {"sentence", h.sentence}, {"change", h.change}});
    std::printf("%s\n", j.dump(1).c_str());
  } else {
    std::printf("%s\n", e.sentence.c_str());
    for (const ground::Hindrance& h : answer->all) std::printf("- %s It would take %s.\n", h.sentence.c_str(), h.change.c_str());
  }
  return e.verdict == ground::Verdict::walkable ? 0 : 1;
}

}  // namespace

std::function<int()> setUpExplain(CLI::App& app) {
  auto flags = std::make_shared<Flags>();
  app.add_option("input", flags->input, "A level file or a project")->required();
  flags->at.add(app, "--at", "The place to explain")->required();
  flags->build.add(app);
  app.add_flag("--json", flags->json, "One JSON document");
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
