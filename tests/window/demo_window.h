#pragma once
// The window with the demo project open and built, anew for each test.

#include "tests/window/driver.h"

namespace dune::window {

class DemoWindow : public QObject {
  Q_OBJECT

 protected:
  Workspace& work() { return window_->workspace(); }
  const project::Project& project() { return work().project(); }
  template <class T>
  T& sheet(Stop stop) {
    return *static_cast<T*>(window_->sheet(stop));
  }
  void undo() { QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier), QTest::qWait(1); }
  template <class Condition>
  static bool becomes(Condition&& condition) {
    return QTest::qWaitFor(condition, kPatience);
  }
  bool ground(const Vec3& at) { return work().ground()->locator().under(at, 0.2).valid(); }

  QTemporaryDir folder_;
  std::unique_ptr<MainWindow> window_;
  std::unique_ptr<Driver> drive_;

 private slots:
  void initTestCase() {
    QApplication::setOrganizationName(QStringLiteral("dune-step-tests"));
    QSettings().clear();
    applyTheme(false);
  }
  void init() {
    window_ = std::make_unique<MainWindow>();
    window_->resize(1280, 800);
    window_->show();
    QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
    drive_ = std::make_unique<Driver>(*window_);
    QVERIFY(window_->openProject(writeDemo(folder_)));
    QVERIFY(drive_->waitForGround());
  }
  void cleanup() {
    work().document().markSaved();  // so that closing asks nothing
    drive_.reset();
    window_.reset();
  }
};

}  // namespace dune::window
