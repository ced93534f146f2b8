#include "window/session/insights.h"

namespace dune::window {

namespace {

using Run = std::shared_ptr<const pipeline::Run>;

std::optional<Insights::Shown> insightOf(const Run& run, std::size_t frame, int body, Job& job) {
  const auto number = run ? run->trace.bodyOf(body) : std::nullopt;
  if (!number || frame >= run->trace.frameCount()) return std::nullopt;
  Insights::Shown shown{run, frame, *number, run->insight(frame, *number, job)};
  if (job.cancelled()) return std::nullopt;
  return shown;
}

}  // namespace

Insights::Insights(const Playback& playback, Bulletin& bulletin) : playback_(playback), bulletin_(bulletin) {
  connect(&bulletin_, &Bulletin::issued, this, [this](Topics topics) {
    if (topics & (Topics{Topic::playback} | Topic::run | Topic::selection)) follow();
  });
}

void Insights::setOn(bool on) {
  if (on == on_) return;
  on_ = on;
  if (on)
    follow();
  else
    background_.stop(), shown_[0].reset(), shown_[1].reset(), askedRun_.reset();
  bulletin_.add(Topic::insight);
}

/// One question at a time: the one for where the playback is by then comes after it.
void Insights::follow() {
  const bool asked = askedRun_ == playback_.run() && askedFrame_ == playback_.frame() && askedBody_ == playback_.body();
  if (!on_ || !playback_.run() || background_.busy() || asked) return;
  askedRun_ = playback_.run(), askedFrame_ = playback_.frame(), askedBody_ = playback_.body();
  background_.start(this, [this, run = askedRun_, other = playback_.other(), frame = askedFrame_, body = askedBody_](
                              Job& job, const Background::Tell& tell) {
    tell([this, first = insightOf(run, frame, body, job), second = insightOf(other, frame, body, job)] {
      shown_[0] = first, shown_[1] = second;
      bulletin_.add(Topic::insight);
      QMetaObject::invokeMethod(
          this, [this] { follow(); }, Qt::QueuedConnection);
    });
  });
}

}  // namespace dune::window
