#include "window/scene/labels.h"

#include <algorithm>

namespace dune::window {

QRectF wholeIn(const QRectF& view, QRectF label) {
  label.moveLeft(std::max(view.left(), std::min(label.left(), view.right() - label.width())));
  label.moveTop(std::max(view.top(), std::min(label.top(), view.bottom() - label.height())));
  return label;
}

QRectF aboveOthers(QRectF label, const std::vector<QRectF>& others) {
  constexpr double kGap = 2;  // pixels
  // Each step goes up past one that is never met again.
  for (std::size_t i = 0; i < others.size(); ++i) {
    const auto under = std::ranges::find_if(others, [&](const QRectF& other) { return other.intersects(label); });
    if (under == others.end()) break;
    label.moveBottom(under->top() - kGap);
  }
  return label;
}

}  // namespace dune::window
