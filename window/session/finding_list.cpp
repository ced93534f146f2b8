#include "window/session/finding_list.h"

#include <algorithm>
#include <map>

#include "core/pipeline/muting.h"
#include "core/review/kinds.h"
#include "core/review/subject.h"

namespace dune::window {

namespace {

bool isOfMovement(const review::Finding& f) {
  const review::FindingKind* kind = review::kindOf(f.code);
  return kind && kind->part == review::Part::movement && !f.flies;
}

std::string placeNear(const Vec3& at, const project::PlacesSection& section) {
  constexpr double kNear = 8;  // m
  const project::NamedPlace* best = nullptr;
  double least = kNear;
  for (const project::NamedPlace& p : section.places)
    if (const double d = glm::distance(p.at, at); d < least) least = d, best = &p;
  return best ? best->name : std::string();
}

/// With ids and places, and what is passed over marked.
std::vector<KeptFinding> kept(std::initializer_list<const std::vector<review::Finding>*> groups, const project::Project& project) {
  std::vector<KeptFinding> all;
  std::map<std::string, int> seen;
  for (const auto* group : groups)
    for (const review::Finding& f : *group) {
      const std::string about = review::subjectOf(f);
      KeptFinding k{about + '#' + std::to_string(seen[about]++), f, false, placeNear(f.at, *project.places)};
      pipeline::mute(k.finding, *project.review);
      all.push_back(std::move(k));
    }
  return all;
}

}  // namespace

void FindingList::beginAnew() {
  all_.clear(), muted_.clear(), gone_.clear(), before_.reset(), based_ = false;
  ++number_;
  bulletin_.add(Topic::findings);
}

void FindingList::beginRun() {
  before_.emplace();
  for (const auto* of : {&all_, &muted_})
    for (const KeptFinding& k : *of)
      if (isOfMovement(k.finding)) before_->push_back(k);
}

void FindingList::gather(std::initializer_list<const std::vector<review::Finding>*> groups, const project::Project& project,
                         const std::vector<review::Finding>* base) {
  all_.clear(), muted_.clear(), gone_.clear();
  based_ = base != nullptr;
  const std::vector<KeptFinding> compared = base ? kept({base}, project) : before_.value_or(std::vector<KeptFinding>());
  std::set<std::string> before, now;
  for (const KeptFinding& k : compared) before.insert(k.id);
  for (KeptFinding& k : kept(groups, project)) {
    k.isNew = compares() && isOfMovement(k.finding) && !before.contains(k.id);
    now.insert(k.id);
    (k.finding.muted.empty() ? all_ : muted_).push_back(std::move(k));
  }
  for (const KeptFinding& k : compared) {
    if (now.contains(k.id) || !isOfMovement(k.finding) || !k.finding.muted.empty()) continue;
    gone_.push_back(k);
    gone_.back().id = kGoneId + k.id;
  }
  for (auto* of : {&all_, &muted_, &gone_}) std::ranges::stable_sort(*of, {}, [](const KeptFinding& k) { return k.finding.severity; });
  bulletin_.add(Topic::findings);
}

const review::Finding* FindingList::withId(const std::string& id) const {
  for (const auto* of : {&all_, &muted_, &gone_})
    if (const auto found = std::ranges::find(*of, id, &KeptFinding::id); found != of->end()) return &found->finding;
  return nullptr;
}

std::size_t FindingList::count(review::Severity severity) const {
  return static_cast<std::size_t>(std::ranges::count(all_, severity, [](const KeptFinding& k) { return k.finding.severity; }));
}

}  // namespace dune::window
