#pragma once
// The one place where presses, drags, the second button, Esc, Enter and Delete get their meaning in the world.
//
// 1. A press of the left button is the tool's, if it takes it: then until the button goes up the document is in a drag, which is one step
//    and is committed at the end. Else it chooses what is drawn there; with Ctrl, an agent is added to those that are chosen or taken out.
// 2. The second button or Esc during a drag gives it up: the document is as it was. Esc otherwise gives up what clicks began, and then
//    the tool. Enter and a double click end what clicks began. Delete takes away what is chosen.

#include <QObject>

#include "window/scene/hand.h"
#include "window/session/workspace.h"

namespace dune::window {

class Gestures : public QObject, public Hand {
  Q_OBJECT

 public:
  explicit Gestures(Workspace& workspace) : workspace_(workspace) {}

  /// Null: the left button chooses and turns the view.
  void setTool(Tool* tool);
  const Tool* tool() const { return tool_; }
  /// What Delete may take away, the kind first that is meant where nothing was chosen last.
  void setRemovable(std::vector<ThingKind> kinds) { removable_ = std::move(kinds); }
  /// Between a press that the tool took and its end.
  bool dragging() const { return dragging_; }
  /// Gives up a drag that is going on, as Esc does.
  bool giveUpDrag();
  /// The kind of what Delete takes away now; none when nothing of what the stop shows is chosen.
  std::optional<ThingKind> chosenKind() const;
  /// Whether the mouse holds something, so that nothing else is shown under it.
  bool holding() const { return tool_ && tool_->holding(); }

  bool press(const Pointer& p, Qt::MouseButton button) override;
  void drag(const Pointer& p) override;
  void drop(const Pointer& p) override;
  void hover(const Pointer& p) override;
  void click(const Pointer& p, Qt::MouseButton button) override;
  bool doubleClick(const Pointer& p) override;
  bool key(int key) override;
  bool raise(const Pointer& p, double notches) override;
  void draw(DrawList& list, const Camera& camera) const override;
  void drawOver(DrawList& list, const Camera& camera) const override;

 signals:
  void toolLeft();

 private:
  bool escape();
  bool remove();
  void changed() { workspace_.bulletin().add(Topic::tool); }

  Workspace& workspace_;
  Tool* tool_ = nullptr;
  std::vector<ThingKind> removable_;
  bool dragging_ = false, givenUp_ = false;
};

}  // namespace dune::window
