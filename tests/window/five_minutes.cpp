// The five minutes of the README, as they are written there: from the first view, by the names in the world, without moving the eye.

#include <QComboBox>

#include "tests/window/demo_window.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/links/links_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/stops/routes/routes_sheet.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

class TestFiveMinutes : public DemoWindow {
  Q_OBJECT

  /// Where the name of a place stands in the world.
  QPoint at(const std::string& name) {
    for (const project::NamedPlace& p : project().places->places)
      if (p.name == name) return drive_->pixelOf(p.at);
    return {};
  }
  Pointer pointed(const QPoint& pixel) { return window_->world().pointerAt(pixel); }
  /// The first pixel over one where something holds of what is pointed at.
  template <class Condition>
  QPoint upwardsFrom(QPoint pixel, Condition&& condition) {
    while (pixel.y() > 0 && !(pointed(pixel).hit && condition(*pointed(pixel).hit))) pixel.ry() -= 1;
    return pixel;
  }
  void move(const QPoint& to) { QTest::mouseMove(&window_->world(), to), QTest::qWait(1); }
  void drag(const QPoint& from, const QPoint& to) { Driver::dragPixels(&window_->world(), from, to), QTest::qWait(1); }
  std::string nameOf(const Picked& hit) { return work().level()->level->objects[hit.object].name; }

 private slots:
  void oneWhyThereIsGround() {
    QVERIFY(window_->world().rect().contains(at("Kiln yard")));
    drive_->goTo(Stop::mesh);
    move(at("Kiln yard"));
    QVERIFY2(becomes([&] { return window_->readoutText().startsWith("Walkable"); }), qPrintable(window_->readoutText()));
    QVERIFY2(window_->readoutText().contains(" m of room"), qPrintable(window_->readoutText()));
    move(upwardsFrom(at("Kiln yard"), [&](const Picked& hit) { return nameOf(hit).starts_with("kiln_wall"); }));
    QVERIFY2(becomes([&] { return window_->readoutText().startsWith("Not walkable"); }), qPrintable(window_->readoutText()));
  }
  void twoABoxInTheYard() {
    const double before = work().ground()->area;
    drive_->goTo(Stop::level);
    auto& level = sheet<LevelSheet>(Stop::level);
    QTest::mouseClick(level.pages()->tabBar(), Qt::LeftButton, {}, level.pages()->tabBar()->tabRect(1).center());
    drive_->press(Stop::level, QStringLiteral("Box"));
    const QPoint beside = at("Kiln yard") + QPoint(0, 30);
    move(beside);
    QTest::mouseClick(&window_->world(), Qt::LeftButton, {}, beside);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->area < before - 1);
    QVERIFY(Driver::shown([&] { return work().comparison().change() && work().comparison().change()->lost > 1; }));
    QVERIFY(window_->stop() == static_cast<int>(Stop::level));  // and it is seen here
    undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY(std::abs(work().ground()->area - before) < 1e-6);
  }
  void threeAndFourPathsAndALink() {
    auto& routes = sheet<RoutesSheet>(Stop::routes);
    drive_->goTo(Stop::routes);
    drag(at("Kiln yard"), at("Loading dock"));
    QVERIFY2(routes.answer().status == route::PathStatus::complete, routes.answer().note.c_str());
    drag(at("South gate"), at("Canal end"));
    QVERIFY2(routes.answer().status == route::PathStatus::partial, routes.answer().note.c_str());
    drive_->goTo(Stop::links);
    auto* kind = sheet<LinksSheet>(Stop::links).findChild<QComboBox*>();
    kind->setFocus();
    QTest::keyClick(kind, Qt::Key_Down);
    QCOMPARE(kind->currentText(), QStringLiteral("Drop"));
    drive_->press(Stop::links, QStringLiteral("Draw link"));
    const QPoint edge = upwardsFrom(at("Canal end"), [](const Picked& hit) { return hit.at.y > -0.01; });
    drag(edge - QPoint(0, 6), at("Canal end"));
    QVERIFY(drive_->waitForGround());
    drive_->goTo(Stop::routes);  // the same path is asked again by itself
    QVERIFY2(routes.answer().status == route::PathStatus::complete, routes.answer().note.c_str());
    QCOMPARE(routes.answer().links.size(), std::size_t{1});
    QCOMPARE(routes.answer().links[0].id, 5);
  }
  void fiveAndSixTheCrowdAndWhatIsWrong() {
    drive_->goTo(Stop::crowd);
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    QCOMPARE(work().run()->trace.bodies().size(), std::size_t{40});
    toFront();
    QTest::keyClick(window_.get(), Qt::Key_Space);
    QVERIFY(window_->reel().playing());
    QTest::keyClick(window_.get(), Qt::Key_Space);
    std::set<std::string> seen;
    for (std::size_t i = 0; i < work().findings().all().size(); ++i) {
      QTest::keyClick(window_.get(), Qt::Key_F4);
      QTest::qWait(1);
      seen.insert(window_->readoutText().toStdString());
    }
    std::set<std::string> told;  // some say the same of two places
    for (const KeptFinding& f : work().findings().all()) told.insert(f.finding.sentence);
    QVERIFY(told.size() > 25 && seen == told);
    QVERIFY(std::ranges::any_of(seen, [](const std::string& s) { return s.find("0.42 m") != std::string::npos; }));
    chooseFinding("ignored-on-ground", "crate_5");
    QVERIFY(window_->ledger().findChild<QPushButton*>());
  }
};

QTEST_MAIN(TestFiveMinutes)
#include "five_minutes.moc"
