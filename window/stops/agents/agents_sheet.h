#pragma once
// The Agents stop: who moves, as a drawing to scale and as numbers; several kinds, and where their ground differs.

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QTabWidget>
#include <functional>

#include "window/scene/layers.h"
#include "window/stops/agents/agent_drawing.h"
#include "window/stops/sheet.h"

namespace dune::window {

class AgentsSheet : public Sheet {
  Q_OBJECT

 public:
  explicit AgentsSheet(Workspace& workspace);
  ~AgentsSheet() override;
  void refresh(Topics changed) override;
  void leaveTool() override;
  Tool* tool() override;
  /// Where the figure of the agent stands that was put into the level; beside the level when nothing.
  const std::optional<Standing>& put() const { return put_; }
  void putInLevel(const Standing& figure);
  AgentDrawing* drawing() const { return drawing_; }
  QComboBox* kinds() const { return kinds_; }
  QTabWidget* pages() const { return pages_; }
  QComboBox* against() const { return against_; }

 private:
  void addKinds();
  void addPage(const QString& name, const std::function<void()>& fill);
  void addLimits();
  void addMovement();
  void addComparison();
  void set(const nav::Agent& agent, const QString& key);
  void rename(const std::string& name);
  void addKind();
  void removeKind();
  void refreshComparison();
  NumberField* add(const QString& name, const QString& unit, double nav::Agent::*field, double least, double most, double step,
                   int decimals);

  struct Field {
    NumberField* widget;
    double nav::Agent::*field;
  };
  std::optional<Standing> put_;
  std::pair<QString, std::vector<project::LevelFile>> putIn_;  // the project and the files of the level that it was put into
  std::unique_ptr<Tool> tool_;
  QTabWidget* pages_;
  QComboBox *kinds_, *against_;
  QPushButton *remove_, *stand_;
  QCheckBox* tilts_;
  QLineEdit* name_;
  AgentDrawing* drawing_;
  NumberField* crouchCost_;
  QLabel *trouble_, *difference_;
  std::vector<Field> fields_;
};

}  // namespace dune::window
