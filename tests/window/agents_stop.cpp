// The Agents stop: every limit of the drawing by its handle, how the agent moves, a figure put into the level, links it can and cannot
// take.

#include <QCheckBox>
#include <QLineEdit>

#include "demo/glb_writer.h"
#include "tests/window/demo_window.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/crowd/crowd_sheet.h"
#include "window/stops/links/links_sheet.h"

using namespace dune;
using namespace dune::window;
using Handle = AgentDrawing::Handle;

class TestAgentsStop : public DemoWindow {
  Q_OBJECT

  AgentsSheet& agents() { return sheet<AgentsSheet>(Stop::agents); }
  const nav::Agent& kind() { return work().agentKind(); }
  void open(int page) {
    drive_->goTo(Stop::agents);
    agents().pages()->setCurrentIndex(page);
  }
  /// Drags a handle by so many metres of the drawing.
  void dragHandle(Handle handle, double x, double y) {
    AgentDrawing* drawing = agents().drawing();
    const QPointF from = drawing->handleAt(handle), to = from + QPointF(x, -y) * drawing->pixelsPerMetre();
    Driver::dragPixels(drawing, from.toPoint(), to.toPoint());
  }

 private slots:
  void everyLimitHasAHandle_data() {
    QTest::addColumn<int>("handle");
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::newRow("radius") << static_cast<int>(Handle::radius) << 0.0 << 0.3;
    QTest::newRow("height") << static_cast<int>(Handle::height) << 0.0 << -0.4;
    QTest::newRow("step") << static_cast<int>(Handle::step) << 0.0 << 0.25;
    QTest::newRow("jump") << static_cast<int>(Handle::jump) << 0.8 << 0.0;
    QTest::newRow("drop") << static_cast<int>(Handle::drop) << 0.0 << -0.9;
  }
  void everyLimitHasAHandle() {
    QFETCH(int, handle);
    QFETCH(double, x);
    QFETCH(double, y);
    static const std::map<Handle, double nav::Agent::*> kLimits{{Handle::radius, &nav::Agent::radius},
                                                                {Handle::height, &nav::Agent::height},
                                                                {Handle::step, &nav::Agent::stepHeight},
                                                                {Handle::jump, &nav::Agent::maxJump},
                                                                {Handle::drop, &nav::Agent::maxDrop}};
    const auto limit = kLimits.at(static_cast<Handle>(handle));
    open(0);
    const nav::Agent before = kind();
    dragHandle(static_cast<Handle>(handle), x, y);
    const double by = handle == static_cast<int>(Handle::drop) ? -y : x + y;  // a drop grows downwards
    QVERIFY2(std::abs(kind().*limit - (before.*limit + by)) < 0.06, qPrintable(QString::number(kind().*limit)));
    nav::Agent others = kind();
    others.*limit = before.*limit;
    QCOMPARE(others, before);  // nothing else moved
    QCOMPARE(field(Stop::agents, QStringLiteral("Longest jump"))->value(), kind().maxJump);
    QVERIFY(drive_->waitForGround());
    undo();  // a whole drag is one step
    QCOMPARE(kind(), before);
  }
  void aHandleStaysUnderTheMouse() {
    open(0);
    AgentDrawing* drawing = agents().drawing();
    const QPoint from = drawing->handleAt(Handle::jump).toPoint();
    QTest::mousePress(drawing, Qt::LeftButton, {}, from);
    for (int i = 1; i < 30; ++i) {
      const QPointF at = from + QPoint(i, 0);
      QMouseEvent event(QEvent::MouseMove, at, drawing->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
      QApplication::sendEvent(drawing, &event);
      QVERIFY(QLineF(drawing->handleAt(Handle::jump), at).length() < 1.5);
    }
    QTest::mouseRelease(drawing, Qt::LeftButton, {}, from + QPoint(29, 0));
  }

  void howItMovesIsSet() {
    open(1);
    type(field(Stop::agents, QStringLiteral("Passed within")), QStringLiteral("0.4"));
    type(field(Stop::agents, QStringLiteral("Origin over feet")), QStringLiteral("0.9"));
    auto* tilts = agents().findChild<QCheckBox*>();
    QVERIFY(tilts);
    QTest::mouseClick(tilts, Qt::LeftButton, {}, QPoint(8, tilts->height() / 2));
    QVERIFY(kind().passWithin == 0.4 && kind().originHeight == 0.9 && kind().tilts);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->mesh.agent, kind());
    undo();
    QVERIFY(!kind().tilts && !tilts->isChecked());
    undo(), undo();
    QVERIFY(kind().passWithin == 0.05 && kind().originHeight == 0);
  }
  void senselessLimitsAreSaidAndNotTaken() {
    open(0);
    type(field(Stop::agents, QStringLiteral("Step height")), QStringLiteral("2.5"));
    QCOMPARE(kind().stepHeight, 0.3);
    bool said = false;
    for (QLabel* label : agents().findChildren<QLabel*>())
      said |= label->isVisible() && label->text().contains(QStringLiteral("step height 2.5 m is not less"));
    QVERIFY(said);
    QCOMPARE(field(Stop::agents, QStringLiteral("Step height"))->value(), 0.3);  // what was refused does not stay there
  }
  void escapeGivesUpWhatIsTyped() {
    open(0);
    NumberField* radius = field(Stop::agents, QStringLiteral("Radius"));
    toFront();
    radius->spin()->setFocus();
    radius->spin()->selectAll();
    QTest::keyClicks(radius->spin(), QStringLiteral("0.9"));
    QTest::keyClick(radius->spin(), Qt::Key_Escape);
    QTest::keyClick(radius->spin(), Qt::Key_Return);
    QTest::qWait(1);
    QCOMPARE(kind().radius, 0.35);
    QVERIFY(radius->spin()->text().startsWith(QStringLiteral("0.35")));
  }
  void aNewNameBuildsNothing() {
    open(0);
    const auto ground = work().ground();
    auto* name = agents().findChild<QLineEdit*>();
    toFront();
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, QStringLiteral("Carrier"));
    QTest::keyClick(name, Qt::Key_Return);
    QTest::qWait(1);
    QCOMPARE(kind().name, std::string("Carrier"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->built->chunksMade, std::size_t{0});
    QCOMPARE(work().ground()->mesh.agent.name, std::string("Carrier"));
    QCOMPARE(work().ground()->area, ground->area);
  }

  void theFigureStandsWhereOneClicks() {
    open(0);
    drive_->lookAt({20, 0, 18}, 15);
    window_->world().setRefined(true);  // the whole picture, as people see it
    const QImage before = window_->world().picture();
    drive_->press(Stop::agents, QStringLiteral("Put in level"));
    QVERIFY(window_->gestures().tool() != nullptr);
    drive_->move({20, 0, 18});
    drive_->click({20, 0, 18});
    QVERIFY(agents().put().has_value());
    QVERIFY(glm::distance(agents().put()->feet, Vec3(20, 0, 18)) < 0.1);
    QVERIFY(window_->gestures().tool() == nullptr);  // one click, one figure
    QTest::qWait(50);
    // It is seen there: the body's colour is where nothing but ground was.
    const QPoint chest = drive_->pixelOf({20, 0.9, 18});
    const QImage now = window_->world().picture();
    QVERIFY(before.pixelColor(chest) != now.pixelColor(chest));
    QVERIFY(now.pixelColor(chest).blue() > now.pixelColor(chest).red());
    // Another kind of agent stands in the same place; another project's level has no figure.
    work().setAgent(1);
    QVERIFY(agents().put().has_value());
    work().document().markSaved();
    const QTemporaryDir other;
    const QString garden = other.filePath(QStringLiteral("other.dunestep"));
    demo::GlbWriter writer;
    writer.box("floor", {0, -1, 0}, {30, 0, 30});
    QVERIFY(writeFile(other.filePath(QStringLiteral("other.glb")).toStdString(), writer.bytes()).ok());
    project::Project plain;
    project::edit(plain.level, [](project::LevelSection& s) { s.files = {{"other.glb", {}}}; });
    QVERIFY(project::save(garden.toStdString(), plain).ok());
    QVERIFY(window_->openProject(garden));
    QVERIFY(drive_->waitForGround());
    QVERIFY(!agents().put().has_value());
  }
  void theFigureStandsBeforeAnythingIsBuilt() {
    work().setAutoBuild(false);
    work().document().markSaved();
    work().startNew();
    work().openLevel(folder_.filePath(QStringLiteral("saltwind-depot.glb")));
    work().cancel();
    QVERIFY(becomes([&] { return work().level() != nullptr || !work().building(); }));
    work().readAgain();
    QVERIFY(becomes([&] { return work().level() != nullptr; }));
    open(0);
    drive_->lookAt({20, 0, 18}, 15);
    drive_->press(Stop::agents, QStringLiteral("Put in level"));
    drive_->click({20, 0, 18});
    QVERIFY(agents().put().has_value());
  }

  void linksBeyondAnAgentAreSaidAndTheRemedyHelps() {
    QVERIFY(becomes([&] { return groundOf(1) != nullptr && !work().building(); }));
    work().setAgent(1);  // the Sledge neither jumps nor drops
    QVERIFY(drive_->waitForGround());
    const auto ground = work().ground();
    QCOMPARE(ground->beyond.size(), std::size_t{2});
    QCOMPARE(ground->mesh.links.size(), std::size_t{1});  // the climb
    drive_->goTo(Stop::links);
    auto* list = sheet<LinksSheet>(Stop::links).findChild<ItemList*>();
    QVERIFY2(list->textAt(0).contains(QStringLiteral("not for Sledge")), qPrintable(list->textAt(0)));
    chooseFinding("link-beyond", "jump");
    QVERIFY(window_->ledger().remedy()->isVisible());
    QVERIFY(window_->ledger().remedy()->text().startsWith(QStringLiteral("Let Sledge jump")));
    QTest::mouseClick(window_->ledger().remedy(), Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->beyond.size(), std::size_t{1});
    QCOMPARE(work().ground()->mesh.links.size(), std::size_t{2});
    undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->beyond.size(), std::size_t{2});
  }
};

QTEST_MAIN(TestAgentsStop)
#include "agents_stop.moc"
