#pragma once
// The findings at the right edge: folded to a strip of counts until wanted.

#include <QLabel>
#include <QListView>
#include <QPushButton>
#include <QWidget>

#include "window/findings/findings_model.h"

class QToolButton;

namespace dune::window {

class Ledger : public QWidget {
  Q_OBJECT

 public:
  explicit Ledger(QWidget* parent = nullptr);
  void setFindings(std::vector<review::Finding> findings);
  void setOpen(bool open);
  bool isOpen() const { return open_; }
  void step(int by);  ///< chooses the next or the previous finding
  QListView* list() const { return list_; }
  QPushButton* remedy() const { return remedy_; }
  FindingsModel& model() { return model_; }

 signals:
  void chosen(const dune::review::Finding& finding);
  void remedyAsked(const dune::review::Remedy& remedy);

 private:
  FindingsModel model_;
  bool open_ = false;
  QWidget *strip_, *page_;
  QToolButton *fold_, *unfold_;
  QLabel *counts_[3], *title_, *detail_;
  QListView* list_;
  QPushButton* remedy_;
};

}  // namespace dune::window
