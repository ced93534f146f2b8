// A machine that cannot draw the world: everything but the picture works, and why is said.

#include "tests/window/demo_window.h"

using namespace dune;
using namespace dune::window;

class TestNoGraphics : public DemoWindow {
  Q_OBJECT

 private slots:
  void theSheetsWorkWithoutAWorld() {
    QVERIFY2(window_->world().trouble().contains(QStringLiteral("OpenGL")), qPrintable(window_->world().trouble()));
    for (int stop = 0; stop < window_->stopCount(); ++stop) {
      window_->goTo(stop);
      QTest::qWait(10);
      QVERIFY(!window_->grab().isNull());
    }
    drive_->goTo(Stop::agents);
    type(field(Stop::agents, QStringLiteral("Radius")), QStringLiteral("0.5"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(project().agents->agents[0].radius, 0.5);
    window_->resize(1100, 700);
    drive_->click({10, 0, 10});
    undo();
    QVERIFY(drive_->waitForGround());
    work().runCrowd();
    QVERIFY(drive_->waitForRun());
    QVERIFY(!work().save(work().file().path()));
  }
};

int main(int argc, char** argv) {
  qputenv("MESA_GL_VERSION_OVERRIDE", "2.1");
  QApplication app(argc, argv);
  TestNoGraphics test;
  return QTest::qExec(&test, argc, argv);
}
#include "no_graphics.moc"
