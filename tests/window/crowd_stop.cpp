// The Crowd stop by hand: groups of every form and goal, ready-made scenes, ways to steer, what moves, two runs side by side, the reel.

#include <qcustomplot.h>
#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QTableWidget>
#include <QToolButton>

#include "core/crowd/steering_model.h"
#include "core/system/threads.h"
#include "tests/window/demo_window.h"
#include "window/session/hand_made.h"
#include "window/stops/crowd/crowd_picture.h"
#include "window/stops/crowd/crowd_sheet.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;
using project::GoalKind;
using project::StartForm;

class TestCrowdStop : public DemoWindow {
  Q_OBJECT

  CrowdSheet* sheet() { return static_cast<CrowdSheet*>(window_->sheet(static_cast<int>(Stop::crowd))); }
  void open(CrowdSheet::Page page) {
    drive_->goTo(Stop::crowd);
    sheet()->show(page);
    QTest::qWait(1);
  }
  template <class Widget>
  Widget* named(const QString& name) {
    for (Widget* w : sheet()->findChildren<Widget*>())
      if (w->accessibleName() == name && w->isVisibleTo(sheet())) return w;
    return nullptr;
  }
  /// Chooses an item of a box with keys, as a person does.
  void choose(const QString& box, int item) {
    auto* combo = named<QComboBox>(box);
    QVERIFY2(combo && item < combo->count(), qPrintable(box));
    combo->setFocus();
    QTest::keyClick(combo, Qt::Key_Home);
    for (int i = 0; i < item; ++i) QTest::keyClick(combo, Qt::Key_Down);
    QTest::qWait(1);
    QCOMPARE(combo->currentIndex(), item);
  }
  void type(const QString& field, const QString& text) {
    for (NumberField* f : sheet()->findChildren<NumberField*>()) {
      if (!f->isVisibleTo(sheet()) || !f->findChild<QLabel*>()->text().startsWith(field)) continue;
      f->spin()->setFocus();
      f->spin()->selectAll();
      QTest::keyClicks(f->spin(), text);
      QTest::keyClick(f->spin(), Qt::Key_Return);
      return QTest::qWait(1);
    }
    QFAIL(qPrintable(field));
  }
  void check(const QString& text, bool on) {
    for (QCheckBox* box : sheet()->findChildren<QCheckBox*>()) {
      if (!box->text().startsWith(text) || !box->isVisibleTo(sheet())) continue;
      if (box->isChecked() != on) QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
      return QTest::qWait(1);
    }
    QFAIL(qPrintable(text));
  }
  const project::CrowdSection& crowd() { return *project().crowd; }
  std::string document() { return project::toJson(project()); }
  void shorten() {
    work().change("Short", [](project::Project& p) { project::edit(p.crowd, [](auto& s) { s.seconds = 4; }); });
  }

 private slots:
  void aGroupTakesEveryFormAndGoal() {
    open(CrowdSheet::Page::groups);
    const std::string before = document();
    choose(QStringLiteral("They start"), 1);
    QVERIFY(crowd().groups[0].startForm == StartForm::line && crowd().groups[0].startEnd != crowd().groups[0].start);
    choose(QStringLiteral("They start"), 2);
    type(QStringLiteral("Radius of the ring"), QStringLiteral("6"));
    QCOMPARE(crowd().groups[0].startRadius, 6.0);
    type(QStringLiteral("One every"), QStringLiteral("1.5"));
    type(QStringLiteral("Priority"), QStringLiteral("3"));
    type(QStringLiteral("Speed"), QStringLiteral("1.1"));
    QVERIFY(crowd().groups[0].every == 1.5 && crowd().groups[0].priority == 3 && crowd().groups[0].speed == 1.1);
    choose(QStringLiteral("Kind of agent"), 3);
    QCOMPARE(crowd().groups[0].agent, project().agents->agents[2].id);
    choose(QStringLiteral("They go"), 1);
    QVERIFY(crowd().groups[0].goalKind == GoalKind::object && !crowd().groups[0].object.empty());
    choose(QStringLiteral("They go"), 2);
    QVERIFY(crowd().groups[0].goalKind == GoalKind::group && crowd().groups[0].quarry == crowd().groups[1].id);
    choose(QStringLiteral("They go"), 4);
    type(QStringLiteral("Distance around it"), QStringLiteral("5"));
    QCOMPARE(crowd().groups[0].around, 5.0);
    choose(QStringLiteral("They go"), 3);
    drive_->lookAt({30, 0, 16}, 40);
    drive_->press(Stop::crowd, QStringLiteral("Add places to the round"));
    drive_->click({26, 0, 17});
    drive_->click({24, 0, 14});
    QCOMPARE(crowd().groups[0].round.size(), std::size_t{2});
    QVERIFY(glm::distance(crowd().groups[0].round[0], Vec3(26, 0, 17)) < 0.2);
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QTest::qWait(1);
    // Its places are handles.
    drive_->drag(crowd().groups[0].round[1], {22, 0, 15});
    QVERIFY2(glm::distance(crowd().groups[0].round[1], Vec3(22, 0, 15)) < 0.2, qPrintable(QString::number(crowd().groups[0].round[1].x)));
    while (work().document().canUndo()) undo();
    QCOMPARE(document(), before);
  }
  void readyMadeScenesAreAddedByAClick() {
    open(CrowdSheet::Page::groups);
    const std::string before = document();
    choose(QStringLiteral("Scene"), 1);  // a new one
    QCOMPARE(work().scene(), std::string("Scene 2"));
    QVERIFY(groupsOf(work()).empty());
    drive_->lookAt({30, 0, 16}, 40);
    auto* menu = drive_->button(Stop::crowd, QStringLiteral("Ready-made"))->menu();
    QCOMPARE(menu->actions().size(), 5);
    menu->actions()[1]->trigger();
    QTest::qWait(1);
    drive_->click({30, 0, 16});
    QCOMPARE(groupsOf(work()).size(), std::size_t{2});
    QVERIFY(groupsOf(work())[0]->scene == "Scene 2");
    // Only the scene walks, and the other one is there as it was.
    shorten();
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    QCOMPARE(work().run()->trace.bodies().size(), std::size_t{24});
    choose(QStringLiteral("Scene"), 0);
    QVERIFY(!work().runFresh());
    QCOMPARE(groupsOf(work()).size(), std::size_t{4});
    while (work().document().canUndo()) undo();
    QCOMPARE(document(), before);
  }
  void waysToSteerAreChosenAndTuned() {
    open(CrowdSheet::Page::steering);
    const std::string before = document();
    choose(QStringLiteral("How the group steers"), static_cast<int>(crowd::Steering::feelers));
    QVERIFY(crowd().groups[0].steering.model == crowd::Steering::feelers);
    type(QStringLiteral("Turn limit"), QStringLiteral("90"));
    QCOMPARE(crowd().groups[0].steering.turnLimit, 90.0);
    for (NumberField* f : sheet()->findChildren<NumberField*>())  // what this way does not heed is not shown
      if (f->findChild<QLabel*>()->text().startsWith(QStringLiteral("Side"))) QVERIFY(!f->isVisibleTo(sheet()));
    drive_->press(Stop::crowd, QStringLiteral("All groups like this"));
    for (const project::CrowdGroup& g : crowd().groups) QVERIFY(g.steering == crowd().groups[0].steering);
    while (work().document().canUndo()) undo();
    QCOMPARE(document(), before);
  }
  void whatABodyDecidesFromIsShown() {
    open(CrowdSheet::Page::steering);
    shorten();
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    check(QStringLiteral("Show what it decides"), true);
    work().playback().setTime(2);
    work().playback().follow(work().run()->trace.bodies()[20].id);
    QVERIFY(Driver::shown([this] {
      const auto& shown = work().insights().of(false);
      return shown && shown->frame == work().playback().frame() && shown->body == 20;
    }));
    const auto& shown = work().insights().of(false);
    QVERIFY(glm::distance(shown->insight.taken, plan(work().run()->trace.at(shown->frame + 1, 20).velocity)) < 0.02);
    check(QStringLiteral("Show what it decides"), false);
    QVERIFY(!work().insights().of(false));
  }
  /// Between two walls, in two files that change ends: who comes first stands before the places of those behind it.
  void whoIsLedOutOfAJamSaysSo() {
    work().change("Two walls", [](project::Project& p) {
      project::edit(p.level, [](auto& s) {
        for (const double z : {15.4, 18.6}) {
          level::Blocker& wall = s.blockers.emplace_back();
          wall.id = z < 17 ? 900 : 901, wall.at = {29.5, -2, z}, wall.size = {26, 8, 1};
        }
      });
      project::edit(p.crowd, [](project::CrowdSection& s) {
        s.groups.clear(), s.obstacles.clear(), s.seconds = 60;
        for (const int id : {1, 2}) {
          project::CrowdGroup& g = s.groups.emplace_back();
          const double side = id == 1 ? -1 : 1;
          g.id = id, g.start = {29.5 + side, 0, 17 + side * 0.4}, g.startEnd = {29.5 + 11 * side, 0, 17 + side * 0.4};
          g.startForm = StartForm::line, g.goalKind = GoalKind::across, g.count = 13;
        }
      });
    });
    QVERIFY(drive_->waitForGround());
    open(CrowdSheet::Page::steering);
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    const auto run = work().run();
    ThreadedJob job;
    std::size_t frame = 0, led = 0;  // when most of them are led, every sixth is asked
    const auto isLed = [&] { return led < run->trace.bodies().size() && run->insight(frame, led, job).ledTo; };
    while (!isLed() && frame + 30 < run->trace.frameCount()) {
      led += 6;
      if (led >= run->trace.bodies().size()) led = 0, frame += 30;
    }
    QVERIFY(isLed());
    check(QStringLiteral("Show what it decides"), true);
    work().playback().setTime(run->trace.step() * static_cast<double>(frame));
    work().playback().follow(run->trace.bodies()[led].id);
    const auto says = [this](const QString& text) {
      const auto labels = sheet()->findChildren<QLabel*>();
      return std::ranges::any_of(labels, [&](QLabel* l) { return l->isVisibleTo(sheet()) && l->text().startsWith(text); });
    };
    QVERIFY(Driver::shown([&] { return says(QStringLiteral("It is led out of a jam")); }));
    work().playback().setTime(0);
    QVERIFY(Driver::shown([&] { return says(QStringLiteral("Green: where its way leads")); }));
  }
  void theRunIsSeenWhileItWalks() {
    open(CrowdSheet::Page::groups);
    work().change("Long", [](project::Project& p) { project::edit(p.crowd, [](auto& s) { s.seconds = 3600; }); });
    const auto before = work().run();
    QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
    QTRY_VERIFY_WITH_TIMEOUT(work().crowd().live(), 20000);
    const auto first = work().crowd().live();
    QCOMPARE(first->trace.frameCount(), std::size_t{1});
    QTRY_VERIFY_WITH_TIMEOUT(work().crowd().live() && work().crowd().live()->trace.duration() > first->trace.duration(), 20000);
    bool moved = false;
    for (std::size_t i = 0; i < first->trace.bodies().size(); ++i)
      moved |= glm::distance(first->trace.at(0, i).at, work().crowd().live()->trace.at(0, i).at) > 0;
    QVERIFY(moved);
    // Stopped, what was there before is shown.
    QTest::keyClick(window_.get(), Qt::Key_Period, Qt::ControlModifier);
    QTRY_VERIFY(!work().crowd().running());
    QVERIFY(!work().crowd().live());
    QVERIFY(work().run() == before);
    work().document().undo();
  }
  void twoRunsAreSetSideBySide() {
    open(CrowdSheet::Page::compare);
    shorten();
    check(QStringLiteral("Walk a second time"), true);
    QVERIFY(crowd().other);
    choose(QStringLiteral("How B steers"), static_cast<int>(crowd::Steering::none));
    QVERIFY(crowd().other->model == crowd::Steering::none);
    QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
    QVERIFY(drive_->waitForRun());
    QVERIFY(work().crowd().other() && window_->world().split());
    QCOMPARE(work().crowd().other()->trace.bodies().size(), work().run()->trace.bodies().size());
    auto* table = named<QTableWidget>(QStringLiteral("A against B"));
    QVERIFY(table && table->isVisible());
    QCOMPARE(table->rowCount(), 8);
    QVERIFY(table->item(4, 1)->text().toDouble() > 0.5 && table->item(5, 2)->text().toDouble() > 0.05);
    // A body is picked in the world that it is in; both follow the same time.
    work().playback().setTime(3);
    const trace::Sample b = work().crowd().other()->trace.at(work().playback().frame(), 5);
    drive_->lookAt(b.at, 10);
    const QPoint right = drive_->pixelOf(b.at + Vec3{0, 1, 0}) + QPoint(window_->world().worldSize().width(), 0);
    QTest::mouseClick(&window_->world(), Qt::LeftButton, {}, right);
    QTest::qWait(1);
    QCOMPARE(work().playback().body(), b.id);
    check(QStringLiteral("Walk a second time"), false);
    QVERIFY(!crowd().other && !window_->world().split());
  }
  void whatMovesIsDrawnAndTuned() {
    open(CrowdSheet::Page::obstacles);
    const std::string before = document();
    drive_->lookAt({30, 0, 16}, 40);
    drive_->press(Stop::crowd, QStringLiteral("Draw track"));
    drive_->drag({26, 0, 17}, {32, 0, 17});
    QCOMPARE(crowd().obstacles.size(), std::size_t{1});
    QVERIFY(glm::distance(crowd().obstacles[0].track[1], Vec3(32, 0, 17)) < 0.2);
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QTest::qWait(1);
    choose(QStringLiteral("Shape"), 1);
    QVERIFY(crowd().obstacles[0].shape == crowd::MovingObstacle::Shape::cylinder);
    type(QStringLiteral("Speed"), QStringLiteral("2"));
    type(QStringLiteral("Width"), QStringLiteral("2.5"));
    QVERIFY(crowd().obstacles[0].speed == 2 && crowd().obstacles[0].size.x == 2.5);
    drive_->drag(crowd().obstacles[0].track[0], {24, 0, 15});
    QVERIFY(glm::distance(crowd().obstacles[0].track[0], Vec3(24, 0, 15)) < 0.2);
    drive_->press(Stop::crowd, QStringLiteral("Remove"));
    QVERIFY(crowd().obstacles.empty());
    while (work().document().canUndo()) undo();
    QCOMPARE(document(), before);
  }
  void keysBelongToTheControlThatHasThem() {
    open(CrowdSheet::Page::compare);
    QCheckBox* box = nullptr;
    for (QCheckBox* b : sheet()->findChildren<QCheckBox*>())
      if (b->text().startsWith(QStringLiteral("Walk a second time"))) box = b;
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Space);
    QVERIFY(box->isChecked() && crowd().other);
    QTest::qWait(1);
    auto* combo = named<QComboBox>(QStringLiteral("How B steers"));
    QVERIFY(combo);
    combo->setFocus();
    const Vec3 eye = window_->world().camera().target();
    QTest::keyClick(combo, Qt::Key_Home);
    QCOMPARE(combo->currentIndex(), 0);
    QVERIFY(window_->world().camera().target() == eye);
    // A click on a button leaves the keys where they were, so that Space plays what Run made.
    shorten();
    QTest::mouseClick(&window_->world(), Qt::LeftButton, {}, QPoint(20, 400));
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    QTest::keyClick(&window_->world(), Qt::Key_Space);
    QVERIFY(window_->reel().playing() && !work().crowd().running());
  }
  void theReelJumpsStepsAndFollows() {
    open(CrowdSheet::Page::groups);
    shorten();
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    Reel& reel = window_->reel();
    QSlider* slider = reel.slider();
    QTest::mouseClick(slider, Qt::LeftButton, {}, QPoint(slider->width() / 2, slider->height() / 2));
    QVERIFY2(std::abs(work().playback().time() - 2) < 0.15, qPrintable(QString::number(work().playback().time())));
    const double step = work().run()->trace.step(), from = work().playback().time();
    slider->setFocus();
    QTest::keyClick(slider, Qt::Key_Right);
    QVERIFY(std::abs(work().playback().time() - from - step) < 1e-9);
    QTest::keyClick(slider, Qt::Key_Left);
    QVERIFY(std::abs(work().playback().time() - from) < 1e-9);
    const Vec3 eye = window_->world().camera().target();
    for (QToolButton* b : reel.findChildren<QToolButton*>())
      if (b->isCheckable()) QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(work().playback().trails() && work().playback().eyeFollows());
    work().playback().setTime(3);
    QTest::qWait(1);
    QVERIFY(glm::distance(window_->world().camera().target(), *work().playback().bodyAt()) < 1e-6);
    QVERIFY(window_->world().camera().target() != eye);
  }
};

QTEST_MAIN(TestCrowdStop)
#include "crowd_stop.moc"
