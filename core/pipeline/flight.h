#pragma once
// From a document to free space and to what flies in it.

#include <functional>
#include <map>

#include "core/crowd/moving_obstacle.h"
#include "core/flight/fleet.h"
#include "core/flight/space.h"
#include "core/level/world.h"
#include "core/project/project.h"
#include "core/review/findings.h"
#include "core/trace/trace.h"

namespace dune::pipeline {

/// What is in the way of a body that flies: the triangles of all objects that are ground or obstacles, with the closed solids that they are
/// the skin of, told from rooms as for the ground. What is ignored or only cuts ground is not in its way. Fails when cancelled.
Result<flight::SpaceInput> flightInput(const level::World& world, const flight::Flyer& flyer, std::vector<Box3> boxes, Job& job);

/// Where a level lets bodies fly when nobody says anything: its playable bounds, or else around it and 10 m over its top.
Box3 usualVolume(const level::World& world);

/// What the air in a box is to somebody who flies.
struct AirSaid {
  Box3 box;
  nav::KindRule rule;
  std::uint32_t kind = 0;
};
/// Where somebody may fly, and what air costs there.
struct AirVolumes {
  std::vector<Box3> boxes;
  std::vector<flight::AirZone> zones;
  bool operator==(const AirVolumes&) const = default;
};
/// Of where one may be, by what is said of air; of what overlaps the last one counts.
AirVolumes airVolumes(std::vector<Box3> boxes, std::span<const AirSaid> said);
/// Of one of a project's kinds, by its volumes; `usual`: where it may be where none says.
AirVolumes airVolumes(const project::Project& project, int flyer, const Box3& usual);

/// The free space of a kind of agent that flies, and the document that it was made from.
struct Air {
  project::Project from;
  std::shared_ptr<const level::Level> source;  ///< as it was read, without blockers
  std::shared_ptr<const flight::Space> space;
};
/// Whether a kind that flies, by its id, finds the same in both projects, of one level as it was read.
bool sameAir(const project::Project& a, const project::Project& b, int flyer);
/// Whether an air is that of a project's flyer now.
bool holds(const Air& air, const project::Project& project, const level::Level& level, int flyer);
/// The air of one of the project's flyers, by number. Where `before` holds it is the answer; else chunks of it near which nothing changed
/// are taken over.
Result<std::shared_ptr<const Air>> makeAir(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t flyer,
                                           std::shared_ptr<const Air> before, Job& job);

/// Why a body can or cannot be at a place.
struct FlightAnswer {
  bool fits = false;
  std::string reason;  ///< stable name: "fits", "outside", "touches", "inside", "height"
  std::string sentence;
  std::string object;                    ///< what is nearest; may be empty
  double distance = 0;                   ///< from the middle of the body to that, metres; infinity where nothing is near
  double missing = 0;                    ///< how much farther it would have to be, metres
  std::uint32_t part = flight::kNoNode;  ///< of the space, from the largest on
  double partSize = 0;                   ///< cubic metres
};
FlightAnswer explainFlight(const flight::Space& space, const Vec3& at);

/// The largest body of the same proportions that gets from one place to another, and where it is narrowest.
struct WidestFlyer {
  double radius = 0, halfHeight = 0;  ///< metres; 0 where none gets there
  Vec3 at{};                          ///< the place that lets no larger one through
  std::string object;                 ///< what is nearest there
};
/// What a space was made from.
flight::SpaceInput inputOf(const flight::Space& space);
/// To 1 %, between a twentieth of the flyer and twenty times; by building the space of each size that is tried.
Result<WidestFlyer> widestFlyer(const flight::SpaceInput& input, const Vec3& from, const Vec3& to, Job& job);

/// A group for which there was too little room at its start or goal.
struct TooFew {
  std::string group;
  int wanted, placed;
};
/// A pilot for each body of some groups, on the spaces of their kinds.
struct FleetInput {
  std::vector<const flight::Space*> spaces;
  std::vector<flight::Pilot> pilots;
  std::vector<int> groupOf{};  ///< one a pilot: id of its group
  std::vector<TooFew> tooFew{};
};
/// Spread out so that none overlaps at the start, as far as there is room. `airs`: by the ids of kinds; a group whose kind has none is a
/// Problem.
Result<FleetInput> fleetOf(std::span<const project::FlyerGroup> groups, const std::map<int, std::shared_ptr<const Air>>& airs);

/// How long a flight is recorded, and among whom.
struct Flying {
  double seconds = 60;
  /// What moves by itself at a time; nothing: nobody.
  std::function<std::vector<flight::Mover>(double time)> movers{};
  /// Asked after each frame; nothing: until the seconds are over.
  std::function<bool(std::size_t frame)> goesOn{};
};
/// Lets them fly and records every step: places are those of their middles.
Outcome recordFlight(flight::Fleet& fleet, const std::vector<int>& groupOf, const Flying& how, trace::Sink& sink, Job& job);

struct PersonSize {
  double radius = 0.4, height = 1.8;  ///< metres
};
/// The bodies of recorded movement as what flyers make way for, at a time after its first one; who waits for its own is not there yet.
/// `sizeOf`: of a body of which the recording does not say how wide it is, and how tall all are. O(bodies).
std::vector<flight::Mover> moversOf(const trace::Trace& trace, double time, const std::function<PersonSize(std::size_t body)>& sizeOf);
/// Likewise for an obstacle that moves: the upright round body about it.
flight::Mover moverOf(const crowd::MovingObstacle& obstacle, double time);

}  // namespace dune::pipeline
