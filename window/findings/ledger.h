#pragma once
// The findings at the right edge: folded to a strip of counts until wanted.

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
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
  /// Chooses one of those that are there; what it is folded away in unfolds.
  void choose(const std::string& id);
  ItemList* list() const { return list_; }
  QLineEdit* filter() const { return filter_; }
  QCheckBox* onlyNew() const { return onlyNew_; }
  QPushButton* remedy() const { return remedy_; }

 signals:
  void chosen(const dune::review::Finding& finding);  ///< by the person
  void remedyAsked(const dune::review::Remedy& remedy);

 private:
  void showChosen();
  /// Unfolds or folds a row of many; nothing for `open`: the other of both.
  void unfold(const std::string& head, std::optional<bool> open);
  bool passes(const KeptFinding& kept) const;
  ItemRow rowOf(const KeptFinding& kept) const;
  /// Of all of a kind, which stand below it or are folded away.
  ItemRow headOf(const std::string& code, std::size_t count) const;
  /// What is said most often of why.
  QString causeOf(const std::string& code) const;

  const FindingList& findings_;
  Selection& selection_;
  bool open_ = false;
  QWidget *strip_, *page_;
  QToolButton *fold_, *unfold_;
  QLabel *counts_[3], *title_, *detail_;
  QLineEdit* filter_;
  QCheckBox* onlyNew_;
  std::set<std::string> unfolded_;  // codes
  std::vector<std::string> shown_;  // ids of what passes the filter, in the order of the list
  ItemList* list_;
  QPushButton* remedy_;
};

}  // namespace dune::window
