#include "tests/window/demo_window.h"

namespace dune::window {

void DemoWindow::toFront() {
  window_->activateWindow();
  QApplication::setActiveWindow(window_.get());
  QVERIFY(becomes([&] { return QApplication::activeWindow() == window_.get(); }));
}

void DemoWindow::undo() { QTest::qWait(1), toFront(), QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier), QTest::qWait(1); }

void DemoWindow::nothingByHand() {
  work().change(QStringLiteral("Nothing by hand"), [](project::Project& p) { p.hand = std::make_shared<const hand::Work>(); });
  QVERIFY(drive_->waitForGround());
}

std::shared_ptr<const pipeline::Ground> DemoWindow::groundOf(std::size_t agent) {
  return work().grounds().of(project().agents->agents[agent].id);
}

std::ptrdiff_t DemoWindow::findingCount(std::string_view code) {
  return std::ranges::count(work().findings().all(), code, [](const KeptFinding& k) { return std::string_view(k.finding.code); });
}

void DemoWindow::chooseFinding(std::string_view code, const std::string& part) {
  QTest::qWait(1);
  const auto& all = work().findings().all();
  const auto found = std::ranges::find_if(
      all, [&](const KeptFinding& k) { return k.finding.code == code && k.finding.sentence.find(part) != std::string::npos; });
  QVERIFY2(found != all.end(), std::string(code).c_str());
  window_->ledger().setOpen(true);
  window_->ledger().choose(found->id);
  QTest::qWait(1);
}

bool DemoWindow::ground(const Vec3& at) { return work().ground()->locator().under(at, 0.2).valid(); }

NumberField* DemoWindow::field(Stop stop, const QString& name) {
  for (NumberField* f : window_->sheet(static_cast<int>(stop))->findChildren<NumberField*>())
    if (f->spin()->accessibleName() == name) return f;
  return nullptr;
}

void DemoWindow::type(NumberField* f, const QString& text) {
  QVERIFY(f);
  f->spin()->setFocus();
  f->spin()->selectAll();
  QTest::keyClicks(f->spin(), text);
  QTest::keyClick(f->spin(), Qt::Key_Return);
  QTest::qWait(1);
}

void DemoWindow::chooseFile(QFileDialog& dialog, const QString& path) {
  auto* line = dialog.findChild<QLineEdit*>();
  QVERIFY(line);
  line->setText(path);
  QTest::keyClick(line, Qt::Key_Return);
}

void DemoWindow::initTestCase() {
  QApplication::setOrganizationName(QStringLiteral("dune-step-tests"));
  QSettings().clear();
  applyTheme(false);
}

void DemoWindow::init() {
  window_ = std::make_unique<MainWindow>();
  window_->resize(1280, 800);
  window_->show();
  QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
  drive_ = std::make_unique<Driver>(*window_);
  QVERIFY(window_->openProject(writeDemo(folder_)));
  QVERIFY(drive_->waitForGround());
}

void DemoWindow::cleanup() {
  work().document().markSaved();  // so that closing asks nothing
  drive_.reset();
  window_.reset();
}

}  // namespace dune::window
