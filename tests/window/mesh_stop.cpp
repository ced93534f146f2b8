// The Mesh stop by hand: what a build changed, cards, the widest agent that passes, one limit over a range.

#include <qcustomplot.h>

#include "tests/window/demo_window.h"
#include "window/stops/mesh/mesh_sheet.h"

using namespace dune;
using namespace dune::window;

class TestMeshStop : public DemoWindow {
  Q_OBJECT

  MeshSheet& mesh() { return sheet<MeshSheet>(Stop::mesh); }
  void open(MeshSheet::Page page) {
    drive_->goTo(Stop::mesh);
    mesh().show(page);
    QTest::qWait(1);
  }
  void place(const Vec3& at, const Vec3& size) {
    work().change("Place", [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) {
        s.blockers.push_back({project::nextId(s.blockers), level::BlockerShape::box, at, size, 0, level::Role::obstacle, {}, {}});
      });
    });
  }

 private slots:
  void lostGroundIsMeasuredAndNamed() {
    open(MeshSheet::Page::build);
    const double before = nav::totalArea(work().ground()->mesh);
    place({20, 0, 18}, {2, 1, 1});
    QVERIFY(drive_->waitForGround());
    QVERIFY(becomes([&] { return work().comparison().change() != nullptr; }));
    const pipeline::Change& change = *work().comparison().change();
    QVERIFY(std::abs(change.lost - change.gained - (before - nav::totalArea(work().ground()->mesh))) < 0.02);
    QCOMPARE(change.places.size(), std::size_t{1});
    QVERIFY2(change.places[0].cause.find("blocker 3") != std::string::npos, change.places[0].cause.c_str());
    // A box of 2 × 1 m and a radius of 0.35 m around it, corners round.
    QVERIFY(std::abs(change.lost - (2 + 2 * 3 * 0.35 + kPi * 0.35 * 0.35)) < 0.02);
    // Choosing the place goes there.
    mesh().build()->places()->setCurrentRow(0);
    QVERIFY(glm::distance(plan(window_->world().camera().target()), plan(Vec3(20, 0, 18))) < 1.5);
    // The other way round it is gained.
    undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY(becomes([&] { return work().comparison().change() && work().comparison().change()->gained > 1; }));
    QVERIFY(work().comparison().change()->lost < 0.01);
  }

  void aWholeDragIsComparedWithWhatWasBeforeIt() {
    open(MeshSheet::Page::build);
    const auto before = work().ground();
    for (int i = 1; i <= 4; ++i) {
      work().change(
          "Wider",
          [&](project::Project& p) { project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[0].radius = 0.35 + 0.01 * i; }); },
          "drag");
      QVERIFY(drive_->waitForGround());
    }
    QVERIFY(becomes([&] { return work().comparison().change() != nullptr; }));
    QVERIFY(work().comparison().change()->before == before);
  }

  void whatIsUnderTheMouseIsSaidAnewAfterABuild() {
    open(MeshSheet::Page::build);
    drive_->lookAt({20, 0, 18}, 15);
    drive_->move({20, 0, 18});
    QVERIFY2(window_->readoutText().startsWith("Walkable"), qPrintable(window_->readoutText()));
    place({20.6, 0, 18}, {1, 1, 1});  // beside it: the mouse is still over the sand
    QVERIFY(drive_->waitForGround());
    QVERIFY2(window_->readoutText().startsWith("Not walkable") && window_->readoutText().contains("blocker 3"),
             qPrintable(window_->readoutText()));
    undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY2(window_->readoutText().startsWith("Walkable"), qPrintable(window_->readoutText()));
  }

  void aKeptBuildStaysTheMeasure() {
    open(MeshSheet::Page::build);
    drive_->press(Stop::mesh, QStringLiteral("Keep this build"));
    QVERIFY(work().comparison().withKept());
    place({20, 0, 18}, {1, 1, 1});
    QVERIFY(drive_->waitForGround());
    place({24, 0, 18}, {1, 1, 1});
    QVERIFY(drive_->waitForGround());
    QVERIFY(becomes([&] { return work().comparison().change() && work().comparison().change()->places.size() == 2; }));
    drive_->press(Stop::mesh, QStringLiteral("Compare with last"));
    QVERIFY(becomes([&] { return work().comparison().change() && work().comparison().change()->places.size() == 1; }));
  }

  void routesThatChangedAreNamed() {
    open(MeshSheet::Page::build);
    place({12.85, 0, 32.25}, {0.6, 1.5, 1.6});  // closes the door of the store
    QVERIFY(drive_->waitForGround());
    QVERIFY(becomes([&] { return work().comparison().change() && !work().comparison().change()->routes.empty(); }));
    QCOMPARE(work().comparison().change()->routes[0].id, 1);
    QCOMPARE(QString::fromStdString(work().comparison().change()->routes[0].sentence), QStringLiteral("complete → partial"));
  }

  void cardsAreAskedAgainAndSayEverything() {
    open(MeshSheet::Page::cards);
    drive_->lookAt({20, 0, 18}, 15);
    drive_->click({20, 0, 18});
    QCOMPARE(project().cards->cards.size(), std::size_t{4});
    QVERIFY(work().answers().cards.back().explanation.walkable());
    place({20.7, 0, 18}, {1, 1, 1});
    QVERIFY(drive_->waitForGround());
    QVERIFY(becomes([&] { return !work().answers().cards.back().explanation.walkable(); }));
    const pipeline::CardAnswer& answer = work().answers().cards.back();
    QVERIFY(answer.before.starts_with("Walkable"));
    QVERIFY(answer.explanation.all.size() == 1 && answer.explanation.all[0].change.find("moving blocker 3") != std::string::npos);
    work().selection().choose(ThingKind::card, answer.id);
    QTest::qWait(1);
    QVERIFY2(mesh().cards()->answer()->text().contains("it would take a radius of"), qPrintable(mesh().cards()->answer()->text()));
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(project().cards->cards.size(), std::size_t{3});
    undo(), undo(), undo();
    QCOMPARE(project().cards->cards.size(), std::size_t{3});
  }

  void theWidestThatPassesIsFoundWithWhereItIsStopped() {
    open(MeshSheet::Page::tryOut);
    // Nothing is in the way of a tall one but the awning over the lane; beside the stalls there is more room.
    work().change("Walls", [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) { s.bounds = Box3{{17, -1, 6}, {30, 10, 9}}; });
    });
    QVERIFY(drive_->waitForGround());
    drive_->press(Stop::mesh, QStringLiteral("Two places"));
    window_->world().camera().setPlan(true);
    drive_->lookAt({24, 0, 7.5}, 26);
    drive_->drag({18.2, 0, 7.45}, {29, 0, 7.45});
    QVERIFY(becomes([&] { return work().trials().passed().has_value() && !work().trials().busy(); }));
    const pipeline::Passing& p = *work().trials().passed();
    QVERIFY2(std::abs(p.radius.most - 0.45) <= 0.006, qPrintable(QString::number(p.radius.most)));
    QVERIFY2(p.radius.cause.find("stall_") != std::string::npos, p.radius.cause.c_str());
    QVERIFY2(std::abs(p.height.most - 2.3) <= 0.006, qPrintable(QString::number(p.height.most)));
    QVERIFY2(p.height.cause.find("awning") != std::string::npos, p.height.cause.c_str());
  }

  void aSweepFindsTheThresholdAndAClickSetsTheLimit() {
    open(MeshSheet::Page::tryOut);
    drive_->press(Stop::mesh, QStringLiteral("Try the range"));
    QVERIFY(becomes([&] { return work().trials().swept() != nullptr && !work().trials().busy(); }));
    const pipeline::Sweep& sweep = *work().trials().swept();
    QCOMPARE(sweep.points.size(), std::size_t{16});
    for (std::size_t i = 1; i < sweep.points.size(); ++i) QVERIFY(sweep.points[i].reachable <= sweep.points[i - 1].reachable + 1e-6);
    // The door of the store is 1.5 m wide, the ways beside its shelves 1.4 m: the route into it ends at 0.7 m.
    const auto store = std::ranges::find(sweep.thresholds, std::size_t{0}, &pipeline::Threshold::route);
    QVERIFY(store != sweep.thresholds.end());
    QVERIFY(!store->cause.empty());
    mesh().tryOut()->thresholds()->setCurrentRow(static_cast<int>(store - sweep.thresholds.begin()));
    QVERIFY(glm::distance(plan(window_->world().camera().target()), plan(store->at)) < 0.01);
    QVERIFY2(!store->above && std::abs(store->value - 0.7) < 0.002, qPrintable(QString::number(store->value)));
    QCustomPlot* plot = mesh().tryOut()->plot();
    QTest::qWait(20);  // until it is laid out
    const int x = static_cast<int>(plot->xAxis->coordToPixel(0.5));
    QTest::mouseClick(plot, Qt::LeftButton, {}, QPoint(x, plot->axisRect()->center().y()));
    QVERIFY(std::abs(project().agents->agents[0].radius - 0.5) < 0.02);
    undo();
    QCOMPARE(project().agents->agents[0].radius, 0.35);
    drive_->press(Stop::mesh, QStringLiteral("Try the range"));
    work().cancelTrial();
    QVERIFY(!work().trials().busy());
  }
};

QTEST_MAIN(TestMeshStop)
#include "mesh_stop.moc"
