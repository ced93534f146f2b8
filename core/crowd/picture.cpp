#include "core/crowd/picture.h"

namespace dune::crowd {

void Picture::index() {
  constexpr double kCell = 2;  // m
  points_.clear();
  for (const BodyState& b : shown) points_.push_back(plan(b.at));
  grid_.fill(points_, kCell);
  met_.clear();
  for (const std::uint32_t i : grid_.order()) {
    const BodyState& b = shown[i];
    const bool walks = there[i] && places[i].valid() && b.state != State::link && b.state != State::offMesh;
    met_.push_back({points_[i], plan(b.velocity), walks ? b.at.y : std::numeric_limits<double>::infinity(), i});
  }
}

}  // namespace dune::crowd
