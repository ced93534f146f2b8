// Takes the pictures of docs/screenshots from the demo project: photograph FOLDER [noon|dusk]

#include <QSlider>
#include <QToolButton>

#include "tests/window/driver.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("dune-step-pictures"));
  if (argc < 2) return 2;
  const QString folder = QString::fromLocal8Bit(argv[1]);
  const bool dusk = argc > 2 && qstrcmp(argv[2], "dusk") == 0;
  const QString only = argc > 3 ? QString::fromLocal8Bit(argv[3]) : QString();
  QSettings().clear();
  applyTheme(dusk);
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  QTemporaryDir files;
  Driver drive(window);
  auto picture = [&](const QString& name) {
    if (!only.isEmpty() && !name.contains(only)) return;
    QTest::qWait(150);
    window.grab().save(folder + QLatin1Char('/') + name + (dusk ? QStringLiteral("-dusk.png") : QStringLiteral(".png")));
  };
  if (!window.openProject(writeDemo(files)) || !drive.waitForGround()) return 1;
  QTest::qWait(300);
  picture(QStringLiteral("level"));
  drive.goTo(Stop::agents);
  picture(QStringLiteral("agent"));
  drive.goTo(Stop::mesh);
  drive.move({24, 0, 7.45});
  picture(QStringLiteral("mesh"));
  drive.lookAt({9, 0, 31}, 30);
  window.cutAwaySlider()->setValue(static_cast<int>(2.5 * 20));
  drive.move({12.3, 0, 34});
  picture(QStringLiteral("mesh-cut-away"));
  window.cutAwaySlider()->setValue(window.cutAwaySlider()->maximum());
  drive.goTo(Stop::areas);
  drive.lookAt({36, 0, 32}, 42);
  picture(QStringLiteral("areas"));
  drive.goTo(Stop::links);
  drive.lookAt({15, 1, 32}, 26);
  picture(QStringLiteral("links"));
  drive.goTo(Stop::routes);
  drive.lookAt({30, 0, 23}, 62);
  drive.drag({50, 0, 16}, {26, 0, 40});
  picture(QStringLiteral("routes"));
  drive.goTo(Stop::crowd);
  drive.press(Stop::crowd, QStringLiteral("Run"));
  if (!drive.waitForRun()) return 1;
  window.reel().setTime(12);
  picture(QStringLiteral("crowd"));
  drive.goTo(Stop::review);
  window.ledger().setOpen(true);
  QTest::keyClick(&window, Qt::Key_F4);
  QTest::keyClick(&window, Qt::Key_F4);
  QTest::keyClick(&window, Qt::Key_F4);
  picture(QStringLiteral("review"));
  return 0;
}
