#pragma once
// All findings of a session, worst first, each with an id that lasts: the same thing at the same place has the same id after the next
// build or run.

#include "core/review/findings.h"
#include "window/session/bulletin.h"

namespace dune::window {

struct KeptFinding {
  std::string id;
  review::Finding finding;
};

class FindingList {
 public:
  explicit FindingList(Bulletin& bulletin) : bulletin_(bulletin) {}

  /// Takes over what was found, in groups: of the level, the ground, the run.
  void gather(std::initializer_list<const std::vector<review::Finding>*> groups);
  const std::vector<KeptFinding>& all() const { return all_; }
  /// Null when there is none of that id any more.
  const review::Finding* withId(const std::string& id) const;
  std::size_t count(review::Severity severity) const;

 private:
  Bulletin& bulletin_;
  std::vector<KeptFinding> all_;
};

}  // namespace dune::window
