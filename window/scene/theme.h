#pragma once
// The two themes, Noon and Dusk, and every colour of the window and the world.

#include <QColor>
#include <QIcon>
#include <QString>

namespace dune::window {

struct Theme {
  bool dark;
  QColor window, panel, text, quiet, line, accent, accentText;
  QColor sky, level, obstacle, cuts, ignored, chosen;
  QColor ground, faceEdge, border, route, casing, link, brokenLink, good, bad, warning, hint;
  QColor agent[6];
};

/// The theme in use.
const Theme& theme();
/// Sets the theme and the application's palette and style sheet.
void applyTheme(bool dark);
/// One of our line icons in the text colour of the theme: "play", "pause", "back", "forward".
QIcon lineIcon(const QString& name);

}  // namespace dune::window
