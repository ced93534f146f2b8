#pragma once
// The page of the Level stop about blockers: solids placed by hand, with handles in the world.

#include <QComboBox>
#include <QListWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class BlockersPage : public Sheet {
  Q_OBJECT

 public:
  explicit BlockersPage(Workspace& workspace);
  ~BlockersPage() override;
  void refresh() override;
  Tool* tool() override;
  void leaveTool() override;

  /// The blocker that is chosen, or null.
  const level::Blocker* chosen() const;
  void choose(int id);
  /// What the next click places, if anything: its shape and role, nowhere yet.
  std::optional<level::Blocker> placing() const;
  void place(level::Blocker blocker);
  void replace(const level::Blocker& blocker, const QString& label, const QString& mergeKey);
  void copy();
  void remove();

 private:
  void addFields();
  void edit(const QString& label, const std::function<void(level::Blocker&)>& change, const QString& key = {});
  void refreshAgents();

  std::array<QPushButton*, 6> shapes_;
  QListWidget *list_, *agents_;
  NumberField *width_, *depth_, *height_, *turn_;
  QComboBox* role_;
  QLabel* agentsTitle_;
  QPushButton *copy_, *remove_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
