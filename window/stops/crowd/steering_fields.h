#pragma once
// The way to steer, and the numbers that tune it.

#include <QComboBox>
#include <QLabel>
#include <QWidget>

#include "core/crowd/steering.h"
#include "window/widgets/number_field.h"

namespace dune::window {

class SteeringFields : public QWidget {
  Q_OBJECT

 public:
  /// `name` tells it apart for screen readers where there are several.
  explicit SteeringFields(const QString& name);
  void show(const crowd::SteeringSettings& settings);

 signals:
  /// `what` was changed: of changes of one number that follow each other the last counts.
  void edited(const crowd::SteeringSettings& settings, const QString& what);
  void finished();

 private:
  crowd::SteeringSettings settings_;
  QComboBox* model_;
  QLabel* says_;
  std::vector<NumberField*> fields_;  // one a parameter
};

/// How a way to steer is called.
QString steeringTitle(crowd::Steering model);

}  // namespace dune::window
