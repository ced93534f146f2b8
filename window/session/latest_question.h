#pragma once
// Questions of one kind that may be asked faster than they can be answered, as while something is dragged: one is worked on beside the
// window, and of those that come meanwhile only the last one waits.

#include "window/session/background.h"

namespace dune::window {

class LatestQuestion : public QObject {
  Q_OBJECT

 public:
  using Answer = std::function<void()>;          ///< done on the window's thread; may be empty
  using Question = std::function<Answer(Job&)>;  ///< worked out beside it

  LatestQuestion();
  void ask(Question question);
  /// Nothing that was asked so far is answered any more.
  void drop();

 private:
  void goOn();

  Background background_;
  Question next_;
};

}  // namespace dune::window
