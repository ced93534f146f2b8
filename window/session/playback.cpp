#include "window/session/playback.h"

#include <algorithm>

namespace dune::window {

void Playback::setRun(std::shared_ptr<const pipeline::Run> run, std::shared_ptr<const pipeline::Run> other) {
  if (run == run_ && other == other_) return;
  const bool same = run == run_;
  run_ = std::move(run), other_ = std::move(other);
  if (same) return bulletin_.add(Topic::playback);
  time_ = run_ ? run_->trace.firstTime() : 0;
  if (run_ && !run_->trace.bodies().empty() && !run_->trace.bodyOf(body())) follow(run_->trace.bodies()[0].id);
  bulletin_.add(Topic::playback);
}

void Playback::setTime(double seconds) {
  time_ = run_ ? std::clamp(seconds, run_->trace.firstTime(), run_->trace.duration()) : 0;
  bulletin_.add(Topic::playback);
}

std::vector<int> Playback::bodies() const {
  std::vector<int> ids;
  for (const std::string& key : selection_.all(ThingKind::body)) ids.push_back(std::atoi(key.c_str()));
  std::ranges::sort(ids);
  return ids;
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

std::size_t Playback::frame() const { return run_ ? frameOf(*run_) : 0; }

std::size_t Playback::frameOf(const pipeline::Run& run) const {
  const double passed = run_ ? time_ - run_->trace.firstTime() : 0;
  return run.trace.frameAt(run.trace.firstTime() + passed + run.trace.step() / 2);
}

}  // namespace dune::window
