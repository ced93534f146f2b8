#include "window/session/airs.h"

#include <algorithm>

#include "core/review/flight_review.h"

namespace dune::window {

Airs::Airs(Bulletin& bulletin) : bulletin_(bulletin) {
  connect(&work_, &Background::progressed, this, [this] { bulletin_.add(Topic::work); });
}

std::shared_ptr<const pipeline::Air> Airs::of(int flyer) const {
  const auto found = airs_.find(flyer);
  return found == airs_.end() ? nullptr : found->second.air;
}

std::vector<review::Finding> Airs::findings(const project::Project& project, const level::Level& level) const {
  std::vector<review::Finding> all;
  for (const project::FlyerKind& kind : project.flight->flyers)
    if (fresh(project, level, kind.id)) {
      const auto& own = airs_.at(kind.id).findings;
      all.insert(all.end(), own.begin(), own.end());
    }
  if (flown_) all.insert(all.end(), flown_->findings.begin(), flown_->findings.end());
  return all;
}

bool Airs::fresh(const project::Project& project, const level::Level& level, int flyer) const {
  const auto air = of(flyer);
  return air && pipeline::holds(*air, project, level, flyer);
}

void Airs::want(const project::Project& project, const std::shared_ptr<const level::Level>& level, int flyer) {
  if (fresh(project, *level, flyer)) return;
  // What is on its way for the same, or was made for it in vain.
  if (askedFor_ == flyer && askedOf_ == level.get() && pipeline::sameAir(asked_, project, flyer)) return;
  asked_ = project, askedOf_ = level.get(), askedFor_ = flyer;
  const auto number =
      static_cast<std::size_t>(std::ranges::find(project.flight->flyers, flyer, &project::FlyerKind::id) - project.flight->flyers.begin());
  work_.start(this, [this, project, level, number, id = flyer, before = of(flyer)](Job& job, const Background::Tell& tell) {
    auto made = pipeline::makeAir(project, level, number, before, job);
    auto found = made ? review::reviewSpace(*(*made)->space) : std::vector<review::Finding>();
    tell([this, made = std::move(made), found = std::move(found), id]() mutable {
      trouble_.clear();
      if (made)
        airs_[id] = {*made, std::move(found)};
      else if (made.problem().code != ProblemCode::cancelled)
        trouble_ = QString::fromStdString(made.problem().text());
      bulletin_.add(Topic::air);
      emit findingsChanged();
    });
  });
}

void Airs::setFlown(std::shared_ptr<const Flown> flown) {
  if (flown == flown_) return;
  flown_ = std::move(flown);
  bulletin_.add(Topic::air);
  emit findingsChanged();
}

void Airs::drop() {
  work_.stop();
  flown_.reset();
  airs_.clear(), trouble_.clear();
  askedFor_ = 0, askedOf_ = nullptr;
}

}  // namespace dune::window
