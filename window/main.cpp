// dune-step: the window.

#include <unistd.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QFile>
#include <QPalette>
#include <QSettings>

#include "window/scene/theme.h"
#include "window/shell/main_window.h"

namespace {

/// Where the graphics card cannot draw the world, a machine may yet by software; that is chosen before anything is drawn, so the program
/// begins again, once, before there is anything to lose.
void beginAgainBySoftware(char** argv) {
  constexpr const char* kBySoftware = "LIBGL_ALWAYS_SOFTWARE";
  if (!qEnvironmentVariableIsEmpty(kBySoftware)) return;
  qputenv(kBySoftware, "1");
  execv(QFile::encodeName(QCoreApplication::applicationFilePath()).constData(), argv);
}

}  // namespace

int main(int argc, char** argv) {
  std::vector<char*> given(argv, argv + argc + 1);  // with its end; the application takes out what is its own
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
  if (!window.world().trouble().isEmpty()) beginAgainBySoftware(given.data());
  if (!parser.positionalArguments().isEmpty()) {
    const QString path = parser.positionalArguments().first();
    if (path.endsWith(QStringLiteral(".dunestep")))
      window.openProject(path);
    else
      window.workspace().openLevel(path);
  }
  return QApplication::exec();
}
