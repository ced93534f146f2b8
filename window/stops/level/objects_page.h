#pragma once
// The page of the Level stop about the files, their units and up axes, and what every object counts as.

#include <QAbstractTableModel>
#include <QCheckBox>
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
  QVariant dataOfName(const std::string& name, int role) const;

  Workspace& workspace_;
  std::shared_ptr<const pipeline::LoadedLevel> shown_;
};

class ObjectsPage : public Sheet {
  Q_OBJECT

 public:
  explicit ObjectsPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override;
  bool chooseAll() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::rule}; }
  const std::set<std::string>& chosen() const { return workspace_.selection().all(ThingKind::object); }
  void giveRole(const std::set<std::string>& names, level::Role role);

 private:
  void refreshFilter();
  void addFiles();
  void addPieces();
  void addHeightMap();
  void addTileMap();
  void addObjects();
  void addRules();
  void addRule(level::Role role);
  void refreshFiles();
  void refreshRules();
  void refreshNews();
  void refreshSize();
  void showObjects(bool any);
  void chooseNews();
  void tellChosen();
  void followChosen();
  /// How the shown file should perhaps be read; null when it looks right.
  const level::UnitsGuess* guessed() const;
  void editFile(const QString& label, const std::function<void(project::LevelFile&)>& change, const QString& key = {});
  std::size_t fileIndex() const;

  ObjectModel model_;
  QSortFilterProxyModel filtered_;
  QTableView* table_;
  QLineEdit* pattern_;
  QLabel* fits_;  // how many the filter shows
  int projectNumber_ = 0;
  QWidget *roleRow_, *ruleRow_;
  QLabel* objectsTitle_;
  QComboBox *files_, *up_;
  QCheckBox* pieces_;
  QLabel *size_, *guess_, *news_;
  QWidget *guessRow_, *newsRow_;
  NumberField *scale_, *spacing_, *rise_, *pixels_, *tall_;
  QLineEdit* solid_;
  QWidget* solidRow_;
  QPushButton *roles_[4], *addBeside_, *readSo_, *showNews_, *removeFile_, *makeRule_, *removeRule_;
  ItemList* rules_;
  bool following_ = false;  // the table takes over what is chosen
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
