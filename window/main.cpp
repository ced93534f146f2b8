// dune-step: the window.

#include <QApplication>
#include <QCommandLineParser>
#include <QPalette>
#include <QSettings>

#include "window/scene/theme.h"
#include "window/shell/main_window.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("dune-step"));
  QApplication::setOrganizationName(QStringLiteral("dune-step"));
  QApplication::setApplicationVersion(QStringLiteral(DUNE_VERSION));
  QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/dune-step.svg")));
  QCommandLineParser parser;
  parser.setApplicationDescription(QObject::tr("Navigation meshes, paths and crowds for games."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("project"),
                               QObject::tr("A project (.dunestep) or a level (.obj, .gltf, .glb, .ply, .stl, .dae, .png) to open"),
                               QStringLiteral("[project]"));
  const QCommandLineOption themeOption(QStringLiteral("theme"), QObject::tr("noon or dusk; the desktop's choice otherwise"),
                                       QStringLiteral("name"));
  parser.addOption(themeOption);
  parser.process(app);
  QString name = parser.isSet(themeOption) ? parser.value(themeOption) : QSettings().value(QStringLiteral("theme")).toString();
  const bool darkDesktop = app.palette().color(QPalette::Window).lightness() < 128;
  dune::window::applyTheme(name.isEmpty() ? darkDesktop : name == QStringLiteral("dusk"));
  dune::window::MainWindow window;
  window.show();
  if (!parser.positionalArguments().isEmpty()) {
    const QString path = parser.positionalArguments().first();
    if (path.endsWith(QStringLiteral(".dunestep")))
      window.openProject(path);
    else
      window.workspace().openLevel(path);
  }
  return QApplication::exec();
}
