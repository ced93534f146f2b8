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
  void toFront();
  void undo();
  /// Takes away what the demo has of ground made by hand: it is there whatever is built.
  void nothingByHand();
  std::shared_ptr<const pipeline::Ground> groundOf(std::size_t agent);
  std::ptrdiff_t findingCount(std::string_view code);
  /// Chooses the first finding of a kind, with a part of its sentence, in the ledger.
  void chooseFinding(std::string_view code, const std::string& part = {});
  static bool becomes(const std::function<bool()>& condition) { return Driver::shown(condition); }
  bool ground(const Vec3& at);

  NumberField* field(Stop stop, const QString& name);
  void type(NumberField* f, const QString& text);
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
  static void chooseFile(QFileDialog& dialog, const QString& path);

  QTemporaryDir folder_;
  std::unique_ptr<MainWindow> window_;
  std::unique_ptr<Driver> drive_;

 private slots:
  void initTestCase();
  void init();
  void cleanup();
};

}  // namespace dune::window
