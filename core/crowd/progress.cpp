#include "core/crowd/progress.h"

namespace dune::crowd {

namespace {

constexpr double kGetsOn = 0.5;  // m by which who gets on comes nearer
constexpr double kOtherWay = 4;  // m: a way so much longer is another one

double leftOfWay(const Body& b) {
  double metres = glm::distance(b.place.position, b.way.points[b.way.next]);
  for (std::size_t i = b.way.next; i + 1 < b.way.points.size(); ++i) metres += glm::distance(b.way.points[i], b.way.points[i + 1]);
  return metres;
}

bool isOnItsWay(const Body& b) { return stands(b) && !b.done && b.way.next < b.way.points.size(); }

}  // namespace

bool stands(const Body& b) { return b.begun && !b.onLink() && b.state != State::offMesh && b.place.valid(); }

bool goes(const Body& b) { return isOnItsWay(b) && b.way.status == route::PathStatus::complete; }

void countProgress(Body& b, double dt) {
  if (stands(b) && b.done) {
    b.progress.stalled = std::max(0.0, b.progress.stalled - dt);
    return;
  }
  const double left = isOnItsWay(b) ? leftOfWay(b) : INFINITY;
  if (left == INFINITY || left < b.progress.left - kGetsOn || left > b.progress.left + kOtherWay)
    b.progress = {left, 0};
  else
    b.progress.stalled += dt;
}

}  // namespace dune::crowd
