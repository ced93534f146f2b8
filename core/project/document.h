#pragma once
// The one door for changes: a Project with undo, redo and the knowledge of what was saved.
//
// 1. Every change is one undo step; undo gives back exactly the project before it.
// 2. Changes with the same non-empty merge key, one after the other, are one step (a drag), but never across a save.
// 3. A change that changes nothing leaves no step, nor does a drag that ends where it began.
// 4. Between begin() and commit() all changes are one step; rollback() makes the document, and what can be redone, as they were.

#include <functional>
#include <optional>

#include "core/project/project.h"

namespace dune::project {

class Document {
 public:
  explicit Document(Project project = {});

  const Project& project() const { return project_; }
  /// Applies a change. `label` names it in the menu: "Move link".
  void change(const std::string& label, const std::function<void(Project&)>& edit, const std::string& mergeKey = {});
  /// Ends merging: the next change is a step of its own even with the same key.
  void endMerge() { mergeKey_.clear(); }

  /// A drag begins: until it ends, changes are one step, whatever their keys. One that is still open is committed first.
  void begin();
  void commit() { drag_.reset(), endMerge(); }
  /// Gives the drag up.
  void rollback();
  bool dragging() const { return drag_.has_value(); }

  /// Rises with every step that is not merged into the one before, and falls with undo.
  std::size_t stepCount() const { return position_; }
  bool canUndo() const { return position_ > 0; }
  bool canRedo() const { return position_ < steps_.size(); }
  std::string undoLabel() const { return canUndo() ? steps_[position_ - 1].label : ""; }
  std::string redoLabel() const { return canRedo() ? steps_[position_].label : ""; }
  void undo();
  void redo();

  /// Says the same in other words, in every step there is: nothing to undo. Sections that are one stay one. What can be undone and what is
  /// open are told alike, so that going back never leads to words of another place.
  void retell(const std::function<void(LevelSection&)>& words);
  void markSaved() { saved_ = project_, commit(); }
  bool modified() const { return !project_.same(saved_); }
  /// Starts anew: another project, nothing to undo.
  void reset(Project project);

  /// Called after every change, undo, redo and reset.
  std::function<void()> onChange;

 private:
  struct Step {
    std::string label;
    Project before, after;
  };
  /// What was there when a drag began.
  struct Drag {
    Project project;
    std::vector<Step> undone;  ///< what could be redone
    bool changed = false;
  };
  void changed() {
    if (onChange) onChange();
  }
  void take(Project next);

  Project project_, saved_ = project_;
  std::vector<Step> steps_;
  std::size_t position_ = 0;
  std::string mergeKey_;
  std::optional<Drag> drag_;
};

}  // namespace dune::project
