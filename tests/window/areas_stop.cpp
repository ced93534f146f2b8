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

 private slots:
  void oneAgentPaysOtherwise() {
    open();
    choose(QStringLiteral("brine"), 0);
    const auto other = groundOf(1) ? groundOf(1)->rules : nav::Rules{};
    decide(1);
    const project::AgentRule* rule = project::ruleOf(*project().areas, id(0), "brine");
    QVERIFY(rule);
    QCOMPARE(rule->cost, 5.0);
    for (NumberField* f : rules().findChildren<NumberField*>())
      if (f->spin()->accessibleName() == QStringLiteral("Cost per metre")) type(f, QStringLiteral("1.5"));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->rules.of(1).cost, 1.5);
    if (groundOf(1)) QCOMPARE(groundOf(1)->rules, other);
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
    QVERIFY(!work().ground()->rules.links.empty() && work().ground()->rules.of(2).forbidden);
    const auto now = answer();
    QVERIFY(now.status != route::PathStatus::complete || now.cost > before);
    QVERIFY(!project::ruleOf(*project().areas, id(1), "paved"));
    choose(QStringLiteral("climbs"), 0);
    decide(1);
    QVERIFY(!project::mayTake(*project().areas, id(0), nav::LinkKind::climb));
    QVERIFY(drive_->waitForGround());
    QVERIFY(!work().ground()->rules.links[static_cast<std::size_t>(nav::LinkKind::climb)]);
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
    QVERIFY(!project::ruleOf(*project().areas, gone, "brine"));
    undo();
    QVERIFY(project::ruleOf(*project().areas, gone, "brine"));
  }
};

QTEST_MAIN(TestAreasStop)
#include "areas_stop.moc"
