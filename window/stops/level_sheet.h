#pragma once
// The Level stop: the file, its units and up axis, and what every object counts as.

#include <QAbstractTableModel>
#include <QComboBox>
#include <QLineEdit>
#include <QSortFilterProxyModel>
#include <QTableView>
#include <set>

#include "window/stops/sheet.h"

namespace dune::window {

/// The objects of the level with their roles.
class ObjectModel : public QAbstractTableModel {
  Q_OBJECT

 public:
  explicit ObjectModel(Workspace& workspace) : workspace_(workspace) {}
  int rowCount(const QModelIndex& parent = {}) const override;
  int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : 2; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  void levelChanged();
  void rolesChanged();
  QString nameAt(int row) const;

 private:
  Workspace& workspace_;
  std::shared_ptr<const pipeline::LoadedLevel> shown_;
};

class LevelSheet : public Sheet {
  Q_OBJECT

 public:
  explicit LevelSheet(Workspace& workspace);
  void refresh() override;
  Tool* tool() override;
  std::set<std::string> chosen() const;
  void choose(const QString& object, bool add);

 signals:
  void openAsked();

 private:
  void setRole(level::Role role);

  ObjectModel model_;
  QSortFilterProxyModel filtered_;
  QTableView* table_;
  QLineEdit* pattern_;
  QLabel *file_, *size_;
  QComboBox* up_;
  NumberField* scale_;
  QPushButton* roles_[3];
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
