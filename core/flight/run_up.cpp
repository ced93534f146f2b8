#include "core/flight/run_up.h"

#include "core/flight/tuning.h"

namespace dune::flight {

namespace {

/// The farthest place up to `most` from a gate that it is seen from.
Vec3 awayFrom(const Space& space, const Vec3& gate, const Vec3& by, double most) {
  for (double far = most; far > 0.2 * most; far *= 0.8)
    if (const Vec3 at = gate + by * far; space.passes(at, gate)) return at;
  return gate;
}

}  // namespace

std::vector<Vec3> withRunUps(const Space& space, Searcher& searcher, std::span<const Gate> gates, const std::vector<Vec3>& way) {
  const Flyer& f = space.flyer();
  const double behind = f.turningCircle(), before = tuning::kRunUpTurns * behind + tuning::kRunUpRadii * f.radius;
  std::vector<Vec3> led{way.front()};
  const auto lead = [&](const Vec3& to) {
    const Way part = searcher.find({led.back(), to});
    if (part.found()) led.insert(led.end(), part.points.begin() + 1, part.points.end());
    return part.found();
  };
  for (const Gate& gate : gates) {
    if (glm::distance(gate.at, led.back()) < f.radius) continue;
    if (!lead(awayFrom(space, gate.at, -gate.direction, before)) || !lead(gate.at)) return way;
    if (const Vec3 on = awayFrom(space, gate.at, gate.direction, behind); on != gate.at) led.push_back(on);
  }
  return lead(way.back()) ? led : way;
}

}  // namespace dune::flight
