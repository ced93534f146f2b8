#pragma once
// Where the texts over the world go.

#include <QRectF>
#include <vector>

namespace dune::window {

/// A label whose place is inside a view, moved as far as it takes to be whole in it.
QRectF wholeIn(const QRectF& view, QRectF label);
/// A label that would lie over others goes up, above the highest of the pile it meets. O(others) for each that is in its way.
QRectF aboveOthers(QRectF label, const std::vector<QRectF>& others);

}  // namespace dune::window
