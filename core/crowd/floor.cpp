#include "core/crowd/floor.h"

#include "core/base/plan_geometry.h"

namespace dune::crowd {

Floor::Floor(const Floor& other) : whole_(other.whole_), less_(other.less_), following_(std::make_unique<Following>(field())) {}

void Floor::cutOut(const std::vector<nav::Cut>& cuts) {
  less_.reset();
  if (!cuts.empty()) {
    auto less = std::make_shared<Less>();
    less->cut = nav::cutOut(whole_->mesh(), cuts);
    nav::Rules rules = whole_->rules();
    rules.kinds.resize(less->cut.mesh.kinds.size());
    rules.kinds.back().forbidden = true;
    less->field = std::make_unique<const route::Field>(less->cut.mesh, rules);
    less_ = std::move(less);
  }
  following_ = std::make_unique<Following>(field());
}

nav::Place Floor::placeAt(const Vec3& at, const std::vector<nav::Cut>& cuts) const {
  constexpr double kHeight = 0.3, kMostAside = 0.2, kClear = 0.005, kReach = 2;  // m
  nav::Place place = field().locator().under(at, kHeight);
  if (place.valid() && rules().passable(mesh(), place.face)) return place;
  for (const nav::Cut& cut : cuts) {
    const Outward out = outOfConvex(cut.outline, plan(at));
    if (out.distance > 0 || out.distance < -kMostAside) continue;
    place = field().locator().under(lift(plan(at) + out.direction * (kClear - out.distance), at.y), kHeight);
    if (place.valid() && rules().passable(mesh(), place.face)) return place;
  }
  return field().locator().nearest(at, kReach);
}

}  // namespace dune::crowd
