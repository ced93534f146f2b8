#include "window/session/finding_list.h"

#include <algorithm>
#include <map>

#include "core/review/kinds.h"
#include "core/review/subject.h"

namespace dune::window {

namespace {

bool isOfMovement(const review::Finding& f) {
  const review::FindingKind* kind = review::kindOf(f.code);
  return kind && kind->part == review::Part::movement;
}

}  // namespace

void FindingList::beginRun() {
  if (std::exchange(ran_, true)) before_.emplace();
  if (!before_) return;
  for (const KeptFinding& k : all_)
    if (isOfMovement(k.finding)) before_->insert(k.id);
}

void FindingList::gather(std::initializer_list<const std::vector<review::Finding>*> groups) {
  all_.clear();
  std::map<std::string, int> seen;
  for (const auto* group : groups)
    for (const review::Finding& f : *group) {
      const std::string about = review::subjectOf(f);
      std::string id = about + '#' + std::to_string(seen[about]++);
      const bool isNew = before_ && isOfMovement(f) && !before_->contains(id);
      all_.push_back({std::move(id), f, isNew});
    }
  std::ranges::stable_sort(all_, {}, [](const KeptFinding& k) { return k.finding.severity; });
  bulletin_.add(Topic::findings);
}

const review::Finding* FindingList::withId(const std::string& id) const {
  const auto found = std::ranges::find(all_, id, &KeptFinding::id);
  return found == all_.end() ? nullptr : &found->finding;
}

std::size_t FindingList::count(review::Severity severity) const {
  return static_cast<std::size_t>(std::ranges::count(all_, severity, [](const KeptFinding& k) { return k.finding.severity; }));
}

}  // namespace dune::window
