#pragma once
// A crowd on the meshes of its kinds of agent, stepped at a fixed rate. What it does in a step: picture, jams, following, turns at narrow
// places, the way to steer, limits, contacts; each has a file of its own.
//
// 1. Same input, same movement, for any number of threads: everybody decides from one picture of the begin of the step.
// 2. A body never leaves the mesh: its step is cut at the border.
// 3. Bodies that avoid each other never overlap, whichever way they steer (contacts.h).
// 4. Velocity changes by no more than the acceleration, heading by no more than the turning rate (a body that must turn
//    further slows down first).
//
// Example:
//   auto crowd = crowd::Crowd::make(field, walkers, options);
//   while (crowd->now() < 30 && crowd->step(job)) draw(crowd->bodies());

#include <limits>
#include <memory>
#include <span>

#include "core/base/job.h"
#include "core/crowd/scene.h"

namespace dune::crowd {

enum class State : std::uint8_t { moving, arrived, stuck, link, waiting, offMesh };
const char* stateName(State state);

/// How a body is at the end of a step.
struct BodyState {
  Vec3 at{};        ///< feet, metres
  Vec3 velocity{};  ///< metres a second
  Vec3 wanted{};    ///< the velocity it wanted before avoiding
  State state = State::waiting;
  nav::FaceId face = nav::kNoFace;
  double offPath = std::numeric_limits<double>::quiet_NaN();  ///< metres from the path that it follows; not a number while on none
};

struct Insight;

class Crowd {
 public:
  /// Keeps references to the fields, which must outlive it: one for each mesh that walkers name. Bodies are numbered by ascending id. Fails
  /// when a number of the scene makes no sense.
  static Result<Crowd> make(std::span<const route::Field* const> fields, std::vector<Walker> walkers, const SceneOptions& options);
  static Result<Crowd> make(const route::Field& field, std::vector<Walker> walkers, const SceneOptions& options);
  /// Another crowd that goes on from here and comes to the same.
  Crowd copy() const;
  Crowd(Crowd&&) noexcept;
  Crowd& operator=(Crowd&&) noexcept;
  ~Crowd();

  /// One step further; false when the job was cancelled, and then the crowd is of no more use. O(bodies × neighbours).
  bool step(Job& job);
  /// Seconds since the start.
  double now() const;
  std::size_t size() const;
  const Walker& walker(std::size_t body) const;
  std::span<const BodyState> bodies() const;
  /// What a body will decide from in the next step, and for what. O(bodies).
  Insight insight(std::size_t body) const;

 private:
  class Simulation;
  explicit Crowd(std::unique_ptr<Simulation> simulation);
  std::unique_ptr<Simulation> simulation_;
};

}  // namespace dune::crowd
