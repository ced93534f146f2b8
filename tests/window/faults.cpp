// What hours of use brought out: nothing that was typed, written elsewhere, deleted or linked is lost, and the wheel changes no number by
// the way.

#include <QFileInfo>

#include <QScrollBar>

#include "tests/window/demo_window.h"
#include "window/session/hand_made.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

class TestFaults : public DemoWindow {
  Q_OBJECT

  void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::ControlModifier) {
    toFront(), QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : window_.get(), key, modifiers), QTest::qWait(1);
  }
  void change() {
    work().change("Duration", [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.seconds += 1; }); });
  }
  project::Project saved() const {
    const auto read = project::load(window_->workspace().file().path().toStdString());
    return read ? *read : project::Project{};
  }
  /// Types into a field and leaves it like that.
  void beginTyping(NumberField* f, const QString& text) {
    QVERIFY(f);
    toFront();
    f->spin()->setFocus();
    f->spin()->selectAll();
    QTest::keyClicks(f->spin(), text);
  }
  void wheel(QWidget* over, int notches) {
    const QPointF at = over->rect().center();
    QWheelEvent event(at, over->mapToGlobal(at), {}, {0, notches * 120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(over, &event);
    QTest::qWait(1);
  }

 private slots:
  void undoAfterSavingElsewhereKeepsTheLevel() {
    change();
    QVERIFY(QDir(folder_.path()).mkpath(QStringLiteral("deep/er")));
    const QString path = folder_.filePath(QStringLiteral("deep/er/moved.dunestep"));
    QVERIFY(!work().save(path));
    QTest::qWait(1);
    const auto level = work().level();
    QVERIFY(level && !work().document().modified());
    undo();
    QVERIFY(work().document().modified());
    QVERIFY(!work().document().canUndo());  // saving is no step
    QTest::qWait(50);
    QVERIFY(work().level() == level);
    QVERIFY(QFileInfo::exists(QString::fromStdString(work().file().fullPath(project().level->files[0]))));
    QVERIFY(!work().save(path));
    QVERIFY(drive_->waitForGround());
    QVERIFY(QFileInfo::exists(QString::fromStdString(project::levelPath(saved().level->files[0], path.toStdString()))));
  }
  void oldFindingsGoWithTheirProject() {
    QVERIFY(!work().findings().all().empty());
    work().document().markSaved();
    work().startNew();
    QVERIFY(work().findings().all().empty());
    QTest::qWait(1);
    QCOMPARE(window_->ledger().list()->count(), 0);
    for (QPushButton* b : window_->ledger().findChildren<QPushButton*>()) QVERIFY(!b->isVisible());
  }
  void theListOfFindingsKeepsItsPlace() {
    work().change("Links", [](project::Project& p) {
      project::edit(p.links, [](project::LinksSection& s) {
        for (int i = 0; i < 12; ++i) s.links.push_back({100 + i, nav::LinkKind::jump, {300.0 + i, 0, 300}, {300.0 + i, 0, 302}, false, 0});
      });
    });
    QVERIFY(drive_->waitForGround());
    window_->ledger().setOpen(true);
    chooseFinding("broken-link", "105");  // unfolds all of them
    QListView* list = window_->ledger().list();
    QTest::qWait(20);
    list->verticalScrollBar()->setValue(list->verticalScrollBar()->maximum() / 2);
    window_->ledger().list()->setCurrentRow(3);
    list->verticalScrollBar()->setValue(list->verticalScrollBar()->maximum() / 2);
    QTest::qWait(20);
    const int place = list->verticalScrollBar()->value();
    const std::string chosen = work().selection().one(ThingKind::finding);
    QVERIFY(place > 0 && !chosen.empty());
    work().change("Card",
                  [](project::Project& p) { project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].radius += 1e-4; }); });
    QTest::qWait(1);
    QVERIFY(drive_->waitForGround());
    QTest::qWait(20);
    QCOMPARE(work().selection().one(ThingKind::finding), chosen);
    QCOMPARE(list->verticalScrollBar()->value(), place);
  }
  void whatNobodySeesDoesNotPlayOn() {
    drive_->goTo(Stop::crowd);
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(drive_->waitForRun());
    window_->reel().setPlaying(true);
    drive_->goTo(Stop::level);
    QVERIFY(!window_->reel().playing());
    const double time = work().playback().time();
    QTest::qWait(100);
    QCOMPARE(work().playback().time(), time);
  }
  void triedRangesSayWhenTheyAreOld() {
    drive_->goTo(Stop::mesh);
    auto& mesh = sheet<MeshSheet>(Stop::mesh);
    mesh.show(MeshSheet::Page::tryOut);
    type(field(Stop::mesh, QStringLiteral("To")), QStringLiteral("0.6"));
    drive_->press(Stop::mesh, QStringLiteral("Try the range"));
    QVERIFY(becomes([&] { return work().trials().swept() && !work().trials().busy(); }));
    const auto told = [&] {
      for (const QLabel* l : window_->sheet(static_cast<int>(Stop::mesh))->findChildren<QLabel*>())
        if (l->isVisible() && l->text().startsWith(QStringLiteral("Out of date"))) return true;
      return false;
    };
    QVERIFY(!told());
    QVERIFY(!work().save(folder_.filePath(QStringLiteral("elsewhere.dunestep"))));
    QTest::qWait(1);
    QVERIFY(!told());
    QCOMPARE(field(Stop::mesh, QStringLiteral("To"))->value(), 0.6);  // saving is no other project
    level::Blocker box;
    box.at = {30, 0, 16};
    add(work(), box);
    QVERIFY(drive_->waitForGround());
    QVERIFY(told());
    undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY(!told());
  }
  void whatIsBeingTypedIsSaved() {
    drive_->goTo(Stop::agents);
    NumberField* radius = field(Stop::agents, QStringLiteral("Radius"));
    beginTyping(radius, QStringLiteral("0.55"));
    key(Qt::Key_S);
    QCOMPARE(saved().agents->agents[0].radius, 0.55);
    QVERIFY(!work().document().modified());
    // And asked about when the window is closed.
    beginTyping(radius, QStringLiteral("0.65"));
    bool asked = false;
    answerNext<QMessageBox>([&](QMessageBox& box) { asked = true, pressIn(box, QMessageBox::Cancel); });
    window_->close();
    QVERIFY(asked);
    QCOMPARE(project().agents->agents[0].radius, 0.65);
  }
  void whatEndsLeavesANumberAloneThatIsBeingTyped() {
    drive_->goTo(Stop::agents);
    NumberField* radius = field(Stop::agents, QStringLiteral("Radius"));
    beginTyping(radius, QStringLiteral("0.7"));
    work().build();
    QVERIFY(drive_->waitForGround());
    change();
    QTest::qWait(5);
    QCOMPARE(radius->spin()->cleanText(), QStringLiteral("0.7"));
    QTest::keyClick(radius->spin(), Qt::Key_Return);
    QTest::qWait(1);
    QCOMPARE(project().agents->agents[0].radius, 0.7);
    undo();
    QCOMPARE(radius->value(), project().agents->agents[0].radius);
  }
  void theWheelChangesNoNumberThatHasNotTheFocus() {
    drive_->goTo(Stop::agents);
    window_->world().setFocus();
    const std::string before = project::toJson(project());
    for (int stop = 0; stop < window_->stopCount(); ++stop) {
      window_->goTo(stop);
      window_->world().setFocus();
      for (QWidget* w : window_->sheet(stop)->findChildren<QWidget*>())
        if (qobject_cast<QAbstractSpinBox*>(w) || qobject_cast<QComboBox*>(w)) {
          wheel(w, 3);
          QVERIFY2(!w->hasFocus(), qPrintable(w->accessibleName()));
        }
    }
    QCOMPARE(project::toJson(project()), before);
    // With the focus it does what it says.
    drive_->goTo(Stop::agents);
    NumberField* radius = field(Stop::agents, QStringLiteral("Radius"));
    const double was = radius->value();
    radius->spin()->setFocus();
    wheel(radius->spin(), 1);
    QVERIFY(radius->value() > was);
  }
  void aFileMarkedReadOnlyIsNotReplaced() {
    const QString path = work().file().path();
    const std::string before = *readFile(path.toStdString());
    QVERIFY(QFile::setPermissions(path, QFile::ReadOwner));
    change();
    QString said;
    answerNext<QMessageBox>([&](QMessageBox& box) { said = box.text(), pressIn(box, QMessageBox::Ok); });
    key(Qt::Key_S);
    QVERIFY2(said.contains(QStringLiteral("read-only")), qPrintable(said));
    QVERIFY(QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner));
    QCOMPARE(*readFile(path.toStdString()), before);
    QVERIFY(work().document().modified());
  }
  void aLinkStaysALink() {
    const QString link = folder_.filePath(QStringLiteral("link.dunestep"));
    QVERIFY(QFile::link(work().file().path(), link));
    change();
    QVERIFY(!work().save(link));
    QVERIFY(QFileInfo(link).isSymLink());
    QCOMPARE(project::load(QFileInfo(link).symLinkTarget().toStdString())->crowd->seconds, project().crowd->seconds);
  }
  void whatSomebodyElseWroteIsAskedAbout() {
    const QString path = work().file().path();
    project::Project other = project();
    project::edit(other.crowd, [](project::CrowdSection& s) { s.seconds = 77; });
    QVERIFY(project::save(path.toStdString(), other));
    change();
    QTest::qWait(500);  // it is heard of, which is no leave to write over it
    answerNext<QMessageBox>([&](QMessageBox& box) { pressIn(box, QMessageBox::Cancel); });
    key(Qt::Key_S);
    QCOMPARE(saved().crowd->seconds, 77.0);
    QVERIFY(work().document().modified());
    answerNext<QMessageBox>([&](QMessageBox& box) { pressIn(box, QMessageBox::Save); });
    key(Qt::Key_S);
    QCOMPARE(saved().crowd->seconds, project().crowd->seconds);
    change();
    key(Qt::Key_S);  // asks no more
    QVERIFY(!work().document().modified());
  }
  void aLevelThatIsPutBackIsSeen() {
    const std::string path = folder_.filePath(QStringLiteral("yard.obj")).toStdString();
    const std::string floor = "o floor\nv 0 0 0\nv 0 0 6\nv 6 0 6\nv 6 0 0\nf 1 2 3 4\n";
    QVERIFY(writeFile(path, floor));
    work().openLevel(QString::fromStdString(path));
    QVERIFY(becomes([&] { return work().level() && work().level()->level->objects.size() == 1 && !work().building(); }));
    QVERIFY(QFile::remove(QString::fromStdString(path)));
    QVERIFY(becomes([&] { return window_->readoutText().contains(QStringLiteral("yard.obj")); }));
    QVERIFY(writeFile(path, floor + "o post\nv 2 0 2\nv 3 0 2\nv 3 2 2\nf 5 6 7\n"));
    QVERIFY(becomes([&] { return work().level() && work().level()->level->objects.size() == 2 && !work().building(); }));
  }
  void anotherProjectBringsNothingOfTheOneBefore() {
    QVERIFY(!work().findings().all().empty());
    window_->ledger().setOpen(true);
    chooseFinding("ignored-on-ground", "crate_5");
    window_->cutAway().setHeight(3);
    drive_->goTo(Stop::level);
    auto* filter = window_->sheet(static_cast<int>(Stop::level))->findChild<QLineEdit*>();
    for (QLineEdit* e : window_->sheet(static_cast<int>(Stop::level))->findChildren<QLineEdit*>())
      if (e->accessibleName() == QStringLiteral("Filter by name")) filter = e;
    filter->setText(QStringLiteral("crate_1*"));
    const auto says = [&](const QString& text) {
      const auto labels = window_->sheet(static_cast<int>(Stop::level))->findChildren<QLabel*>();
      return std::ranges::any_of(labels, [&](const QLabel* l) { return l->isVisible() && l->text() == text; });
    };
    const std::size_t objects = work().level()->level->objects.size();
    const auto fitting = std::ranges::count_if(work().level()->level->objects,
                                               [](const level::Object& o) { return o.name.find("crate_1") != std::string::npos; });
    QVERIFY(says(QStringLiteral("%1 of %2 fit the filter").arg(fitting).arg(objects)));
    filter->setText(QStringLiteral("dragon"));
    QVERIFY(says(QStringLiteral("0 of %1 fit the filter").arg(objects)));
    work().document().markSaved();
    const QString empty = folder_.filePath(QStringLiteral("none.dunestep"));
    project::Project p;
    p.level = std::make_shared<project::LevelSection>();
    QVERIFY(project::save(empty.toStdString(), p));
    QVERIFY(window_->openProject(empty));
    QVERIFY(becomes([&] { return work().findings().all().empty(); }));
    QCOMPARE(window_->ledger().list()->count(), 0);
    for (const QPushButton* b : window_->ledger().findChildren<QPushButton*>()) QVERIFY2(!b->isVisible(), qPrintable(b->text()));
    QVERIFY(filter->text().isEmpty());
    QVERIFY(window_->openProject(folder_.filePath(QStringLiteral("saltwind-depot.dunestep"))));
    QVERIFY(drive_->waitForGround());
    QVERIFY(window_->world().cutAway() > 6);  // over everything
  }
  void anotherNameOfAnAgentBuildsNothing() {
    drive_->goTo(Stop::agents);
    const auto before = work().ground();
    auto* name = window_->sheet(static_cast<int>(Stop::agents))->findChild<QLineEdit*>();
    for (QLineEdit* e : window_->sheet(static_cast<int>(Stop::agents))->findChildren<QLineEdit*>())
      if (e->accessibleName() == QStringLiteral("Name")) name = e;
    toFront();
    name->setFocus(), name->selectAll();
    QTest::keyClicks(name, QStringLiteral("Carrier"));
    QTest::keyClick(name, Qt::Key_Return);
    QTest::qWait(1);
    QCOMPARE(project().agents->agents[0].name, std::string("Carrier"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->built->chunksMade, before == work().ground() ? before->built->chunksMade : std::size_t{0});
    QVERIFY(work().ground()->mesh.agent.name == "Carrier");
    QVERIFY(std::ranges::none_of(work().findings().all(),
                                 [](const KeptFinding& k) { return k.finding.sentence.find("Porter") != std::string::npos; }));
  }
  void workIsCancelledWhereItSaysSo() {
    // At any step, by its words; a click on its name only goes there.
    std::vector<TrailEntry> stops(8, TrailEntry{QStringLiteral("Step"), {}});
    Trail trail;
    trail.resize(800, 54);
    for (TrailEntry& e : stops) e.state.work = -1;
    stops[2].state.work = 0.4;
    trail.setStops(stops);
    trail.setCurrent(0);
    QSignalSpy cancelled(&trail, &Trail::cancelAsked), chosen(&trail, &Trail::chosen);
    QTest::mouseClick(&trail, Qt::LeftButton, {}, {230, 12});
    QCOMPARE(chosen.size(), 1);
    QCOMPARE(cancelled.size(), 0);
    QTest::mouseClick(&trail, Qt::LeftButton, {}, {230, 40});
    QCOMPARE(cancelled.size(), 1);
    QCOMPARE(chosen.size(), 1);
    QVERIFY(trail.accessibleName().contains(QStringLiteral("1 of 8")) && trail.accessibleDescription().contains(QStringLiteral("at work")));
  }
  void aPullUpOrDownEndsLookingStraightDown() {
    key(Qt::Key_D);
    QVERIFY(window_->world().camera().plan());
    const QPoint middle(60, 200);
    Driver::dragPixels(&window_->world(), middle, middle + QPoint(120, 4));
    QVERIFY(window_->world().camera().plan());
    Driver::dragPixels(&window_->world(), middle, middle + QPoint(5, -90));
    QVERIFY(!window_->world().camera().plan());
    key(Qt::Key_D);
    QVERIFY(window_->world().camera().plan());  // the switch knew
  }
  void aNotchOfTheWheelFliesNoFurtherThanOneSees() {
    Camera& camera = window_->world().camera();
    camera.lookAt({30, 0, 22}, 10);
    for (int i = 0; i < 40; ++i) camera.orbit(0, -40);  // nearly level
    const Vec3 eye = camera.eye();
    const QPointF at(window_->world().width() / 2.0, 3);
    QWheelEvent event(at, window_->world().mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&window_->world(), &event);
    QVERIFY2(glm::distance(camera.eye(), eye) < 8, qPrintable(QString::number(glm::distance(camera.eye(), eye))));
  }
};

QTEST_MAIN(TestFaults)
#include "faults.moc"
