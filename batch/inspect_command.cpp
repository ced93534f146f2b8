#include <cstdio>
#include <nlohmann/json.hpp>

#include "batch/crowd_scene.h"
#include "batch/flags.h"
#include "core/base/file.h"
#include "core/exchange/csv.h"
#include "core/exchange/mesh_files.h"
#include "core/pipeline/crowd_run.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/level_review.h"
#include "core/project/file.h"
#include "core/review/kinds.h"
#include "core/system/threads.h"
#include "core/trace/file.h"

namespace dune::batch {

namespace {

using Json = nlohmann::ordered_json;
using review::Finding;
using review::Severity;

struct Flags {
  std::string input, agent, trace, format = "text";
};

/// What is inspected: a mesh, and findings that its project gave already.
struct Subject {
  nav::NavMesh mesh;
  std::vector<Finding> findings;
};

Result<Subject> subject(const Flags& flags, Job& job) {
  if (!isProject(flags.input)) {
    auto content = exchange::readMesh(flags.input);
    if (!content) return content.problem();
    std::vector<Finding> findings = review::reviewMesh(content->mesh, {});
    return Subject{std::move(content->mesh), std::move(findings)};
  }
  const auto project = project::load(flags.input);
  if (!project) return project.problem();
  const auto level = pipeline::loadLevel(*project, flags.input, job);
  if (!level) return level.problem();
  const auto agent = agentNamed(*project, flags.agent);
  if (!agent) return agent.problem();
  const auto ground = pipeline::makeGround(*project, (*level)->level, *agent, nullptr, job);
  if (!ground) return ground.problem();
  Subject result{(*ground)->mesh, pipeline::levelFindings(*project, **level)};
  const auto& ofGround = (*ground)->findings;
  result.findings.insert(result.findings.end(), ofGround.begin(), ofGround.end());
  if (flags.trace.empty() && !project->crowd->groups.empty()) {
    for (const std::string& scene : project::scenesOf(*project->crowd)) {
      const auto grounds = groundsFor(*project, (*level)->level, *agent, scene, false, job);
      if (!grounds) return grounds.problem();
      const auto run = pipeline::runCrowd(*project, *grounds, *agent, job, scene);
      if (!run) return run.problem().within(flags.input);
      result.findings.insert(result.findings.end(), (*run)->findings.begin(), (*run)->findings.end());
    }
  }
  return result;
}

Json json(const Finding& f) {
  Json j{{"code", f.code},         {"severity", review::severityName(f.severity)},
         {"sentence", f.sentence}, {"why", f.why},
         {"advice", f.advice},     {"at", {f.at.x, f.at.y, f.at.z}},
         {"measured", f.measured}, {"limit", f.limit}};
  if (f.time >= 0) j["time"] = f.time;
  if (f.agent >= 0) j["agent"] = f.agent;
  return j;
}

/// The report format that code-scanning services read (SARIF 2.1.0).
Json sarif(const std::vector<Finding>& findings, const std::string& input) {
  Json results = Json::array();
  for (const Finding& f : findings)
    results.push_back({{"ruleId", f.code},
                       {"level", f.severity == Severity::hint ? "note" : review::severityName(f.severity)},
                       {"message", {{"text", f.sentence + " " + f.why}}},
                       {"locations", {{{"physicalLocation", {{"artifactLocation", {{"uri", input}}}}}}}},
                       {"properties", json(f)}});
  Json rules = Json::array();
  for (const review::FindingKind& k : review::findingKinds())
    rules.push_back({{"id", k.code}, {"shortDescription", {{"text", k.title}}}, {"help", {{"text", k.remedy}}}});
  return {{"version", "2.1.0"},
          {"$schema", "https://json.schemastore.org/sarif-2.1.0.json"},
          {"runs", {{{"tool", {{"driver", {{"name", "Dune Step"}, {"version", DUNE_VERSION}, {"rules", rules}}}}}, {"results", results}}}}};
}

int run(const Flags& flags) {
  ThreadedJob job(interrupted(), progress());
  auto inspected = subject(flags, job);
  if (!inspected) return fail(inspected.problem());
  std::vector<Finding>& findings = inspected.value().findings;
  if (!flags.trace.empty()) {
    const auto trace = trace::readTrace(flags.trace, inspected->mesh.agent.originHeight);
    if (!trace) return fail(trace.problem());
    const nav::Locator locator(inspected->mesh);
    const auto moved = review::reviewMovement(inspected->mesh, locator, *trace, {}, job);
    if (!moved) return fail(moved.problem());
    findings.insert(findings.end(), moved->begin(), moved->end());
  }
  bool bad = false;
  for (const Finding& f : findings) bad |= f.severity != Severity::hint;
  if (flags.format == "text") {
    for (const Finding& f : findings) {
      std::printf("%s %s at %.2f,%.2f,%.2f", review::severityName(f.severity), f.code.c_str(), f.at.x, f.at.y, f.at.z);
      if (f.time >= 0) std::printf(" at %.1f s", f.time);
      std::printf(": %s %s Try: %s\n", f.sentence.c_str(), f.why.c_str(), f.advice.c_str());
    }
    std::printf("%zu findings\n", findings.size());
  } else {
    Json list = Json::array();
    for (const Finding& f : findings) list.push_back(json(f));
    printJson(flags.format == "sarif" ? sarif(findings, flags.input) : Json{{"findings", list}});
  }
  return bad ? 1 : 0;
}

}  // namespace

std::function<int()> setUpInspect(CLI::App& app) {
  auto flags = std::make_shared<Flags>();
  app.add_option("input", flags->input, "A mesh or a project")->required();
  app.add_option("--agent", flags->agent, "The project's agent to look at");
  app.add_option("--trace", flags->trace, "Recorded movement (CSV); t,id,x,y,z are enough");
  app.add_option("--format", flags->format, "text, json or sarif")->check(CLI::IsMember({"text", "json", "sarif"}))->capture_default_str();
  app.add_flag_callback(
      "--json", [flags] { flags->format = "json"; }, "The same as --format json");
  return [flags] { return run(*flags); };
}

std::function<int()> setUpConvert(CLI::App& app) {
  struct ConvertFlags {
    std::string in, out;
  };
  auto flags = std::make_shared<ConvertFlags>();
  app.add_option("in", flags->in, "A .dsmesh or .json mesh")->required();
  app.add_option("-o,--out", flags->out, "Mesh to write: .dsmesh, .json, .obj or .glb")->required();
  return [flags]() -> int {
    const auto mesh = exchange::readMesh(flags->in);
    if (!mesh) return fail(mesh.problem());
    const auto written = exchange::writeMesh(flags->out, *mesh);
    return written ? 0 : fail(written.problem());
  };
}

}  // namespace dune::batch
