#pragma once
// All findings of a session, worst first, each with an id that lasts: the same thing at the same place has the same id after the next
// build or run.

#include <optional>
#include <set>

#include "core/review/findings.h"
#include "window/session/bulletin.h"

namespace dune::window {

/// Begins the ids of what is no more there.
inline const std::string kGoneId = "gone ";

struct KeptFinding {
  std::string id;
  review::Finding finding;
  bool isNew = false;   ///< of the last run, and not of the one before
  std::string place{};  ///< the name of the place that it is near to; empty where there is none
};

class FindingList {
 public:
  explicit FindingList(Bulletin& bulletin) : bulletin_(bulletin) {}

  /// Takes over what was found, in groups: of the level, the ground, the run. The project says what is passed over, and how places are
  /// called. `base`: of the run that movement is compared with; null: of the one before.
  void gather(std::initializer_list<const std::vector<review::Finding>*> groups, const project::Project& project,
              const std::vector<review::Finding>* base = nullptr);
  /// Another project's begin: nothing is compared with what was before. number() rises.
  void beginAnew();
  int number() const { return number_; }
  /// What the next gather() brings of movement is of another run: what was not there until now is new.
  void beginRun();
  /// What is looked at is no newer run than before: nothing is new in it.
  void forgetRunBefore() { before_.reset(); }
  const std::vector<KeptFinding>& all() const { return all_; }
  /// What is passed over.
  const std::vector<KeptFinding>& muted() const { return muted_; }
  /// What was found of the run that movement is compared with, and is not now; not what is passed over.
  const std::vector<KeptFinding>& gone() const { return gone_; }
  /// Whether there is a run to compare with, so that it can be said what is new.
  bool compares() const { return based_ || before_.has_value(); }
  /// Whether that is another one than the run before.
  bool based() const { return based_; }
  /// Null when there is none of that id any more.
  const review::Finding* withId(const std::string& id) const;
  std::size_t count(review::Severity severity) const;

 private:
  Bulletin& bulletin_;
  std::vector<KeptFinding> all_, muted_, gone_;
  std::optional<std::vector<KeptFinding>> before_;  // of the run before
  bool based_ = false;                              // on another run than that
  int number_ = 0;
};

}  // namespace dune::window
