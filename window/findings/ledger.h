#pragma once
// The findings at the right edge: folded to a strip of counts until wanted.

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "window/session/finding_list.h"
#include "window/widgets/item_list.h"

class QToolButton;

namespace dune::window {

class Ledger : public QWidget {
  Q_OBJECT

 public:
  Ledger(const FindingList& findings, Selection& selection);
  /// Shows what is found now, and what is chosen of it.
  void refresh();
  void setOpen(bool open);
  bool isOpen() const { return open_; }
  void step(int by);  ///< chooses the next or the previous finding
  ItemList* list() const { return list_; }
  QPushButton* remedy() const { return remedy_; }

 signals:
  void chosen(const dune::review::Finding& finding);  ///< by the person
  void remedyAsked(const dune::review::Remedy& remedy);

 private:
  void showChosen();

  const FindingList& findings_;
  Selection& selection_;
  bool open_ = false;
  QWidget *strip_, *page_;
  QToolButton *fold_, *unfold_;
  QLabel *counts_[3], *title_, *detail_;
  ItemList* list_;
  QPushButton* remedy_;
};

}  // namespace dune::window
