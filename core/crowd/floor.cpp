#include "core/crowd/floor.h"

#include "core/base/plan_geometry.h"

namespace dune::crowd {

Floor::Floor(const Floor& other) : whole_(other.whole_), less_(other.less_), following_(std::make_unique<Following>(field())) {}

void Floor::cutOut(const std::vector<nav::Cut>& cuts) {
  less_.reset();
  if (!cuts.empty()) {
    auto less = std::make_shared<Less>();
    less->mesh = nav::cutOut(whole_->mesh(), cuts);
    nav::Rules rules = whole_->rules();
    rules.kinds.resize(less->mesh.kinds.size());
    rules.kinds.back().forbidden = true;
    less->field = std::make_unique<const route::Field>(less->mesh, rules);
    less_ = std::move(less);
  }
  following_ = std::make_unique<Following>(field());
}

nav::Place Floor::placeAt(const Vec3& at, const std::vector<nav::Cut>& cuts) const {
  constexpr double kHeight = 0.3, kMostAside = 0.2, kClear = 0.005;  // m
  nav::Place place = field().locator().under(at, kHeight);
  if (place.valid() && rules().passable(mesh(), place.face)) return place;
  for (const nav::Cut& cut : cuts) {
    if (!contains(cut.outline, plan(at))) continue;
    Vec2 out{0};
    double least = INFINITY;
    for (std::size_t i = 0; i < cut.outline.size(); ++i) {
      const Vec2 a = cut.outline[i], edge = cut.outline[(i + 1) % cut.outline.size()] - a;
      const Vec2 away = -leftOf(edge) / glm::length(edge);
      if (const double d = glm::dot(a - plan(at), away); d < least) least = d, out = away;
    }
    if (least > kMostAside) continue;
    place = field().locator().under(lift(plan(at) + out * (least + kClear), at.y), kHeight);
    if (place.valid() && rules().passable(mesh(), place.face)) return place;
  }
  return field().locator().nearest(at, kHeight);
}

}  // namespace dune::crowd
