#include "window/widgets/swatch.h"

#include <QPixmap>
#include <map>

namespace dune::window {

QIcon swatch(const QColor& colour) {
  static std::map<QRgb, QIcon> known;
  QIcon& icon = known[colour.rgb()];
  if (icon.isNull()) {
    QPixmap pixmap(14, 14);
    pixmap.fill(colour);
    icon = QIcon(pixmap);
    icon.addPixmap(pixmap, QIcon::Selected);  // the same on a chosen row
  }
  return icon;
}

}  // namespace dune::window
