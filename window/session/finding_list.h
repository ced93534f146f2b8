#pragma once
// All findings of a session, worst first, each with an id that lasts: the same thing at the same place has the same id after the next
// build or run.

#include <optional>
#include <set>

#include "core/review/findings.h"
#include "window/session/bulletin.h"

namespace dune::window {

struct KeptFinding {
  std::string id;
  review::Finding finding;
  bool isNew = false;  ///< of the last run, and not of the one before
};

class FindingList {
 public:
  explicit FindingList(Bulletin& bulletin) : bulletin_(bulletin) {}

  /// Takes over what was found, in groups: of the level, the ground, the run.
  void gather(std::initializer_list<const std::vector<review::Finding>*> groups);
  /// What the next gather() brings of movement is of another run: what was not there until now is new.
  void beginRun();
  const std::vector<KeptFinding>& all() const { return all_; }
  /// Whether there was a run before the last one, so that it can be said what is new.
  bool compares() const { return before_.has_value(); }
  /// Null when there is none of that id any more.
  const review::Finding* withId(const std::string& id) const;
  std::size_t count(review::Severity severity) const;

 private:
  Bulletin& bulletin_;
  std::vector<KeptFinding> all_;
  std::optional<std::set<std::string>> before_;  // ids of the run before
  bool ran_ = false;
};

}  // namespace dune::window
