// "verify" asks the kept routes of a project again and says which expectations do not hold.

#include <cstdio>
#include <map>
#include <nlohmann/json.hpp>

#include "batch/flags.h"
#include "core/exchange/junit.h"
#include "core/pipeline/answers.h"
#include "core/project/file.h"
#include "core/system/threads.h"

namespace dune::batch {

namespace {

using Json = nlohmann::ordered_json;

struct VerifyFlags {
  std::string project, agent, format = "text";
  std::vector<std::string> folders;
  std::uint64_t maxMemory = Job::kDefaultMemory;
};

/// A kept route with the kind of agent that was asked.
struct Verdict {
  const project::KeptRoute* route;
  std::string agent;
  pipeline::KeptAnswer answer;
};

bool wanted(const project::KeptRoute& route, const VerifyFlags& flags) {
  return flags.folders.empty() || std::ranges::find(flags.folders, route.folder) != flags.folders.end();
}

/// Routes of no kind of agent are asked of the one that --agent names, the first otherwise; those of another kind only without --agent.
Result<std::vector<Verdict>> verdicts(const project::Project& project, const VerifyFlags& flags, Job& job) {
  const auto usual = agentNamed(project, flags.agent);
  if (!usual) return usual.problem();
  const auto level = pipeline::loadLevel(project, flags.project, job);
  if (!level) return level.problem();
  const auto& agents = project.agents->agents;
  const auto kindOf = [&](const project::KeptRoute& r) { return r.agent != 0 ? r.agent : agents[*usual].id; };
  std::map<int, pipeline::KeptAnswer> answers;  // by the id of the route
  std::shared_ptr<const pipeline::Ground> last;
  for (std::size_t a = 0; a < agents.size(); ++a) {
    const auto ofThis = [&](const project::KeptRoute& r) { return wanted(r, flags) && kindOf(r) == agents[a].id; };
    if (std::ranges::none_of(project.routes->routes, ofThis) || (!flags.agent.empty() && a != *usual)) continue;
    const auto ground = pipeline::makeGround(project, (*level)->level, a, last, job);
    if (!ground) return ground.problem();
    last = *ground;
    for (pipeline::KeptAnswer& k : pipeline::ask(project, last, agents[a].id, {}, &job).routes)
      answers.insert_or_assign(k.id, std::move(k));
  }
  std::vector<Verdict> found;
  for (const project::KeptRoute& r : project.routes->routes) {
    const auto agent = std::ranges::find(agents, kindOf(r), &project::AgentKind::id);
    if (!wanted(r, flags) || (!flags.agent.empty() && kindOf(r) != agents[*usual].id)) continue;
    if (const auto answer = answers.find(r.id); agent != agents.end() && answer != answers.end())
      found.push_back({&r, agent->name, answer->second});
    else
      found.push_back({&r, "", {r.id, {r.from, r.to, {}}, {}, false, {{"its kind of agent is not there any more", r.from}}, {}}});
  }
  return found;
}

Json json(const Verdict& v) {
  Json unmet = Json::array();
  for (const pipeline::Unmet& u : v.answer.unmet)
    unmet.push_back({{"sentence", u.sentence}, {"at", {u.at.x, u.at.y, u.at.z}}, {"measured", u.measured}, {"limit", u.limit}});
  Json j{{"id", v.route->id},
         {"name", v.route->name},
         {"agent", v.agent},
         {"holds", v.answer.unmet.empty()},
         {"status", route::statusName(v.answer.answer.status)},
         {"length", v.answer.answer.length},
         {"cost", v.answer.answer.cost},
         {"unmet", unmet}};
  if (!v.route->folder.empty()) j["folder"] = v.route->folder;
  return j;
}

void print(const std::vector<Verdict>& all) {
  std::size_t hold = 0;
  for (const Verdict& v : all) {
    const std::string name = (v.route->folder.empty() ? "" : v.route->folder + "/") + v.route->name;
    hold += v.answer.unmet.empty();
    const auto& a = v.answer.answer;
    if (v.answer.unmet.empty()) {
      std::printf("holds   %s (%s): %s, %.2f m, cost %.2f\n", name.c_str(), v.agent.c_str(), route::statusName(a.status), a.length, a.cost);
      continue;
    }
    for (const pipeline::Unmet& u : v.answer.unmet)
      std::printf("BROKEN  %s (%s): %s, at %.2f,%.2f,%.2f\n", name.c_str(), v.agent.c_str(), u.sentence.c_str(), u.at.x, u.at.y, u.at.z);
  }
  std::printf("%zu of %zu routes hold\n", hold, all.size());
}

std::vector<exchange::TestCase> cases(const std::vector<Verdict>& all) {
  std::vector<exchange::TestCase> list;
  for (const Verdict& v : all) {
    exchange::TestCase& c = list.emplace_back();
    c.group = v.route->folder.empty() ? "routes" : v.route->folder, c.name = v.route->name;
    for (const pipeline::Unmet& u : v.answer.unmet) c.failures.push_back(u.sentence);
  }
  return list;
}

int run(const VerifyFlags& flags) {
  ThreadedJob job(interrupted(), progress());
  job.setMemoryLimit(flags.maxMemory);
  const auto project = project::load(flags.project);
  if (!project) return fail(project.problem());
  const auto found = verdicts(*project, flags, job);
  if (!found) return fail(found.problem());
  const bool hold = std::ranges::all_of(*found, [](const Verdict& v) { return v.answer.unmet.empty(); });
  if (flags.format == "junit") {
    std::fputs(exchange::junit("Dune Step routes", cases(*found)).c_str(), stdout);
  } else if (flags.format == "json") {
    Json list = Json::array();
    for (const Verdict& v : *found) list.push_back(json(v));
    printJson({{"holds", hold}, {"routes", list}});
  } else {
    print(*found);
  }
  return hold ? 0 : 1;
}

}  // namespace

std::function<int()> setUpVerify(CLI::App& app) {
  auto flags = std::make_shared<VerifyFlags>();
  app.add_option("project", flags->project, "A project with kept routes")->required();
  app.add_option("--agent", flags->agent, "Ask the routes of this kind of agent only; those of no kind are asked for it");
  app.add_option("--folder", flags->folders, "Ask the routes of this folder only; may be given several times");
  app.add_option("--format", flags->format, "text, json or junit")->check(CLI::IsMember({"text", "json", "junit"}))->capture_default_str();
  app.add_flag_callback(
      "--json", [flags] { flags->format = "json"; }, "The same as --format json");
  addMaxMemory(app, flags->maxMemory);
  return [flags] { return run(*flags); };
}

}  // namespace dune::batch
