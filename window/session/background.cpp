#include "window/session/background.h"

#include <chrono>
#include <mutex>

#include "core/system/threads.h"

namespace dune::window {

namespace {
constexpr auto kReportEvery = std::chrono::milliseconds(200);
}  // namespace

Background::~Background() {
  ++generation_;
  if (thread_.joinable()) thread_.request_stop(), thread_.join();
}

void Background::stop() {
  ++generation_;
  if (thread_.joinable()) thread_.request_stop();
  if (busy()) end();
}

void Background::end() {
  who_ = nullptr, fraction_ = 0;
  step_.clear();
  emit progressed();
}

void Background::start(const void* who, Work work) {
  stop();
  if (thread_.joinable()) thread_.join();
  who_ = who;
  const Tell tell = [this, generation = generation_](std::function<void()> what) {
    QMetaObject::invokeMethod(this, [this, generation, what = std::move(what)] {
      if (generation == generation_) what();
    });
  };
  emit progressed();
  thread_ = std::jthread([this, work = std::move(work), tell](const std::stop_token& stop) {
    giveWay();  // without a graphics card the window is drawn by the same cores
    auto last = std::chrono::steady_clock::now() - kReportEvery;
    std::mutex mutex;
    ThreadedJob job(stop, [&](const std::string& step, double fraction) {
      const std::scoped_lock lock(mutex);
      const auto now = std::chrono::steady_clock::now();
      if (now - last < kReportEvery) return;
      last = now;
      tell([this, step = QString::fromStdString(step), fraction] {
        step_ = step, fraction_ = fraction;
        emit progressed();
      });
    });
    work(job, tell);
    tell([this] { end(); });
  });
}

}  // namespace dune::window
