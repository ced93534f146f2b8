#pragma once
// What a path is paid for, stretch by stretch; the stretch under the mouse is lit in the world.

#include <QTreeWidget>

#include "core/route/path.h"

namespace dune::window {

class PriceTable : public QTreeWidget {
  Q_OBJECT

 public:
  PriceTable();
  /// `other` is another way with the same ends, priced beside it.
  void show(const route::PathAnswer& answer, const nav::NavMesh& mesh, const QString& name);
  void clearRows();
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 signals:
  /// The number of a stretch, or -1 when none is pointed at.
  void pointedAt(int stretch);

 protected:
  void leaveEvent(QEvent* event) override;
};

}  // namespace dune::window
