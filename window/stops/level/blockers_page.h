#pragma once
// The page of the Level stop about blockers: solids placed by hand, with handles in the world.

#include <QComboBox>

#include "window/stops/sheet.h"

namespace dune::window {

class BlockersPage : public Sheet {
  Q_OBJECT

 public:
  explicit BlockersPage(Workspace& workspace);
  ~BlockersPage() override;
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::blocker}; }
  void leaveTool() override;
  /// The tool that draws floors comes into the hand.
  void beginFloor();

  /// What the next click places, if anything: its shape and role, nowhere yet.
  std::optional<level::Blocker> placing() const;
  void place(level::Blocker blocker);
  void copy();

 private:
  void addFields();
  void edit(const QString& label, const std::function<void(level::Blocker&)>& change, const QString& key = {});
  void refreshAgents();

  std::array<QPushButton*, 6> shapes_;
  ItemList* list_;
  QListView* agents_;
  ItemModel agentRows_;
  NumberField *x_, *y_, *z_, *width_, *depth_, *height_, *turn_;
  QComboBox* role_;
  QLabel* agentsTitle_;
  QPushButton *copy_, *remove_;
  std::unique_ptr<Tool> place_, outline_, handles_;
};

}  // namespace dune::window
