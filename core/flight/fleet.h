#pragma once
// Bodies that fly, in fixed steps.
//
// 1. Everybody decides from the picture at the begin of the step, so the order does not matter and the bytes are the same on any threads.
// 2. No step goes into anything: what is near is a half-space of velocities that certainly keeps off it (distances to triangles are
//    convex), and the step is swept besides.
// 3. Each follows its way with momentum: it aims at a place ahead on it, as far ahead as it may pass waypoints, as long as it sees that
//    place.
// 4. Bodies make way for each other by half-spaces of velocities, each by half (van den Berg, Guy, Lin & Manocha 2011, in space); for
//    things that move and know nothing of them by all of it. Who is in a narrow place goes first, and of those who wait for each other
//    the lower number.
// 5. Who has a leader keeps its place beside that one, where its body fits there and sees it; elsewhere, and once the leader is at its
// goal,
//    it flies to its own goal. The leader waits for those who fall back.
// 6. What hovers stops at its goal; what has a least speed passes it, and flies on around it.

#include <cmath>
#include <memory>
#include <optional>

#include "core/flight/path.h"

namespace dune::flight {

/// A body and where it is to go; metres.
struct Pilot {
  int id = 0;
  std::size_t space = 0;  ///< which of the spaces is its own
  Vec3 start{};
  Vec3 goal{};
  std::vector<Vec3> round{};  ///< places after the goal, over and over
  double heading = 0;         ///< radians in plan, counter-clockwise from +x seen from above
  double startTime = 0;       ///< seconds
  /// Whom it keeps its place beside, by number; none: it flies by itself. That one keeps no place beside another, and is of its space.
  std::optional<std::size_t> leader{};
  Vec3 place{};  ///< from the leader's, metres: ahead, up and to the right of it
  /// Turns it towards its goal.
  void lookAhead() { heading = std::atan2(-(goal - start).z, (goal - start).x); }
};

/// Something that moves by itself, as its place and velocity are at the begin of a step.
struct Mover {
  Vec3 at{}, velocity{};
  double radius = 0.4, halfHeight = 0.9;
};

/// `waiting`: it has not begun, or lets another one through a narrow place first.
enum class FlightState : std::uint8_t { waiting, flying, arrived, stuck };

struct Airborne {
  Vec3 at{}, velocity{};                    ///< metres of its middle, metres a second
  Vec3 wanted{};                            ///< the velocity that it wanted before making way
  double heading = 0, bank = 0, pitch = 0;  ///< radians; bank to the right and pitch nose up are positive
  FlightState state = FlightState::waiting;
  Vec3 aim{};                ///< what it flies towards
  std::size_t waypoint = 0;  ///< the next corner of its way
  std::size_t gate = 0;      ///< the next narrow place of its way
  bool tight = false;        ///< walls on both sides: whoever is not makes way
  double waits = 0;          ///< seconds without getting on
  double front = 0;          ///< where the places beside it are ahead of, radians as its heading
  bool inPlace = false;      ///< it flies to its place beside its leader
};

struct FleetOptions {
  double rate = 30;         ///< steps a second
  double secondsAhead = 2;  ///< over which bodies make way
  double spacing = 0.1;     ///< kept between bodies, metres
  std::size_t heeds = 10;   ///< most neighbours that one makes way for
};

class Fleet {
 public:
  /// Everything that `pilots` name is in `spaces`, which must outlive it. Ways are found at the start; a start or goal that does not fit is
  /// a Problem that names the pilot.
  static Result<Fleet> make(std::vector<const Space*> spaces, std::vector<Pilot> pilots, const FleetOptions& options, Job& job);
  Fleet(Fleet&&) noexcept;
  Fleet& operator=(Fleet&&) noexcept;
  ~Fleet();

  /// One step. `movers` are there for it alone. False when cancelled; then there are no further steps.
  bool step(Job& job, std::span<const Mover> movers = {});

  double time() const;
  std::size_t size() const;
  const std::vector<Airborne>& bodies() const;
  const Pilot& pilot(std::size_t i) const;
  const Flyer& flyer(std::size_t i) const;
  /// The corners of the way that a body follows, metres.
  const std::vector<Vec3>& way(std::size_t i) const;

 private:
  struct State;
  explicit Fleet(std::unique_ptr<State> state);
  std::unique_ptr<State> state_;
};

}  // namespace dune::flight
