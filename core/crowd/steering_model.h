#pragma once
// Ways to steer, behind one interface: from what a body wants and what is around it, to a velocity.
//
// A model decides; it does not see to it that nobody touches: that is done after it, the same for all (contacts.h).

#include <memory>
#include <optional>

#include "core/crowd/half_planes.h"
#include "core/crowd/picture.h"

namespace dune::crowd {

/// What a body decides from: everything as it was at the begin of the step.
struct Situation {
  std::size_t self;
  const Body& body;
  const std::vector<Body>& bodies;  ///< their radii and speeds; where they are says the picture
  const Picture& picture;
  const nav::NavMesh& mesh;
  const nav::Rules& rules;
  const SteeringSettings& settings;
  std::span<const Seen> near;  ///< the others that are heeded, the nearest first
  double dt;                   ///< seconds a step

  Vec2 here() const { return plan(body.place.position); }
  double radiusWith(const Seen& other) const { return body.who.radius + bodies[other.number].who.radius; }
};

/// What a decision was made from, to be drawn. Velocities in metres a second.
struct Insight {
  Vec2 wanted{0}, decided{0}, taken{0};  ///< what the way asks; what the model made of it; what limits and contacts left
  std::vector<std::size_t> heeded;       ///< numbers of bodies, the nearest first
  std::vector<HalfPlane> planes;         ///< reciprocal: velocities to the left of each are allowed
  struct Spoke {
    Vec2 direction{0};
    double attraction = 0, danger = 0, weight = 0;  ///< 0 to 1, 0 to 1, and what was chosen by
  };
  std::vector<Spoke> ring;  ///< direction ring
  struct Feeler {
    Vec2 from{0}, to{0};
    bool free = false, taken = false;
  };
  std::vector<Feeler> feelers;
  std::vector<Vec2> pushes;   ///< collision time: what each of those heeded adds, metres a second squared
  std::optional<Vec2> ledTo;  ///< where it is led, out of a jam; it heeds nobody then
};

class SteeringModel {
 public:
  virtual ~SteeringModel() = default;
  /// The velocity that a body decides for. `memory` is its own, and kept from step to step. From any thread. O(others heeded).
  virtual Vec2 steer(const Situation& s, std::vector<float>& memory, Insight* insight) const = 0;
  /// Whether it keeps clear of others at all; else they walk through each other.
  virtual bool avoids() const { return true; }
};

const SteeringModel& reciprocalSteering();
const SteeringModel& collisionTimeSteering();
const SteeringModel& directionRingSteering();
const SteeringModel& feelerSteering();
const SteeringModel& noSteering();
const SteeringModel& modelFor(Steering model);

/// Adds what walls allow: half-planes that hold whatever others ask. The mesh already keeps the radius, so the centre may come up to its
/// border, and no further; only where the border lies beside the body, for past its ends the body goes around.
void addWalls(const Situation& s, std::vector<HalfPlane>& planes);
/// Adds what moving obstacles allow, which take no account of bodies.
void addObstacles(const Situation& s, std::vector<HalfPlane>& planes);
/// Adds what others may ask: who goes first and is held up asks for room.
void addCourtesy(const Situation& s, std::vector<HalfPlane>& planes);
/// How much of the time to look ahead a body heeds, 0.5 to 1: all of it while it gets on as it wants. Held up in a crowd it looks at the
/// next step only, for with much care nobody moves; that nobody touches is seen to otherwise.
double foresight(const Body& body);
/// Seconds until discs touch that are `apart` and near each other with `closing`; infinite when never, 0 when they touch and come nearer.
double timeToTouch(const Vec2& apart, const Vec2& closing, double radius);
/// The decided velocity as near as walls, moving obstacles and courtesy allow.
Vec2 withinWalls(const Situation& s, const Vec2& velocity);

}  // namespace dune::crowd
