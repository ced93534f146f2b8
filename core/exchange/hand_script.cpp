#include "core/exchange/hand_script.h"

#include <nlohmann/json.hpp>

#include "core/base/text.h"
#include "core/hand/pick.h"
#include "core/pipeline/mend.h"
#include "core/pipeline/strip.h"
#include "core/pipeline/tag_faces.h"
#include "core/project/json_values.h"

namespace dune::exchange {

namespace {

using Json = nlohmann::ordered_json;
using hand::Edge;
using hand::Work;
using nav::FaceId;
using pipeline::Bench;

constexpr double kNear = 0.5;  // m

/// A place at which there is nothing to pick; caught where the number of the change is known.
struct Missed {
  Problem problem;
};

class Picker {
 public:
  explicit Picker(const Bench& bench) : bench_(bench) {}

  FaceId face(const Json& at) const {
    const nav::Place place = bench_.locator().nearest(project::pointFrom(at), kNear);
    if (!place.valid()) miss("face", at);
    return place.face;
  }
  std::uint32_t corner(const Json& at) const {
    const auto found = hand::cornerNear(bench_.mesh(), bench_.locator(), project::pointFrom(at), kNear);
    if (!found) miss("corner", at);
    return *found;
  }
  Edge edge(const Json& at) const {
    const Edge found = hand::edgeNear(bench_.mesh(), bench_.locator(), project::pointFrom(at), kNear);
    if (found.face == nav::kNoFace) miss("edge", at);
    return found;
  }
  template <class T>
  std::vector<T> all(const Json& places, T (Picker::*one)(const Json&) const) const {
    std::vector<T> found;
    for (const Json& at : places) found.push_back((this->*one)(at));
    return found;
  }

 private:
  [[noreturn]] static void miss(const char* what, const Json& at) {
    throw Missed{{ProblemCode::unusable, text("There is no %s within %.1f m.", what, kNear), "at " + at.dump(), "a place on the mesh."}};
  }
  const Bench& bench_;
};

Result<Work> giveUp(const Work& before, int patch) {
  Work work = before;
  if (std::erase_if(work.patches, [&](const hand::Patch& p) { return p.id == patch; }) == 0)
    return Problem{ProblemCode::unusable, text("There is no patch %d.", patch), {}, {}};
  return work;
}

Result<Work> change(const Json& j, const Bench& bench, const Work& work) {
  const hand::Editor editor = bench.editor();
  const Picker pick(bench);
  const std::string what = j.at("do").get<std::string>();
  const auto faces = [&] { return pick.all(j.at("faces"), &Picker::face); };
  const auto place = [&](const char* name) { return project::pointFrom(j.at(name)); };
  if (what == "remove") return editor.remove(faces());
  if (what == "join") return editor.join(faces());
  if (what == "drape") return editor.drape(faces());
  if (what == "paint") return editor.paint(faces(), j.at("kind").get<std::string>());
  if (what == "move") return editor.move(pick.all(j.at("corners"), &Picker::corner), place("by"), j.value("follow", false));
  if (what == "pull") return editor.pull(pick.edge(j.at("edge")), place("by"), j.value("follow", false));
  if (what == "draw") return editor.draw(project::pointsFrom(j.at("outline")), j.value("kind", std::string()));
  if (what == "split-edge") return editor.splitEdge(pick.edge(j.at("edge")), j.value("along", 0.5));
  if (what == "split") return editor.splitAlong(faces(), place("from"), place("to"));
  if (what == "part") return editor.part(pick.all(j.at("edges"), &Picker::edge));
  if (what == "one-way") return editor.partOneWay(pick.all(j.at("edges"), &Picker::edge));
  if (what == "unpart") return editor.unpart(pick.all(j.at("edges"), &Picker::edge));
  if (what == "give-up") return giveUp(work, j.at("patch").get<int>());
  return Problem{ProblemCode::usage,
                 "There is no change called \"" + what + "\".",
                 {},
                 "remove, join, drape, paint, tag, move, pull, draw, split-edge, split, strip, part, one-way, unpart, give-up or mend."};
}

/// The project after one change.
Result<project::Project> after(const Json& j, const Bench& bench, project::Project project, std::shared_ptr<const level::Level> level,
                               std::size_t agent, Job& job) {
  const std::string what = j.at("do").get<std::string>();
  if (what == "mend") {
    auto mended = pipeline::mendAll(std::move(project), std::move(level), agent, j.value("what", std::string()), job);
    if (!mended) return mended.problem();
    return std::move(mended->project);
  }
  if (what == "strip") {
    const Picker pick(bench);
    const int id = project.agents->agents[agent].id;
    return pipeline::withStrip(std::move(project), bench.mesh(), bench.editor(), id, pick.edge(j.at("from")), pick.edge(j.at("to")));
  }
  if (what == "tag") {
    const auto faces = Picker(bench).all(j.at("faces"), &Picker::face);
    return pipeline::withTag(std::move(project), bench.mesh(), faces, j.at("tag").get<std::string>());
  }
  auto work = change(j, bench, *project.hand);
  if (!work) return work.problem();
  project.hand = std::make_shared<const Work>(std::move(work.value()));
  return project;
}

std::optional<std::size_t> agentOf(const Json& j, const project::Project& project) {
  if (!j.contains("agent")) return 0;
  const project::AgentKind* agent = project::agentNamed(*project.agents, j.at("agent").get<std::string>());
  return agent ? std::optional(static_cast<std::size_t>(agent - project.agents->agents.data())) : std::nullopt;
}

}  // namespace

Result<project::Project> runHandScript(const std::string& script, project::Project project, std::shared_ptr<const level::Level> level,
                                       Job& job) {
  std::string here = "script";
  try {
    const Json list = Json::parse(script);
    if (!list.is_array())
      return Problem{ProblemCode::damaged, "The script is no list of changes.", here, "a JSON list: [{\"do\": \"remove\", …}]."};
    std::map<std::size_t, Bench> benches;
    for (std::size_t i = 0; i < list.size(); ++i) {
      here = text("change %zu", i + 1);
      const auto agent = agentOf(list[i], project);
      if (!agent) return Problem{ProblemCode::usage, "There is no such kind of agent.", here, "a name of the project's agents."};
      auto bench = benches.find(*agent);
      if (bench == benches.end()) {
        auto ground = pipeline::makeGround(project, level, *agent, nullptr, job);
        if (!ground) return ground.problem();
        bench = benches.try_emplace(*agent, *ground, project.agents->agents[*agent].id).first;
      }
      bench->second.lay(project.hand);
      auto changed = after(list[i], bench->second, project, level, *agent, job);
      if (!changed) return changed.problem().within(here);
      if (changed->level != project.level) benches.clear();  // a mesh from elsewhere is read in another way
      project = *std::move(changed);
      if (job.cancelled()) return Job::cancelledProblem();
    }
    return project;
  } catch (const Missed& missed) {
    return missed.problem.within(here);
  } catch (const std::exception& e) {  // the library throws on text that is no JSON, and on missing or wrong fields
    return Problem{ProblemCode::damaged, "The script cannot be read. " + sentenceOf(e.what()), here, {}};
  }
}

}  // namespace dune::exchange
