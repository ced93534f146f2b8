#pragma once
// The one list of things: rows by lasting keys, and what is chosen in it is what is chosen in the session.

#include <QAbstractListModel>
#include <QIcon>
#include <QListView>

#include "window/session/selection.h"

namespace dune::window {

struct ItemRow {
  std::string key;
  QString text;
  QColor colour{};  ///< of the text; not valid: as usual
  QIcon icon{};
  QString tip{};
  QString spoken{};               ///< for screen readers, where the text alone does not say it
  std::optional<bool> checked{};  ///< with a box to check
};

/// Rows that are taken over as a whole; views are told only of those that came, went or became another.
class ItemModel : public QAbstractListModel {
  Q_OBJECT

 public:
  int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : static_cast<int>(rows_.size()); }
  QVariant data(const QModelIndex& index, int role) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  /// O(rows) when keys stay or only some came or went together.
  void setRows(std::vector<ItemRow> rows);
  const std::vector<ItemRow>& rows() const { return rows_; }
  /// -1 when there is none of that key.
  int rowOf(const std::string& key) const;

 signals:
  /// The person checked or unchecked a row; it stays as it was until rows say otherwise.
  void checkAsked(const std::string& key, bool on);

 private:
  std::vector<ItemRow> rows_;
};

class ItemList : public QListView {
  Q_OBJECT

 public:
  ItemList(const QString& name, Selection& selection, ThingKind kind);
  void setRows(std::vector<ItemRow> rows);

  /// From now on it is as high as its rows, from two up to `most` pixels, so that a short list leaves its room to others.
  void fitRows(int most = QWIDGETSIZE_MAX);

  int count() const { return model_.rowCount(); }
  /// -1 when there is none of that key.
  int rowOf(const std::string& key) const { return model_.rowOf(key); }
  const std::string& keyAt(int row) const { return model_.rows()[static_cast<std::size_t>(row)].key; }
  QString textAt(int row) const { return model_.rows()[static_cast<std::size_t>(row)].text; }
  int currentRow() const { return currentIndex().isValid() ? currentIndex().row() : -1; }
  /// Chooses a row as the person would; none for -1.
  void setCurrentRow(int row) { setCurrentIndex(row < 0 ? QModelIndex() : model_.index(row)); }

 signals:
  /// The person chose a row, perhaps one that was chosen before.
  void chosen(const std::string& key);

 protected:
  void updateGeometries() override;
  void currentChanged(const QModelIndex& now, const QModelIndex& before) override;

 private:
  void follow();

  ItemModel model_;
  int most_ = 0;  // pixels; 0: it takes the room that there is
  Selection& selection_;
  ThingKind kind_;
  bool following_ = false;
};

}  // namespace dune::window
