#pragma once
// Kinds of ground by what the level is modelled as: names of objects and materials, and the kind that ground on them is of.

#include <QComboBox>
#include <QLineEdit>
#include <QStringListModel>

#include "window/stops/sheet.h"

namespace dune::window {

class NamesPage : public Sheet {
  Q_OBJECT

 public:
  explicit NamesPage(Workspace& workspace);
  /// Names are counted over the whole level: not at every step of a run.
  Topics concerns() const override { return {Topic::areas, Topic::level, Topic::selection, Topic::theme}; }
  void refresh(Topics changed) override;
  std::vector<ThingKind> removable() const override { return {ThingKind::groundRule}; }

 private:
  void refreshNames();
  void refreshKinds();
  void refreshRules();
  void showFitting();
  void addRule();
  void moveRule(bool later);

  QLineEdit* pattern_;
  QLabel *fitting_, *none_;
  QComboBox* kind_;
  QPushButton *add_, *later_, *earlier_, *remove_;
  QWidget* orderRow_;
  ItemList* rules_;
  QStringListModel* names_;  ///< of the level: what can be typed
  std::shared_ptr<const level::Level> named_;
};

}  // namespace dune::window
