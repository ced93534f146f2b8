#include "window/session/comparison.h"

#include "core/pipeline/kept_routes.h"

namespace dune::window {

void Comparison::beginStep(std::size_t step, const Grounds& grounds) {
  if (step_ == step) return;
  step_ = step, reference_ = grounds.all();
}

void Comparison::drop() {
  stop();
  reference_.clear(), kept_.clear(), other_.reset(), change_.reset();
  step_ = 0, acrossUnits_ = false;
  bulletin_.add(Topic::compared);
}

std::shared_ptr<const pipeline::Ground> Comparison::against(const Grounds& grounds, int kind) const {
  if (other_) return grounds.of(*other_);
  const Grounds::Map& before = kept_.empty() ? reference_ : kept_;
  const auto found = before.find(kind);
  return found == before.end() ? nullptr : found->second;
}

void Comparison::update(const Grounds& grounds, int kind, const project::Project& project) {
  const auto now = grounds.of(kind), before = against(grounds, kind);
  stop();
  change_.reset();
  acrossUnits_ = now && before && !pipeline::sameUnits(before->from, now->from);
  bulletin_.add(Topic::compared);
  if (!now || !before || before == now || acrossUnits_) return;
  work_.start(this, [this, before, now, kind, project](Job& job, const Background::Tell& tell) {
    auto result = pipeline::compare(before, now, pipeline::routesOf(project, *now->source, kind), job);
    if (!result) return;
    tell([this, change = *result] {
      change_ = change;
      bulletin_.add(Topic::compared);
    });
  });
}

}  // namespace dune::window
