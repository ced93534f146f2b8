#include "core/project/document.h"

#include <algorithm>
#include <map>

namespace dune::project {

namespace {

Project numbered(Project project) {
  AgentsSection agents = *project.agents;
  numberAgents(agents);
  const auto same = [](const AgentKind& a, const AgentKind& b) { return a.id == b.id; };
  if (!std::ranges::equal(agents.agents, project.agents->agents, same)) project.agents = std::make_shared<AgentsSection>(std::move(agents));
  return project;
}

}  // namespace

Document::Document(Project project) : project_(numbered(std::move(project))) {}

void Document::take(Project next) {
  project_ = std::move(next);
  changed();
}

void Document::change(const std::string& label, const std::function<void(Project&)>& edit, const std::string& mergeKey) {
  Project next = project_;
  edit(next);
  if (next.same(project_)) return;
  next = numbered(std::move(next));
  const bool goesOn = !mergeKey.empty() && mergeKey == mergeKey_ && position_ == steps_.size() && position_ > 0;
  const bool merges = drag_ ? std::exchange(drag_->changed, true) : goesOn;
  if (merges) {
    steps_.back().after = next;
    if (next.same(steps_.back().before)) {  // a drag that came back to where it began
      steps_.pop_back();
      --position_;
      mergeKey_.clear();
      if (drag_) drag_->changed = false;
      return take(std::move(next));
    }
  } else {
    steps_.resize(position_);
    steps_.push_back({label, project_, next});
    ++position_;
  }
  mergeKey_ = mergeKey;
  take(std::move(next));
}

void Document::begin() {
  commit();
  drag_ = Drag{project_, {steps_.begin() + static_cast<std::ptrdiff_t>(position_), steps_.end()}};
}

void Document::rollback() {
  if (!drag_) return;
  Drag drag = *std::exchange(drag_, std::nullopt);
  endMerge();
  if (drag.changed) --position_;  // the drag's one step
  steps_.resize(position_);
  std::ranges::move(drag.undone, std::back_inserter(steps_));
  if (drag.changed) take(std::move(drag.project));
}

void Document::undo() {
  if (drag_) return rollback();
  if (!canUndo()) return;
  endMerge();
  take(steps_[--position_].before);
}

void Document::redo() {
  if (drag_ || !canRedo()) return;
  endMerge();
  take(steps_[position_++].after);
}

void Document::retell(const std::function<void(LevelSection&)>& words) {
  std::map<std::shared_ptr<const LevelSection>, std::shared_ptr<const LevelSection>> told;
  const auto tell = [&](Project& p) {
    auto& now = told[p.level];
    if (!now) {
      auto copy = std::make_shared<LevelSection>(*p.level);
      words(*copy);
      now = std::move(copy);
    }
    p.level = now;
  };
  const auto tellSteps = [&](std::vector<Step>& steps) {
    for (Step& s : steps) tell(s.before), tell(s.after);
  };
  tell(project_), tell(saved_), tellSteps(steps_);
  if (drag_) tell(drag_->project), tellSteps(drag_->undone);
  changed();
}

void Document::reset(Project project) {
  project_ = saved_ = numbered(std::move(project));
  steps_.clear();
  position_ = 0;
  commit();
  changed();
}

}  // namespace dune::project
