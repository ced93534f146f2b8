// Random events from a seed on the real window, over the three examples, while the level's file changes, vanishes and comes back: at the
// end the window answers, the document is saved and loaded as it is, and Qt had nothing to complain of.

#include <QAbstractScrollArea>
#include <QMenu>
#include <QRandomGenerator>

#include "demo/examples.h"
#include "tests/window/driver.h"

using namespace dune;
using namespace dune::window;

namespace {

QStringList complaints;

void listen(QtMsgType type, const QMessageLogContext&, const QString& message) {
  const bool ours = !message.contains(QStringLiteral("XDG_RUNTIME_DIR"));  // of the machine
  if (type != QtDebugMsg && type != QtInfoMsg && ours) complaints << message;
  std::fprintf(stderr, "%s\n", qPrintable(message));
}

#ifdef __SANITIZE_ADDRESS__
constexpr int kEvents = 1667;  // of each example
#else
constexpr int kEvents = 600;  // what a step out of bounds does shows under the sanitizers
#endif

struct Stroke {
  int key;
  Qt::KeyboardModifiers modifiers;
};

constexpr Stroke kStrokes[] = {{Qt::Key_Escape, {}},
                               {Qt::Key_Return, {}},
                               {Qt::Key_Tab, {}},
                               {Qt::Key_Tab, Qt::ShiftModifier},
                               {Qt::Key_Delete, {}},
                               {Qt::Key_Space, {}},
                               {Qt::Key_Left, {}},
                               {Qt::Key_Right, {}},
                               {Qt::Key_Up, {}},
                               {Qt::Key_Down, {}},
                               {Qt::Key_PageUp, {}},
                               {Qt::Key_PageDown, {}},
                               {Qt::Key_Home, {}},
                               {Qt::Key_F4, {}},
                               {Qt::Key_F4, Qt::ShiftModifier},
                               {Qt::Key_F5, {}},
                               {Qt::Key_Z, Qt::ControlModifier},
                               {Qt::Key_Z, Qt::ControlModifier},
                               {Qt::Key_Y, Qt::ControlModifier},
                               {Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier},
                               {Qt::Key_C, Qt::ControlModifier},
                               {Qt::Key_V, Qt::ControlModifier},
                               {Qt::Key_X, Qt::ControlModifier},
                               {Qt::Key_A, Qt::ControlModifier},
                               {Qt::Key_B, Qt::ControlModifier},
                               {Qt::Key_R, Qt::ControlModifier},
                               {Qt::Key_D, Qt::ControlModifier},
                               {Qt::Key_K, Qt::ControlModifier},
                               {Qt::Key_S, Qt::ControlModifier},
                               {Qt::Key_Period, Qt::ControlModifier},
                               {Qt::Key_0, {}},
                               {Qt::Key_1, {}},
                               {Qt::Key_7, {}},
                               {Qt::Key_Period, {}},
                               {Qt::Key_Minus, {}},
                               {Qt::Key_A, {}},
                               {Qt::Key_Backspace, {}}};

}  // namespace

class TestMonkey : public QObject {
  Q_OBJECT

  QRandomGenerator random_;
  std::unique_ptr<MainWindow> window_;

  int upTo(int most) { return static_cast<int>(random_.bounded(most)); }

  /// A control that is on the screen, now and then of what lies over the window.
  QWidget* anywhere() {
    QWidget* top = QApplication::activePopupWidget();
    if (!top) top = QApplication::activeModalWidget();
    if (!top) top = window_.get();
    if (top == window_.get() && upTo(3) == 0) return &window_->world();
    QList<QWidget*> shown;
    for (QWidget* w : top->findChildren<QWidget*>())
      if (w->isVisible() && w->width() > 2 && w->height() > 2 && !w->testAttribute(Qt::WA_TransparentForMouseEvents)) shown << w;
    return shown.isEmpty() ? top : shown[upTo(static_cast<int>(shown.size()))];
  }
  QPoint in(const QWidget& w) { return {upTo(std::max(1, w.width())), upTo(std::max(1, w.height()))}; }
  Qt::MouseButton button() { return upTo(4) == 0 ? Qt::RightButton : Qt::LeftButton; }
  Qt::KeyboardModifiers modifiers() {
    const int which = upTo(8);
    return which == 0 ? Qt::ShiftModifier : which == 1 ? Qt::ControlModifier : Qt::NoModifier;
  }

  void drag() {
    QPointer<QWidget> w = anywhere();
    const Qt::MouseButton with = button();
    QTest::mousePress(w, with, modifiers(), in(*w));
    for (int i = 0; i < 4 && w; ++i) {
      const QPointF at = in(*w);
      QMouseEvent event(QEvent::MouseMove, at, w->mapToGlobal(at), Qt::NoButton, with, Qt::NoModifier);
      QApplication::sendEvent(w, &event);
      if (w && upTo(6) == 0) QTest::keyClick(w, Qt::Key_Escape);
      if (w && upTo(9) == 0) QTest::mouseClick(w, with == Qt::LeftButton ? Qt::RightButton : Qt::LeftButton, {}, in(*w));
    }
    if (w) QTest::mouseRelease(w, with, {}, in(*w));
  }
  void wheel() {
    QWidget* w = anywhere();
    const QPointF at = in(*w);
    QWheelEvent event(at, w->mapToGlobal(at), {}, {0, 120 * (upTo(5) - 2)}, Qt::NoButton, modifiers(), Qt::NoScrollPhase, false);
    QApplication::sendEvent(w, &event);
  }
  void stroke() {
    const Stroke& s = kStrokes[upTo(static_cast<int>(std::size(kStrokes)))];
    QWidget* w = QApplication::focusWidget();
    QTest::keyClick(w ? w : window_.get(), static_cast<Qt::Key>(s.key), s.modifiers);
  }
  void goSomewhere() { QTest::keyClick(window_.get(), static_cast<Qt::Key>(Qt::Key_1 + upTo(8)), Qt::ControlModifier); }

  /// The file of the level: written anew, cut short, taken away, put back.
  void touchLevel(const QString& path, const QByteArray& whole) {
    const int what = upTo(4);
    if (what == 0) QFile::remove(path);
    if (what == 1) QVERIFY(writeFile(path.toStdString(), whole.left(whole.size() / 2).toStdString()));
    if (what >= 2) QVERIFY(writeFile(path.toStdString(), whole.toStdString()));
  }

  void oneEvent() {
    const int what = upTo(100);
    QWidget* w = anywhere();
    if (what < 40)
      QTest::mouseClick(w, button(), modifiers(), in(*w));
    else if (what < 45)
      QTest::mouseDClick(w, Qt::LeftButton, {}, in(*w));
    else if (what < 65)
      drag();
    else if (what < 75)
      wheel();
    else if (what < 95)
      stroke();
    else
      goSomewhere();
  }

 private slots:
  void initTestCase() {
    QApplication::setOrganizationName(QStringLiteral("dune-step-tests"));
    QSettings().clear();
    applyTheme(false);
    qInstallMessageHandler(listen);
  }
  void anythingMayBePressed_data() {
    QTest::addColumn<int>("example");
    QTest::addColumn<int>("seed");
    for (int i = 0; i < 3; ++i) QTest::newRow(demo::examples()[static_cast<std::size_t>(i)].file) << i << 20 + i;
  }
  void anythingMayBePressed() {
    QFETCH(int, example);
    QFETCH(int, seed);
    random_.seed(static_cast<quint32>(seed));
    const demo::Example& e = demo::examples()[static_cast<std::size_t>(example)];
    QTemporaryDir folder;
    const QString project = folder.filePath(QString::fromLatin1(e.file) + QStringLiteral(".dunestep"));
    QVERIFY(e.writeLevel(folder.path().toStdString()) && dune::project::save(project.toStdString(), e.project()));
    const QString level = folder.filePath(QString::fromStdString(e.project().level->files[0].path));
    QFile file(level);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QByteArray whole = file.readAll();

    window_ = std::make_unique<MainWindow>();
    window_->resize(1024, 700);
    window_->show();
    Driver drive(*window_);
    // Whatever asks is told no, after a while in which it can be pressed at.
    QTimer no;
    QObject::connect(&no, &QTimer::timeout, &no, [] {
      if (QWidget* popup = QApplication::activePopupWidget()) return void(popup->close());
      if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) dialog->reject();
    });
    no.start(40);
    QVERIFY(window_->openProject(project));
    QVERIFY(drive.waitForGround());
    for (int i = 0; i < kEvents; ++i) {
      if (i % 160 == 159) touchLevel(level, whole);
      oneEvent();
      // Every event is handled, but not all of them are painted: without a graphics card that takes most of the time.
      const bool painted = i % 16 == 0;
      if (painted) window_->setUpdatesEnabled(true);
      if (painted || upTo(3) == 0) QTest::qWait(0);
      if (painted) window_->setUpdatesEnabled(false);
      if (upTo(20) == 0 && QApplication::activePopupWidget()) QApplication::activePopupWidget()->close();
      if (!window_->isVisible()) window_->show();
      if (!QApplication::activeModalWidget() && QApplication::activeWindow() != window_.get()) QApplication::setActiveWindow(window_.get());
    }
    window_->setUpdatesEnabled(true);
    while (QApplication::activePopupWidget()) QApplication::activePopupWidget()->close();
    no.stop();
    if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) dialog->reject();
    answers();
    savesAndLoads(folder.filePath(QStringLiteral("after.dunestep")));
    window_->workspace().cancel();
    window_->workspace().document().markSaved();
    QVERIFY(window_->close());
    window_.reset();
    QVERIFY2(complaints.isEmpty(), qPrintable(complaints.join(QLatin1Char('\n'))));
  }

 private:
  void answers() {
    for (const int stop : {2, 0, 5}) {
      QTest::mouseClick(&window_->trail(), Qt::LeftButton, {}, window_->trail().placeOf(stop));
      QTRY_COMPARE(window_->stop(), stop);
    }
  }
  void savesAndLoads(const QString& path) {
    QVERIFY(!window_->workspace().save(path));
    const auto read = dune::project::load(path.toStdString());
    QVERIFY(read);
    const dune::project::Project& now = window_->workspace().project();
    QCOMPARE(dune::project::toJson(*read), dune::project::toJson(now));  // says where they differ
    QVERIFY(*read->level == *now.level && *read->agents == *now.agents && *read->areas == *now.areas);
    QVERIFY(*read->crowd == *now.crowd);
    QVERIFY(read->same(now));
  }
};

QTEST_MAIN(TestMonkey)
#include "monkey.moc"
