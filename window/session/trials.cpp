#include "window/session/trials.h"

#include <cmath>

namespace dune::window {

Trials::Trials(Bulletin& bulletin) : bulletin_(bulletin) {
  connect(&background_, &Background::progressed, this, [this] { bulletin_.add(Topic::trials); });
}

QString Trials::step() const { return tr("%1 % (%2)").arg(std::lround(background_.fraction() * 100)).arg(background_.step()); }

template <class Ask, class Target>
void Trials::start(Ask ask, Target& target) {
  background_.start(this, [this, ask = std::move(ask), &target](Job& job, const Background::Tell& tell) {
    tell([this, result = ask(job), &target] {
      if (result)
        target = *result;
      else if (result.problem().code != ProblemCode::cancelled)
        bulletin_.say(QString::fromStdString(result.problem().text()));
    });
  });
}

void Trials::sweep(const project::Project& project, const Level& level, std::size_t agent, const pipeline::SweepPlan& plan) {
  about_ = About::sweep, sweptLevel_ = level, sweptKind_ = project.agents->agents[agent].id;
  start([=](Job& job) { return pipeline::sweep(project, level, agent, plan, job); }, swept_);
}

void Trials::passing(const project::Project& project, const Level& level, std::size_t agent, const Vec3& from, const Vec3& to) {
  about_ = About::passing, between_ = {from, to};
  start([=](Job& job) { return pipeline::widestPassing(project, level, agent, from, to, job); }, passed_);
}

bool Trials::sweptIsOld(const project::Project& project, const Level& level, int agentKind) const {
  if (!swept_) return false;
  const project::Project& from = swept_->from;
  if (level != sweptLevel_ || agentKind != sweptKind_) return true;
  project::LevelSection same = *project.level;
  same.files = from.level->files;  // where they lie is no matter: the level itself is the same
  if (!(same == *from.level && *project.areas == *from.areas && *project.links == *from.links && *project.routes == *from.routes &&
        *project.places == *from.places))
    return true;
  const auto before = std::ranges::find(from.agents->agents, agentKind, &project::AgentKind::id);
  const auto now = std::ranges::find(project.agents->agents, agentKind, &project::AgentKind::id);
  if (before == from.agents->agents.end() || now == project.agents->agents.end()) return true;
  project::AgentKind eased = *before;
  eased.*pipeline::fieldOf(swept_->plan.limit) = (*now).*pipeline::fieldOf(swept_->plan.limit);
  return !(static_cast<const nav::Agent&>(eased) == static_cast<const nav::Agent&>(*now));
}

void Trials::cancel() {
  if (!busy()) return;
  background_.stop();
  bulletin_.say(tr("Cancelled."));
}

void Trials::drop() {
  background_.stop();
  swept_.reset(), passed_.reset(), between_.reset();
  bulletin_.add(Topic::trials);
}

}  // namespace dune::window
