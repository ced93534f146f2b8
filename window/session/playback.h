#pragma once
// Where the playback of a run is, and which body is followed. The reel moves it; the world and the sheets follow.

#include "core/pipeline/crowd_run.h"
#include "window/session/bulletin.h"
#include "window/session/selection.h"

namespace dune::window {

class Playback {
 public:
  Playback(Selection& selection, Bulletin& bulletin) : selection_(selection), bulletin_(bulletin) {}

  /// Another run is played from its begin, and one to compare it with in step; that may be null.
  void setRun(std::shared_ptr<const pipeline::Run> run, std::shared_ptr<const pipeline::Run> other);
  const std::shared_ptr<const pipeline::Run>& run() const { return run_; }
  const std::shared_ptr<const pipeline::Run>& other() const { return other_; }
  double time() const { return time_; }
  /// Within the run; seconds.
  void setTime(double seconds);
  /// The frame of the trace at the time.
  std::size_t frame() const;
  /// The frame of another run at as much time after its begin.
  std::size_t frameOf(const pipeline::Run& run) const;
  /// The id of the body that is followed, or -1.
  int body() const { return selection_.id(ThingKind::body); }
  /// The ids of all that are chosen, ascending.
  std::vector<int> bodies() const;
  void follow(int body) { selection_.choose(ThingKind::body, body); }
  /// Where the body that is followed is now; nothing without one.
  std::optional<Vec3> bodyAt() const;
  /// Whether the eye goes with the body that is followed.
  bool eyeFollows() const { return eyeFollows_; }
  void setEyeFollows(bool on);
  /// Whether bodies show where they were.
  bool trails() const { return trails_; }
  void setTrails(bool on);

 private:
  Selection& selection_;
  Bulletin& bulletin_;
  std::shared_ptr<const pipeline::Run> run_, other_;
  double time_ = 0;
  bool eyeFollows_ = false, trails_ = false;
};

}  // namespace dune::window
