#include "core/crowd/taking_turns.h"

#include "core/crowd/lanes.h"
#include "core/crowd/passage.h"

namespace dune::crowd {

namespace {
constexpr std::size_t kTurnsEvery = 8;  // steps between looks for narrow places
constexpr double kSeesOthers = 12;      // m, around narrow places
constexpr double kPatience = 20;        // s that a body waits for others before a narrow place
constexpr double kGoesBack = 0.5;       // of its speed, out of a passage
constexpr double kTurnedBack = -0.3;    // cosine between what it wants and the passage: it goes the other way now
constexpr double kLeastWay = 0.05;      // m to the next corner, for a heading
}  // namespace

Vec2 TakingTurns::wanted(std::size_t self, std::size_t step, const nav::NavMesh& mesh, const nav::Rules& rules) {
  Body& b = bodies_[self];
  const bool anew = (step + self) % kTurnsEvery == 0;
  if (anew) look(self, mesh, rules);
  if (const auto kept = inLane(self, anew)) return *kept;
  const std::optional<Narrow>& narrow = narrows_[self];
  if (!narrow && !b.passage) return b.wanted;
  const std::vector<Passer>& near = others(self, kSeesOthers + (b.passage ? b.passage->length() : 0));
  if (near.empty()) return b.wanted;
  if (b.passage) return throughPassage(self, near, mesh, rules);
  const bool patient = b.inTurn < kPatience * (1 + ownNumber(b.who.id));
  const Turn turn = inTurn(mesh, &rules, b, *narrow, near, patient);
  count(b, turn.waits);
  return turn.wanted;
}

/// At what is ahead of it. A passage that it is in stays the same until it is out.
void TakingTurns::look(std::size_t self, const nav::NavMesh& mesh, const nav::Rules& rules) {
  Body& b = bodies_[self];
  const double wanted = glm::length(b.wanted);
  narrows_[self] = wanted > 0 ? narrowAhead(mesh, b, &rules) : std::nullopt;
  b.lane = laneAt(mesh, b, &rules);
  if (b.passage)
    if (const auto s = b.passage->along(plan(b.place.position)); s && glm::dot(b.wanted, b.passage->directionAt(*s)) > kTurnedBack * wanted)
      return;
  b.passage = wanted > 0 ? passageAhead(mesh, b, &rules) : std::nullopt;
}

/// To its side, while somebody comes the other way.
std::optional<Vec2> TakingTurns::inLane(std::size_t self, bool anew) const {
  Body& b = bodies_[self];
  if (!b.lane || glm::dot(b.wanted, b.lane->along) <= 0 || (!anew && !b.lane->oncoming)) return std::nullopt;
  const std::vector<Passer>& near = others(self, kLaneSight);
  b.lane->oncoming = comesToward(*b.lane, b, near);
  return b.lane->oncoming ? std::optional(keptRight(*b.lane, b, near)) : std::nullopt;
}

/// Where another wants to, of length 1; zero for who stands at its goal, or was pushed from it.
Vec2 TakingTurns::heading(std::size_t other) const {
  const Vec2 wants = picture_.wants[other];
  const double length = glm::length(wants);
  return length > kLeastWay && !picture_.beenThere[other] ? wants / length : Vec2{0};
}

const std::vector<Passer>& TakingTurns::others(std::size_t self, double reach) const {
  thread_local std::vector<Passer> others;
  others.clear();
  picture_.eachNeighbour(self, reach, [&](const Seen& o) {
    others.push_back(
        {o.at, o.velocity, heading(o.number), bodies_[o.number].who.id, picture_.narrows[o.number], picture_.inTurn[o.number]});
  });
  return others;
}

Vec2 TakingTurns::throughPassage(std::size_t self, std::span<const Passer> others, const nav::NavMesh& mesh,
                                 const nav::Rules& rules) const {
  Body& b = bodies_[self];
  const PassageTurn turn = passageTurn(*b.passage, b, others);
  count(b, turn != PassageTurn::go);
  if (turn == PassageTurn::wait) return clearOfEnd(*b.passage, b);
  if (turn == PassageTurn::back) {
    const double along = b.passage->along(plan(b.place.position)).value_or(0);
    return -b.passage->directionAt(along) * kGoesBack * b.who.speed;
  }
  if (const auto wanted = inFile(*b.passage, b, others)) return *wanted;
  const std::optional<Narrow>& narrow = narrows_[self];
  return narrow ? inTurn(mesh, &rules, b, *narrow, others, false).wanted : b.wanted;
}

}  // namespace dune::crowd
