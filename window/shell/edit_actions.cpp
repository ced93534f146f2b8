// What the Edit menu does: taking back, and the hand-made thing that is chosen. Its keys hold wherever the focus is, but where one types.

#include <QMenu>
#include <QMenuBar>

#include "window/findings/mute_dialog.h"
#include "window/shell/main_window.h"

namespace dune::window {

void MainWindow::makeEditMenu() {
  QMenu* edit = menuBar()->addMenu(tr("&Edit"));
  undo_ = edit->addAction(tr("Undo"), QKeySequence::Undo, this, &MainWindow::undo);
  redo_ = edit->addAction(tr("Redo"), QKeySequence::Redo, this, [this] { workspace_.document().redo(); });
  edit->addSeparator();
  edit->addAction(tr("Cut"), QKeySequence::Cut, this, &MainWindow::cutChosen);
  edit->addAction(tr("Copy"), QKeySequence::Copy, this, &MainWindow::copyChosen);
  edit->addAction(tr("Put in what was copied"), QKeySequence::Paste, this, &MainWindow::pasteCopied);
  edit->addAction(tr("Delete"), QKeySequence::Delete, this, [this] {
    if (!gestures_.key(Qt::Key_Delete)) readout_->say(tr("Nothing is chosen here that can be deleted."));
  });
  edit->addAction(tr("Choose all"), QKeySequence::SelectAll, this, [this] {
    if (!open().sheet()->chooseAll()) readout_->say(tr("All can be chosen only where objects of the level are shown."));
  });
  edit->addSeparator();
  edit->addAction(tr("Give up"), QKeySequence(Qt::Key_Escape), this, [this] {
    gestures_.key(Qt::Key_Escape);
    view_->redrawHand();
  });
}

/// A drag that is going on is what is undone first.
void MainWindow::undo() {
  if (!gestures_.giveUpDrag()) workspace_.document().undo();
}

void MainWindow::copyChosen() {
  const auto kind = gestures_.chosenKind();
  if (kind && copied_.copy(workspace_, *kind))
    readout_->say(tr("Copied. Ctrl+V puts it in where the mouse points, again and again."));
  else
    readout_->say(tr("Nothing is chosen here that can be copied."));
}

void MainWindow::cutChosen() {
  const auto kind = gestures_.chosenKind();
  if (!kind || !copied_.copy(workspace_, *kind)) return readout_->say(tr("Nothing is chosen here that can be cut."));
  gestures_.key(Qt::Key_Delete);
}

void MainWindow::pasteCopied() {
  if (copied_.empty()) return readout_->say(tr("Nothing was copied yet."));
  std::optional<Vec3> at;
  if (view_->underMouse()) {
    const auto pointed = view_->pointerAt(view_->mapFromGlobal(QCursor::pos())).hit;
    if (pointed) at = pointed->at;
  }
  copied_.paste(workspace_, at);
}

void MainWindow::muteFinding(const review::Finding& f) {
  const auto change = [this](const QString& label, const auto& edit) {
    workspace_.change(label, [&](project::Project& p) { project::edit(p.review, edit); });
  };
  if (!f.muted.empty())
    return change(tr("Tell findings again"), [&](project::ReviewSection& s) {
      std::erase_if(s.muted, [&](const project::MutedFindings& m) { return pipeline::mutes(m, f); });
    });
  MuteDialog dialog(f, this);
  if (dialog.exec() != QDialog::Accepted) return;
  project::MutedFindings muted = dialog.answer();
  change(tr("Mute findings"), [&](project::ReviewSection& s) {
    muted.id = project::nextId(s.muted);
    s.muted.push_back(muted);
  });
}

}  // namespace dune::window
