#pragma once
// The page of the Flight stop about kinds of agent that fly: their bodies and how they move.

#include <QCheckBox>
#include <QLineEdit>

#include "window/stops/sheet.h"

namespace dune::window {

/// The kind that is worked on: the chosen one, or the first; null where none flies.
const project::FlyerKind* flyerNow(Workspace& workspace);

class KindPage : public Sheet {
  Q_OBJECT

 public:
  explicit KindPage(Workspace& workspace);
  void refresh(Topics changed) override;
  std::vector<ThingKind> removable() const override { return {ThingKind::flyer}; }

 private:
  struct Field {
    NumberField* field;
    double flight::Flyer::*value;
  };
  void addField(const QString& name, const QString& unit, double least, double most, double step, int decimals,
                double flight::Flyer::*value, const QString& tip);
  void edit(const QString& label, const std::function<void(flight::Flyer&)>& change, const QString& key = {});

  ItemList* list_;
  QLineEdit* name_;
  QPushButton *add_, *remove_;
  QCheckBox* turnsFirst_;
  QLabel* trouble_;
  std::vector<Field> fields_;
};

}  // namespace dune::window
