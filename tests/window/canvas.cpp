// The world drawn aside, as without a graphics card, and drawn on the screen itself, as with one: the same picture; and what of a layer is
// not drawn.

#include <QtTest>

#include "window/scene/world_view.h"

using namespace dune;
using namespace dune::window;

class TestCanvas : public QObject {
  Q_OBJECT

  static constexpr QSize kSize{400, 300};

  static DrawList floor(const QColor& colour, double reach = 4, double height = 0) {
    DrawList list;
    const std::uint32_t ink = packed(colour);
    const auto at = [&](double x, double z) { return Vec3{x * reach, height, z * reach}; };
    list.triangle(at(-1, -1), at(-1, 1), at(1, 1), ink);
    list.triangle(at(-1, -1), at(1, 1), at(1, -1), ink);
    return list;
  }
  /// The picture once nothing more is done to it.
  static QImage finished(WorldView& view) {
    int drawn = 0;
    const auto counting = connect(&view, &WorldView::drawn, [&] { ++drawn; });
    for (int before = -1; before != drawn;) before = drawn, QTest::qWait(250);
    disconnect(counting);
    return view.picture().convertToFormat(QImage::Format_RGB32);
  }
  static QColor at(const WorldView& view, const QImage& picture, const Vec3& place) {
    QPointF pixel;
    return view.camera().project(place, pixel) ? picture.pixelColor(pixel.toPoint()) : QColor();
  }
  static bool near(const QColor& a, const QColor& b) {
    return std::abs(a.red() - b.red()) < 8 && std::abs(a.green() - b.green()) < 8 && std::abs(a.blue() - b.blue()) < 8;
  }
  static std::unique_ptr<WorldView> shown(bool onScreen) {
    auto view = std::make_unique<WorldView>(nullptr, onScreen);
    view->resize(kSize);
    view->camera().lookAt({0, 0, 0}, 10);
    view->show();
    return QTest::qWaitForWindowExposed(view.get()) ? std::move(view) : nullptr;
  }
  static DrawList something() {
    DrawList list = floor(Qt::white);
    list.lit = true;
    for (int i = 0; i < 5; ++i) list.body({i - 2.0, 0, 0.5 * i}, 0.3, 1.8, packed(QColor(40 * i, 90, 200)));
    list.circle({0, 0.1, 0}, 2, 3, packed(Qt::red));
    return list;
  }

 private slots:
  void asideAndOnTheScreenAreTheSame() {
    const auto aside = shown(false), screen = shown(true);
    QVERIFY(aside && screen);
    QVERIFY2(aside->trouble().isEmpty() && screen->trouble().isEmpty(), qPrintable(screen->trouble()));
    Layer a(*aside, LayerOrder::level), b(*screen, LayerOrder::level), am(*aside, LayerOrder::moving), bm(*screen, LayerOrder::moving);
    a.set(something()), b.set(something());
    am.set(floor(QColor(0, 90, 0, 120), 1, 0.5)), bm.set(floor(QColor(0, 90, 0, 120), 1, 0.5));
    const QImage one = finished(*aside), other = finished(*screen);
    QCOMPARE(one.size(), kSize);
    QCOMPARE(one, other);
    QVERIFY(!near(at(*aside, one, {2.5, 0, 0}), at(*aside, one, {0.5, 0.5, -0.7})));  // there is something to see
    aside->resize(300, 350), screen->resize(300, 350);
    QCOMPARE(finished(*aside), finished(*screen));
  }
  void onlyWhatHasChangedIsDrawn() {
    const auto view = shown(false);
    QVERIFY(view);
    (void)finished(*view);
    int drawn = 0;
    connect(view.get(), &WorldView::drawn, [&] { ++drawn; });
    view->setNamesShown(false), view->update();  // texts, and the window's own wish
    QTest::qWait(50);
    QCOMPARE(drawn, 0);
    view->redraw();
    QTRY_COMPARE(drawn, 1);
  }
  void whatIsCutAwayIsNotDrawn() {
    const auto view = shown(false);
    QVERIFY(view);
    Layer below(*view, LayerOrder::level), over(*view, LayerOrder::solids);
    below.set(floor(QColor(200, 40, 40))), over.set(floor(QColor(40, 40, 200), 4, 1));
    const auto see = [&](const Vec3& place) { return at(*view, finished(*view), place); };
    QVERIFY(near(see({0, 1, 0}), QColor(40, 40, 200)));
    view->setCutAway(0.5);
    QVERIFY(near(see({0, 0, 0}), QColor(200, 40, 40)));
    view->setCutAway(kNoCutAway);
    over.setClip(Clip::outside, {{-1, -1}, {1, 1}});
    QVERIFY(near(see({0, 0, 0}), QColor(200, 40, 40)));
    QVERIFY(near(see({2.5, 1, 0}), QColor(40, 40, 200)));
    over.setClip(Clip::inside, {{-1, -1}, {1, 1}});
    QVERIFY(near(see({0, 1, 0}), QColor(40, 40, 200)));
    QVERIFY(near(see({2.5, 0, 0}), QColor(200, 40, 40)));
    over.setClip(Clip::none);
    over.set(floor(QColor(40, 40, 200, 128), 4, 1));
    QVERIFY(near(see({0, 1, 0}), QColor(120, 40, 120)));  // one shines through the other
  }
};

QTEST_MAIN(TestCanvas)
#include "canvas.moc"
