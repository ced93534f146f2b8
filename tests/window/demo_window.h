#pragma once
// The window with the demo project open and built, anew for each test.

#include <QFileDialog>
#include <QLineEdit>
#include <QMessageBox>
#include <QTimer>

#include "tests/window/driver.h"

namespace dune::window {

class DemoWindow : public QObject {
  Q_OBJECT

 protected:
  Workspace& work() { return window_->workspace(); }
  const project::Project& project() { return work().project(); }
  template <class T>
  T& sheet(Stop stop) {
    return *static_cast<T*>(window_->sheet(static_cast<int>(stop)));
  }
  /// Without a window manager nobody gives the keys back after a dialog.
  void toFront() {
    window_->activateWindow();
    QApplication::setActiveWindow(window_.get());
    QVERIFY(becomes([&] { return QApplication::activeWindow() == window_.get(); }));
  }
  void undo() { QTest::qWait(1), toFront(), QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier), QTest::qWait(1); }
  std::shared_ptr<const pipeline::Ground> groundOf(std::size_t agent) { return work().grounds().of(project().agents->agents[agent].id); }
  std::ptrdiff_t findingCount(std::string_view code) {
    return std::ranges::count(work().findings().all(), code, [](const KeptFinding& k) { return std::string_view(k.finding.code); });
  }
  /// Chooses the first finding of a kind, with a part of its sentence, in the ledger.
  void chooseFinding(std::string_view code, const std::string& part = {}) {
    QTest::qWait(1);
    const auto& all = work().findings().all();
    const auto found = std::ranges::find_if(
        all, [&](const KeptFinding& k) { return k.finding.code == code && k.finding.sentence.find(part) != std::string::npos; });
    QVERIFY2(found != all.end(), std::string(code).c_str());
    window_->ledger().setOpen(true);
    window_->ledger().choose(found->id);
    QTest::qWait(1);
  }
  template <class Condition>
  static bool becomes(Condition&& condition) {
    return Driver::shown(condition);
  }
  bool ground(const Vec3& at) { return work().ground()->locator().under(at, 0.2).valid(); }

  NumberField* field(Stop stop, const QString& name) {
    for (NumberField* f : window_->sheet(static_cast<int>(stop))->findChildren<NumberField*>())
      if (f->spin()->accessibleName() == name) return f;
    return nullptr;
  }
  void type(NumberField* f, const QString& text) {
    QVERIFY(f);
    f->spin()->setFocus();
    f->spin()->selectAll();
    QTest::keyClicks(f->spin(), text);
    QTest::keyClick(f->spin(), Qt::Key_Return);
    QTest::qWait(1);
  }
  /// What the person does with the dialog that comes up next; said before it is asked for.
  template <class Dialog>
  void answerNext(std::function<void(Dialog&)> answer) {
    auto* timer = new QTimer(window_.get());  // what was never asked is not answered later
    QObject::connect(timer, &QTimer::timeout, timer, [timer, answer = std::move(answer)] {
      auto* dialog = qobject_cast<Dialog*>(QApplication::activeModalWidget());
      if (!dialog || !dialog->isVisible()) return;
      timer->stop(), timer->deleteLater();
      answer(*dialog);
    });
    timer->start(5);
  }
  static void pressIn(QMessageBox& box, QMessageBox::StandardButton button) { QTest::mouseClick(box.button(button), Qt::LeftButton); }
  static void chooseFile(QFileDialog& dialog, const QString& path) {
    auto* line = dialog.findChild<QLineEdit*>();
    QVERIFY(line);
    line->setText(path);
    QTest::keyClick(line, Qt::Key_Return);
  }

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
