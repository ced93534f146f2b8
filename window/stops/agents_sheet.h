#pragma once
// The Agents stop: who moves, as a drawing to scale and as numbers.

#include <QLineEdit>

#include "window/stops/agent_drawing.h"
#include "window/stops/sheet.h"

namespace dune::window {

class AgentsSheet : public Sheet {
  Q_OBJECT

 public:
  explicit AgentsSheet(Workspace& workspace);
  void refresh() override;
  AgentDrawing* drawing() const { return drawing_; }

 private:
  void set(const level::Agent& agent, const QString& key);
  void add(const QString& name, const QString& unit, double level::Agent::*field, double least, double most, double step, int decimals);

  struct Field {
    NumberField* widget;
    double level::Agent::*field;
  };
  QLineEdit* name_;
  AgentDrawing* drawing_;
  QLabel* trouble_;
  std::vector<Field> fields_;
};

}  // namespace dune::window
