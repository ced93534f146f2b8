// For everybody: every control speaks, the README's stories go by keys alone, and colours that mean different things stay apart for eyes
// that see fewer.

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QComboBox>
#include <QScreen>
#include <QScrollBar>

#include "tests/window/demo_window.h"
#include "window/help/command_finder.h"
#include "window/stops/links/links_sheet.h"
#include "window/stops/routes/routes_sheet.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

namespace {

/// What a colour is for the three kinds of eyes that lack one of their cones (Machado, Oliveira & Fernandes 2009, severity 1), in linear
/// light.
constexpr double kEyes[4][3][3] = {{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}},
                                   {{0.152286, 1.052583, -0.204868}, {0.114503, 0.786281, 0.099216}, {-0.003882, -0.048116, 1.051998}},
                                   {{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}},
                                   {{1.255528, -0.076749, -0.178779}, {-0.078411, 0.930809, 0.147602}, {0.004733, 0.691367, 0.303900}}};

double linear(double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); }

/// CIE L*a*b* of a colour as one of the eyes sees it.
std::array<double, 3> seen(const QColor& colour, int eye) {
  const double in[3] = {linear(colour.redF()), linear(colour.greenF()), linear(colour.blueF())};
  double c[3];
  for (int i = 0; i < 3; ++i) c[i] = std::clamp(kEyes[eye][i][0] * in[0] + kEyes[eye][i][1] * in[1] + kEyes[eye][i][2] * in[2], 0.0, 1.0);
  const double x = (0.4124 * c[0] + 0.3576 * c[1] + 0.1805 * c[2]) / 0.9505, y = 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2],
               z = (0.0193 * c[0] + 0.1192 * c[1] + 0.9505 * c[2]) / 1.089;
  const auto f = [](double t) { return t > 0.008856 ? std::cbrt(t) : 7.787 * t + 16.0 / 116; };
  return {116 * f(y) - 16, 500 * (f(x) - f(y)), 200 * (f(y) - f(z))};
}

double apart(const QColor& a, const QColor& b, int eye) {
  const auto p = seen(a, eye), q = seen(b, eye);
  return std::hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

double contrast(const QColor& a, const QColor& b) {
  const auto light = [](const QColor& c) { return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF()); };
  const double p = light(a), q = light(b);
  return (std::max(p, q) + 0.05) / (std::min(p, q) + 0.05);
}

}  // namespace

class TestAccess : public DemoWindow {
  Q_OBJECT

  void key(Qt::Key k, Qt::KeyboardModifiers modifiers = {}) {
    QWidget* w = QApplication::focusWidget();
    QTest::keyClick(w ? w : window_.get(), k, modifiers);
    QTest::qWait(1);
  }
  /// By Ctrl+K and a part of its name.
  void command(const QString& name) {
    toFront();
    key(Qt::Key_K, Qt::ControlModifier);
    // A window of its own has the keys only once it is there.
    QVERIFY(becomes([] { return qobject_cast<CommandFinder*>(QApplication::activeWindow()) && QApplication::focusWidget(); }));
    for (const QChar c : name) QTest::keyClick(QApplication::focusWidget(), c.toLatin1());
    key(Qt::Key_Return);
    QVERIFY(becomes([this] { return !window_->findChild<CommandFinder*>(); }));
    toFront();
  }
  /// Moves the mouse to a place of the world by keys.
  void pointTo(const Vec3& place) {
    WorldView& world = window_->world();
    world.setFocus();
    const QPoint to = drive_->pixelOf(place);
    const auto go = [&](int by, Qt::Key less, Qt::Key more) {
      const Qt::Key k = by < 0 ? less : more;
      for (int i = 0; i < std::abs(by) / 12; ++i) key(k, Qt::ControlModifier);
      for (int i = 0; i < std::abs(by) % 12; ++i) key(k, Qt::ControlModifier | Qt::ShiftModifier);
    };
    go(to.x() - pointer_.x(), Qt::Key_Left, Qt::Key_Right);
    go(to.y() - pointer_.y(), Qt::Key_Up, Qt::Key_Down);
    pointer_ = to;
  }
  void dragByKeys(const Vec3& from, const Vec3& to) {
    pointTo(from);
    key(Qt::Key_Return, Qt::ControlModifier);
    pointTo(to);
    key(Qt::Key_Return, Qt::ControlModifier);
  }
  QPoint pointer_;

 private slots:
  void everyControlSpeaks() {
    drive_->goTo(Stop::crowd);
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    window_->ledger().setOpen(true);
    int controls = 0;
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      const bool control = qobject_cast<QAbstractButton*>(w) || qobject_cast<QAbstractItemView*>(w) || qobject_cast<QAbstractSlider*>(w) ||
                           qobject_cast<QAbstractSpinBox*>(w) || qobject_cast<QComboBox*>(w) || qobject_cast<QLineEdit*>(w);
      // Parts of other controls speak through them.
      if (!control || w->isHidden() || w->objectName().startsWith(QStringLiteral("qt_")) || qobject_cast<QComboBox*>(w->parentWidget()) ||
          qobject_cast<QScrollBar*>(w) || w->inherits("QTabBar") || w->inherits("QHeaderView") || w->parentWidget()->inherits("QTabBar") ||
          w->inherits("QComboBoxListView") || w->parentWidget()->inherits("QTableView") || w->parentWidget()->inherits("QLineEdit") ||
          w->inherits("QMenuBarExtension"))
        continue;
      ++controls;
      QAccessibleInterface* speaks = QAccessible::queryAccessibleInterface(w);
      QVERIFY(speaks);
      const QString place = QString::fromLatin1(w->metaObject()->className()) + QStringLiteral(" in ") +
                            QString::fromLatin1(w->parentWidget()->metaObject()->className());
      QVERIFY2(!speaks->text(QAccessible::Name).isEmpty(), qPrintable(place + w->objectName() + w->property("text").toString()));
    }
    QVERIFY(controls > 120);
  }
  void everyNumberSaysWhatItDoes() {
    for (int i = 0; i < window_->stopCount(); ++i)
      for (NumberField* f : window_->sheet(i)->findChildren<NumberField*>())
        QVERIFY2(f->toolTip().size() > 8, qPrintable(f->spin()->accessibleName()));
  }
  void aPathAndALinkWithoutAMouse() {
    toFront();
    key(Qt::Key_6, Qt::ControlModifier);
    drive_->lookAt({55, 0, 20}, 32);
    pointer_ = window_->world().rect().center();
    auto& routes = sheet<RoutesSheet>(Stop::routes);
    dragByKeys({55, 0, 17.5}, {56, -2.2, 23});
    QVERIFY2(routes.answer().status == route::PathStatus::partial, routes.answer().note.c_str());
    command(QStringLiteral("draw link"));
    QCOMPARE(window_->stop(), static_cast<int>(Stop::links));
    dragByKeys({55, 0, 19.5}, {55.5, -2.2, 21.5});
    QCOMPARE(project().links->links.size(), std::size_t{5});
    QVERIFY(drive_->waitForGround());
    key(Qt::Key_6, Qt::ControlModifier);  // the same path is asked again by itself
    QVERIFY(routes.answer().status == route::PathStatus::complete);
    key(Qt::Key_7, Qt::ControlModifier);
    key(Qt::Key_R, Qt::ControlModifier);
    QVERIFY(drive_->waitForRun());
    key(Qt::Key_Space);
    QVERIFY(window_->reel().playing());
    key(Qt::Key_Space);
    key(Qt::Key_F4);
    QVERIFY(!work().selection().all(ThingKind::finding).empty());
  }
  void aBoxWithoutAMouse() {
    command(QStringLiteral("box"));
    QCOMPARE(window_->stop(), static_cast<int>(Stop::level));
    drive_->lookAt({50, 0, 15}, 25);
    pointer_ = window_->world().rect().center();
    const std::size_t before = project().level->blockers.size();
    pointTo({50, 0, 15});
    QVERIFY(window_->world().hasFocus());
    key(Qt::Key_Return, Qt::ControlModifier);
    key(Qt::Key_Return, Qt::ControlModifier);
    QCOMPARE(project().level->blockers.size(), before + 1);
    QVERIFY(glm::distance(project().level->blockers.back().at, Vec3(50, 0, 15)) < 0.2);
  }
  void coloursStayApartForAllEyes_data() {
    QTest::addColumn<bool>("dark");
    QTest::newRow("noon") << false;
    QTest::newRow("dusk") << true;
  }
  void coloursStayApartForAllEyes() {
    QFETCH(bool, dark);
    applyTheme(dark);
    const Theme& t = theme();
    constexpr double kSeen = 9;  // of CIE 1976: 2.3 is just noticed, side by side
    for (int eye = 0; eye < 4; ++eye) {
      for (std::size_t i = 0; i < 6; ++i)
        for (std::size_t k = 0; k < i; ++k)
          QVERIFY2(
              apart(t.agent[i], t.agent[k], eye) > kSeen,
              qPrintable(QStringLiteral("agents %1 and %2, eye %3: %4").arg(k).arg(i).arg(eye).arg(apart(t.agent[i], t.agent[k], eye))));
      for (const auto& [a, b] : {std::pair(t.good, t.bad), {t.bad, t.hint}, {t.warning, t.hint}, {t.ground, t.level}, {t.ground, t.route}})
        QVERIFY2(apart(a, b, eye) > kSeen, qPrintable(QStringLiteral("%1 and %2, eye %3").arg(a.name(), b.name()).arg(eye)));
    }
    for (const QColor& ink : {t.text, t.quiet, t.bad, t.good})
      for (const QColor& paper : {t.window, t.panel})
        QVERIFY2(contrast(ink, paper) >= 4.5,
                 qPrintable(QStringLiteral("%1 on %2: %3").arg(ink.name(), paper.name()).arg(contrast(ink, paper))));
    QVERIFY(contrast(t.accentText, t.accent) >= 4.5);
    applyTheme(false);
  }
  void theFirstWindowStaysOnTheScreen() {
    MainWindow another;
    const QSize screen = another.screen()->availableSize();
    QVERIFY(another.width() + 8 <= screen.width() && another.height() + 30 <= screen.height());
  }
};

QTEST_MAIN(TestAccess)
#include "access.moc"
