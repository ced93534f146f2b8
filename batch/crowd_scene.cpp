#include "batch/crowd_scene.h"

#include <algorithm>

#include "batch/flags.h"
#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/exchange/csv.h"
#include "core/project/file.h"

namespace dune::batch {

namespace {

crowd::Walker likeOf(const nav::Agent& agent) {
  crowd::Walker like;
  like.radius = agent.radius, like.speed = agent.speed, like.acceleration = agent.acceleration;
  like.turnRate = agent.turnRate, like.arriveWithin = agent.arriveWithin, like.passWithin = agent.passWithin,
  like.originHeight = agent.originHeight;
  return like;
}

/// Agents from a table. `kinds`: what their column "kind" may name, the first where it says nothing; `rules`: what "rules" may.
Outcome readTable(const std::string& file, const std::vector<nav::Agent>& kinds, const std::vector<std::string>& rules, CrowdInput& input) {
  const auto text = readFile(file);
  if (!text) return text.problem();
  std::vector<exchange::CrowdKind> like;
  for (const nav::Agent& kind : kinds) like.push_back({kind.name, likeOf(kind), kind.originHeight});
  auto table = exchange::crowdFromCsv(*text, like, rules);
  if (!table) return table.problem().within(file);
  input.walkers = std::move(table->walkers), input.options.steerings = std::move(table->steerings);
  return Nothing{};
}

Result<CrowdInput> ofMesh(const CrowdFlags& flags) {
  if (flags.agents.empty())
    return Problem{ProblemCode::usage, "A mesh alone has nobody to walk on it.", "--agents", "a table of agents, or a project."};
  if (!flags.scene.empty()) return Problem{ProblemCode::usage, "Only projects have scenes.", "--scene", "a .dunestep file."};
  if (!flags.seconds) return Problem{ProblemCode::usage, "How long are they to walk?", "--seconds", "a number of seconds."};
  auto content = meshes::readMesh(flags.input);
  if (!content) return content.problem();
  CrowdInput input;
  input.mesh = std::make_unique<meshfile::Content>(*std::move(content));
  const auto layout = std::make_shared<const route::Layout>(input.mesh->mesh);
  input.own.push_back(std::make_unique<const route::Field>(layout, input.mesh->rules));
  std::vector<std::string> rules;
  for (const meshfile::NamedRules& n : input.mesh->named)
    rules.push_back(n.name), input.own.push_back(std::make_unique<const route::Field>(layout, n.rules));
  for (const auto& field : input.own) input.fields.push_back(field.get());
  input.seconds = *flags.seconds;
  if (auto read = readTable(flags.agents, {input.mesh->mesh.agent}, rules, input); !read) return read.problem();
  return input;
}

Outcome takeScene(const CrowdFlags& flags, const pipeline::KindGrounds& grounds, std::size_t agent, CrowdInput& input) {
  const auto scenes = project::scenesOf(*input.project->crowd);
  if (std::ranges::find(scenes, flags.scene) == scenes.end()) {
    std::string all;
    for (const std::string& s : scenes) all += (all.empty() ? "\"" : ", \"") + s + "\"";
    return Problem{ProblemCode::usage, "The project has no scene named \"" + flags.scene + "\".", "--scene", "one of " + all + "."};
  }
  auto scene = pipeline::makeScene(*input.project, grounds, agent, flags.scene);
  if (!scene) return scene.problem().within(flags.input);
  input.walkers = std::move(scene->walkers), input.options = std::move(scene->options), input.grounds = std::move(scene->grounds);
  input.fields = std::move(scene->fields), input.findings = std::move(scene->findings);
  return Nothing{};
}

Result<CrowdInput> ofProject(const CrowdFlags& flags, Job& job) {
  auto project = project::load(flags.input);
  if (!project) return project.problem();
  CrowdInput input;
  input.project = std::make_unique<project::Project>(*std::move(project));
  const auto level = pipeline::loadLevel(*input.project, flags.input, job);
  if (!level) return level.problem();
  const auto agent = agentNamed(*input.project, flags.agent);
  if (!agent) return agent.problem();
  const auto& agents = input.project->agents->agents;
  const auto made = groundsFor(*input.project, (*level)->level, *agent, flags.scene, !flags.agents.empty(), job);
  if (!made) return made.problem();
  const pipeline::KindGrounds& grounds = *made;
  input.seconds = flags.seconds.value_or(input.project->crowd->seconds);
  if (flags.agents.empty()) {
    if (auto taken = takeScene(flags, grounds, *agent, input); !taken) return taken.problem();
    return input;
  }
  for (const auto& ground : grounds) input.grounds.push_back(ground), input.fields.push_back(ground->field.get());
  if (auto read = readTable(flags.agents, std::vector<nav::Agent>(agents.begin(), agents.end()), {}, input); !read) return read.problem();
  return input;
}

}  // namespace

Result<pipeline::KindGrounds> groundsFor(const project::Project& project, const std::shared_ptr<const level::Level>& level,
                                         std::size_t agent, const std::string& scene, bool all, Job& job) {
  const auto& agents = project.agents->agents;
  pipeline::KindGrounds grounds(agents.size());
  for (std::size_t i = 0; i < agents.size(); ++i) {
    const bool asked =
        std::ranges::any_of(project.crowd->groups, [&](const auto& g) { return g.scene == scene && g.agent == agents[i].id; });
    if (!all && i != agent && !asked) continue;
    auto ground = pipeline::makeGround(project, level, i, nullptr, job);
    if (!ground) return ground.problem();
    grounds[i] = *ground;
  }
  return grounds;
}

Result<CrowdInput> crowdInput(const CrowdFlags& flags, Job& job) {
  auto input = isProject(flags.input) ? ofProject(flags, job) : ofMesh(flags);
  if (input) input->options.rate = flags.rate;
  return input;
}

Result<std::optional<crowd::SteeringSettings>> steeringOf(const CrowdFlags& flags) {
  if (flags.steering.empty() && flags.set.empty()) return std::optional<crowd::SteeringSettings>();
  crowd::SteeringSettings settings;
  if (!flags.steering.empty()) settings.model = crowd::steeringNamed(flags.steering).value_or(settings.model);
  for (const std::string& one : flags.set) {
    const std::size_t at = one.find('=');
    const auto value = at == std::string::npos ? std::nullopt : numberFrom(std::string_view(one).substr(at + 1));
    if (!value) return Problem{ProblemCode::usage, "\"" + one + "\" sets nothing.", "--set", "NAME=NUMBER, like look-ahead=1."};
    if (const auto set = crowd::setParameter(settings, std::string_view(one).substr(0, at), *value); !set)
      return set.problem().within("--set");
  }
  return std::optional(settings);
}

}  // namespace dune::batch
