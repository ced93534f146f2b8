#pragma once
// Questions that take many builds: which agents still pass between two places, and what a limit does over a range. They are asked
// beside building, one at a time.

#include <memory>
#include <optional>

#include "core/pipeline/sweep.h"
#include "window/session/background.h"
#include "window/session/bulletin.h"

namespace dune::window {

class Trials : public QObject {
  Q_OBJECT

 public:
  explicit Trials(Bulletin& bulletin);

  using Level = std::shared_ptr<const level::Level>;
  void sweep(const project::Project& project, const Level& level, std::size_t agent, const pipeline::SweepPlan& plan);
  void passing(const project::Project& project, const Level& level, std::size_t agent, const Vec3& from, const Vec3& to);
  void cancel();
  /// Forgets all answers.
  void drop();

  bool busy() const { return background_.busy(); }
  QString step() const;
  std::shared_ptr<const pipeline::Sweep> swept() const { return swept_; }
  const std::optional<pipeline::Passing>& passed() const { return passed_; }

 private:
  /// Asks in the background; `ask` gives a Result whose value goes into `target`.
  template <class Ask, class Target>
  void start(Ask ask, Target& target);

  Bulletin& bulletin_;
  Background background_;
  std::shared_ptr<const pipeline::Sweep> swept_;
  std::optional<pipeline::Passing> passed_;
};

}  // namespace dune::window
