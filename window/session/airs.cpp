#include "window/session/airs.h"

#include <algorithm>

namespace dune::window {

Airs::Airs(Bulletin& bulletin) : bulletin_(bulletin) {
  connect(&work_, &Background::progressed, this, [this] { bulletin_.add(Topic::work); });
}

std::shared_ptr<const pipeline::Air> Airs::of(int flyer) const {
  const auto found = airs_.find(flyer);
  return found == airs_.end() ? nullptr : found->second;
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
    tell([this, made = std::move(made), id] {
      trouble_.clear();
      if (made)
        airs_[id] = *made;
      else if (made.problem().code != ProblemCode::cancelled)
        trouble_ = QString::fromStdString(made.problem().text());
      bulletin_.add(Topic::air);
    });
  });
}

void Airs::drop() {
  work_.stop();
  airs_.clear(), trouble_.clear();
  askedFor_ = 0, askedOf_ = nullptr;
}

}  // namespace dune::window
