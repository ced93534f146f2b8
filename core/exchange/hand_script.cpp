#include "core/exchange/hand_script.h"

#include <nlohmann/json.hpp>

#include "core/base/text.h"
#include "core/hand/pick.h"
#include "core/pipeline/hand_review.h"
#include "core/project/json_values.h"

namespace dune::exchange {

namespace {

using Json = nlohmann::ordered_json;
using hand::Edge;
using hand::Work;
using nav::FaceId;

constexpr double kNear = 0.5;  // m

/// A place at which there is nothing to pick; caught where the number of the change is known.
struct Missed {
  Problem problem;
};

class Picker {
 public:
  explicit Picker(const pipeline::Ground& ground) : ground_(ground) {}

  FaceId face(const Json& at) const {
    const nav::Place place = ground_.locator().nearest(project::pointFrom(at), kNear);
    if (!place.valid()) miss("face", at);
    return place.face;
  }
  std::uint32_t corner(const Json& at) const {
    const auto found = hand::cornerNear(ground_.mesh, ground_.locator(), project::pointFrom(at), kNear);
    if (!found) miss("corner", at);
    return *found;
  }
  Edge edge(const Json& at) const {
    const Edge found = hand::edgeNear(ground_.mesh, ground_.locator(), project::pointFrom(at), kNear);
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
  const pipeline::Ground& ground_;
};

Result<Work> giveUp(const Work& before, int patch) {
  Work work = before;
  if (std::erase_if(work.patches, [&](const hand::Patch& p) { return p.id == patch; }) == 0)
    return Problem{ProblemCode::unusable, text("There is no patch %d.", patch), {}, {}};
  return work;
}

Result<Work> change(const Json& j, const pipeline::Ground& ground, const Work& work, int agent) {
  const hand::Editor editor(ground.mesh, ground.origin, work, agent, pipeline::levelOf(ground.built));
  const Picker pick(ground);
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
  if (what == "strip") return editor.strip(pick.edge(j.at("from")), pick.edge(j.at("to")));
  if (what == "part") return editor.part(pick.all(j.at("edges"), &Picker::edge));
  if (what == "unpart") return editor.unpart(pick.all(j.at("edges"), &Picker::edge));
  if (what == "give-up") return giveUp(work, j.at("patch").get<int>());
  return Problem{ProblemCode::usage,
                 "There is no change called \"" + what + "\".",
                 {},
                 "remove, join, drape, paint, move, pull, draw, split-edge, split, strip, part, unpart or give-up."};
}

std::optional<std::size_t> agentOf(const Json& j, const project::Project& project) {
  if (!j.contains("agent")) return 0;
  const auto& agents = project.agents->agents;
  const auto at = std::ranges::find(agents, j.at("agent").get<std::string>(), &project::AgentKind::name);
  return at == agents.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - agents.begin()));
}

}  // namespace

Result<project::Project> runHandScript(const std::string& script, project::Project project, std::shared_ptr<const level::Level> level,
                                       Job& job) {
  std::string here = "script";
  try {
    const Json list = Json::parse(script);
    if (!list.is_array())
      return Problem{ProblemCode::damaged, "The script is no list of changes.", here, "a JSON list: [{\"do\": \"remove\", …}]."};
    std::map<std::size_t, std::shared_ptr<const pipeline::Ground>> grounds;
    for (std::size_t i = 0; i < list.size(); ++i) {
      here = text("change %zu", i + 1);
      const auto agent = agentOf(list[i], project);
      if (!agent) return Problem{ProblemCode::usage, "There is no such kind of agent.", here, "a name of the project's agents."};
      auto ground = pipeline::makeGround(project, level, *agent, grounds[*agent], job);
      if (!ground) return ground.problem();
      grounds[*agent] = *ground;
      auto changed = change(list[i], **ground, *project.hand, project.agents->agents[*agent].id);
      if (!changed) return changed.problem().within(here);
      project.hand = std::make_shared<const Work>(std::move(changed.value()));
    }
    return project;
  } catch (const Missed& missed) {
    return missed.problem.within(here);
  } catch (const std::exception& e) {  // the library throws on text that is no JSON, and on missing or wrong fields
    return Problem{ProblemCode::damaged, "The script cannot be read. " + sentenceOf(e.what()), here, {}};
  }
}

}  // namespace dune::exchange
