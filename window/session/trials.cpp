#include "window/session/trials.h"

#include <cmath>

namespace dune::window {

Trials::Trials(QObject* parent) : QObject(parent) {
  connect(&background_, &Background::progressed, this, [this](const QString& step, double fraction) {
    step_ = tr("%1 % (%2)").arg(std::lround(fraction * 100)).arg(step);
    emit changed();
  });
}

template <class Ask, class Target>
void Trials::start(Ask ask, Target& target) {
  busy_ = true;
  step_.clear();
  emit changed();
  background_.start([this, ask = std::move(ask), &target](Job& job, const Background::Tell& tell) {
    tell([this, result = ask(job), &target] {
      busy_ = false;
      if (result)
        target = *result;
      else if (result.problem().code != ProblemCode::cancelled)
        emit said(QString::fromStdString(result.problem().text()));
      emit changed();
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
  if (!busy_) return;
  background_.stop();
  busy_ = false;
  emit said(tr("Cancelled."));
  emit changed();
}

void Trials::drop() {
  background_.stop();
  busy_ = false;
  swept_.reset(), passed_.reset();
  emit changed();
}

}  // namespace dune::window
