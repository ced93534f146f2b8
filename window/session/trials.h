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

  /// The two kinds of question.
  enum class About { sweep, passing };
  bool busy() const { return background_.busy(); }
  bool busyWith(About about) const { return busy() && about_ == about; }
  /// Between which places was asked last.
  const std::optional<std::pair<Vec3, Vec3>>& between() const { return between_; }
  QString step() const;
  std::shared_ptr<const pipeline::Sweep> swept() const { return swept_; }
  /// Whether the sweep came from another level, other hand-made things, or another agent but for the limit that was tried.
  bool sweptIsOld(const project::Project& project, const Level& level, int agentKind) const;
  const std::optional<pipeline::Passing>& passed() const { return passed_; }

 private:
  /// Asks in the background; `ask` gives a Result whose value goes into `target`.
  template <class Ask, class Target>
  void start(Ask ask, Target& target);

  Bulletin& bulletin_;
  Background background_;
  std::shared_ptr<const pipeline::Sweep> swept_;
  Level sweptLevel_;    // that it came from
  int sweptKind_ = -1;  // of agent, by id
  std::optional<pipeline::Passing> passed_;
  std::optional<std::pair<Vec3, Vec3>> between_;
  About about_ = About::sweep;
};

}  // namespace dune::window
