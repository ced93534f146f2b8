#include "window/session/playback.h"

#include <algorithm>

namespace dune::window {

void Playback::setRun(std::shared_ptr<const pipeline::Run> run, std::shared_ptr<const pipeline::Run> other) {
  if (run == run_ && other == other_) return;
  run_ = std::move(run), other_ = std::move(other);
  time_ = run_ ? run_->trace.firstTime() : 0;
  if (run_ && !run_->trace.bodies().empty() && !run_->trace.bodyOf(body())) follow(run_->trace.bodies()[0].id);
  bulletin_.add(Topic::playback);
}

void Playback::setTime(double seconds) {
  time_ = run_ ? std::clamp(seconds, run_->trace.firstTime(), run_->trace.duration()) : 0;
  bulletin_.add(Topic::playback);
}

std::optional<Vec3> Playback::bodyAt() const {
  const auto number = run_ ? run_->trace.bodyOf(body()) : std::nullopt;
  return number ? std::optional(run_->trace.at(frame(), *number).at) : std::nullopt;
}

void Playback::setEyeFollows(bool on) {
  eyeFollows_ = on;
  bulletin_.add(Topic::playback);
}

void Playback::setTrails(bool on) {
  trails_ = on;
  bulletin_.add(Topic::playback);
}

std::size_t Playback::frame() const { return run_ ? run_->trace.frameAt(time_ + run_->trace.step() / 2) : 0; }

}  // namespace dune::window
