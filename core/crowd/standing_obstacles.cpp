#include "core/crowd/standing_obstacles.h"

#include <algorithm>

namespace dune::crowd {

namespace {

constexpr double kWorthCutting = 1.0;  // s that it will stand on
constexpr double kNudge = 0.03;        // m that a body may be under the edge of what is cut out
constexpr double kFootUnder = 0.2;     // m that the foot of an obstacle may be over the ground

/// Whether a way leads through an outline, from where the body is.
bool leadsThrough(const Body& b, const nav::Cut& cut) {
  Vec2 from = plan(b.place.position);
  for (std::size_t i = b.way.next; i < b.way.points.size(); ++i) {
    const Vec3& to = b.way.points[i];
    const bool level = std::max(b.place.position.y, to.y) >= cut.low && std::min(b.place.position.y, to.y) <= cut.high;
    if (level) {
      if (contains(cut.outline, plan(to))) return true;
      for (std::size_t k = 0; k < cut.outline.size(); ++k) {
        const auto t = crossingParameter(from, plan(to), cut.outline[k], cut.outline[(k + 1) % cut.outline.size()]);
        if (t && *t >= 0 && *t <= 1) return true;
      }
    }
    from = plan(to);
  }
  return false;
}

}  // namespace

bool StandingObstacles::coversNobody(const Footprint& print, const std::vector<Body>& bodies) const {
  return std::ranges::none_of(bodies, [&](const Body& b) {
    const Vec3& at = b.onLink() ? b.landing.position : b.place.position;
    return b.begun && at.y >= print.low - kFootUnder && at.y < print.high && print.distance(plan(at)) < b.who.radius - kNudge;
  });
}

void StandingObstacles::update(const std::vector<MovingObstacle>& obstacles, double now, std::vector<Floor>& floors,
                               std::vector<Body>& bodies, std::vector<Footprint>& others) {
  cut_.resize(obstacles.size());
  others.clear();
  bool changed = false, gaveBack = false;
  for (std::size_t i = 0; i < obstacles.size(); ++i) {
    const Whereabouts where = whereabouts(obstacles[i], now);
    const Footprint print = footprint(obstacles[i], where);
    if (cut_[i] && where.standsFor <= 0) cut_[i] = false, changed = gaveBack = true;
    if (!cut_[i] && where.standsFor > kWorthCutting && coversNobody(print, bodies)) cut_[i] = true, changed = true;
    if (!cut_[i]) others.push_back(print);
  }
  if (!changed) return;
  for (std::size_t mesh = 0; mesh < floors.size(); ++mesh) cut(obstacles, now, floors[mesh], mesh, bodies, gaveBack);
}

void StandingObstacles::cut(const std::vector<MovingObstacle>& obstacles, double now, Floor& floor, std::size_t mesh,
                            std::vector<Body>& bodies, bool gaveBack) const {
  std::vector<nav::Cut> cuts;
  const nav::Agent agent = floor.mesh().agent;
  for (std::size_t i = 0; i < obstacles.size(); ++i) {
    if (!cut_[i]) continue;
    const Footprint print = footprint(obstacles[i], whereabouts(obstacles[i], now));
    cuts.push_back({print.grown(agent.radius), print.low - agent.height, print.high});
  }
  floor.cutOut(cuts);
  for (Body& b : bodies) {
    if (b.who.mesh != mesh || b.state == State::offMesh) continue;
    // Faces are numbered anew, under those who fly, too.
    if (b.onLink()) {
      b.landing = floor.placeAt(b.landing.position, cuts);
      b.place.face = floor.placeAt(b.way.points[b.way.next], cuts).face;
      continue;
    }
    b.place = floor.placeAt(b.place.position, cuts);
    if (gaveBack || std::ranges::any_of(cuts, [&](const nav::Cut& c) { return leadsThrough(b, c); })) Following::askAnew(b);
  }
}

}  // namespace dune::crowd
