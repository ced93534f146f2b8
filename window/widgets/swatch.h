#pragma once
// A square of a colour before the name of what has it.

#include <QIcon>

namespace dune::window {

/// The same icon for the same colour, so that a list sees that nothing changed.
QIcon swatch(const QColor& colour);

}  // namespace dune::window
