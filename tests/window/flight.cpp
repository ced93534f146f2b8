// The Flight stop: kinds that fly, volumes, ways through the air and how they are flown.

#include <QCheckBox>
#include <QComboBox>
#include <QSlider>

#include "tests/window/demo_window.h"
#include "window/session/hand_made.h"
#include "window/stops/flight/flight_sheet.h"

using namespace dune;
using namespace dune::window;

class TestFlightStop : public DemoWindow {
  Q_OBJECT

  FlightSheet& sheet() { return DemoWindow::sheet<FlightSheet>(Stop::flight); }
  FlyPage& fly() { return sheet().fly(); }
  const project::FlightSection& section() { return *project().flight; }
  bool waitForAir() {
    return QTest::qWaitFor(
        [&] {
          const auto* kind = flyerNow(work());
          return kind && work().level() && work().airs().fresh(project(), *work().level()->level, kind->id);
        },
        kPatience);
  }
  void begin() {
    drive_->goTo(Stop::flight);
    QVERIFY(waitForAir());
    sheet().pages()->setCurrentIndex(0);
    QTest::qWait(1);
  }
  void choose(int id) {
    auto* list = fly().findChild<ItemList*>();
    list->setCurrentRow(list->rowOf(std::to_string(id)));
    const auto& kept = *std::ranges::find(section().flights, id, &project::AskedFlight::id);
    QVERIFY(QTest::qWaitFor([&] { return fly().asked() && fly().asked()->to == kept.to && fly().answered(); }, kPatience));
  }
  bool waitForWay() {
    return QTest::qWaitFor([&] { return fly().answered(); }, kPatience);
  }
  void press(const QString& text) {
    QPushButton* b = drive_->button(Stop::flight, text);
    QVERIFY2(b && b->isVisible() && b->isEnabled(), qPrintable(text));
    QTest::mouseClick(b, Qt::LeftButton);
    QTest::qWait(1);
  }
  static NumberField* field(QWidget& page, const QString& name) {
    for (NumberField* f : page.findChildren<NumberField*>())
      if (f->findChild<QLabel*>()->text() == name) return f;
    return nullptr;
  }
  void type(QWidget& page, const QString& name, const QString& text) {
    NumberField* f = field(page, name);
    QVERIFY2(f && f->isVisible(), qPrintable(name));
    f->spin()->setFocus();
    f->spin()->selectAll();
    QTest::keyClicks(f->spin(), text);
    QTest::keyClick(f->spin(), Qt::Key_Return);
    QTest::qWait(1);
  }

 private slots:
  void theDemosFlightsAreThere() {
    begin();
    choose(1);
    QVERIFY(fly().way().found() && fly().way().points.size() > 3);
    QVERIFY2(fly().way().length > 10.6 && fly().way().length < 13, qPrintable(QString::number(fly().way().length)));
    choose(2);  // the arch is just wide enough
    QVERIFY(fly().way().found());
    QCOMPARE(fly().way().points.size(), std::size_t{2});
    choose(3);
    QVERIFY(fly().way().found());
  }

  void aFlightIsDrawnKeptAndUndone() {
    begin();
    drive_->lookAt({30, 0, 20}, 30);
    drive_->drag({24, 0, 17}, {38, 0, 16});
    QVERIFY(fly().asked().has_value());
    QVERIFY(glm::distance(fly().asked()->from, Vec3(24, 2, 17)) < 0.3 && glm::distance(fly().asked()->to, Vec3(38, 2, 16)) < 0.3);
    QVERIFY(waitForWay());
    QVERIFY(fly().way().found());
    press(QStringLiteral("Keep this flight"));
    QCOMPARE(section().flights.size(), std::size_t{4});
    undo();
    QCOMPARE(section().flights.size(), std::size_t{3});
  }

  void endsAreHandles() {
    begin();
    choose(3);
    drive_->lookAt({45, 3, 35}, 34);
    const Vec3 before = section().flights[2].to, up(0, 1.6, 0);
    // The dot above an end moves it up and down alone.
    const QPoint from = drive_->pixelOf(before + up), to = drive_->pixelOf(before + up + Vec3(0, 2, 0));
    Driver::dragPixels(&window_->world(), from, to);
    const Vec3 after = section().flights[2].to;
    QVERIFY2(after.y > before.y + 1.2 && after.y < before.y + 2.8, qPrintable(QString::number(after.y)));
    QVERIFY(after.x == before.x && after.z == before.z);
    QVERIFY(waitForWay());
    QVERIFY(fly().way().found());
    undo();
    QVERIFY(section().flights[2].to == before);
    QTest::qWait(1);
    QVERIFY(fly().asked()->to == before);
  }

  void aWiderBodyTakesAnotherWay() {
    begin();
    choose(2);
    const double straight = fly().way().length;
    sheet().pages()->setCurrentIndex(1);
    QWidget& kind = *sheet().pages()->widget(1);
    type(kind, QStringLiteral("Radius"), QStringLiteral("0.85"));
    QCOMPARE(section().flyers[0].radius, 0.85);
    QVERIFY(waitForAir());
    sheet().pages()->setCurrentIndex(0);
    QVERIFY(QTest::qWaitFor([&] { return fly().answered() && fly().way().found() && fly().way().length > straight + 0.2; }, kPatience));
    // A number that makes no sense is said, and changes nothing.
    sheet().pages()->setCurrentIndex(1);
    type(kind, QStringLiteral("Least speed"), QStringLiteral("50"));
    QCOMPARE(section().flyers[0].leastSpeed, 0.0);
    undo();
    QCOMPARE(section().flyers[0].radius, 0.75);
  }

  void whatIsPutInTheWayIsFlownAround() {
    begin();
    choose(3);
    const double before = fly().way().length;
    const Vec3 middle = (section().flights[2].from + section().flights[2].to) * 0.5;
    work().change(QStringLiteral("Place blocker"), [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) {
        s.blockers.push_back({9, level::BlockerShape::box, {middle.x, 0, middle.z}, {4, 12, 4}, 0, level::Role::obstacle, {}, {}});
      });
    });
    QVERIFY(QTest::qWaitFor([&] { return waitForAir() && fly().answered() && fly().way().found() && fly().way().length > before + 0.2; },
                            kPatience));
    undo();
    QVERIFY(QTest::qWaitFor([&] { return waitForAir() && fly().answered() && std::abs(fly().way().length - before) < 1e-9; }, kPatience));
  }

  void aKeptFlightIsOfAKindOfItsOwn() {
    begin();
    work().change(QStringLiteral("Add"), [](project::Project& p) {
      project::edit(p.flight, [](project::FlightSection& s) {
        project::FlyerKind wide = s.flyers[0];
        wide.id = 2, wide.name = "Freighter", wide.radius = 1.4;
        s.flyers.push_back(wide);
        s.flights.push_back({9, "wide", 2, {46.3, 3, 16}, {46.3, 3, 7.6}});
      });
    });
    QTest::qWait(1);
    choose(9);
    QCOMPARE(flyerNow(work())->id, 2);
    QVERIFY(waitForAir() && waitForWay());
    choose(2);
    QCOMPARE(flyerNow(work())->id, 1);
    // A flight that is drawn anew leaves the kept one where it is.
    const project::AskedFlight kept = section().flights[1];
    drive_->lookAt({30, 0, 20}, 30);
    drive_->drag({24, 0, 17}, {38, 0, 16});
    QVERIFY(section().flights[1] == kept);
    undo();
  }

  void spaceThatIsCutOffIsAFinding() {
    begin();
    QVERIFY(QTest::qWaitFor([&] { return findingCount("air-cut-off") == 1; }, kPatience));
    // From elsewhere it leads here.
    drive_->goTo(Stop::mesh);
    chooseFinding("air-cut-off", "for Glider");
    QCOMPARE(window_->stop(), static_cast<int>(Stop::flight));
    const auto& all = work().findings().all();
    const auto found = std::ranges::find_if(all, [](const KeptFinding& k) { return std::string_view(k.finding.code) == "air-cut-off"; });
    QVERIFY(glm::distance(window_->world().camera().target(), found->finding.at) < 1e-6);
    // It goes with its kind, and comes back with it.
    QVERIFY(!section().flyers.empty());
    work().change(QStringLiteral("No kinds"),
                  [](project::Project& p) { project::edit(p.flight, [](project::FlightSection& s) { s = {}; }); });
    QVERIFY(QTest::qWaitFor([&] { return findingCount("air-cut-off") == 0; }, kPatience));
    undo();
    QVERIFY(QTest::qWaitFor([&] { return findingCount("air-cut-off") == 1; }, kPatience));
  }
  void itIsFlown() {
    begin();
    choose(1);
    press(QStringLiteral("Fly"));
    QVERIFY(QTest::qWaitFor([&] { return fly().flown() != nullptr; }, kPatience));
    const Flown& flown = *fly().flown();
    QCOMPARE(flown.goals, std::size_t{1});
    QCOMPARE(flown.arrived, std::size_t{1});
    const auto& last = flown.frames.back().back().at;
    QVERIFY(glm::distance(Vec3(last[0], last[1], last[2]), section().flights[0].to) < 0.5);
    // It leans into the turn around the tower.
    double most = 0;
    for (const auto& frame : flown.frames) most = std::max(most, std::abs(static_cast<double>(frame.back().bank)));
    QVERIFY(most > 0.05);
    auto* time = fly().findChild<QSlider*>();
    QVERIFY(QTest::qWaitFor([&] { return time->value() > 3; }, kPatience));  // it plays
    press(QStringLiteral("Pause"));
    const int at = time->value();
    QTest::qWait(120);
    QCOMPARE(time->value(), at);
  }

  void anotherProjectEndsWhatIsFlownAndAsked() {
    begin();
    choose(1);
    press(QStringLiteral("Fly"));
    auto* time = fly().findChild<QSlider*>();
    QVERIFY(QTest::qWaitFor([&] { return fly().flown() && time->value() > 0; }, kPatience));
    work().startNew();
    QVERIFY(QTest::qWaitFor([&] { return !fly().asked(); }, kPatience));
    QVERIFY(!fly().flown());
    QCOMPARE(time->maximum(), 0);
    QVERIFY(!drive_->button(Stop::flight, QStringLiteral("Play"))->isChecked());
  }

  void groupsAreKeptChangedAndFlown() {
    begin();
    const std::size_t before = section().groups.size();
    std::size_t bodies = 0;
    for (const project::FlyerGroup& g : section().groups) bodies += static_cast<std::size_t>(g.count);
    drive_->lookAt({30, 0, 20}, 30);
    drive_->drag({24, 0, 17}, {38, 0, 16});
    QVERIFY(waitForWay());
    type(fly(), QStringLiteral("How many"), QStringLiteral("3"));
    press(QStringLiteral("Keep as a group"));
    QCOMPARE(section().groups.size(), before + 1);
    QCOMPARE(section().groups.back().count, 3);
    QCOMPARE(section().groups.back().goal, fly().asked()->to);
    type(fly(), QStringLiteral("How many"), QStringLiteral("5"));
    QCOMPARE(section().groups.back().count, 5);
    auto* shape = sheet().findChild<QCheckBox*>(QStringLiteral("in shape"));
    QTest::mouseClick(shape, Qt::LeftButton, {}, {8, shape->height() / 2});
    QVERIFY(section().groups.back().inShape);
    press(QStringLiteral("Fly"));
    QVERIFY(QTest::qWaitFor([&] { return fly().flown() != nullptr; }, kPatience));
    QCOMPARE(fly().flown()->kinds.size(), bodies + 5);
    QCOMPARE(fly().flown()->trace.bodies().size(), bodies + 5);
    QCOMPARE(fly().flown()->arrived, fly().flown()->goals);
    QCOMPARE(fly().flown()->findings.size(), std::size_t{0});
    undo();
    QVERIFY(!section().groups.back().inShape && !shape->isChecked());
    undo();
    QCOMPARE(section().groups.back().count, 3);
    QTest::qWait(1);
    QVERIFY(!fly().flown());  // that was another flight
    window_->world().setFocus();
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(section().groups.size(), before);
  }

  void aGroupIsChosenInTheWorldAndMoved() {
    begin();
    drive_->lookAt({30, 0, 20}, 30);
    drive_->drag({24, 0, 17}, {38, 0, 16});
    QVERIFY(waitForWay());
    press(QStringLiteral("Keep as a group"));
    const project::FlyerGroup kept = section().groups.back();
    work().selection().clear(ThingKind::flyerGroup);
    QTest::qWait(1);
    const Vec3 middle = (kept.start + kept.goal) * 0.5;
    drive_->clickPixel(drive_->pixelOf(middle));
    QTest::qWait(1);
    QVERIFY(chosenFlyerGroup(work()) && chosenFlyerGroup(work())->id == kept.id);
    Driver::dragPixels(&window_->world(), drive_->pixelOf(kept.goal), drive_->pixelOf(kept.goal + Vec3(0, 0, 3)));
    QVERIFY2(std::abs(section().groups.back().goal.z - kept.goal.z - 3) < 0.5, qPrintable(QString::number(section().groups.back().goal.z)));
    QVERIFY(section().groups.back().start == kept.start);
  }

  /// Who cannot get to its goal is told, and the finding leads to the flight, the moment and the body.
  void whatWentWrongInAFlightIsAFinding() {
    begin();
    QVERIFY(QTest::qWaitFor([&] { return findingCount("air-cut-off") == 1; }, kPatience));
    const auto& all = work().findings().all();
    const Vec3 store =
        std::ranges::find_if(all, [](const KeptFinding& k) { return std::string_view(k.finding.code) == "air-cut-off"; })->finding.at;
    work().change(QStringLiteral("Add"), [&](project::Project& p) {
      project::edit(p.flight, [&](project::FlightSection& s) { s.groups = {{7, "lost", 1, 1, {24, 3, 17}, store, 0, {}}}; });
    });
    QTest::qWait(1);
    press(QStringLiteral("Fly"));
    QVERIFY(QTest::qWaitFor([&] { return fly().flown() != nullptr; }, kPatience));
    QVERIFY(QTest::qWaitFor([&] { return findingCount("never-arrives") == 1; }, kPatience));
    drive_->goTo(Stop::mesh);
    chooseFinding("never-arrives");
    QCOMPARE(window_->stop(), static_cast<int>(Stop::flight));
    QCOMPARE(fly().followed(), fly().flown()->trace.bodies()[0].id);
    QVERIFY(fly().frame() > 0);
    undo();
    QVERIFY(QTest::qWaitFor([&] { return findingCount("never-arrives") == 0; }, kPatience));
  }

  void theyFlyAmongWalkers() {
    begin();
    auto* among = fly().findChild<QCheckBox*>(QStringLiteral("among"));
    QVERIFY(among && !among->isVisible());
    work().runCrowd();
    QVERIFY(QTest::qWaitFor([&] { return work().run() && !work().crowd().running() && among->isVisible(); }, kPatience));
    choose(1);
    QTest::mouseClick(among, Qt::LeftButton, {}, {8, among->height() / 2});
    QVERIFY(among->isChecked());
    press(QStringLiteral("Fly"));
    QVERIFY(QTest::qWaitFor([&] { return fly().flown() != nullptr; }, kPatience));
    QCOMPARE(fly().flown()->among, work().run());
    QCOMPARE(fly().flown()->arrived, fly().flown()->goals);
    // Without them it is another flight.
    QTest::mouseClick(among, Qt::LeftButton, {}, {8, among->height() / 2});
    QVERIFY(!fly().flown());
  }

  void theCursorIsTheBodyAtAHeight() {
    begin();
    auto* readout = window_->findChild<QLabel*>(QStringLiteral("readout"));
    drive_->lookAt({30, 0, 20}, 30);
    drive_->move({30, 0, 20});
    QVERIFY2(readout->text().startsWith(QStringLiteral("2.00 m over it: It fits")), qPrintable(readout->text()));
    const QPointF pixel = drive_->pixelOf({30, 0, 20});
    const auto wheel = [&](int notches, Qt::KeyboardModifiers keys) {
      QWheelEvent event(pixel, window_->world().mapToGlobal(pixel), {}, {0, 120 * notches}, Qt::NoButton, keys, Qt::NoScrollPhase, false);
      QApplication::sendEvent(&window_->world(), &event);
    };
    const double distance = window_->world().camera().distance();
    wheel(2, Qt::ShiftModifier);
    QCOMPARE(fly().height(), 2.5);
    QCOMPARE(window_->world().camera().distance(), distance);
    QVERIFY2(readout->text().startsWith(QStringLiteral("2.50 m over it")), qPrintable(readout->text()));
    wheel(-10, Qt::ShiftModifier);
    QCOMPARE(fly().height(), 0.0);
    QVERIFY2(readout->text().contains(QStringLiteral("deep in it")), qPrintable(readout->text()));
    wheel(1, Qt::NoModifier);
    QVERIFY(window_->world().camera().distance() < distance && fly().height() == 0);
  }

  void volumesAreAddedDraggedAndRemoved() {
    begin();
    sheet().pages()->setCurrentIndex(2);
    auto* cells = sheet().findChild<QCheckBox*>(QStringLiteral("cells"));
    QTest::mouseClick(cells, Qt::LeftButton, {}, {8, cells->height() / 2});
    QVERIFY(sheet().space().plane().has_value());
    press(QStringLiteral("Add volume"));
    QCOMPARE(section().volumes.size(), std::size_t{2});
    work().selection().choose(ThingKind::flightVolume, 1);
    QTest::qWait(1);
    drive_->lookAt({30, 8, 22}, 90);
    const Box3 before = section().volumes[0].box;
    const Vec3 side(before.max.x, before.centre().y, before.centre().z);
    Driver::dragPixels(&window_->world(), drive_->pixelOf(side), drive_->pixelOf(side - Vec3(6, 0, 0)));
    QVERIFY2(section().volumes[0].box.max.x < before.max.x - 3, qPrintable(QString::number(section().volumes[0].box.max.x)));
    QVERIFY(section().volumes[0].box.min == before.min);
    window_->world().setFocus();
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(section().volumes.size(), std::size_t{1});
    for (int i = 0; i < 3; ++i) undo();
    QVERIFY(section().volumes.size() == 1 && section().volumes[0].box == before);
  }

  void airCostsWhatItsKindSays() {
    begin();
    choose(3);
    const double before = fly().way().cost;
    QCOMPARE(before, fly().way().length);
    sheet().pages()->setCurrentIndex(2);
    press(QStringLiteral("Add volume"));
    const auto added = [&]() -> const project::FlightVolume& { return section().volumes.back(); };
    const auto pick = [&](const QString& named, const QString& text) {
      for (QComboBox* box : sheet().space().findChildren<QComboBox*>())
        if (box->accessibleName() == named) {
          QVERIFY2(box->isVisible() && box->findText(text, Qt::MatchStartsWith) >= 0, qPrintable(text));
          box->setFocus();
          const int at = box->findText(text, Qt::MatchStartsWith);
          while (box->currentIndex() != at) QTest::keyClick(box, box->currentIndex() < at ? Qt::Key_Down : Qt::Key_Up);
          QTest::qWait(1);
          return;
        }
      QFAIL(qPrintable(named));
    };
    const project::AskedFlight kept = section().flights[2];
    const Vec3 middle = (kept.from + kept.to) * 0.5;
    work().change(QStringLiteral("Move volume"), [&](project::Project& p) {
      project::edit(p.flight, [&](project::FlightSection& s) {
        s.volumes.back().box = {middle - Vec3(2, 60, 40), middle + Vec3(2, 60, 40)};
      });
    });
    pick(QStringLiteral("What the volume is"), QStringLiteral("air of the kind brine"));
    QCOMPARE(added().air, std::string("brine"));
    pick(QStringLiteral("What this air is to the kind that flies"), QStringLiteral("costs of its own"));
    type(sheet().space(), QStringLiteral("Costs"), QStringLiteral("7"));
    QVERIFY(section().rules.size() == 1 && section().rules[0].rule.cost == 7 && section().rules[0].agent == 1);
    QVERIFY(waitForAir());
    sheet().pages()->setCurrentIndex(0);
    QVERIFY(QTest::qWaitFor([&] { return fly().answered() && fly().way().found() && fly().way().cost > before + 4 * 5; }, kPatience));
    sheet().pages()->setCurrentIndex(2);
    pick(QStringLiteral("What this air is to the kind that flies"), QStringLiteral("forbidden"));
    QVERIFY(section().rules[0].rule.forbidden && waitForAir());
    sheet().pages()->setCurrentIndex(0);
    QVERIFY(QTest::qWaitFor([&] { return fly().answered() && !fly().way().found(); }, kPatience));
    for (int i = 0; i < 40 && section().volumes.size() > 1; ++i) undo();  // a step for each kind that the keys went over
    QVERIFY(section().volumes.size() == 1 && section().rules.empty());
    QVERIFY(QTest::qWaitFor([&] { return waitForAir() && fly().answered() && fly().way().cost == before; }, kPatience));
  }

  void heightsAreKept() {
    begin();
    choose(3);
    sheet().pages()->setCurrentIndex(1);
    type(*sheet().pages()->widget(1), QStringLiteral("Least over ground"), QStringLiteral("2.5"));
    QCOMPARE(section().flyers[0].leastHeight, 2.5);
    QVERIFY(waitForAir());
    sheet().pages()->setCurrentIndex(0);
    QVERIFY(QTest::qWaitFor([&] { return fly().answered() && (fly().way().lifts || fly().way().lands || fly().way().points[0].y > 2.5); },
                            kPatience));
    sheet().pages()->setCurrentIndex(1);
    type(*sheet().pages()->widget(1), QStringLiteral("Greatest over the level"), QStringLiteral("1"));  // below the least
    QCOMPARE(section().flyers[0].mostHeight, 0.0);
    undo();
    QCOMPARE(section().flyers[0].leastHeight, 0.0);
  }

  void withoutAKindOneIsToldWhatToDo() {
    begin();
    sheet().pages()->setCurrentIndex(1);
    press(QStringLiteral("Remove kind"));
    QVERIFY(section().flyers.empty() && section().flights.empty() && section().groups.empty());  // what flew by it went with it
    sheet().pages()->setCurrentIndex(0);
    QTest::qWait(1);
    QVERIFY(fly().findChild<QLabel*>()->text().contains(QStringLiteral("kind")));
    QVERIFY(!drive_->button(Stop::flight, QStringLiteral("Fly"))->isEnabled());
    sheet().pages()->setCurrentIndex(1);
    press(QStringLiteral("Add kind"));
    QCOMPARE(section().flyers.size(), std::size_t{1});
  }
};

QTEST_MAIN(TestFlightStop)
#include "flight.moc"
