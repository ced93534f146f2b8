// The newcomer's walk in the real window, with real mouse and key events: from the demo level to a new path, a new link that a
// path uses, a run crowd and a found mistake; then everything undone, saved and opened again.

#include <QCheckBox>
#include <QMenu>
#include <QSlider>
#include <QTableView>
#include <QToolButton>

#include "tests/window/demo_window.h"
#include "window/scene/layers.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/areas/areas_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/links/links_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/stops/routes/routes_sheet.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

class TestWalk : public DemoWindow {
  Q_OBJECT

  /// A page of the Routes stop, by its tab.
  RoutesSheet& openRoutes(int page) {
    drive_->goTo(Stop::routes);
    RoutesSheet& routes = sheet<RoutesSheet>(Stop::routes);
    auto* tabs = routes.pages()->tabBar();
    QTest::mouseClick(tabs, Qt::LeftButton, {}, tabs->tabRect(page).center());
    return routes;
  }

 private slots:
  void levelObjectsArePickedAndMarked() {
    drive_->goTo(Stop::level);
    drive_->lookAt({34.5, 6, 6.5}, 40);
    drive_->click({34.5, 12, 6.5});
    QCOMPARE(work().selection().all(ThingKind::object), (std::set<std::string>{"wind_tower"}));
    drive_->press(Stop::level, QStringLiteral("Ignore"));
    QVERIFY(project().level->roles.at("wind_tower") == level::Role::ignored);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->locator().under({34.5, 0, 6.5}, 0.2).valid());
    undo();
    QVERIFY(project().level->roles.at("wind_tower") == level::Role::obstacle);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!work().ground()->locator().under({34.5, 0, 6.5}, 0.2).valid());
  }
  void everyKindOfAgentIsAskedAtOnce() {
    RoutesSheet& routes = openRoutes(0);
    for (std::size_t i = 0; i < project().agents->agents.size(); ++i)
      QVERIFY(becomes([&] { return groundOf(i) != nullptr && !work().building(); }));
    drive_->lookAt({30, 0, 20}, 60);
    drive_->drag({50, 0, 15}, {12, 0, 26});
    QVERIFY(routes.path().asked());
    QVERIFY(routes.path().others().empty());
    auto* all = routes.findChild<QCheckBox*>(QStringLiteral("allAgents"));
    QVERIFY(all && all->isVisible());
    QTest::mouseClick(all, Qt::LeftButton, {}, {8, all->height() / 2});
    QTest::qWait(1);
    QCOMPARE(routes.path().others().size(), project().agents->agents.size() - 1);
    for (const PathPage::Other& o : routes.path().others()) {
      route::Search search(*o.ground->field);
      const PathPage::Ends ends = *routes.path().asked();
      QCOMPARE(o.answer.cost, route::findPath(*o.ground->field, search, ends.from, ends.to, {2, false, false}).cost);
    }
    // Another kind is worked on: it is not among the others, and who was is.
    work().setAgent(1);
    QVERIFY(drive_->waitForGround());
    QVERIFY(std::ranges::none_of(routes.path().others(), [](const PathPage::Other& o) { return o.agent == 1; }));
    QVERIFY(std::ranges::any_of(routes.path().others(), [](const PathPage::Other& o) { return o.agent == 0; }));
  }
  void aBoxThatARouteMustNotTouchIsDrawn() {
    RoutesSheet& routes = openRoutes(1);
    auto* list = routes.findChild<ItemList*>();
    QVERIFY(list->count() > 0);
    list->setCurrentRow(0);
    QTest::qWait(1);
    const int id = work().selection().id(ThingKind::route);
    const auto kept = [&]() -> const project::KeptRoute& {
      return *std::ranges::find(project().routes->routes, id, &project::KeptRoute::id);
    };
    const std::size_t before = kept().expected.touches.size();
    QMenu* menu = nullptr;
    for (QPushButton* b : routes.findChildren<QPushButton*>())
      if (b->menu() && b->text().startsWith(QStringLiteral("Must"))) menu = b->menu();
    QVERIFY(menu);
    QMetaObject::invokeMethod(menu, "aboutToShow");
    QAction* draw = nullptr;
    for (QAction* a : menu->actions())
      if (a->text().startsWith(QStringLiteral("must not touch a box"))) draw = a;
    QVERIFY(draw);
    draw->trigger();
    QTest::qWait(1);
    drive_->lookAt({50, 0, 15}, 25);
    drive_->drag({48, 0, 13}, {52, 0, 17});
    QCOMPARE(kept().expected.touches.size(), before + 1);
    const project::Touch& touch = kept().expected.touches.back();
    QVERIFY(touch.what == project::Touch::What::box && !touch.must);
    QVERIFY(std::abs(touch.box.max.x - touch.box.min.x - 4) < 0.3 && touch.box.max.y > touch.box.min.y + 1);
    undo();
    QCOMPARE(kept().expected.touches.size(), before);
  }
  void agentHandleTurnsALimitAndTheMeshFollows() {
    drive_->goTo(Stop::agents);
    AgentDrawing* drawing = sheet<AgentsSheet>(Stop::agents).drawing();
    const double area = nav::totalArea(work().ground()->mesh);
    const QPoint handle = drawing->handleAt(AgentDrawing::Handle::radius).toPoint();
    Driver::dragPixels(drawing, handle, handle - QPoint(0, 15));
    const double radius = project().agents->agents[0].radius;
    QVERIFY2(radius > 0.45, qPrintable(QString::number(radius)));
    QVERIFY(drive_->waitForGround());
    QVERIFY(nav::totalArea(work().ground()->mesh) < area);
    QCOMPARE(work().ground()->mesh.agent.radius, radius);
    undo();  // the whole drag is one step
    QCOMPARE(project().agents->agents[0].radius, 0.35);
  }
  void readoutSaysWhyInNumbers() {
    drive_->goTo(Stop::mesh);
    drive_->lookAt({24, 0, 15.5}, 15);
    drive_->move({24, 0, 17});
    QVERIFY2(window_->readoutText().startsWith("Walkable: on sand_north"), qPrintable(window_->readoutText()));
    drive_->lookAt({56, 0, 8}, 18);
    drive_->move({56, 0, 10.5});
    QVERIFY2(window_->readoutText().contains("0.20 m from kiln_wall_2 with radius 0.35 m"), qPrintable(window_->readoutText()));
  }
  void buildIsAskedForWhenItDoesNotRunByItself() {
    drive_->goTo(Stop::mesh);
    auto* always = sheet<MeshSheet>(Stop::mesh).build()->findChild<QCheckBox*>();
    QTest::mouseClick(always, Qt::LeftButton, {}, QPoint(8, always->height() / 2));
    QVERIFY(!work().autoBuild());
    work().change("radius",
                  [](project::Project& p) { project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].radius = 0.6; }); });
    QVERIFY(!work().groundFresh());
    drive_->press(Stop::mesh, QStringLiteral("Build"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->mesh.agent.radius, 0.6);
  }
  void areasAreDrawnAndPathsHeedThem() {
    drive_->goTo(Stop::areas);
    auto* kinds = sheet<AreasSheet>(Stop::areas).pages()->currentWidget()->findChildren<ItemList*>().first();
    kinds->setCurrentRow(3);  // sinking sand
    drive_->lookAt({30, 0, 30}, 70);
    drive_->press(Stop::areas, QStringLiteral("Box"));
    drive_->drag({5, 0, 15.2}, {12, 0, 18.2});
    QCOMPARE(project().areas->volumes.size(), std::size_t{5});
    const level::AreaVolume& box = project().areas->volumes.back();
    QCOMPARE(box.kind, std::string("sinking sand"));
    QVERIFY(drive_->waitForGround());
    const nav::Place inside = work().ground()->locator().under({8, 0, 17}, 0.2);
    QVERIFY(inside.valid() && !work().ground()->rules.passable(work().ground()->mesh, inside.face));
    drive_->press(Stop::areas, QStringLiteral("Outline"));
    for (const Vec3& corner : {Vec3{40, 0, 14}, Vec3{44, 0, 14.5}, Vec3{42, 0, 18}}) drive_->click(corner);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QCOMPARE(project().areas->volumes.size(), std::size_t{6});
    QCOMPARE(project().areas->volumes.back().outline.size(), std::size_t{3});
    undo(), undo();
    QCOMPARE(project().areas->volumes.size(), std::size_t{4});
  }
  void aNewLinkIsUsedByAPath() {
    drive_->goTo(Stop::routes);
    drive_->lookAt({55, 0, 20}, 32);
    drive_->drag({55, 0, 17.5}, {56, -2.2, 23});
    RoutesSheet& routes = sheet<RoutesSheet>(Stop::routes);
    QVERIFY2(routes.answer().status == route::PathStatus::partial, routes.answer().note.c_str());
    drive_->goTo(Stop::links);
    drive_->press(Stop::links, QStringLiteral("Draw link"));
    drive_->drag({55, 0, 19.5}, {55.5, -2.2, 21.5});
    QCOMPARE(project().links->links.size(), std::size_t{5});
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->broken.size(), std::size_t{1});  // the demo's own
    drive_->goTo(Stop::routes);                                // the same path is asked again by itself
    QVERIFY(routes.answer().status == route::PathStatus::complete);
    QCOMPARE(routes.answer().links.size(), std::size_t{1});
    QCOMPARE(routes.answer().links[0].id, 5);
    drive_->press(Stop::routes, QStringLiteral("Keep this route"));
    QCOMPARE(project().routes->routes.size(), std::size_t{6});
    undo(), undo();
    QCOMPARE(project().links->links.size(), std::size_t{4});
    QVERIFY(drive_->waitForGround());
    routes.refresh(kEverything);
    QVERIFY(routes.answer().status == route::PathStatus::partial);
  }
  void endsOfAPathAreDragged() {
    drive_->goTo(Stop::routes);
    drive_->lookAt({30, 0, 12}, 50);
    drive_->drag({30, 0, 17}, {45, 0, 17});
    RoutesSheet& routes = sheet<RoutesSheet>(Stop::routes);
    const double before = routes.answer().length;
    drive_->drag({45, 0, 17}, {40, 0, 17});  // the goal
    QVERIFY2(std::abs(routes.answer().length - (before - 5)) < 0.6, qPrintable(QString::number(routes.answer().length)));
    drive_->drag({30, 0, 17}, {32, 0, 17});  // the start
    QVERIFY2(std::abs(routes.answer().length - (before - 7)) < 0.9, qPrintable(QString::number(routes.answer().length)));
    QVERIFY(std::isfinite(routes.answer().narrowest) && routes.answer().narrowest > 0);  // let go, everything is known
    QCOMPARE(project().routes->routes.size(), std::size_t{5});                           // nothing was kept by it
  }
  void theWayThatWasExpectedIsPricedBeside() {
    drive_->goTo(Stop::routes);
    drive_->lookAt({42, 0, 30}, 50);
    drive_->drag({36, 0, 27}, {57, 0, 37});
    RoutesSheet& routes = sheet<RoutesSheet>(Stop::routes);
    QVERIFY(routes.answer().status == route::PathStatus::complete);
    drive_->press(Stop::routes, QStringLiteral("The way I expected"));
    drive_->click({42, 0, 32});  // through the brine
    QCOMPARE(routes.path().places().size(), std::size_t{1});
    QVERIFY(routes.path().expected().cost > routes.answer().cost + 1);
    const auto labels = routes.findChildren<QLabel*>();
    QVERIFY(std::ranges::any_of(
        labels, [](const QLabel* l) { return l->isVisible() && l->text().contains(QStringLiteral("of brine at 5.00 a metre")); }));
    const auto tables = routes.findChildren<PriceTable*>();
    QCOMPARE(tables.size(), qsizetype{2});
    QVERIFY(tables[1]->isVisible() && tables[1]->topLevelItemCount() == static_cast<int>(routes.path().expected().stretches.size()));
    // Pointing at a row lights its stretch.
    QVERIFY(routes.path().lit().empty());
    QTest::mouseMove(tables[0]->viewport(), tables[0]->visualItemRect(tables[0]->topLevelItem(0)).center());
    QVERIFY(Driver::shown([&] { return !routes.path().lit().empty(); }));
    QVERIFY(glm::distance(routes.path().lit().front(), routes.answer().points.front()) < 1e-9);
    drive_->press(Stop::routes, QStringLiteral("The way I expected"));
    QVERIFY(routes.path().places().empty() && !tables[1]->isVisible());
  }
  void ringsShowWhatIsNear() {
    RoutesSheet& routes = openRoutes(2);
    QVERIFY(routes.showsDistances() && !routes.distances().place());
    drive_->lookAt({36, 0, 27}, 40);
    drive_->click({36, 0, 27});
    const auto shownAt = [&](const Vec3& at) {
      return Driver::shown([&] { return routes.distances().place() && glm::distance(*routes.distances().place(), at) < 0.3; });
    };
    QVERIFY(shownAt({36, 0, 27}));
    QCOMPARE(routes.distances().rings().size(), std::size_t{5});
    const double area = routes.distances().rings().back().area;
    QVERIFY(area > 300 && !routes.distances().arrows().empty());
    drive_->drag({36, 0, 27}, {40, 0, 27});  // it is dragged about
    QVERIFY(shownAt({40, 0, 27}));
    // Fewer metres, less ground; without arrows none.
    auto* within = routes.distances().findChildren<NumberField*>().first();
    within->spin()->setFocus();
    within->spin()->selectAll();
    QTest::keyClicks(within->spin(), QStringLiteral("10"));
    QTest::keyClick(within->spin(), Qt::Key_Return);
    QVERIFY(Driver::shown([&] { return routes.distances().rings().size() == 2; }));
    QVERIFY(routes.distances().rings().back().area < area);
    auto* arrows = routes.distances().findChild<QCheckBox*>();
    QTest::mouseClick(arrows, Qt::LeftButton, {}, QPoint(8, arrows->height() / 2));
    QVERIFY(Driver::shown([&] { return routes.distances().arrows().empty(); }));
    drive_->click({23, 0, 32});  // sinking sand: nobody stands there
    QVERIFY(!routes.distances().place());
    openRoutes(0);
  }
  void theMatrixSaysWhoGetsWhere() {
    RoutesSheet& routes = openRoutes(3);
    QVERIFY(routes.showsMatrix());
    MatrixView& view = routes.matrix().view();
    QVERIFY(Driver::shown([&] { return view.places() == 14; }));
    QVERIFY(view.isVisible() && view.width() >= view.cellAt(13, 13).right());  // nothing is cut off
    const auto& places = project().places->places;
    const auto number = [&](const char* name) {
      return static_cast<int>(std::ranges::find(places, name, &project::NamedPlace::name) - places.begin());
    };
    QTest::mouseClick(&view, Qt::LeftButton, {}, view.cellAt(number("Kiln yard"), number("Loading dock")).center());
    QVERIFY(routes.matrix().answer().status == route::PathStatus::complete);
    QVERIFY(glm::distance(routes.matrix().answer().goal.asked, places[static_cast<std::size_t>(number("Loading dock"))].at) < 1e-9);
    QTest::mouseClick(&view, Qt::LeftButton, {}, view.cellAt(number("Kiln yard"), number("Canal end")).center());
    QVERIFY(routes.matrix().answer().status == route::PathStatus::partial);
    QVERIFY(Driver::shown([&] { return !routes.matrix().answer().openings.empty(); }));
    QTest::keyClick(&view, Qt::Key_Down);
    QVERIFY(glm::distance(routes.matrix().answer().start.asked, places[1].at) < 1e-9);
    openRoutes(0);
  }
  void aKeptRouteIsATest() {
    RoutesSheet& routes = openRoutes(1);
    QVERIFY(routes.showsKept());
    const auto broken = [&] {
      return std::ranges::count(work().findings().all(), "route-broken", [](const KeptFinding& k) { return k.finding.code; });
    };
    QCOMPARE(broken(), 2);  // the demo's own: no way leads to the canal's end, and the shed's door is too narrow
    auto* list = routes.findChildren<ItemList*>().first();
    int store = 0;
    while (!list->textAt(store).contains(QStringLiteral("Kilns to store"))) ++store;
    list->setCurrentRow(store);
    // Shorter than it can be: it breaks, and is a finding; undone it holds.
    QCheckBox* check = nullptr;
    for (QCheckBox* c : routes.findChildren<QCheckBox*>())
      if (c->accessibleName() == QStringLiteral("Expect: Length at most")) check = c;
    NumberField* longest = nullptr;
    for (NumberField* f : routes.findChildren<NumberField*>())
      if (f->spin()->accessibleName() == QStringLiteral("Length at most")) longest = f;
    QVERIFY(check && longest && Driver::shown([&] { return check->isChecked(); }));
    longest->spin()->setFocus();
    longest->spin()->selectAll();
    QTest::keyClicks(longest->spin(), QStringLiteral("20"));
    QTest::keyClick(longest->spin(), Qt::Key_Return);
    QVERIFY(project().routes->routes[0].expected.mostLength);
    QCOMPARE(*project().routes->routes[0].expected.mostLength, 20.0);
    QVERIFY(Driver::shown([&] { return broken() == 3; }));
    QVERIFY(list->textAt(store).startsWith(QStringLiteral("✕")));
    undo();
    QVERIFY(Driver::shown([&] { return broken() == 2; }));
    // Not ticked it is not asked.
    QTest::mouseClick(check, Qt::LeftButton, {}, QPoint(8, check->height() / 2));
    QVERIFY(!project().routes->routes[0].expected.mostLength);
    undo();
    // Its ends can be dragged.
    drive_->lookAt({50, 0, 10}, 30);
    drive_->drag({50, 0, 8}, {48.5, 0, 7.8});
    const Vec3 moved = project().routes->routes[0].from;
    QVERIFY2(glm::distance(moved, Vec3(48.5, 0, 7.8)) < 0.3, qPrintable(QStringLiteral("%1 %2 %3").arg(moved.x).arg(moved.y).arg(moved.z)));
    undo();
    // A name, a folder, another kind of agent.
    const auto lines = routes.findChildren<QLineEdit*>(QString(), Qt::FindChildrenRecursively);
    QLineEdit* name = nullptr;
    for (QLineEdit* l : lines)
      if (l->accessibleName() == QStringLiteral("Name")) name = l;
    QVERIFY(name);
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, QStringLiteral("Bricks"));
    QTest::keyClick(name, Qt::Key_Return);
    QCOMPARE(project().routes->routes[0].name, std::string("Bricks"));
    undo();
    QCOMPARE(project().routes->routes[0].name, std::string("Kilns to store"));
    QCOMPARE(project().routes->routes.size(), std::size_t{5});
  }
  void twoClicksAskForAPathToo() {
    drive_->goTo(Stop::routes);
    drive_->lookAt({30, 0, 12}, 50);
    drive_->click({30, 0, 17});
    drive_->click({45, 0, 17});
    RoutesSheet& routes = sheet<RoutesSheet>(Stop::routes);
    QVERIFY(routes.answer().status == route::PathStatus::complete);
    QVERIFY(std::abs(routes.answer().length - 15) < 0.3);
    // What asking takes is worked out beside the window, and said then.
    const auto says = [&](const QString& what) {
      return std::ranges::any_of(routes.findChildren<QLabel*>(), [&](QLabel* l) { return l->isVisible() && l->text().contains(what); });
    };
    QVERIFY(QTest::qWaitFor([&] { return says(QStringLiteral(" ms<")) && says(QStringLiteral(" cores<")); }, kPatience));
  }
  void theCrowdRunsAndMistakesAreFound() {
    drive_->goTo(Stop::crowd);
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    QCOMPARE(work().run()->trace.bodies().size(), std::size_t{40});
    Reel& reel = window_->reel();
    QVERIFY(reel.isVisible());
    const Playback& playback = work().playback();
    reel.slider()->setValue(reel.slider()->maximum() / 4);
    const double quarter = work().run()->trace.duration() / 4;
    QVERIFY(std::abs(playback.time() - quarter) < 0.05);
    QTest::mouseClick(reel.playButton(), Qt::LeftButton);
    QVERIFY(reel.playing());
    QVERIFY(QTest::qWaitFor([&] { return playback.time() > quarter + 0.2; }, kPatience));
    QTest::keyClick(window_.get(), Qt::Key_Space);
    QVERIFY(!reel.playing());
    // Choosing a finding goes there and sets the time and the agent.
    const auto& findings = work().findings().all();
    const auto at = std::ranges::find(findings, "wall-touched", [](const KeptFinding& k) { return k.finding.code; });
    QVERIFY(at != findings.end());
    const review::Finding* touched = &at->finding;
    const std::string wanted = at->id;
    for (std::size_t i = 0; i < findings.size() && work().selection().one(ThingKind::finding) != wanted; ++i)
      QTest::keyClick(window_.get(), Qt::Key_F4);
    QVERIFY(window_->ledger().isOpen());
    QVERIFY(window_->stop() == static_cast<int>(Stop::review));
    QCOMPARE(playback.body(), touched->agent);
    QVERIFY(std::abs(playback.time() - touched->time) < 0.05);
    QVERIFY(glm::distance(window_->world().camera().target(), touched->at) < 1e-6);
    QVERIFY(touched->measured > 0.02);
    // A change makes the run out of date, and says so.
    work().change("x", [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.groups[0].count = 3; }); });
    QVERIFY(!work().runFresh());
  }
  void aNewGroupIsDrawn() {
    drive_->goTo(Stop::crowd);
    drive_->lookAt({30, 0, 23}, 60);
    drive_->press(Stop::crowd, QStringLiteral("Draw group"));
    drive_->drag({35, 0, 17}, {45, 0, 17});
    QCOMPARE(project().crowd->groups.size(), std::size_t{5});
    QVERIFY(glm::distance(project().crowd->groups[4].start, Vec3(35, 0, 17)) < 0.3);
  }
  void cuttingAwayShowsTheLowerStorey() {
    drive_->goTo(Stop::mesh);
    drive_->lookAt({8, 1, 33}, 30);
    QVERIFY(window_->world().pointerAt(drive_->pixelOf({8, 3, 33})).hit->at.y > 2.9);
    QTest::mouseDClick(&window_->world(), Qt::LeftButton, {}, drive_->pixelOf({16, 0, 41}));
    QVERIFY(window_->world().cutAway() < 2.8);
    QVERIFY(window_->world().pointerAt(drive_->pixelOf({8, 3, 33})).hit->at.y < 2.5);
  }
  void everythingIsUndoneSavedAndOpenedAgain() {
    const std::string first = project::toJson(project());
    work().change("a", [](project::Project& p) { project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].height = 2.2; }); });
    work().change("b", [](project::Project& p) { project::edit(p.links, [](project::LinksSection& s) { s.links.clear(); }); });
    QVERIFY(becomes([&] { return window_->windowTitle().contains('*'); }));
    const QString copy = folder_.filePath(QStringLiteral("sub")) + QStringLiteral("/copy.dunestep");
    QDir().mkpath(folder_.filePath(QStringLiteral("sub")));
    QVERIFY(!work().save(copy));
    QVERIFY(becomes([&] { return !window_->windowTitle().contains('*'); }));
    QCOMPARE(project().level->files.at(0).path, std::string("../saltwind-depot.glb"));
    QVERIFY(drive_->waitForGround());
    QVERIFY(window_->openProject(copy));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(project().agents->agents[0].height, 2.2);
    QVERIFY(project().links->links.empty());
    QVERIFY(!work().document().canUndo());
    QVERIFY(window_->openProject(writeDemo(folder_)));
    QCOMPARE(project::toJson(project()), first);
    for (int i = 0; i < 5; ++i)
      work().change("edit", [&](project::Project& p) { project::edit(p.crowd, [&](project::CrowdSection& s) { s.seconds = 10 + i; }); });
    while (work().document().canUndo()) undo();
    QCOMPARE(project::toJson(project()), first);
  }
  void brokenProjectsChangeNothing() {
    const std::string before = project::toJson(project());
    const QString path = folder_.filePath(QStringLiteral("broken.dunestep"));
    QVERIFY(writeFile(path.toStdString(), before.substr(0, 700)).ok());
    const auto problem = work().open(path);
    QVERIFY(problem && problem->code == ProblemCode::damaged);
    QCOMPARE(project::toJson(project()), before);
  }
  void cancellingABuildLeavesTheOldMesh() {
    const auto before = work().ground();
    for (int i = 0; i < 5; ++i) {
      work().change("radius", [&](project::Project& p) {
        project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[0].radius = 0.5 + 0.01 * i; });
      });
      work().cancel();
    }
    QTest::qWait(50);
    QVERIFY(!work().building());
    QVERIFY(work().ground() == before);
    work().build();
    QVERIFY(drive_->waitForGround());
  }
};

QTEST_MAIN(TestWalk)
#include "walk.moc"
