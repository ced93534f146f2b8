#include "window/session/latest_question.h"

#include <utility>

namespace dune::window {

/// Also where what was on its way was dropped, and something new waits for its end.
LatestQuestion::LatestQuestion() { connect(&background_, &Background::progressed, this, &LatestQuestion::goOn, Qt::QueuedConnection); }

void LatestQuestion::ask(Question question) {
  next_ = std::move(question);
  goOn();
}

void LatestQuestion::drop() {
  next_ = {};
  background_.stop();
}

void LatestQuestion::goOn() {
  if (!next_ || background_.busy()) return;
  background_.start(this, [question = std::exchange(next_, {})](Job& job, const Background::Tell& tell) {
    if (Answer answer = question(job); answer && !job.cancelled()) tell(std::move(answer));
  });
}

}  // namespace dune::window
