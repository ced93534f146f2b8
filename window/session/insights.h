#pragma once
// What the body that is followed decides from at the time of the playback, in each of the runs shown; worked out beside the window's
// thread, for it takes going on from where the crowd was kept last.

#include "window/session/background.h"
#include "window/session/playback.h"

namespace dune::window {

class Insights : public QObject {
  Q_OBJECT

 public:
  Insights(const Playback& playback, Bulletin& bulletin);

  /// While on, the answer follows the playback.
  void setOn(bool on);
  bool on() const { return on_; }
  /// Of the run that is played, or of the other one beside it; nothing until there is an answer for a moment of it.
  struct Shown {
    std::shared_ptr<const pipeline::Run> run;
    std::size_t frame = 0, body = 0;
    crowd::Insight insight;
  };
  const std::optional<Shown>& of(bool other) const { return shown_[other ? 1 : 0]; }

 private:
  void follow();

  const Playback& playback_;
  Bulletin& bulletin_;
  Background background_;
  bool on_ = false;
  std::size_t askedFrame_ = 0;
  int askedBody_ = -1;
  std::shared_ptr<const pipeline::Run> askedRun_;
  std::optional<Shown> shown_[2];
};

}  // namespace dune::window
