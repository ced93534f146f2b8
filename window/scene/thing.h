#pragma once
// What can be chosen: in a list or in the world, by a lasting key.

#include <cstdint>
#include <string>

namespace dune::window {

enum class ThingKind : std::uint8_t {
  object,      ///< of the level, by name
  blocker,     ///< hand-made things by the ids of the document
  seed,        ///< by its number in the list
  rule,        ///< by its number in the list
  areaKind,    ///< by name
  groundRule,  ///< which kind ground is by a name; by its number in the list
  volume,
  link,
  route,
  card,
  group,
  place,         ///< with a name
  obstacle,      ///< that moves among a crowd
  change,        ///< a place that a build changed, by its number in the list
  threshold,     ///< of a limit that was tried, by its number in the list
  body,          ///< of a run, by its id
  finding,       ///< by its lasting id
  patch,         ///< of hand work
  face,          ///< of the ground, by the place of its middle
  edge,          ///< likewise
  corner,        ///< likewise
  flyer,         ///< a kind of agent that flies
  flightVolume,  ///< where they may
  flight,        ///< that is kept
  flyerGroup,    ///< that flies along
};

struct Thing {
  ThingKind kind;
  std::string key;
  bool operator==(const Thing&) const = default;
};

inline Thing thing(ThingKind kind, int id) { return {kind, std::to_string(id)}; }

}  // namespace dune::window
