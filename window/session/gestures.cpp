#include "window/session/gestures.h"

#include <algorithm>

#include "window/session/hand_made.h"

namespace dune::window {

void Gestures::setTool(Tool* tool) {
  if (tool == tool_) return;
  giveUpDrag();
  if (tool_) tool_->giveUp();
  tool_ = tool;
}

bool Gestures::giveUpDrag() {
  if (!std::exchange(dragging_, false)) return false;
  tool_->giveUp();
  workspace_.document().rollback();
  changed();
  return true;
}

bool Gestures::press(const Pointer& p, Qt::MouseButton button) {
  givenUp_ = giveUpDrag();  // a second button
  if (givenUp_) return true;
  if (button != Qt::LeftButton || !tool_) return false;
  workspace_.document().begin();
  dragging_ = tool_->press(p);
  if (!dragging_) workspace_.document().commit();
  changed();
  return dragging_;
}

void Gestures::drag(const Pointer& p) {
  if (!dragging_) return;
  tool_->drag(p);
  changed();
}

void Gestures::drop(const Pointer& p) {
  if (!std::exchange(dragging_, false)) return;
  tool_->drop(p);
  workspace_.document().commit();
  changed();
}

void Gestures::hover(const Pointer& p) {
  if (!tool_) return;
  tool_->hover(p);
  changed();
}

void Gestures::click(const Pointer& p, Qt::MouseButton button) {
  if (button != Qt::LeftButton || givenUp_) return;
  if (p.thing && p.thing->kind == ThingKind::body && (p.modifiers & Qt::ControlModifier))
    workspace_.selection().toggle(*p.thing);
  else if (p.thing)
    workspace_.selection().choose(*p.thing);
  else if (tool_)
    tool_->click(p);
}

bool Gestures::doubleClick(const Pointer&) {
  if (!tool_ || !tool_->finish()) return false;
  changed();
  return true;
}

bool Gestures::key(int key) {
  switch (key) {
    case Qt::Key_Escape:
      return escape();
    case Qt::Key_Delete:
      return remove();
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return doubleClick({});
    default:
      return false;
  }
}

bool Gestures::raise(const Pointer& p, double notches) { return tool_ && tool_->raise(p, notches); }

bool Gestures::escape() {
  if (giveUpDrag()) return true;
  if (!tool_) return false;
  if (!tool_->giveUp()) emit toolLeft();
  changed();
  return true;
}

bool Gestures::remove() {
  if (dragging_) return false;
  const auto kind = chosenKind();
  return kind && removeChosen(workspace_, *kind);
}

std::optional<ThingKind> Gestures::chosenKind() const {
  const Selection& selection = workspace_.selection();
  const auto last = selection.last();
  const bool lastCounts = last && std::ranges::count(removable_, *last) > 0;
  const auto kind = lastCounts ? std::ranges::find(removable_, *last)
                               : std::ranges::find_if(removable_, [&](ThingKind k) { return !selection.all(k).empty(); });
  return kind == removable_.end() ? std::nullopt : std::optional(*kind);
}

void Gestures::draw(DrawList& list, const Camera& camera) const {
  if (tool_) tool_->draw(list, camera);
}

void Gestures::drawOver(DrawList& list, const Camera& camera) const {
  if (tool_) tool_->drawOver(list, camera);
}

}  // namespace dune::window
