#pragma once
// Everything that can be done in the window, by name: what the menus offer and what the sheets hold. Gathered anew when it is asked for.

#include <QString>
#include <functional>
#include <vector>

class QMenuBar;
class QWidget;

namespace dune::window {

struct Command {
  QString name;               ///< as it stands on screen
  QString where;              ///< the menu, or the stop and its page
  QString keys{};             ///< as people read them; empty: none
  std::function<void()> run;  ///< empty: it is done with the mouse, and only told of
};

/// What the menus offer now; what cannot be done now is left out.
std::vector<Command> menuCommands(const QMenuBar& menus);
/// The buttons, boxes, choices and numbers of a sheet. `open` shows the sheet; then buttons are pressed, and what is typed gets the focus.
std::vector<Command> sheetCommands(QWidget& sheet, const QString& stop, const std::function<void()>& open);
/// What the mouse and keys do in the world.
std::vector<Command> worldCommands();

}  // namespace dune::window
