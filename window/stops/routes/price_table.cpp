#include "window/stops/routes/price_table.h"

#include <QHeaderView>
#include <algorithm>

namespace dune::window {

namespace {

QString stretchName(const route::Stretch& s, const nav::NavMesh& mesh) {
  if (s.link < 0) return QString::fromStdString(mesh.kinds[s.kind].name);
  const auto link = std::ranges::find(mesh.links, s.link, &nav::Link::id);
  if (link != mesh.links.end() && nav::isOneWayBorder(*link)) return QObject::tr("one-way border");
  return QObject::tr("link %1").arg(s.link);
}

}  // namespace

PriceTable::PriceTable() {
  setAccessibleName(tr("Price list"));
  setColumnCount(3);
  setRootIsDecorated(false);
  setUniformRowHeights(true);
  setMouseTracking(true);
  setSelectionMode(NoSelection);
  setFocusPolicy(Qt::NoFocus);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  header()->setSectionResizeMode(QHeaderView::ResizeToContents);
  header()->setSectionResizeMode(0, QHeaderView::Stretch);
  header()->setStretchLastSection(false);
  setHeaderLabels({tr("Stretch"), tr("Length"), tr("Cost")});
  for (int c = 1; c < 3; ++c) headerItem()->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
  connect(this, &QTreeWidget::itemEntered, this, [this](QTreeWidgetItem* item) { emit pointedAt(indexOfTopLevelItem(item)); });
}

void PriceTable::show(const route::PathAnswer& answer, const nav::NavMesh& mesh, const QString& name) {
  setAccessibleName(name);
  clear();
  for (const route::Stretch& s : answer.stretches) {
    auto* item = new QTreeWidgetItem(this);
    item->setText(0, stretchName(s, mesh));
    item->setText(1, tr("%1 m").arg(s.length, 0, 'f', 1));
    item->setText(2, s.entry > 0 ? tr("%1 + %2").arg(s.cost, 0, 'f', 1).arg(s.entry, 0, 'f', 1) : QString::number(s.cost, 'f', 1));
    if (s.entry > 0) item->setToolTip(2, tr("%1 for the way and %2 to enter").arg(s.cost, 0, 'f', 2).arg(s.entry, 0, 'f', 2));
    for (int c = 1; c < 3; ++c) item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
  }
  updateGeometry();
}

void PriceTable::clearRows() {
  clear();
  updateGeometry();
}

/// As high as its rows, up to eight; more are scrolled.
QSize PriceTable::sizeHint() const {
  constexpr int kMostRows = 8;
  const int rows = std::min(topLevelItemCount(), kMostRows);
  const int row = topLevelItemCount() > 0 ? std::max(sizeHintForRow(0), fontMetrics().height() + 4) : 0;
  return {200, header()->sizeHint().height() + rows * row + 2 * frameWidth() + 2};
}

void PriceTable::leaveEvent(QEvent* event) {
  QTreeWidget::leaveEvent(event);
  emit pointedAt(-1);
}

}  // namespace dune::window
