#pragma once
// The ground of each kind of agent, by the kind's id: building it, what it says to kept routes and cards, and what is drawn for it where
// it is large.

#include <QObject>
#include <map>

#include "core/pipeline/level_review.h"
#include "window/session/background.h"
#include "window/session/build_prices.h"
#include "window/session/bulletin.h"
#include "window/session/latest.h"
#include "window/session/latest_question.h"

namespace dune::window {

class Grounds : public QObject {
  Q_OBJECT

 public:
  using Level = std::shared_ptr<const pipeline::LoadedLevel>;
  using Map = std::map<int, std::shared_ptr<const pipeline::Ground>>;  // by the id of the kind of agent

  Grounds(Background& work, Bulletin& bulletin);

  /// Null before a first build.
  std::shared_ptr<const pipeline::Ground> of(int kind) const;
  const pipeline::Answers& answers(int kind) const;
  /// A stand-in for the ground where that is large (coarse.h), and a coarser one for while the view moves; or null.
  std::shared_ptr<const level::Level> standIn(int kind) const;
  std::shared_ptr<const level::Level> sketch(int kind) const;
  Map all() const;
  /// About the level itself, as of the last build.
  const std::vector<review::Finding>& levelFindings() const { return levelFindings_; }

  bool fresh(const project::Project& project, std::size_t agent, const Level& level) const;
  bool allFresh(const project::Project& project, const Level& level) const;

  /// What building looks at; for this session, and for all kinds of agent.
  const generate::Scope& scope() const { return scope_; }
  void setScope(const generate::Scope& scope) { scope_ = scope; }
  /// Builds what is not fresh, the ground of `first` before the others.
  void build(const project::Project& project, const Level& level, std::size_t first);
  bool building() const { return work_.worksFor(this); }
  /// Asks all grounds what of the routes and cards is new. What would open partial ways comes later, see explained().
  void askAgain(const project::Project& project);
  /// What a build takes: seconds by what this machine took for the last ones of any level, memory by an estimate.
  QString price(int kind, const pipeline::LoadedLevel& level, const ground::Survey::Ahead& ahead) const;
  void drop();
  /// Forgets kinds of agent that the project has no more.
  void keepOnly(const project::AgentsSection& kinds);

 signals:
  void made(int kind);
  /// Every ground that a build was asked for is there, or one could not be made.
  void finished(bool allMade);
  /// Answers to kept routes say more than they did.
  void explained();

 private:
  struct Known {
    Latest<pipeline::Ground> ground;
    Latest<pipeline::Answers> answers;
    std::shared_ptr<const level::Level> standIn, sketch;
    const pipeline::Answers& said() const;
  };
  const Known* known(int kind) const;
  void take(int kind, const Known& now);
  struct Unexplained {
    int kind;
    std::shared_ptr<const pipeline::Answers> answers;
  };
  void explain(const project::Project& project, std::vector<Unexplained> slow);
  void prepare();

  Background& work_;
  Bulletin& bulletin_;
  BuildPrices prices_;
  generate::Scope scope_;
  std::map<int, Known> known_;
  std::vector<review::Finding> levelFindings_;
  LatestQuestion explaining_, preparing_;
};

}  // namespace dune::window
