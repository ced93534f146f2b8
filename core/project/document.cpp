#include "core/project/document.h"

namespace dune::project {

void Document::change(const std::string& label, const std::function<void(Project&)>& edit, const std::string& mergeKey) {
  Project next = project_;
  edit(next);
  if (next.same(project_)) return;
  const bool merges = !mergeKey.empty() && mergeKey == mergeKey_ && position_ == steps_.size() && position_ > 0;
  if (merges) {
    steps_.back().after = next;
    if (next.same(steps_.back().before)) {  // a drag that came back to where it began
      steps_.pop_back();
      --position_;
      mergeKey_.clear();
      project_ = std::move(next);
      return changed();
    }
  } else {
    steps_.resize(position_);
    steps_.push_back({label, project_, next});
    ++position_;
  }
  mergeKey_ = mergeKey;
  project_ = std::move(next);
  changed();
}

void Document::undo() {
  if (!canUndo()) return;
  endMerge();
  project_ = steps_[--position_].before;
  changed();
}

void Document::redo() {
  if (!canRedo()) return;
  endMerge();
  project_ = steps_[position_++].after;
  changed();
}

void Document::reset(Project project) {
  project_ = saved_ = std::move(project);
  steps_.clear();
  position_ = 0;
  endMerge();
  changed();
}

}  // namespace dune::project
