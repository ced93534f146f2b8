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
  start([=](Job& job) { return pipeline::sweep(project, level, agent, plan, job); }, swept_);
}

void Trials::passing(const project::Project& project, const Level& level, std::size_t agent, const Vec3& from, const Vec3& to) {
  start([=](Job& job) { return pipeline::widestPassing(project, level, agent, from, to, job); }, passed_);
}

void Trials::cancel() {
  if (!busy()) return;
  background_.stop();
  bulletin_.say(tr("Cancelled."));
}

void Trials::drop() {
  background_.stop();
  swept_.reset(), passed_.reset();
  bulletin_.add(Topic::trials);
}

}  // namespace dune::window
