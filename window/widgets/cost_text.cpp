#include "window/widgets/cost_text.h"

#include <QObject>

namespace dune::window {

QString shortCost(const nav::KindRule& r) {
  if (r.forbidden) return QObject::tr("never");
  return r.entryCost > 0 ? QObject::tr("× %1 + %2").arg(r.cost).arg(r.entryCost) : QObject::tr("× %1").arg(r.cost);
}

QString longCost(const nav::KindRule& r) {
  if (r.forbidden) return QObject::tr("forbidden");
  return r.entryCost > 0 ? QObject::tr("%1 a metre, %2 to enter").arg(r.cost).arg(r.entryCost) : QObject::tr("%1 a metre").arg(r.cost);
}

}  // namespace dune::window
