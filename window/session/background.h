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

  void start(Work work);
  /// Whatever is on its way ends soon and tells nothing any more.
  void stop();

 signals:
  /// How far the present work is, a few times a second.
  void progressed(const QString& step, double fraction);

 private:
  std::jthread thread_;
  int generation_ = 0;
};

}  // namespace dune::window
