#include "core/crowd/floor.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

Floor::Floor(const Floor& other)
    : whole_(other.whole_), less_(other.less_), following_(std::make_unique<Following>(field())), narrower_(other.narrower_) {}

void Floor::findNarrower() {
  narrower_.clear();
  const nav::Rules& all = rules();
  for (std::size_t k = 0; k < mesh().kinds.size(); ++k) {
    const double cost = all.of(k).cost;
    if (all.of(k).forbidden || std::ranges::count(narrower_, cost, [](const auto& n) { return n.first; }) > 0) continue;
    nav::Rules less = all;
    less.kinds.resize(mesh().kinds.size());
    for (nav::KindRule& kind : less.kinds) kind.forbidden = kind.forbidden || isDearer(kind.cost, cost);
    narrower_.emplace_back(cost, std::move(less));
  }
  std::ranges::sort(narrower_, {}, [](const auto& n) { return n.first; });
  if (narrower_.size() < 2) narrower_.clear();
}

const nav::Rules& Floor::rulesFor(const Body& b) const {
  if (narrower_.empty() || b.way.dearest <= 0 || !b.place.valid()) return rules();
  const double limit = std::max(b.way.dearest, field().perMetre(b.place.face));
  const auto above = std::ranges::upper_bound(narrower_, limit, {}, [](const auto& n) { return n.first; });
  return above == narrower_.begin() ? rules() : std::prev(above)->second;
}

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
  findNarrower();
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
