#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "batch/flight_commands.h"
#include "core/ground/explain.h"
#include "core/meshfile/space_file.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/ground.h"
#include "core/project/file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

struct ExplainFlags {
  std::string input;
  BuildFlags build;
  PointFlag at;
  bool json = false;
};

struct Question {
  level::World world;
  nav::Agent agent;
  std::shared_ptr<const pipeline::Ground> given{};  ///< where it is not the level that decides, but a mesh from elsewhere
};

Result<Question> question(const ExplainFlags& flags, Job& job) {
  if (!isProject(flags.input)) {
    if (auto problem = nav::checkAgent(flags.build.agent)) return *problem;
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
  const project::AgentKind& kind = project->agents->agents[*agent];
  Question asked{pipeline::makeWorld(*project, (*level)->level, *agent), kind};
  if (!project::givenFor(*project->level, kind.id)) return asked;
  auto ground = pipeline::makeGround(*project, (*level)->level, *agent, nullptr, job);
  if (!ground) return ground.problem();
  asked.given = *std::move(ground);
  return asked;
}

int run(const ExplainFlags& flags) {
  const auto at = flags.at.value();
  if (!at) return fail(at.problem());
  if (meshfile::isSpaceFile(flags.input)) return explainInSpace(flags.input, *at, flags.json);
  ThreadedJob job(interrupted(), progress());
  job.setMemoryLimit(flags.build.maxMemory);
  auto asked = question(flags, job);
  if (!asked) return fail(asked.problem());
  const auto answer = asked->given ? Result<ground::Explanation>(pipeline::Explainer().at(*asked->given, *at))
                                   : pipeline::explainPlace(asked->world, asked->agent, *at, job);
  if (!answer) return fail(answer.problem());
  const ground::Hindrance& decides = answer->decides;
  if (flags.json) {
    nlohmann::ordered_json j{{"walkable", answer->walkable()},
                             {"reason", ground::verdictName(decides.verdict)},
                             {"measured", decides.measured},
                             {"limit", decides.limit},
                             {"object", decides.object},
                             {"surface", answer->surface},
                             {"at", {answer->at.x, answer->at.y, answer->at.z}},
                             {"sentence", answer->sentence}};
    if (std::isfinite(decides.rise)) j["rise"] = decides.rise;
    if (asked->agent.crouches()) j["crouching"] = answer->upright.has_value();
    auto& reasons = j["reasons"] = nlohmann::ordered_json::array();
    for (const ground::Hindrance& h : answer->all)
      reasons.push_back({{"reason", ground::verdictName(h.verdict)},
                         {"measured", h.measured},
                         {"limit", h.limit},
                         {"object", h.object},
                         {"clause", h.clause()},
                         {"change", h.change}});
    printJson(j);
  } else {
    std::printf("%s\n", answer->sentence.c_str());
    for (const ground::Hindrance& h : answer->all) std::printf("- %s: it would take %s\n", h.clause().c_str(), h.change.c_str());
  }
  return answer->walkable() ? 0 : 1;
}

}  // namespace

std::function<int()> setUpExplain(CLI::App& app) {
  auto flags = std::make_shared<ExplainFlags>();
  app.add_option("input", flags->input, "A level file, a project, or a .dsfly")->required();
  flags->at.add(app, "--at", "The place to explain")->required();
  flags->build.add(app);
  app.add_flag("--json", flags->json, "One JSON document");
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
