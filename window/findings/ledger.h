#pragma once
// The findings at the right edge: folded to a strip of counts until wanted.

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>
#include <array>

#include "window/findings/groups.h"
#include "window/widgets/item_list.h"

class QComboBox;
class QVBoxLayout;
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
  QPushButton* remedyForAll() const { return all_; }
  /// What one may want in place of that; as many as the chosen finding has.
  std::vector<QPushButton*> insteadButtons() const;
  QPushButton* muteButton() const { return mute_; }
  QComboBox* groupingChoice() const { return grouping_; }

 signals:
  void chosen(const dune::review::Finding& finding);  ///< by the person
  void remedyAsked(const dune::review::Remedy& remedy);
  /// All findings of its kind that have one.
  void remedyForAllAsked(const std::string& code);
  /// To pass it over, or, where it is passed over, to tell it again.
  void muteAsked(const dune::review::Finding& finding);

 private:
  void showChosen();
  void showInstead(const review::Finding* f);
  void showRemedyForAll(const std::string& chosen, const review::Finding* f);
  /// Unfolds or folds a row of many; nothing for `open`: the other of both.
  void unfold(const std::string& head, std::optional<bool> open);
  bool passes(const KeptFinding& kept) const;
  Grouping grouping() const;
  std::vector<const KeptFinding*> passing(const std::vector<KeptFinding>& of) const;
  ItemRow rowOf(const KeptFinding& kept) const;
  /// Of all of a group, which stand below it or are folded away.
  ItemRow headOf(const FindingGroup& group) const;
  void addRows(const FindingGroup& group, bool folds, std::vector<ItemRow>& rows);
  void makeTop(QVBoxLayout* column);
  void makeBottom(QVBoxLayout* column);

  const FindingList& findings_;
  Selection& selection_;
  bool open_ = false;
  QWidget *strip_, *page_;
  QToolButton *fold_, *unfold_;
  QLabel *counts_[3], *title_, *detail_;
  QLineEdit* filter_;
  QCheckBox* onlyNew_;
  QComboBox* grouping_;
  std::set<std::string> unfolded_;           // keys of groups
  std::map<std::string, QString> causes_;    // of groups that fold: what is said most often of why
  std::map<std::string, std::string> head_;  // ids of what stands in such a group, and its key
  int listNumber_ = 0;
  std::string allOf_;               // the code that all_ is about
  std::vector<std::string> shown_;  // ids of what passes the filter, in the order of the list
  ItemList* list_;
  QPushButton *remedy_, *all_, *mute_;
  std::array<QPushButton*, 2> instead_{};
};

}  // namespace dune::window
