#include "window/findings/findings_model.h"

#include <QObject>
#include <QPainter>
#include <QPixmap>

#include "window/scene/theme.h"

namespace dune::window {

namespace {

/// Diamond for errors, triangle for warnings, circle for hints: told by shape, not by colour alone.
QPixmap mark(review::Severity severity) {
  QPixmap pixmap(16, 16);
  pixmap.fill(Qt::transparent);
  QPainter p(&pixmap);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  if (severity == review::Severity::error)
    p.setBrush(theme().bad), p.drawPolygon(QPolygonF({{8, 1}, {15, 8}, {8, 15}, {1, 8}}));
  else if (severity == review::Severity::warning)
    p.setBrush(theme().warning), p.drawPolygon(QPolygonF({{8, 2}, {15, 14}, {1, 14}}));
  else
    p.setBrush(theme().hint), p.drawEllipse(3, 3, 10, 10);
  return pixmap;
}

}  // namespace

QVariant FindingsModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const review::Finding& f = at(index.row());
  if (role == Qt::DisplayRole)
    return f.time >= 0 ? QObject::tr("%1 s: %2").arg(f.time, 0, 'f', 1).arg(QString::fromStdString(f.sentence))
                       : QString::fromStdString(f.sentence);
  if (role == Qt::DecorationRole) return mark(f.severity);
  if (role == Qt::ToolTipRole) return QString::fromStdString(f.why + "\nTry: " + f.advice);
  if (role == Qt::AccessibleTextRole) return QString::fromStdString(std::string(review::severityName(f.severity)) + ": " + f.sentence);
  return {};
}

void FindingsModel::set(std::vector<review::Finding> findings) {
  beginResetModel();
  findings_ = std::move(findings);
  endResetModel();
}

int FindingsModel::count(review::Severity severity) const {
  return static_cast<int>(std::ranges::count(findings_, severity, &review::Finding::severity));
}

}  // namespace dune::window
