#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "batch/crowd_scene.h"
#include "batch/flags.h"
#include "batch/flight_commands.h"
#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/exchange/csv.h"
#include "core/exchange/findings_files.h"
#include "core/exchange/report.h"
#include "core/meshes/mesh_files.h"
#include "core/meshes/raw_mesh_files.h"
#include "core/meshfile/space_file.h"
#include "core/pipeline/crowd_run.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/height_review.h"
#include "core/pipeline/level_review.h"
#include "core/pipeline/muting.h"
#include "core/pipeline/recording_units.h"
#include "core/pipeline/reviewed_on.h"
#include "core/project/file.h"
#include "core/review/kinds.h"
#include "core/review/shape_review.h"
#include "core/system/threads.h"
#include "core/trace/column_names.h"
#include "core/trace/file.h"

namespace dune::batch {

namespace {

using review::Finding;
using review::Severity;

struct InspectFlags {
  std::string input, agent, trace, against, report, format = "text";
  std::string columns, up = "y";
  double scale = 1, seconds = 1;
  std::vector<std::string> limits;
};

/// What is inspected: a mesh, and findings that its project gave already.
struct Subject {
  std::shared_ptr<const pipeline::Ground> ground;  ///< of a project
  nav::NavMesh mesh;                               ///< without one
  nav::Rules rules;
  std::vector<Finding> findings;
  project::ReviewSection review{};  ///< what the project passes over
  bool walkable = true;             ///< movement on it can be reviewed
};

/// A mesh that is not ours and not in our formats: how its faces are is all that can be said.
Result<Subject> foreignMesh(const InspectFlags& flags, Job& job) {
  const auto raw = meshes::readRawMesh(flags.input, {}, job);
  if (!raw) return raw.problem();
  return Subject{nullptr, {}, {}, review::reviewShape(*raw), {}, false};
}

Result<Subject> subject(const InspectFlags& flags, const review::MovementLimits& limits, Job& job) {
  if (meshes::isMeshFile(flags.input) && !meshes::isOurMesh(flags.input)) return foreignMesh(flags, job);
  if (!isProject(flags.input)) {
    auto content = meshes::readMesh(flags.input);
    if (!content) return content.problem();
    std::vector<Finding> findings = review::reviewMesh(content->mesh, content->rules);
    std::ranges::move(review::reviewShape(review::rawOf(content->mesh), review::kOurShape), std::back_inserter(findings));
    return Subject{nullptr, std::move(content->mesh), std::move(content->rules), std::move(findings)};
  }
  const auto project = project::load(flags.input);
  if (!project) return project.problem();
  const auto level = pipeline::loadLevel(*project, flags.input, job);
  if (!level) return level.problem();
  const auto agent = agentNamed(*project, flags.agent);
  if (!agent) return agent.problem();
  const auto ground = pipeline::makeGround(*project, (*level)->level, *agent, nullptr, job);
  if (!ground) return ground.problem();
  Subject result{*ground, {}, {}, pipeline::levelFindings(*project, **level), *project->review};
  const auto& ofGround = (*ground)->findings;
  result.findings.insert(result.findings.end(), ofGround.begin(), ofGround.end());
  if (!(*ground)->given) {  // of a mesh from elsewhere all of that is told already
    std::ranges::move(review::reviewShape(review::rawOf((*ground)->mesh), review::kOurShape), std::back_inserter(result.findings));
    std::ranges::move(pipeline::reviewHeights(**ground, job), std::back_inserter(result.findings));
  }
  if (flags.trace.empty() && !project->crowd->groups.empty()) {
    for (const std::string& scene : project::scenesOf(*project->crowd)) {
      const auto grounds = groundsFor(*project, (*level)->level, *agent, scene, false, job);
      if (!grounds) return grounds.problem();
      const auto run = pipeline::runCrowd(*project, *grounds, *agent, job, scene, std::nullopt, {}, limits);
      if (!run) return run.problem().within(flags.input);
      result.findings.insert(result.findings.end(), (*run)->findings.begin(), (*run)->findings.end());
    }
  }
  return result;
}

/// Sets limits from "wall-touch=0.05".
Outcome setLimits(const std::vector<std::string>& texts, review::MovementLimits& limits) {
  const auto all = review::movementLimits();
  for (const std::string& text : texts) {
    const std::size_t sign = text.find('=');
    const std::string name = text.substr(0, sign);
    const double value = sign == std::string::npos ? -1 : numberFrom(std::string_view(text).substr(sign + 1)).value_or(-1);
    const auto known = std::ranges::find(all, name, [](const review::MovementLimit& l) { return std::string(l.name); });
    if (known == all.end() || value < 0) {
      std::string names;
      for (const review::MovementLimit& l : all) names += std::string(names.empty() ? "" : ", ") + l.name;
      return Problem{ProblemCode::usage, "--limit " + text + " sets no limit.", "", "NAME=NUMBER with one of " + names + "."};
    }
    limits.*(known->value) = value;
  }
  return Nothing{};
}

/// How the recording is to be read: "t=frame_time,id=who" and units.
Result<trace::Reading> reading(const InspectFlags& flags) {
  trace::Reading reading;
  reading.scale = flags.scale, reading.seconds = flags.seconds, reading.zUp = flags.up == "z";
  std::string_view rest = flags.columns;
  while (!rest.empty()) {
    const std::string_view one = rest.substr(0, rest.find(','));
    rest.remove_prefix(std::min(rest.size(), one.size() + 1));
    const std::size_t sign = one.find('=');
    const auto column = sign == std::string_view::npos ? std::nullopt : trace::columnNamed(one.substr(0, sign));
    if (!column || sign + 1 == one.size())
      return Problem{ProblemCode::usage, "--columns " + std::string(one) + " names no column.", "",
                     "t=NAME,id=NAME,x=NAME,y=NAME,z=NAME with the names that the recording has."};
    reading.columns[*column] = one.substr(sign + 1);
  }
  return reading;
}

/// What is wrong with the movement in a recording.
Result<std::vector<Finding>> reviewed(const std::string& file, const review::Ground& ground, const trace::Trace& trace,
                                      const trace::Reading& reading, const review::MovementLimits& limits, Job& job) {
  // Our compact files say all themselves.
  if (const auto guess = trace::isTraceFile(file) ? std::nullopt : pipeline::guessReading(trace, ground, reading))
    return std::vector{pipeline::findingOf(*guess, trace)};
  return review::reviewMovement(ground, trace, limits, job);
}

Result<std::vector<Finding>> reviewedOnGround(const InspectFlags& flags, const Subject& inspected, const trace::Trace& trace,
                                              const trace::Reading& reading, const review::MovementLimits& limits, Job& job) {
  if (inspected.ground) return reviewed(flags.trace, pipeline::reviewedOn(*inspected.ground), trace, reading, limits, job);
  const route::Field field(inspected.mesh, inspected.rules);
  return reviewed(flags.trace, review::Ground{inspected.mesh, field.locator(), &field}, trace, reading, limits, job);
}

/// What was found, without what an earlier report knows.
Outcome leaveOutKnown(const std::string& file, std::vector<Finding>& findings) {
  const auto text = readFile(file);
  if (!text) return text.problem();
  auto known = exchange::subjectsFromJson(*text);
  if (!known) return known.problem().within(file);
  findings = exchange::without(std::move(findings), *std::move(known));
  return Nothing{};
}

/// How much there is of it, and how large it is as a file.
void printSize(const nav::NavMesh& mesh, const nav::Rules& rules) {
  if (mesh.faceCount() == 0) return;
  meshes::Content content;
  content.mesh = mesh, content.rules = rules;
  std::printf("mesh of %zu faces and %zu corners, %.0f kB as a .dsmesh\n", mesh.faceCount(), mesh.vertices.size(),
              static_cast<double>(meshfile::toBytes(content).size()) / 1000);
}

void printText(const std::vector<Finding>& findings) {
  for (const Finding& f : findings) {
    std::printf("%s %s at %.2f,%.2f,%.2f", review::severityName(f.severity), f.code.c_str(), f.at.x, f.at.y, f.at.z);
    if (f.timed()) std::printf(" at %.1f s", f.time);
    std::printf(": %s %s Try: %s\n", f.sentence.c_str(), f.why.c_str(), f.advice.c_str());
  }
  std::printf("%zu findings\n", findings.size());
}

/// Takes those out that the project passes over.
std::vector<Finding> takeMuted(std::vector<Finding>& findings) {
  const auto muted = std::stable_partition(findings.begin(), findings.end(), [](const Finding& f) { return f.muted.empty(); });
  std::vector<Finding> taken(std::make_move_iterator(muted), std::make_move_iterator(findings.end()));
  findings.erase(muted, findings.end());
  return taken;
}

int run(const InspectFlags& flags) {
  review::MovementLimits limits;
  if (const auto set = setLimits(flags.limits, limits); !set) return fail(set.problem());
  ThreadedJob job(interrupted(), progress());
  const bool inAir = meshfile::isSpaceFile(flags.input);
  auto inspected = inAir ? Result<Subject>(Subject{}) : subject(flags, limits, job);
  if (!inspected) return fail(inspected.problem());
  std::vector<Finding>& findings = inspected.value().findings;
  const nav::NavMesh& mesh = inspected->ground ? inspected->ground->mesh : inspected->mesh;
  std::optional<trace::Trace> moved;
  if (!flags.trace.empty() && !inspected->walkable)
    return fail(
        {ProblemCode::usage, "Movement cannot be reviewed on " + flags.input + ".", "", "a project, or a mesh as .dsmesh or .json."});
  if (!flags.trace.empty()) {
    const auto how = reading(flags);
    if (!how) return fail(how.problem());
    auto trace = trace::readTrace(flags.trace, mesh.agent.originHeight, job, *how);
    if (!trace) return fail(trace.problem());
    moved = *std::move(trace);
    if (!inAir) {
      const auto found = reviewedOnGround(flags, *inspected, *moved, *how, limits, job);
      if (!found) return fail(found.problem());
      findings.insert(findings.end(), found->begin(), found->end());
    }
  }
  if (inAir) {
    const auto found = inspectSpace(flags.input, moved ? &*moved : nullptr, limits, job);
    if (!found) return fail(found.problem());
    findings.insert(findings.end(), found->begin(), found->end());
  }
  if (!flags.against.empty())
    if (const auto left = leaveOutKnown(flags.against, findings); !left) return fail(left.problem());
  for (Finding& f : findings) pipeline::mute(f, inspected->review);
  const std::vector<Finding> muted = takeMuted(findings);
  if (!flags.report.empty()) {
    const exchange::ReportInput report{"Findings: " + std::filesystem::path(flags.input).filename().string(), mesh, findings,
                                       moved ? &*moved : nullptr, limits};
    if (const auto written = writeFile(flags.report, exchange::reportHtml(report)); !written) return fail(written.problem());
  }
  if (flags.format == "text") {
    printSize(mesh, inspected->ground ? inspected->ground->rules : inspected->rules);
    printText(findings);
    if (!muted.empty()) std::printf("%zu more are muted in the project\n", muted.size());
  }
  if (flags.format == "junit") std::fputs(exchange::findingsJunit(findings).c_str(), stdout);
  if (flags.format == "sarif") {
    std::vector<Finding> all = findings;
    all.insert(all.end(), muted.begin(), muted.end());
    printJson(exchange::findingsSarif(all, flags.input, DUNE_VERSION));
  }
  if (flags.format == "json") printJson(exchange::findingsJson(findings, muted.size()));
  return std::ranges::any_of(findings, [](const Finding& f) { return f.severity != Severity::hint; }) ? 1 : 0;
}

}  // namespace

std::function<int()> setUpInspect(CLI::App& app) {
  auto flags = std::make_shared<InspectFlags>();
  app.add_option("input", flags->input, "A mesh, a .dsfly or a project")->required();
  app.add_option("--agent", flags->agent, "The project's agent to look at");
  app.add_option("--trace", flags->trace, "Recorded movement: a table, JSON lines or .dstrace; t,id,x,y,z are enough");
  app.add_option("--columns", flags->columns, "The recording's names of columns where they say nothing: t=NAME,id=NAME,x=NAME and so on");
  app.add_option("--trace-scale", flags->scale, "Metres a unit of the recording")->check(CLI::Range(1e-6, 1e6))->capture_default_str();
  app.add_option("--trace-up", flags->up, "The axis of the recording that is up")->check(CLI::IsMember({"y", "z"}))->capture_default_str();
  app.add_option("--trace-seconds", flags->seconds, "Seconds a unit of its times")->check(CLI::Range(1e-9, 1e6))->capture_default_str();
  app.add_option("--limit", flags->limits, "NAME=NUMBER: from where on movement is told, for example wall-touch=0.05");
  app.add_option("--against", flags->against, "An earlier report (--format json): only what is new is told");
  app.add_option("--report", flags->report, "Also write a report for people to this file (HTML)");
  app.add_option("--format", flags->format, "text, json, sarif or junit")
      ->check(CLI::IsMember({"text", "json", "sarif", "junit"}))
      ->capture_default_str();
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
    const auto mesh = meshes::readMesh(flags->in);
    if (!mesh) return fail(mesh.problem());
    const auto written = meshes::writeMesh(flags->out, *mesh);
    return written ? 0 : fail(written.problem());
  };
}

}  // namespace dune::batch
