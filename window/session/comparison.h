#pragma once
// What is different: since the last build, since a build that was kept, or between two kinds of agent.

#include <QObject>
#include <optional>

#include "window/session/grounds.h"

namespace dune::window {

class Comparison : public QObject {
  Q_OBJECT

 public:
  explicit Comparison(Bulletin& bulletin) : bulletin_(bulletin) {}

  /// Compares anew for the kind of agent that is worked on.
  void update(const Grounds& grounds, int kind, const project::Project& project);
  /// Builds of a step of the document begin: they are all compared with what was there before it.
  void beginStep(std::size_t step, const Grounds& grounds);
  /// Whatever is built next is compared with what was there before it, also within the same step.
  void forgetStep() { step_.reset(); }
  void keep(const Grounds& grounds) { kept_ = grounds.all(); }
  void forgetKept() { kept_.clear(); }
  bool withKept() const { return !kept_.empty(); }
  /// The id of another kind of agent whose ground is laid over that of the one that is worked on.
  std::optional<int> other() const { return other_; }
  void setOther(std::optional<int> kind) { other_ = kind; }
  /// Null when there is nothing to compare, or it is not known yet.
  const std::shared_ptr<const pipeline::Change>& change() const { return change_.value(); }
  /// Whether the ground to compare with was made from the level in other units, so that there is nothing to compare.
  bool acrossUnits() const { return acrossUnits_; }
  void stop() { work_.stop(); }
  void drop();

 private:
  std::shared_ptr<const pipeline::Ground> against(const Grounds& grounds, int kind) const;

  Bulletin& bulletin_;
  Background work_;
  Grounds::Map reference_, kept_;
  std::optional<std::size_t> step_ = 0;
  std::optional<int> other_;
  Latest<pipeline::Change> change_;
  bool acrossUnits_ = false;
};

}  // namespace dune::window
