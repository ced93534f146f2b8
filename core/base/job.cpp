#include "core/base/job.h"

#include <algorithm>

namespace dune {

Job::Job(std::stop_token stop, Report report, int threads) : stop_(std::move(stop)), report_(std::move(report)), threads_(threads) {}

bool Job::cancelled() const {
  if (cancelled_.load(std::memory_order_relaxed)) return true;
  bool now = stop_.stop_requested();
  if (checksLeft_.load(std::memory_order_relaxed) >= 0) now |= checksLeft_.fetch_sub(1) <= 1;
  if (now) cancelled_ = true;
  return now;
}

void Job::step(const std::string& name, double until) {
  const std::scoped_lock lock(mutex_);
  step_ = name;
  from_ = now_ = std::max(now_, until_);
  until_ = std::max(until, from_);
  if (report_) report_(step_, now_);
}

void Job::advance(double ofStep) {
  const std::scoped_lock lock(mutex_);
  const double next = from_ + (until_ - from_) * std::clamp(ofStep, 0.0, 1.0);
  if (next <= now_) return;
  now_ = next;
  if (report_) report_(step_, now_);
}

}  // namespace dune
