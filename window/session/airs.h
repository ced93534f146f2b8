#pragma once
// The free space of each kind of agent that flies, made beside everything else when somebody looks at it.

#include <map>

#include "core/pipeline/flight.h"
#include "core/review/findings.h"
#include "window/session/background.h"
#include "window/session/bulletin.h"
#include "window/session/flown.h"

namespace dune::window {

class Airs : public QObject {
  Q_OBJECT

 public:
  explicit Airs(Bulletin& bulletin);

  /// Makes it, unless what is there or on its way holds.
  void want(const project::Project& project, const std::shared_ptr<const level::Level>& level, int flyer);
  void drop();

  /// What was flown last, as long as what it was flown in holds; null: nothing.
  const std::shared_ptr<const Flown>& flown() const { return flown_; }
  void setFlown(std::shared_ptr<const Flown> flown);

  /// The last one of a kind, by id; null before the first.
  std::shared_ptr<const pipeline::Air> of(int flyer) const;
  /// What is wrong with those that are so now, and with what was flown last.
  std::vector<review::Finding> findings(const project::Project& project, const level::Level& level) const;
  /// Whether that is so now.
  bool fresh(const project::Project& project, const level::Level& level, int flyer) const;
  bool making() const { return work_.busy(); }
  double fraction() const { return work_.fraction(); }
  /// Why the last one could not be made; empty where it could.
  const QString& trouble() const { return trouble_; }

 signals:
  void findingsChanged();

 private:
  Bulletin& bulletin_;
  Background work_;
  project::Project asked_;  // what is on its way
  const level::Level* askedOf_ = nullptr;
  int askedFor_ = 0;
  QString trouble_;
  struct Made {
    std::shared_ptr<const pipeline::Air> air;
    std::vector<review::Finding> findings;
  };
  std::map<int, Made> airs_;
  std::shared_ptr<const Flown> flown_;
};

}  // namespace dune::window
