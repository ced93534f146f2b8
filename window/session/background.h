#pragma once
// One thing done at a time on a thread of its own, for a window that must not wait. The newest request wins.
//
// 1. start() asks what is still on its way to stop and waits for that: every step of the core hears a stop within milliseconds.
// 2. What the work tells is done on the window's thread, and only as long as nothing newer was started and nobody called stop().

#include <QObject>
#include <functional>
#include <thread>

#include "core/base/job.h"

namespace dune::window {

class Background : public QObject {
  Q_OBJECT

 public:
  using Tell = std::function<void(std::function<void()>)>;
  using Work = std::function<void(Job&, const Tell&)>;

  explicit Background(QObject* parent = nullptr) : QObject(parent) {}
  ~Background() override;

  /// `who` asked for it, see worksFor().
  void start(const void* who, Work work);
  /// Whatever is on its way ends soon and tells nothing any more.
  void stop();

  bool busy() const { return who_ != nullptr; }
  bool worksFor(const void* who) const { return who_ == who; }
  /// Of what is on its way.
  double fraction() const { return fraction_; }
  const QString& step() const { return step_; }

 signals:
  /// Something began, went on or ended; a few times a second.
  void progressed();

 private:
  void end();

  std::jthread thread_;
  int generation_ = 0;
  const void* who_ = nullptr;
  double fraction_ = 0;
  QString step_;
};

}  // namespace dune::window
