// The Areas stop: rules of an agent's own in the grid of agents and kinds.

#include <QComboBox>

#include "core/project/rules.h"
#include "tests/window/demo_window.h"
#include "window/stops/areas/areas_sheet.h"

using namespace dune;
using namespace dune::window;

class TestAreasStop : public DemoWindow {
  Q_OBJECT

  RulesPage& rules() { return sheet<AreasSheet>(Stop::areas).rules(); }
  void open() {
    drive_->goTo(Stop::areas);
    sheet<AreasSheet>(Stop::areas).pages()->setCurrentIndex(1);
    QTest::qWait(1);
  }
  /// Chooses a cell by a click on it.
  void choose(const QString& kind, int agent) {
    QTableWidget* grid = rules().grid();
    for (int row = 0; row < grid->rowCount(); ++row)
      if (grid->verticalHeaderItem(row)->text() == kind) {
        QTest::mouseClick(grid->viewport(), Qt::LeftButton, {}, grid->visualItemRect(grid->item(row, agent)).center());
        QCOMPARE(grid->currentRow(), row);
        return;
      }
    QFAIL(qPrintable(kind));
  }
  void decide(int choice) {
    auto* box = rules().findChild<QComboBox*>();
    QVERIFY(box && box->isVisible());
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    for (int i = 0; i < choice; ++i) QTest::keyClick(box, Qt::Key_Down);
    QTest::qWait(1);
  }
  int id(std::size_t agent) { return project().agents->agents[agent].id; }

  std::string kindAt(const Vec3& p) { return work().ground()->mesh.kindOf(work().ground()->locator().under(p, 0.5).face).name; }
  std::vector<std::string> tagsAt(const Vec3& p) {
    return nav::tagNamesOf(work().ground()->mesh, work().ground()->locator().under(p, 0.5).face);
  }

 private slots:
  void groundIsOfAKindByTheNamesOfTheLevel() {
    drive_->goTo(Stop::areas);
    auto& sheet = this->sheet<AreasSheet>(Stop::areas);
    sheet.pages()->setCurrentIndex(2);
    QTest::qWait(1);
    QCOMPARE(kindAt({40, -2.2, 22}), std::string("sand"));
    auto* pattern = sheet.pages()->currentWidget()->findChild<QLineEdit*>();
    auto* kind = sheet.pages()->currentWidget()->findChild<QComboBox*>();
    QVERIFY(pattern && kind && kind->currentText() == QStringLiteral("brine"));
    QTest::keyClicks(pattern, QStringLiteral("canal*"));
    bool said = false;
    for (const QLabel* label : sheet.pages()->currentWidget()->findChildren<QLabel*>())
      said |= label->text().startsWith(QStringLiteral("2 of"));
    QVERIFY(said);
    drive_->press(Stop::areas, QStringLiteral("Add"));
    QCOMPARE(project().areas->byName, (std::vector<level::GroundRule>{{"canal*", "brine"}}));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(kindAt({40, -2.2, 22}), std::string("brine"));
    QCOMPARE(kindAt({40, 0, 18}), std::string("sand"));
    // A second one that fits the bed alone counts over it; under the first it does not.
    QTest::keyClicks(pattern, QStringLiteral("canal_bed"));
    kind->setFocus();
    QTest::keyClick(kind, Qt::Key_Down);
    drive_->press(Stop::areas, QStringLiteral("Add"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(kindAt({40, -2.2, 22}), std::string("paved"));
    drive_->press(Stop::areas, QStringLiteral("Under others"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(kindAt({40, -2.2, 22}), std::string("brine"));
    drive_->press(Stop::areas, QStringLiteral("Remove"));
    QCOMPARE(project().areas->byName.size(), std::size_t{1});
    undo(), undo(), undo(), undo();
    QVERIFY(project().areas->byName.empty() && drive_->waitForGround());
    QCOMPARE(kindAt({40, -2.2, 22}), std::string("sand"));
  }
  void aRoundVolumeIsDrawnAndMadeWider() {
    drive_->goTo(Stop::areas);
    drive_->press(Stop::areas, QStringLiteral("Round"));
    const Vec3 middle{10, 0, 16.2};
    drive_->lookAt(middle, 22);
    drive_->drag(middle, middle + Vec3{2, 0, 0});
    drive_->press(Stop::areas, QStringLiteral("Round"));  // leaves the tool
    const level::AreaVolume made = project().areas->volumes.back();
    QCOMPARE(made.outline.size(), std::size_t{32});
    const auto radius = [&] { return glm::distance(project().areas->volumes.back().outline[0], plan(middle)); };
    QVERIFY2(std::abs(radius() - 2) < 0.1, qPrintable(QString::number(radius())));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(kindAt(middle + Vec3{1.2, 0, 1.2}), made.kind);
    QCOMPARE(kindAt(middle + Vec3{1.6, 0, 1.6}), std::string("sand"));
    // One dot for how wide it is.
    const Vec3 dot = lift(made.outline[0], 0);
    drive_->drag(dot, dot + Vec3{1, 0, 0});
    QVERIFY2(std::abs(radius() - 3) < 0.15, qPrintable(QString::number(radius())));
    undo(), undo();
    QVERIFY(project().areas->volumes.back().id != made.id);
  }
  void aVolumeGivesTags() {
    drive_->goTo(Stop::areas);
    work().selection().choose(ThingKind::volume, 1);
    QTest::qWait(1);
    auto* tags = window_->sheet(static_cast<int>(Stop::areas))->findChild<QLineEdit*>(QStringLiteral("volumeTags"));
    QVERIFY(tags && tags->isVisible());
    tags->setFocus();
    QTest::keyClicks(tags, QStringLiteral(" no spawning,wet , wet,"));
    QTest::keyClick(tags, Qt::Key_Return);
    QVERIFY(drive_->waitForGround());
    const Vec3 inside{42, 0, 32};
    QCOMPARE(tagsAt(inside), (std::vector<std::string>{"no spawning", "wet"}));
    QVERIFY(tagsAt({30, 0, 30}).empty());
    QCOMPARE(kindAt(inside), std::string("brine"));
    drive_->lookAt(inside, 18);
    drive_->move(inside);
    QVERIFY(becomes([&] { return window_->readoutText().contains(QStringLiteral("Tagged no spawning, wet.")); }));
    // As it is: the tags stay, the kind goes.
    auto* kind = window_->sheet(static_cast<int>(Stop::areas))->findChild<QComboBox*>(QStringLiteral("volumeKind"));
    kind->setFocus();
    QTest::keyClick(kind, Qt::Key_End);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(kindAt(inside), std::string("sand"));
    QCOMPARE(tagsAt(inside).size(), std::size_t{2});
    // Nine are too many: said, and nothing is changed.
    tags->setFocus(), tags->selectAll();
    QTest::keyClicks(tags, QStringLiteral("1,2,3,4,5,6,7,8,9"));
    QTest::keyClick(tags, Qt::Key_Return);
    QCOMPARE(tags->text(), QStringLiteral("no spawning, wet"));
    const auto labels = window_->sheet(static_cast<int>(Stop::areas))->findChildren<QLabel*>(QStringLiteral("trouble"));
    QVERIFY(std::ranges::any_of(labels, [](QLabel* l) { return l->isVisible() && l->text().contains(QStringLiteral("at most 8")); }));
    undo(), undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY(tagsAt(inside).empty());
    QCOMPARE(kindAt(inside), std::string("brine"));
  }
  void oneAgentPaysOtherwise() {
    open();
    choose(QStringLiteral("brine"), 0);
    QTRY_VERIFY_WITH_TIMEOUT(groundOf(1), 60000);
    const nav::Rules other = groundOf(1)->rules;
    decide(1);
    const project::AgentRule* rule = project::ruleOf(project().areas->rules, id(0), "brine");
    QVERIFY(rule);
    QCOMPARE(rule->rule.cost, 5.0);
    for (NumberField* f : rules().findChildren<NumberField*>())
      if (f->spin()->accessibleName() == QStringLiteral("Its cost per metre")) type(f, QStringLiteral("1.5"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->rules.of(1).cost, 1.5);
    QCOMPARE(groundOf(1)->rules, other);
    QVERIFY(rules().grid()->item(1, 0)->font().bold());
    QVERIFY(!rules().grid()->item(1, 1)->font().bold());
    undo(), undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->rules.of(1).cost, 5.0);
  }
  void forbiddenForOneOnly() {
    open();
    const auto answer = [&] {
      route::Search search(*work().ground()->field);
      return route::findPath(*work().ground()->field, search, {29, 0, 26}, {29, 0, 31});
    };
    const double before = answer().cost;
    choose(QStringLiteral("paved"), 0);
    decide(2);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->rules.of(2).forbidden);
    const auto now = answer();
    QVERIFY(now.status != route::PathStatus::complete || now.cost > before);
    QVERIFY(!project::ruleOf(project().areas->rules, id(1), "paved"));
    choose(QStringLiteral("climbs"), 0);
    decide(1);
    QVERIFY(!project::mayTake(*project().areas, id(0), nav::LinkKind::climb));
    QVERIFY(drive_->waitForGround());
    QVERIFY(!work().ground()->rules.links[static_cast<std::size_t>(nav::LinkKind::climb)]);
  }
  void aVolumeIsTakenHoldOf() {
    drive_->goTo(Stop::areas);
    work().selection().choose(ThingKind::volume, 1);
    QTest::qWait(1);
    const auto volume = [&]() -> const level::AreaVolume& {
      return *std::ranges::find(project().areas->volumes, 1, &level::AreaVolume::id);
    };
    const level::AreaVolume before = volume();
    for (NumberField* f : window_->sheet(static_cast<int>(Stop::areas))->findChildren<NumberField*>())
      if (f->spin()->accessibleName() == QStringLiteral("Up to height")) type(f, QStringLiteral("3.5"));
    QCOMPARE(volume().top, 3.5);
    // The dot between the middle and the far side moves all of it.
    drive_->lookAt({42.5, 0, 32.2}, 18);
    Vec2 middle{0};
    for (const Vec2& q : before.outline) middle += q / 4.0;
    const Vec3 dot = lift((middle + (before.outline[2] + before.outline[3]) * 0.5) * 0.5, 0);
    drive_->drag(dot, dot + Vec3{2, 0, 0});
    const Vec2 by = volume().outline[0] - before.outline[0];
    QVERIFY2(std::abs(by.x - 2) < 0.2 && std::abs(by.y) < 0.2, qPrintable(QString("%1 %2").arg(by.x).arg(by.y)));
    for (std::size_t i = 0; i < before.outline.size(); ++i) QVERIFY(glm::distance(volume().outline[i] - before.outline[i], by) < 1e-9);
    auto* kind = window_->sheet(static_cast<int>(Stop::areas))->findChild<QComboBox*>(QStringLiteral("volumeKind"));
    QVERIFY(kind && kind->isVisible());
    kind->setFocus();
    QTest::keyClick(kind, Qt::Key_Home);
    QCOMPARE(volume().kind, project().areas->kinds[0].name);
    drive_->press(Stop::areas, QStringLiteral("Over others"));
    QCOMPARE(project().areas->volumes.back().id, 1);
    undo(), undo(), undo(), undo();
    QCOMPARE(volume(), before);
    QCOMPARE(project().areas->volumes.front().id, 1);
  }
  void rulesGoWithTheirAgentAndFollowNames() {
    open();
    choose(QStringLiteral("brine"), 1);
    decide(2);
    const auto saved = project::fromJson(project::toJson(project()));
    QVERIFY(saved && *saved->areas == *project().areas);
    work().setAgent(1);
    drive_->goTo(Stop::agents);
    const std::size_t agents = project().agents->agents.size();
    const int gone = id(1);
    for (QPushButton* b : window_->sheet(static_cast<int>(Stop::agents))->findChildren<QPushButton*>())
      if (b->toolTip().contains(QStringLiteral("Remove")) && b->isVisible()) QTest::mouseClick(b, Qt::LeftButton);
    QCOMPARE(project().agents->agents.size(), agents - 1);
    QVERIFY(!project::ruleOf(project().areas->rules, gone, "brine"));
    undo();
    QVERIFY(project::ruleOf(project().areas->rules, gone, "brine"));
  }
};

QTEST_MAIN(TestAreasStop)
#include "areas_stop.moc"
