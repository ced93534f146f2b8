#pragma once
// What can be done with the thing under the mouse: the menu of a right click in the world.

#include <QMenu>

#include "window/scene/tool.h"

namespace dune::window {

class MainWindow;

/// The menu for what the pointer meets; null where it meets nothing. The caller shows it and owns it.
QMenu* worldMenu(MainWindow& window, const Pointer& pointer);

}  // namespace dune::window
