// Takes the pictures of docs/screenshots from the demo project: photograph FOLDER [noon|dusk [NAME]]
// Or those of the examples on the first page: photograph FOLDER examples

#include <QCheckBox>
#include <QSlider>
#include <QToolButton>

#include "core/project/ready_scenes.h"
#include "core/project/rules.h"
#include "demo/date_garden.h"
#include "tests/window/driver.h"
#include "window/session/found_links.h"
#include "window/session/hand_picks.h"
#include "window/start/start_page.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/areas/areas_sheet.h"
#include "window/stops/crowd/crowd_sheet.h"
#include "window/stops/flight/flight_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/stops/review/review_sheet.h"
#include "window/stops/routes/routes_sheet.h"
#include "window/timeline/lanes.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

namespace {

/// The worlds of the examples, each with its ground, as small as they are shown.
int takeExamples(MainWindow& window, Driver& drive, const QString& folder) {
  for (QToolButton* card : window.startPage().findChildren<QToolButton*>()) {
    const auto& all = demo::examples();
    const auto example = std::ranges::find(all, card->accessibleName(), [](const demo::Example& e) { return QString::fromLatin1(e.name); });
    if (example == all.end()) continue;
    QTest::mouseClick(card, Qt::LeftButton);
    if (!drive.waitForGround()) return 1;
    drive.goTo(Stop::mesh);
    window.world().camera().zoom(0.8, window.world().camera().target());
    window.world().redraw();
    QTest::qWait(600);
    const QImage world = window.world().picture();
    const int wide = std::min(world.width(), world.height() * 8 / 5);
    world.copy((world.width() - wide) / 2, (world.height() - wide * 5 / 8) / 2, wide, wide * 5 / 8)
        .scaled(352, 220, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
        .save(folder + QLatin1Char('/') + QString::fromLatin1(example->file) + QStringLiteral(".png"));
    window.workspace().document().markSaved();
    window.workspace().startNew();
    QTest::qWait(50);
  }
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("dune-step-pictures"));
  if (argc < 2) return 2;
  const QString folder = QString::fromLocal8Bit(argv[1]);
  const bool dusk = argc > 2 && qstrcmp(argv[2], "dusk") == 0;
  const QString only = argc > 3 ? QString::fromLocal8Bit(argv[3]) : QString();
  QSettings().clear();
  applyTheme(dusk);
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  QTemporaryDir files;
  Driver drive(window);
  window.world().setRefined(true);
  auto picture = [&](const QString& name) {
    if (!only.isEmpty() && !name.contains(only)) return;
    QTest::qWait(1200);  // until the picture is smooth and shaded again
    window.grab().save(folder + QLatin1Char('/') + name + (dusk ? QStringLiteral("-dusk.png") : QStringLiteral(".png")));
  };
  const auto flights = [&] {
    drive.goTo(Stop::flight);
    auto& sheet = *static_cast<FlightSheet*>(window.sheet(static_cast<int>(Stop::flight)));
    if (!QTest::qWaitFor([&] { return window.workspace().airs().of(1) != nullptr; }, kPatience)) return false;
    window.workspace().selection().choose(ThingKind::flight, 1);
    drive.lookAt({35, 5, 8}, 30);
    if (!QTest::qWaitFor([&] { return sheet.fly().way().found(); }, kPatience)) return false;
    picture(QStringLiteral("flight-way"));
    QTest::mouseClick(drive.button(Stop::flight, QStringLiteral("Fly")), Qt::LeftButton);
    if (!QTest::qWaitFor([&] { return sheet.fly().flown() != nullptr; }, kPatience)) return false;
    QTest::mouseClick(drive.button(Stop::flight, QStringLiteral("Pause")), Qt::LeftButton);
    sheet.findChild<QSlider*>()->setValue(40);
    picture(QStringLiteral("flight"));
    window.workspace().selection().choose(ThingKind::flight, 2);
    drive.lookAt({46.3, 1.3, 11}, 16);
    picture(QStringLiteral("flight-arch"));
    sheet.pages()->setCurrentIndex(1);
    picture(QStringLiteral("flight-kind"));
    sheet.pages()->setCurrentIndex(2);
    sheet.findChild<QCheckBox*>(QStringLiteral("cells"))->setChecked(true);
    window.workspace().selection().choose(ThingKind::flightVolume, 1);
    drive.lookAt({30, 2, 22}, 62);
    picture(QStringLiteral("flight-space"));
    return true;
  };
  if (argc > 2 && qstrcmp(argv[2], "examples") == 0) return takeExamples(window, drive, folder);
  QSettings().setValue(QStringLiteral("recent"), QStringList());
  picture(QStringLiteral("start"));
  if (!window.openProject(writeDemo(files)) || !drive.waitForGround()) return 1;
  QTest::qWait(300);
  if (only.contains(QStringLiteral("flight"))) return flights() ? 0 : 1;
  auto& level = *static_cast<LevelSheet*>(window.sheet(static_cast<int>(Stop::level)));
  auto& mesh = *static_cast<MeshSheet*>(window.sheet(static_cast<int>(Stop::mesh)));
  window.ledger().setOpen(true);
  for (const KeptFinding& kept : window.workspace().findings().all())
    if (kept.finding.code == "ignored-on-ground") window.ledger().choose(kept.id);
  QTest::qWait(50);
  picture(QStringLiteral("level"));
  window.ledger().setOpen(false);
  level.show(LevelSheet::Page::blockers);
  drive.lookAt({44, 0, 25}, 16);
  window.workspace().selection().choose(ThingKind::blocker, 1);
  QTest::qWait(1);
  picture(QStringLiteral("blockers"));
  level.show(LevelSheet::Page::objects);
  drive.goTo(Stop::agents);
  auto& agents = *static_cast<AgentsSheet*>(window.sheet(static_cast<int>(Stop::agents)));
  if (!QTest::qWaitFor([&] { return window.workspace().grounds().of(window.workspace().project().agents->agents[2].id) != nullptr; },
                       kPatience))
    return 1;
  agents.putInLevel({{24.5, 0, 16}, {0, 1, 0}});
  drive.lookAt({23, 1, 12}, 22);
  picture(QStringLiteral("agents"));
  drive.lookAt({30, 0, 22}, 62);
  agents.pages()->setCurrentIndex(2);
  QTest::keyClick(agents.against(), Qt::Key_Down);
  if (!QTest::qWaitFor([&] { return window.workspace().comparison().change() != nullptr; }, kPatience)) return 1;
  agents.pages()->setCurrentIndex(0);
  drive.goTo(Stop::mesh);
  drive.lookAt({30, 0, 22}, 62);
  drive.press(Stop::mesh, QStringLiteral("Keep this build"));
  window.workspace().change(QStringLiteral("Move blocker"), [](project::Project& p) {
    project::edit(p.level, [](project::LevelSection& s) {
      s.blockers.push_back({3, level::BlockerShape::box, {24, 0, 7.45}, {0.8, 1, 1}, 0, level::Role::obstacle, {}, {}});
      s.roles.erase("crate_5");
    });
  });
  drive.waitForGround();
  if (!QTest::qWaitFor([&] { return window.workspace().comparison().change() != nullptr; }, kPatience)) return 1;
  drive.lookAt({36, 0, 12}, 44);
  mesh.build()->places()->setCurrentRow(0);
  picture(QStringLiteral("mesh-change"));
  mesh.show(MeshSheet::Page::cards);
  window.workspace().selection().choose(ThingKind::card, 3);
  QTest::qWait(1);
  drive.lookAt({50, 0.6, 40.5}, 11);
  window.workspace().document().undo();
  drive.waitForGround();
  mesh.show(MeshSheet::Page::tryOut);
  drive.press(Stop::mesh, QStringLiteral("Two places"));
  drive.lookAt({11, 0, 32}, 24);
  window.cutAway().slider()->setValue(static_cast<int>(2.5 * 20));
  drive.drag({7, 0, 36.4}, {14, 0, 25});
  if (!Driver::shown([&] { return window.workspace().trials().passed() && !window.workspace().trials().busy(); })) return 1;
  drive.press(Stop::mesh, QStringLiteral("Try the range"));
  if (!Driver::shown([&] { return window.workspace().trials().swept() && !window.workspace().trials().busy(); })) return 1;
  window.cutAway().slider()->setValue(window.cutAway().slider()->maximum());
  mesh.show(MeshSheet::Page::build);
  drive.lookAt({30, 0, 22}, 62);
  drive.move({24, 0, 7.45});
  picture(QStringLiteral("mesh"));
  // The demo's clean strip over the footbridge, and a patch that is picked.
  mesh.show(MeshSheet::Page::byHand);
  (void)changeByHand(window.workspace(), QStringLiteral("Draw a patch"), [](const hand::Editor& editor, const Picks&) {
    return editor.draw({{32, 0, 27}, {32, 0, 29}, {35, 0, 29}, {35, 0, 27}});
  });
  if (!drive.waitForGround()) return 1;
  drive.lookAt({31, 0, 24}, 17);
  drive.click({33.5, 0, 28});
  picture(QStringLiteral("mesh-by-hand"));
  window.workspace().document().undo();
  dropPicks(window.workspace());
  if (!drive.waitForGround()) return 1;
  mesh.show(MeshSheet::Page::build);
  drive.lookAt({9, 0, 31}, 30);
  window.cutAway().slider()->setValue(static_cast<int>(2.5 * 20));
  drive.move({12.3, 0, 34});
  if (dusk) picture(QStringLiteral("mesh-cut-away"));
  window.cutAway().slider()->setValue(window.cutAway().slider()->maximum());
  drive.goTo(Stop::areas);
  drive.lookAt({36, 0, 32}, 42);
  window.workspace().selection().choose(ThingKind::volume, 1);
  picture(QStringLiteral("areas"));
  window.workspace().change(QStringLiteral("Rules"), [](project::Project& p) {
    const auto& kinds = p.agents->agents;
    project::edit(p.areas, [&](project::AreasSection& s) {
      project::setRule(s.rules, kinds[2].id, "brine", nav::KindRule{1, 0, false});
      project::setRule(s.rules, kinds[1].id, "brine", nav::KindRule{1, 0, true});
      project::setMayTake(s, kinds[1].id, nav::LinkKind::climb, false);
    });
  });
  if (!drive.waitForGround()) return 1;
  auto& areas = *static_cast<AreasSheet*>(window.sheet(static_cast<int>(Stop::areas)));
  areas.pages()->setCurrentIndex(1);
  areas.rules().grid()->setCurrentCell(1, 2);
  areas.costs()->setChecked(true);
  picture(QStringLiteral("areas-rules"));
  areas.costs()->setChecked(false);
  areas.pages()->setCurrentIndex(0);
  window.workspace().document().undo();
  drive.goTo(Stop::links);
  findLinks(window.workspace(), true);
  if (!drive.waitForGround()) return 1;
  const auto widest = [&] {
    const nav::Link* best = nullptr;
    for (const nav::Link& l : window.workspace().ground()->mesh.links)
      if (l.generated && glm::distance(l.from, {15, 2, 32}) < 9 && (!best || l.width() > best->width())) best = &l;
    return *best;
  };
  refuse(window.workspace(), widest());
  if (!drive.waitForGround()) return 1;
  window.workspace().selection().choose(ThingKind::link, widest().id);
  drive.lookAt({15, 1, 32}, 26);
  picture(QStringLiteral("links"));
  for (int edits = 0; edits < 2; ++edits) window.workspace().document().undo();
  if (!drive.waitForGround()) return 1;
  drive.goTo(Stop::routes);
  drive.lookAt({30, 0, 23}, 62);
  drive.drag({50, 0, 16}, {26, 0, 40});
  drive.press(Stop::routes, QStringLiteral("The way I expected"));
  drive.click({42.5, 0, 32.5});
  auto& routes = *static_cast<RoutesSheet*>(window.sheet(static_cast<int>(Stop::routes)));
  if (!QTest::qWaitFor([&] { return routes.path().measured(); }, kPatience)) return 1;
  picture(QStringLiteral("routes"));
  if (auto* all = window.findChild<QCheckBox*>(QStringLiteral("allAgents"))) {
    all->setChecked(true);
    picture(QStringLiteral("routes-agents"));
    all->setChecked(false);
  }
  drive.press(Stop::routes, QStringLiteral("The way I expected"));
  routes.pages()->setCurrentIndex(1);
  window.workspace().selection().choose(ThingKind::route, 4);
  drive.lookAt({50, 0, 16}, 42);
  picture(QStringLiteral("routes-kept"));
  routes.pages()->setCurrentIndex(2);
  drive.lookAt({33, 0, 25}, 55);
  drive.click({36, 0, 27});
  if (!QTest::qWaitFor([&] { return !routes.distances().rings().empty(); }, kPatience)) return 1;
  picture(QStringLiteral("routes-distances"));
  routes.pages()->setCurrentIndex(3);
  drive.lookAt({30, 0, 23}, 62);
  if (!QTest::qWaitFor([&] { return routes.matrix().view().places() > 0; }, kPatience)) return 1;
  QTest::mouseClick(&routes.matrix().view(), Qt::LeftButton, {}, routes.matrix().view().cellAt(0, 12).center());
  picture(QStringLiteral("routes-matrix"));
  drive.goTo(Stop::crowd);
  drive.press(Stop::crowd, QStringLiteral("Run"));
  if (!drive.waitForRun()) return 1;
  window.workspace().playback().setTime(12);
  picture(QStringLiteral("crowd"));
  // A door: two ways to steer from the same start, and what one of those before it decides from.
  auto& crowd = *static_cast<CrowdSheet*>(window.sheet(static_cast<int>(Stop::crowd)));
  window.workspace().setScene("Door");
  window.workspace().change(QStringLiteral("Door"), [&](project::Project& p) {
    project::addReadyScene(p, project::ReadyScene::door, {29.5, 0, 17}, window.workspace().agentKind().radius, "Door");
    project::edit(p.crowd, [](project::CrowdSection& s) { s.other.emplace().model = crowd::Steering::collisionTime, s.seconds = 30; });
  });
  if (!drive.waitForGround()) return 1;
  crowd.show(CrowdSheet::Page::compare);
  drive.press(Stop::crowd, QStringLiteral("Run"));
  if (!drive.waitForRun()) return 1;
  window.workspace().playback().setTime(9);
  drive.lookAt({29.5, 0, 17}, 26);
  picture(QStringLiteral("crowd-sides"));
  window.workspace().change(QStringLiteral("One"),
                            [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.other.reset(); }); });
  crowd.show(CrowdSheet::Page::steering);
  drive.press(Stop::crowd, QStringLiteral("Run"));
  if (!drive.waitForRun()) return 1;
  window.workspace().insights().setOn(true);
  window.workspace().playback().follow(window.workspace().run()->trace.bodies()[7].id);
  window.workspace().playback().setTime(7);
  if (!Driver::shown([&] { return window.workspace().insights().of(false).has_value(); })) return 1;
  drive.lookAt(*window.workspace().playback().bodyAt(), 9);
  picture(QStringLiteral("crowd-steering"));
  window.workspace().insights().setOn(false);
  for (int edits = 0; edits < 2; ++edits) window.workspace().document().undo();
  window.workspace().setScene({});
  crowd.show(CrowdSheet::Page::groups);
  if (!drive.waitForGround()) return 1;
  drive.press(Stop::crowd, QStringLiteral("Run"));
  if (!drive.waitForRun()) return 1;
  drive.goTo(Stop::review);
  window.ledger().setOpen(true);
  const auto& found = window.workspace().findings().all();
  const auto touched = std::ranges::find(found, "wall-touched", [](const KeptFinding& k) { return k.finding.code; });
  if (touched == found.end()) return 1;
  for (std::size_t i = 0; i < found.size() && window.workspace().selection().one(ThingKind::finding) != touched->id; ++i)
    QTest::keyClick(&window, Qt::Key_F4);
  const auto drawn = [&] { return Driver::shown([&] { return !window.reel().lanes()->waits(); }); };
  auto& review = *static_cast<ReviewSheet*>(window.sheet(static_cast<int>(Stop::review)));
  review.heatChoice()->setFocus();
  for (int i = 0; i < 3; ++i) QTest::keyClick(review.heatChoice(), Qt::Key_Down);
  window.reel().laneAction(pipeline::Measure::neighbours)->trigger();
  for (QToolButton* b : window.reel().findChildren<QToolButton*>())
    if (b->text() == QStringLiteral("All")) QTest::mouseClick(b, Qt::LeftButton);
  window.ledger().list()->setFocus();
  drive.lookAt({30, 0, 22}, 44);
  if (!drawn()) return 1;
  picture(QStringLiteral("review"));
  window.workspace().document().markSaved();
  window.ledger().setOpen(false);
  if (!flights()) return 1;
  const QString garden = files.filePath(QStringLiteral("date-garden.dunestep"));
  if (!writeFile(files.filePath(QString::fromLatin1(demo::kGardenMapFile)).toStdString(), demo::gardenMap()) ||
      !writeFile(files.filePath(QString::fromLatin1(demo::kGardenTilesFile)).toStdString(), demo::gardenTiles()) ||
      !project::save(garden.toStdString(), demo::gardenProject()))
    return 1;
  if (!window.openProject(garden) || !drive.waitForGround()) return 1;
  drive.goTo(Stop::level);
  level.show(LevelSheet::Page::objects);
  QTest::qWait(200);
  picture(QStringLiteral("level-tiles"));
  return 0;
}
