#pragma once
// Scenes of many who want to one place, made up by chance: in the open, among crates, behind a door, at a wall, in a corner, in a room, and
// in corridors that bend.

#include "core/base/plan_geometry.h"
#include "tests/core/flows.h"

namespace dune::test {

enum class Gathering : std::uint8_t { open, crates, door, wall, corner, room, farBehindBend, behindBend };
constexpr std::size_t kGatherings = 8;

namespace gathering {

inline const char* name(Gathering kind) {
  constexpr const char* kNames[kGatherings] = {"in the open", "among crates", "behind a door",     "at a wall",
                                               "in a corner", "in a room",    "far behind a bend", "behind a bend"};
  return kNames[static_cast<std::size_t>(kind)];
}

/// The ground, where they begin and where they want to.
struct Place {
  Scene ground;
  std::vector<std::pair<Vec2, double>> starts;  ///< around which, and how far; a corridor's is its length and its width
  Vec2 goal{20, 20};
  int most = 44;
};

inline Place corridor(Random& random, Gathering kind) {
  const double wide = random.in(1.1, 4), end = 30 - wide;
  Place p{Scene().floor(0, 0, 30, wide).floor(end, wide, 30, 30), {{{22, wide}, 0}}, {}, 24};
  if (kind == Gathering::behindBend)
    p.goal = {30 - wide / 2, random.in(wide, wide + 6)};
  else
    p.goal = {random.in(end + 0.45, 29.5), random.in(wide / 2, 29.5)};
  return p;
}

inline Place hall(Random& random, Gathering kind) {
  Place p{Scene().floor(0, 0, 40, 40), {}};
  for (int k = 0; kind == Gathering::crates && k < 12; ++k) {
    const Vec2 at{random.in(3, 36), random.in(3, 36)}, size{random.in(0.4, 2.5), random.in(0.4, 2.5)};
    if (glm::distance(at, p.goal) > 4) p.ground.box({at.x, -1, at.y}, {at.x + size.x, 2, at.y + size.y});
  }
  if (kind == Gathering::door) p.ground.box({12, -1, -1}, {12.3, 3, 19.3}).box({12, -1, 20.7}, {12.3, 3, 41});
  if (kind == Gathering::room) {
    p.ground.box({14, -1, 16}, {14.3, 3, 24}).box({14, -1, 15.7}, {24.3, 3, 16}).box({14, -1, 24}, {24.3, 3, 24.3});
    p.ground.box({24, -1, 16}, {24.3, 3, 19.4}).box({24, -1, 20.6}, {24.3, 3, 24});
    p.goal = {random.in(14.8, 23.5), random.in(16.5, 23.5)}, p.most = 20;
  }
  const auto side = [&] { return random.in(0, 1) < 0.5 ? 0.5 : 39.5; };
  if (kind == Gathering::wall) p.goal = {random.in(0.5, 39.5), side()};
  if (kind == Gathering::corner) p.goal = {side(), side()};
  for (int groups = 1 + static_cast<int>(random.in(0, 3)); groups > 0; --groups) {
    Vec2 from{random.in(4, 36), random.in(4, 36)};
    if (kind == Gathering::door) from.x = random.in(4, 8);
    if (kind == Gathering::room) from.x = random.in(4, 10);
    p.starts.push_back({from, 4});
  }
  return p;
}

}  // namespace gathering

/// By a seed: 4 to `most` bodies, some of which want to places beside each other.
inline Flow gatheringOf(Gathering kind, std::uint64_t seed) {
  Random random(seed);
  const bool bends = kind == Gathering::farBehindBend || kind == Gathering::behindBend;
  const gathering::Place place = bends ? gathering::corridor(random, kind) : gathering::hall(random, kind);
  Flow flow{text("%s, seed %d", gathering::name(kind), static_cast<int>(seed)), built(place.ground.world()), {}, 150};
  const nav::Locator locator(flow.ground->mesh);
  const double apart = random.in(0, 1) < 0.3 ? 0.6 : 0;
  const int count = static_cast<int>(random.in(4, place.most + 1));
  for (int tries = 0; tries < 4000 && static_cast<int>(flow.walkers.size()) < count; ++tries) {
    const auto& [from, far] = place.starts[flow.walkers.size() % place.starts.size()];
    const Vec2 at =
        bends ? Vec2{random.in(0.45, from.x), random.in(0.4, from.y - 0.4)} : from + Vec2{random.in(-far, far), random.in(-far, far)};
    const auto isNear = [&](const crowd::Walker& w) { return glm::distance(Vec2{w.start.x, w.start.z}, at) < 0.85; };
    if (!locator.under({at.x, 0, at.y}, 0.1).valid() || std::ranges::any_of(flow.walkers, isNear)) continue;
    const Vec3 to{place.goal.x + random.in(-apart, apart), 0, place.goal.y + random.in(-apart, apart)};
    flow.walkers.push_back(walker(static_cast<int>(flow.walkers.size()) + 1, {at.x, 0, at.y}, to));
  }
  return flow;
}

/// Rooms in a square, joined by corridors in which one at a time goes through; each of them wants to another place, in a room or a
/// corridor.
inline Flow maze(std::uint64_t seed) {
  Random random(seed);
  constexpr double kRoom = 4, kApart = 8;
  const double wide = random.in(1.1, 1.5);
  Scene ground;
  for (int x = 0; x < 3; ++x)
    for (int z = 0; z < 3; ++z) {
      const double x0 = x * kApart, z0 = z * kApart, mid = kRoom / 2 - wide / 2;
      ground.floor(x0, z0, x0 + kRoom, z0 + kRoom);
      if (x < 2) ground.floor(x0 + kRoom, z0 + mid, x0 + kApart, z0 + mid + wide);
      if (z < 2) ground.floor(x0 + mid, z0 + kRoom, x0 + mid + wide, z0 + kApart);
    }
  Flow flow{text("a maze, seed %d", static_cast<int>(seed)), built(ground.world()), {}, 400};
  const nav::Locator locator(flow.ground->mesh);
  std::vector<Vec3> starts, goals;
  const auto count = static_cast<std::size_t>(random.in(10, 50));
  for (int tries = 0; tries < 20000 && goals.size() < count; ++tries) {
    std::vector<Vec3>& places = starts.size() == count ? goals : starts;
    const Vec3 at{random.in(0, 2 * kApart + kRoom), 0, random.in(0, 2 * kApart + kRoom)};
    if (!locator.under(at, 0.1).valid()) continue;
    if (std::ranges::none_of(places, [&](const Vec3& p) { return glm::distance(p, at) < 0.85; })) places.push_back(at);
  }
  for (std::size_t i = 0; i < goals.size(); ++i) flow.walkers.push_back(walker(static_cast<int>(i) + 1, starts[i], goals[i]));
  return flow;
}

}  // namespace dune::test
