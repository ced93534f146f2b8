#include "window/widgets/item_list.h"

#include <QStyledItemDelegate>
#include <algorithm>

namespace dune::window {

namespace {

bool same(const ItemRow& a, const ItemRow& b) {
  return a.key == b.key && a.text == b.text && a.colour == b.colour && a.icon.cacheKey() == b.icon.cacheKey() && a.tip == b.tip &&
         a.spoken == b.spoken && a.checked == b.checked;
}

/// Rows as high as their text is in the room that it has; the usual one measures it in another width than it is drawn in.
class RowDelegate : public QStyledItemDelegate {
 public:
  explicit RowDelegate(QListView& list) : QStyledItemDelegate(&list), list_(list) {}

  QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    constexpr int kHigh = 10000;  // pixels
    QStyleOptionViewItem row = option;
    initStyleOption(&row, index);
    row.rect = {0, 0, list_.viewport()->width() - kBeside, kHigh};
    const QStyle* style = list_.style();
    const int room = style->subElementRect(QStyle::SE_ItemViewItemText, &row, &list_).width() -
                     2 * (style->pixelMetric(QStyle::PM_FocusFrameHMargin, &row, &list_) + 1);
    const QRect text = row.fontMetrics.boundingRect({0, 0, std::max(1, room), kHigh}, Qt::TextWordWrap, row.text);
    const QSize usual = QStyledItemDelegate::sizeHint(option, index);
    const int icon = row.icon.isNull() ? 0 : row.decorationSize.height();
    return {std::min(usual.width(), row.rect.width()), std::max({text.height(), row.fontMetrics.height(), icon}) + 2 * kAround};
  }

 private:
  static constexpr int kAround = 2;  // pixels over and under the text
  static constexpr int kBeside = 8;  // that the list keeps on its sides, as its style says
  QListView& list_;
};

}  // namespace

QVariant ItemModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const ItemRow& row = rows_[static_cast<std::size_t>(index.row())];
  switch (role) {
    case Qt::DisplayRole:
      return row.text;
    case Qt::DecorationRole:
      return row.icon.isNull() ? QVariant() : row.icon;
    case Qt::ForegroundRole:
      return row.colour.isValid() ? QVariant(QBrush(row.colour)) : QVariant();
    case Qt::ToolTipRole:
      return row.tip.isEmpty() ? QVariant() : row.tip;
    case Qt::AccessibleTextRole:
      return row.spoken.isEmpty() ? row.text : row.spoken;
    case Qt::CheckStateRole:
      return row.checked ? QVariant(*row.checked ? Qt::Checked : Qt::Unchecked) : QVariant();
    default:
      return {};
  }
}

bool ItemModel::setData(const QModelIndex& index, const QVariant& value, int role) {
  if (role != Qt::CheckStateRole || !index.isValid()) return false;
  emit checkAsked(rows_[static_cast<std::size_t>(index.row())].key, value.toInt() == Qt::Checked);
  return true;
}

Qt::ItemFlags ItemModel::flags(const QModelIndex& index) const {
  const Qt::ItemFlags usual = QAbstractListModel::flags(index);
  return index.isValid() && rows_[static_cast<std::size_t>(index.row())].checked ? usual | Qt::ItemIsUserCheckable : usual;
}

void ItemModel::setRows(std::vector<ItemRow> rows) {
  const auto sameKey = [](const ItemRow& a, const ItemRow& b) { return a.key == b.key; };
  const std::size_t least = std::min(rows_.size(), rows.size());
  std::size_t front = 0, back = 0;
  while (front < least && sameKey(rows_[front], rows[front])) ++front;
  while (back < least - front && sameKey(rows_[rows_.size() - 1 - back], rows[rows.size() - 1 - back])) ++back;
  // Between what stays in front and behind, the old rows go and the new ones come.
  const auto at = static_cast<int>(front), oldEnd = static_cast<int>(rows_.size() - back), newEnd = static_cast<int>(rows.size() - back);
  if (oldEnd > at) {
    beginRemoveRows({}, at, oldEnd - 1);
    rows_.erase(rows_.begin() + at, rows_.begin() + oldEnd);
    endRemoveRows();
  }
  if (newEnd > at) {
    beginInsertRows({}, at, newEnd - 1);
    rows_.insert(rows_.begin() + at, rows.begin() + at, rows.begin() + newEnd);
    endInsertRows();
  }
  for (std::size_t i = 0; i < rows.size(); ++i) {
    if (same(rows_[i], rows[i])) continue;
    rows_[i] = std::move(rows[i]);
    const QModelIndex changed = index(static_cast<int>(i));
    emit dataChanged(changed, changed);
  }
}

int ItemModel::rowOf(const std::string& key) const {
  const auto found = std::ranges::find(rows_, key, &ItemRow::key);
  return found == rows_.end() ? -1 : static_cast<int>(found - rows_.begin());
}

ItemList::ItemList(const QString& name, Selection& selection, ThingKind kind) : selection_(selection), kind_(kind) {
  setAccessibleName(name);
  setModel(&model_);
  setWordWrap(true);
  setTextElideMode(Qt::ElideNone);  // rows are as high as their text
  setItemDelegate(new RowDelegate(*this));
  setResizeMode(Adjust);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(this, &QListView::clicked, this,
          [this](const QModelIndex& index) { emit chosen(model_.rows()[static_cast<std::size_t>(index.row())].key); });
}

void ItemList::setRows(std::vector<ItemRow> rows) {
  following_ = true;  // rows that go take the current one along; that is no choice
  model_.setRows(std::move(rows));
  follow();
  following_ = false;
}

void ItemList::fitRows(int most) {
  most_ = most;
  updateGeometries();
}

void ItemList::updateGeometries() {
  QListView::updateGeometries();
  if (most_ == 0) return;
  const int row = fontMetrics().height() + 4, frame = 2 * frameWidth() + 2;
  const int high = std::clamp(contentsSize().height() + frame, std::min(2 * row + frame, most_), most_);
  if (high == maximumHeight()) return;
  setMinimumHeight(std::min(high, 4 * row + frame));
  setMaximumHeight(high);
}

void ItemList::follow() {
  const int row = model_.rowOf(selection_.one(kind_));
  if (row == currentRow()) return;
  setCurrentRow(row);
  if (row < 0) clearSelection();
}

void ItemList::currentChanged(const QModelIndex& now, const QModelIndex& before) {
  QListView::currentChanged(now, before);
  if (following_) return;
  if (!now.isValid()) return selection_.clear(kind_);
  const std::string key = model_.rows()[static_cast<std::size_t>(now.row())].key;
  selection_.choose({kind_, key});
  emit chosen(key);
}

}  // namespace dune::window
