#pragma once
// The page of the Flight stop about where bodies may fly, and the free space in it.

#include <QCheckBox>
#include <QComboBox>

#include "window/stops/sheet.h"

namespace dune::window {

class SpacePage : public Sheet {
  Q_OBJECT

 public:
  explicit SpacePage(Workspace& workspace);
  ~SpacePage() override;
  void refresh(Topics changed) override;
  Tool* tool() override { return sides_.get(); }
  std::vector<ThingKind> removable() const override { return {ThingKind::flightVolume}; }
  /// At which height the cells are cut; nothing: they are not shown.
  std::optional<double> plane() const;

 private:
  void addAirFields();
  void moveSide(int side, double value);
  void setAir(int choice);
  void setRule(const QString& label, const std::optional<nav::KindRule>& rule, const QString& key = {});
  void showAir();
  void showFigures();

  ItemList* list_;
  QPushButton *add_, *remove_;
  QLabel *usual_, *figures_, *trouble_;
  std::array<NumberField*, 6> sideFields_;
  QComboBox *air_, *rule_;
  QWidget *airRow_, *ruleRow_;
  QLabel* ruleOf_;
  NumberField *cost_, *entry_;
  QCheckBox* cells_;
  NumberField* height_;
  std::unique_ptr<Tool> sides_;
};

}  // namespace dune::window
