// The Level and Agents stops by hand: rules, blockers with their handles, bounds, seeds, a level file that changes on the disk, several
// kinds of agent.

#include <QCheckBox>
#include <QMenu>
#include <QTableView>

#include "demo/depot.h"
#include "demo/glb_writer.h"
#include "tests/window/demo_window.h"
#include "window/session/hand_made.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/level/blocker_tool.h"
#include "window/stops/level/level_sheet.h"

using namespace dune;
using namespace dune::window;
using level::Role;

class TestLevelStop : public DemoWindow {
  Q_OBJECT

  LevelSheet& level() { return sheet<LevelSheet>(Stop::level); }
  const std::vector<level::Blocker>& blockers() { return project().level->blockers; }
  void open(LevelSheet::Page page) {
    drive_->goTo(Stop::level);
    auto* bar = level().pages()->tabBar();
    QTest::mouseClick(bar, Qt::LeftButton, {}, bar->tabRect(static_cast<int>(page)).center());
    QTest::qWait(1);
  }
  template <class Widget>
  Widget* named(const QString& name) {
    for (Widget* w : window_->sheet(static_cast<int>(Stop::level))->findChildren<Widget*>())
      if (w->accessibleName() == name) return w;
    return nullptr;
  }
  QPoint handle(int id) {
    const level::Blocker& b = *chosenBlocker(work());
    for (const Handle& h : BlockerTool::handlesOf(b))
      if (h.id == id) return drive_->pixelOf(h.at);
    return {};
  }
  level::Blocker placed(const QString& shape, const Vec3& at) {
    drive_->press(Stop::level, shape);
    drive_->click(at);
    return blockers().back();
  }

 private slots:
  void aRuleMarksAllThatFitAndWhatAppearsLater() {
    open(LevelSheet::Page::objects);
    auto* filter = named<QLineEdit>(QStringLiteral("Filter by name"));
    QTest::keyClicks(filter, "crate_");
    QPushButton* rule = drive_->button(Stop::level, QStringLiteral("Rule for the filter…"));
    QVERIFY(rule && rule->isEnabled());
    rule->menu()->actions().at(1)->trigger();  // obstacle
    QCOMPARE(project().level->rules.size(), std::size_t{2});
    QCOMPARE(project().level->rules.back().pattern, std::string("*crate_*"));
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({42.5, 0.9, 13.1}));  // the top of crate_1 was an island
    // Marked by hand, one of them is ground again; marked as the rule says, the mark goes.
    work().selection().choose({ThingKind::object, "crate_1"});
    QTest::qWait(1);
    drive_->press(Stop::level, QStringLiteral("Ground"));
    QVERIFY(project().level->roles.at("crate_1") == Role::ground);
    QVERIFY(drive_->waitForGround());
    QVERIFY(ground({42.5, 0.9, 13.1}));
    drive_->press(Stop::level, QStringLiteral("Obstacle"));
    QVERIFY(!project().level->roles.count("crate_1"));
    undo(), undo(), undo();
    QCOMPARE(project().level->rules.size(), std::size_t{1});
  }

  void blockersArePlacedMovedResizedTurnedCopiedAndRemoved() {
    open(LevelSheet::Page::blockers);
    drive_->lookAt({20, 0, 20}, 14);
    QVERIFY(ground({20, 0, 18}));
    level::Blocker b = placed("Box", {20, 0, 18});
    QCOMPARE(blockers().size(), std::size_t{3});
    QVERIFY(glm::distance(b.at, Vec3(20, 0, 18)) < 0.1);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({20, 0, 18}));
    // Dragged aside, in one undo step.
    drive_->drag(b.at + Vec3{-0.35, 1, -0.4}, b.at + Vec3{1.65, 1, -0.4});
    const double moved = blockers().back().at.x - b.at.x;
    QVERIFY2(moved > 1.7 && moved < 2.7, qPrintable(QString::number(moved)));  // it was taken by its top, and slides on the ground
    QVERIFY(std::abs(blockers().back().at.z - b.at.z) < 0.3);
    QVERIFY(drive_->waitForGround());
    QVERIFY(ground({20, 0, 18}));
    undo();
    QCOMPARE(blockers().back().at, b.at);
    // Higher by its top handle, wider by its side: the side across stays.
    Driver::dragPixels(&window_->world(), handle(BlockerTool::top), handle(BlockerTool::top) - QPoint(0, 60));
    QVERIFY(blockers().back().size.y > 1.3);
    const Vec3 far = blockers().back().at - Vec3{blockers().back().size.x / 2, 0, 0};
    const QPoint side = handle(BlockerTool::plusX);
    Driver::dragPixels(&window_->world(), side, side + (drive_->pixelOf({22, 0.5, 18}) - drive_->pixelOf({20.5, 0.5, 18})));
    b = blockers().back();
    QVERIFY(b.size.x > 1.8);
    QVERIFY(glm::distance(b.at - Vec3{b.size.x / 2, 0, 0}, far) < 1e-9);
    // Turned a quarter.
    Driver::dragPixels(&window_->world(), handle(BlockerTool::turn), drive_->pixelOf(b.at + Vec3{0, 0, -1.5}));
    QCOMPARE(blockers().back().turn, 90.0);
    drive_->press(Stop::level, QStringLiteral("Copy"));
    QCOMPARE(blockers().size(), std::size_t{4});
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(blockers().size(), std::size_t{3});
    for (int i = 0; i < 6; ++i) undo();
    QCOMPARE(blockers().size(), std::size_t{2});
  }

  void rampsCarryAndPrismsFollowTheirOutline() {
    open(LevelSheet::Page::blockers);
    drive_->lookAt({20, 0, 18}, 16);
    const level::Blocker ramp = placed("Ramp", {20, 0, 16.5});
    QVERIFY(ramp.role == Role::ground);
    QVERIFY(drive_->waitForGround());
    const nav::Place on = work().ground()->locator().under(ramp.at + Vec3{0, 0.3, 0}, 0.1);
    QVERIFY(on.valid() && std::abs(on.position.y - 0.3) < 0.05);
    drive_->press(Stop::level, QStringLiteral("Prism"));
    for (const Vec3& c : {Vec3{16, 0, 16}, Vec3{19, 0, 16}, Vec3{19, 0, 19}}) drive_->click(c);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QCOMPARE(blockers().back().outline.size(), std::size_t{3});
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({18.5, 0, 16.6}));
    QVERIFY(ground({16.5, 0, 18.6}));  // the corner that the triangle leaves free
  }

  void barriersHoldOnlyTheirAgents() {
    nothingByHand();
    // Blocker 2 of the demo closes the footbridge for the Sledge alone.
    QVERIFY(becomes([&] { return groundOf(1) && groundOf(2); }));
    QVERIFY(ground({29.1, 0, 23}));
    QVERIFY(!groundOf(1)->locator().under({29.1, 0, 23}, 0.2).valid());
    open(LevelSheet::Page::blockers);
    work().selection().choose(ThingKind::blocker, 2);
    QTest::qWait(1);
    QListView* agents = nullptr;
    for (QListView* l : level().blockers()->findChildren<QListView*>())
      if (l->accessibleName().startsWith(QStringLiteral("Agents"))) agents = l;
    QVERIFY(agents && agents->isVisible());
    QCOMPARE(agents->model()->rowCount(), 3);
    // Clicks the box of the first row.
    const QRect row = agents->visualRect(agents->model()->index(0, 0));
    QTest::mouseClick(agents->viewport(), Qt::LeftButton, {}, {row.left() + 9, row.center().y()});
    QCOMPARE(blockers()[1].agents, (std::vector<std::string>{"Porter", "Sledge"}));
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({29.1, 0, 23}));
  }

  void boundsAndSeedsLimitTheGround() {
    open(LevelSheet::Page::bounds);
    drive_->press(Stop::level, QStringLiteral("Set bounds"));
    QVERIFY(project().level->bounds.has_value());
    const Box3 whole = *project().level->bounds;
    drive_->lookAt({whole.max.x, 0, 22}, 40);
    const Vec3 side{whole.max.x, whole.centre().y, whole.centre().z};
    drive_->drag(side, side - Vec3{8, 0, 0});
    QVERIFY2(std::abs(project().level->bounds->max.x - whole.max.x + 8) < 1, qPrintable(QString::number(project().level->bounds->max.x)));
    QVERIFY(project().level->bounds->min == whole.min);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({57, 0, 14}));
    drive_->press(Stop::level, QStringLiteral("Remove bounds"));
    QVERIFY(drive_->waitForGround());
    QVERIFY(ground({57, 0, 14}));
    const std::size_t islands = nav::countIslands(work().ground()->mesh);
    drive_->press(Stop::level, QStringLiteral("Add seed"));
    drive_->lookAt({20, 0, 18}, 20);
    drive_->click({20, 0, 18});
    QCOMPARE(project().level->seeds.size(), std::size_t{1});
    QVERIFY(drive_->waitForGround());
    QVERIFY(islands > 1);
    QCOMPARE(nav::countIslands(work().ground()->mesh), std::size_t{1});
  }

  void anIgnoredObjectThatMattersIsFoundAndMended() {
    QVERIFY(ground({54.2, 0, 13.4}));
    chooseFinding("ignored-on-ground", "crate_5");
    QPushButton* remedy = window_->ledger().remedy();
    QVERIFY(remedy->isVisible());
    QCOMPARE(remedy->text(), QStringLiteral("Mark as obstacle"));
    QTest::mouseClick(remedy, Qt::LeftButton);
    QVERIFY(project().level->roles.at("crate_5") == Role::obstacle);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({54.2, 0, 13.4}));
    QVERIFY(findingCount("ignored-on-ground") == 0);
    undo();
    QVERIFY(project().level->roles.at("crate_5") == Role::ignored);
  }

  void nothingIsGroundIsFoundAndMended() {
    nothingByHand();
    work().change(QStringLiteral("Add rule"), [](project::Project& p) {
      project::edit(p.level, [](project::LevelSection& s) { s.rules.push_back({"*", Role::obstacle}), s.roles.clear(); });
    });
    QVERIFY(becomes([&] { return findingCount("no-ground") > 0; }));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->mesh.faceCount(), std::size_t{0});
    chooseFinding("no-ground");
    QPushButton* remedy = window_->ledger().remedy();
    QVERIFY2(remedy->text().contains("largest floors as ground"), qPrintable(remedy->text()));
    QTest::mouseClick(remedy, Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    QVERIFY(project().level->roles.at("sand_north") == Role::ground && !project().level->roles.contains("crate_1"));
    QVERIFY(work().ground()->area > 1500);
    undo();
    QVERIFY(project().level->roles.empty());
  }
  void findingsAreShownWhereTheyCanBeSeen() {
    drive_->goTo(Stop::mesh);
    chooseFinding("island");
    QVERIFY(window_->stop() == static_cast<int>(Stop::mesh));
    chooseFinding("broken-link");  // links are not drawn with the mesh
    QVERIFY(window_->stop() == static_cast<int>(Stop::links));
    // The narrowest window still shows everything: a long hint goes on in a second line.
    drive_->goTo(Stop::mesh);
    QVERIFY2(window_->minimumSizeHint().width() <= 1024, qPrintable(QString::number(window_->minimumSizeHint().width())));
  }
  void aFileInOtherUnitsIsGuessedAndReadRight() {
    demo::GlbWriter writer;
    writer.box("floor", {0, -10, 0}, {600, 0, 400});
    for (int i = 0; i < 6; ++i) writer.box("crate_" + std::to_string(i), {60.0 + 80 * i, 0, 200}, {80.0 + 80 * i, 120, 220});
    const QString path = folder_.filePath("centimetres.glb");
    QVERIFY(writeFile(path.toStdString(), writer.bytes()).ok());
    work().openLevel(path, true);
    QVERIFY(becomes([&] { return work().level() && work().level()->files.size() == 2; }));
    QVERIFY(drive_->waitForGround());
    drive_->goTo(Stop::level);
    // Of the depot nothing is said, of the other file it is, in the sheet and as a finding.
    QVERIFY(!drive_->button(Stop::level, QStringLiteral("Use centimetres")));
    QVERIFY(window_->trail().stateOf(0).trouble);  // the step is marked wherever one is
    auto* files = named<QComboBox>(QStringLiteral("Level files"));
    files->setFocus();
    QTest::keyClick(files, Qt::Key_Down);
    QPushButton* readSo = drive_->button(Stop::level, QStringLiteral("Use centimetres"));
    QVERIFY(readSo && readSo->isVisible());
    QVERIFY(findingCount("units") == 1);
    const auto read = work().level();
    QTest::mouseClick(readSo, Qt::LeftButton);
    QVERIFY(becomes([&] { return work().level() != read && !work().building(); }));
    QCOMPARE(project().level->files[1].import.scale, 0.01);
    QCOMPARE(project().level->files[0].import.scale, 1.0);
    QVERIFY(!readSo->isVisible());
    QVERIFY(becomes([&] { return findingCount("units") == 0; }));
    QVERIFY(!window_->trail().stateOf(0).trouble);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().comparison().acrossUnits() && !work().comparison().change());  // all ground of that file moved, which says nothing
    undo();
    QCOMPARE(project().level->files[1].import.scale, 1.0);
  }
  void aFileOfOneObjectFallsIntoPieces() {
    const QString one = folder_.filePath("one.obj");
    QVERIFY(writeFile(one.toStdString(),
                      "v 80 0 0\nv 80 0 8\nv 88 0 8\nv 88 0 0\nf 1 2 3 4\nv 90 0 0\nv 90 0 8\nv 98 0 8\nv 98 0 0\nf 5 6 7 8\n"));
    work().openLevel(one, true);
    QVERIFY(becomes([&] { return work().level() && work().level()->files.size() == 2; }));
    QVERIFY(drive_->waitForGround());
    open(LevelSheet::Page::objects);
    auto* files = named<QComboBox>(QStringLiteral("Level files"));
    files->setFocus();
    QTest::keyClick(files, Qt::Key_Down);
    QCheckBox* pieces = nullptr;
    for (QCheckBox* box : level().findChildren<QCheckBox*>())
      if (box->text() == QStringLiteral("In connected pieces")) pieces = box;
    QVERIFY(pieces && !pieces->isChecked());
    const std::size_t before = work().level()->level->objects.size();
    QTest::mouseClick(pieces, Qt::LeftButton, {}, QPoint(8, pieces->height() / 2));
    QVERIFY(becomes([&] { return work().level()->level->objects.size() == before + 1 && !work().building(); }));
    QVERIFY(project().level->files[1].import.pieces && pieces->isChecked());
    QVERIFY(work().level()->level->objects.back().name.ends_with(" at 94, 4"));
    undo();
    QVERIFY(becomes([&] { return work().level()->level->objects.size() == before && !pieces->isChecked(); }));
    undo();
    QVERIFY(becomes([&] { return work().level()->files.size() == 1; }));
    QVERIFY(drive_->waitForGround());
  }
  void smallIslandsGoByTheirFindingAndByNumber() {
    QVERIFY(becomes([&] { return findingCount("small-islands") == 1; }));
    const std::size_t before = work().ground()->islands;
    chooseFinding("small-islands");
    QPushButton* remedy = window_->ledger().remedy();
    QVERIFY2(remedy->text().contains("Leave out islands under 1 m²"), qPrintable(remedy->text()));
    QTest::mouseClick(remedy, Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->islands < before);
    QVERIFY(becomes([&] { return findingCount("small-islands") == 0; }));
    open(LevelSheet::Page::bounds);
    NumberField* least = field(Stop::level, QStringLiteral("Least area"));
    QVERIFY(least);
    QCOMPARE(least->value(), 1.0);
    const std::size_t now = work().ground()->islands;
    type(least, QStringLiteral("9"));
    QCOMPARE(project().level->leastIsland.area, 9.0);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->islands < now);
    undo(), undo();
    QCOMPARE(project().level->leastIsland.area, 0.0);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->islands, before);
  }
  void whatAReadingChangedIsShownAndChosen() {
    drive_->goTo(Stop::level);
    ObjectsPage* page = sheet<LevelSheet>(Stop::level).objects();
    QPushButton* chooseThem = drive_->button(Stop::level, QStringLiteral("Choose them"));
    QVERIFY(chooseThem && !chooseThem->isVisible());
    window_->cutAway().slider()->setValue(40);
    const auto read = work().level();
    demo::GlbWriter writer = demo::depotLevel();
    writer.box("new_crate", {30, 0, 16}, {31, 1, 17});
    QVERIFY(writeFile(folder_.filePath("saltwind-depot.glb").toStdString(), writer.bytes()).ok());
    QVERIFY(becomes([&] { return work().level() != read && !work().building(); }));
    QVERIFY(chooseThem->isVisible());
    QCOMPARE(window_->cutAway().slider()->value(), 40);
    QTest::mouseClick(chooseThem, Qt::LeftButton);
    QCOMPARE(page->chosen(), std::set<std::string>{"new_crate"});
    // It is in sight, near enough to be seen.
    QPointF at;
    QVERIFY(window_->world().camera().project({30.5, 0.5, 16.5}, at));
    QVERIFY(window_->world().rect().contains(at.toPoint()) && window_->world().camera().distance() < 40);
    // Reading the file in another way oneself is no news.
    const auto second = work().level();
    work().change(QStringLiteral("Change scale"),
                  [](project::Project& p) { project::edit(p.level, [](project::LevelSection& s) { s.files[0].import.scale = 0.9; }); });
    QVERIFY(becomes([&] { return work().level() != second && !work().building(); }));
    QCOMPARE(work().source().news().fresh, std::vector<std::string>{"new_crate"});
    QVERIFY(work().source().news().changed.empty());
  }
  void aFileThatChangesIsReadAgainAndHandWorkStays() {
    const std::string before = project::toJson(project());
    const auto read = work().level();
    demo::GlbWriter writer;
    writer.box("sand_new", {0, -1, 0}, {30, 0, 30});
    writer.box("crate_9", {10, 0, 10}, {11, 1, 11});
    QVERIFY(writeFile(folder_.filePath("saltwind-depot.glb").toStdString(), writer.bytes()).ok());
    QVERIFY(becomes([&] { return work().level() != read; }));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().level()->level->objects.size(), std::size_t{2});
    QVERIFY2(window_->readoutText().contains("The level was read again"), qPrintable(window_->readoutText()));
    QCOMPARE(project::toJson(project()), before);
    // Marks of objects that are gone wait for them, and say so.
    QVERIFY(findingCount("mark-without-object") > 0);
    // A file caught half-written leaves what is there.
    const auto good = work().level();
    QVERIFY(writeFile(folder_.filePath("saltwind-depot.glb").toStdString(), writer.bytes().substr(0, 200)).ok());
    QVERIFY(becomes([&] { return work().source().problem().has_value(); }));
    QVERIFY(work().level() == good);
    QVERIFY(work().ground() != nullptr);
  }

  void severalFilesMakeOneLevel() {
    demo::GlbWriter writer;
    writer.box("crate_1", {20, 0, 18}, {21, 1, 19});
    const QString more = folder_.filePath("more.glb");
    QVERIFY(writeFile(more.toStdString(), writer.bytes()).ok());
    work().openLevel(more, true);
    QVERIFY(becomes([&] { return work().level() && work().level()->files.size() == 2; }));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().level()->level->objects.back().name, std::string("more/crate_1"));
    QVERIFY(!ground({20.5, 0, 18.5}));
    undo();
    QVERIFY(becomes([&] { return work().level()->files.size() == 1; }));
  }

  void agentsAreAddedComparedAndRemoved() {
    drive_->goTo(Stop::agents);
    AgentsSheet& agents = sheet<AgentsSheet>(Stop::agents);
    QVERIFY(becomes([&] { return groundOf(1) != nullptr && !work().building(); }));
    agents.kinds()->setFocus();
    QTest::keyClick(agents.kinds(), Qt::Key_Down);
    QCOMPARE(work().agent(), std::size_t{1});
    QCOMPARE(work().ground()->mesh.agent.name, std::string("Sledge"));
    agents.pages()->setCurrentIndex(2);
    QTest::qWait(1);
    QTest::keyClick(agents.against(), Qt::Key_Down);
    QCOMPARE(work().comparison().other(), std::optional<int>(project().agents->agents[0].id));
    QVERIFY(becomes([&] { return work().comparison().change() != nullptr; }));
    QCOMPARE(work().comparison().change()->before->mesh.agent.name, std::string("Porter"));
    // What one has and the other has not is the difference of their areas.
    const double difference = nav::totalArea(groundOf(1)->mesh) - nav::totalArea(groundOf(0)->mesh);
    QVERIFY(std::abs(work().comparison().change()->gained - work().comparison().change()->lost - difference) < 0.01 * std::abs(difference));
    agents.pages()->setCurrentIndex(0);
    drive_->press(Stop::agents, QStringLiteral("Add"));
    QCOMPARE(project().agents->agents.size(), std::size_t{4});
    QCOMPARE(work().agent(), std::size_t{3});
    QVERIFY(drive_->waitForGround());
    drive_->press(Stop::agents, QStringLiteral("Remove"));
    QCOMPARE(project().agents->agents.size(), std::size_t{3});
    undo(), undo();
    QCOMPARE(project().agents->agents.size(), std::size_t{3});
  }
};

QTEST_MAIN(TestLevelStop)
#include "level_stop.moc"
