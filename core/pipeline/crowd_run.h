#pragma once
// A crowd's run, recorded, with what is wrong with it; what a body decided from at any moment of it; two runs compared.

#include "core/crowd/steering_model.h"
#include "core/pipeline/crowd_scene.h"
#include "core/review/movement.h"
#include "core/trace/trace.h"

namespace dune::pipeline {

/// What a run comes to, in numbers that two runs are compared by.
struct RunFigures {
  double bodies = 0, arrived = 0;
  double meanTime = 0;      ///< s until arrival, of those that arrived
  double lastTime = 0;      ///< s
  double standing = 0;      ///< s that a body stood on its way, on the mean
  double length = 0;        ///< m walked, on the mean
  double deepest = 0;       ///< m that two bodies overlapped, the most
  double trembling = 0;     ///< times that a body changed its heading by more than 90 degrees, a hundred seconds of walking
  double microseconds = 0;  ///< of computing, an agent step; not the same twice
};
/// One of these, as tables and files name it.
struct Figure {
  const char *name, *unit;
  double RunFigures::*value;
  int digits;
  bool ofArrived;  ///< says nothing where nobody arrived
  bool says(const RunFigures& r) const { return !ofArrived || r.arrived > 0; }
};
std::span<const Figure> figures();
/// O(samples). `findings`: about the trace.
RunFigures figuresOf(const trace::Trace& trace, const std::vector<review::Finding>& findings, double secondsOfComputing);

struct Run {
  project::Project from;
  std::string scene;
  std::string recording;                               ///< the file that it was read from; empty: it walked here
  trace::Reading reading;                              ///< how that was read
  std::shared_ptr<const Ground> ground;                ///< of the kind of agent that was worked on
  std::vector<std::shared_ptr<const Ground>> grounds;  ///< that bodies walked on
  std::vector<std::size_t> meshOf;                     ///< one a body: which of these
  std::vector<crowd::MovingObstacle> obstacles;
  trace::Trace trace;
  std::vector<float> wallDistance;  ///< one a sample of the trace, by time, then by body; metres
  std::vector<review::Finding> findings;
  struct Kept {
    std::size_t frame;
    crowd::Crowd crowd;
  };
  std::vector<Kept> kept;  ///< the crowd itself now and then, from which it goes on the same way
  RunFigures figures;

  /// What a body decided from at a frame of the trace: gone on to from where the crowd was kept last. O(bodies × frames in between).
  crowd::Insight insight(std::size_t frame, std::size_t body, Job& job) const;
  const Ground& groundOf(std::size_t body) const { return *grounds[meshOf[body]]; }
};

bool sameCrowd(const project::Project& a, const project::Project& b);

/// Hears while a crowd walks how it stands, some thirty times a second: a run whose trace is one frame, and with nothing found yet.
using WatchRun = std::function<void(std::shared_ptr<const Run>)>;

/// Lets a scene walk for the project's seconds. `instead`: how all groups steer, in place of what they say. `limits`: of its review.
Result<std::shared_ptr<const Run>> runCrowd(const project::Project& project, const KindGrounds& grounds, std::size_t agent, Job& job,
                                            const std::string& scene = {},
                                            const std::optional<crowd::SteeringSettings>& instead = std::nullopt,
                                            const WatchRun& watch = {}, const review::MovementLimits& limits = {});

constexpr double kFarFromWalls = 5;  ///< metres from a wall beyond which it is all one
/// Fills in a run's distances from walls, each body's by its own mesh; false when cancelled. O(samples).
bool measureWalls(Run& run, Job& job);

/// Records a crowd as trace::record does, and says how many seconds that took.
Result<double> recordTimed(crowd::Crowd& crowd, double seconds, trace::Sink& sink, Job& job,
                           const std::function<void(std::size_t frame)>& afterFrame = {});

}  // namespace dune::pipeline
