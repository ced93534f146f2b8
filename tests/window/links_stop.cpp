// The Links stop: drops and jumps that the build finds, refused, allowed again, kept and moved; the next link apart from the chosen one.

#include <QCheckBox>
#include <QComboBox>

#include "tests/window/demo_window.h"
#include "window/session/found_links.h"
#include "window/session/hand_made.h"
#include "window/stops/links/links_sheet.h"

using namespace dune;
using namespace dune::window;

class TestLinksStop : public DemoWindow {
  Q_OBJECT

  LinksSheet& sheet() { return DemoWindow::sheet<LinksSheet>(Stop::links); }
  QPushButton* press(const QString& text) {
    for (QPushButton* b : sheet().findChildren<QPushButton*>())
      if (b->text() == text) return b;
    return nullptr;
  }
  void click(const QString& text) {
    QPushButton* button = press(text);
    QVERIFY2(button && button->isVisible() && button->isEnabled(), qPrintable(text));
    QTest::mouseClick(button, Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    QTest::qWait(1);
  }
  std::vector<nav::Link> found() {
    std::vector<nav::Link> all;
    for (const nav::Link& l : work().ground()->mesh.links)
      if (l.generated) all.push_back(l);
    return all;
  }
  void find(bool on) {
    auto* box = sheet().findChild<QCheckBox*>(QStringLiteral("findLinks"));
    QVERIFY(box);
    if (box->isChecked() != on) QTest::mouseClick(box, Qt::LeftButton, {}, {8, box->height() / 2});
    QVERIFY(drive_->waitForGround());
    QCOMPARE(project().links->find, on);
  }
  /// Chooses a row by a part of its text.
  void choose(const QString& text) {
    auto* list = sheet().findChild<ItemList*>();
    for (int i = 0; i < list->count(); ++i)
      if (list->textAt(i).contains(text)) {
        list->setCurrentRow(i);
        QTest::qWait(1);
        return;
      }
    QFAIL(qPrintable(text));
  }

 private slots:
  void foundOnesComeAndGo() {
    drive_->goTo(Stop::links);
    find(false);
    QVERIFY(found().empty());
    const std::size_t drawn = work().ground()->mesh.links.size();
    find(true);
    QVERIFY(found().size() > 5);
    QVERIFY(work().ground()->mesh.links.size() >= drawn);
    undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY(found().empty());
  }
  void refusedStaysRefusedUntilAllowed() {
    drive_->goTo(Stop::links);
    find(true);
    choose(QStringLiteral("found drop"));
    const nav::Link chosen = *chosenFound(work());
    const std::size_t before = found().size();
    click(QStringLiteral("Refuse"));
    QCOMPARE(found().size(), before - 1);
    QCOMPARE(project().links->refused.size(), std::size_t{1});
    // Through another build as well, whatever numbers it gives.
    find(false);
    find(true);
    QCOMPARE(found().size(), before - 1);
    for (const nav::Link& l : found()) QVERIFY(glm::distance(l.from, chosen.from) > 0.05 || glm::distance(l.to, chosen.to) > 0.05);
    choose(QStringLiteral("refused drop"));
    click(QStringLiteral("Allow again"));
    QCOMPARE(found().size(), before);
  }
  void keptIsDrawnAndNothingIsThereTwice() {
    drive_->goTo(Stop::links);
    find(true);
    const std::size_t before = found().size(), drawn = project().links->links.size(), all = work().ground()->mesh.links.size();
    choose(QStringLiteral("found drop"));
    const nav::Link chosen = *chosenFound(work());
    click(QStringLiteral("Keep as drawn"));
    QCOMPARE(project().links->links.size(), drawn + 1);
    QCOMPARE(found().size(), before - 1);
    QCOMPARE(work().ground()->mesh.links.size(), all);
    const links::HandLink* kept = chosenLink(work());
    QVERIFY(kept);
    QCOMPARE(kept->fromHalf, chosen.fromHalf);
    QCOMPARE(kept->oneWay, true);
    // It is there without any finding too, as wide.
    find(false);
    const auto& links = work().ground()->mesh.links;
    const auto tied = std::ranges::find(links, kept->id, &nav::Link::id);
    QVERIFY(tied != links.end());
    QVERIFY(std::abs(tied->width() - chosen.width()) < 1e-9);
    undo(), undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(project().links->links.size(), drawn);
  }
  void theNextLinkIsNotTheChosenOne() {
    drive_->goTo(Stop::links);
    choose(QStringLiteral("jump 1"));
    auto* next = sheet().findChild<QComboBox*>(QStringLiteral("nextKind"));
    QVERIFY(next);
    next->setFocus();
    QTest::keyClick(next, Qt::Key_Down);
    QCOMPARE(next->currentIndex(), static_cast<int>(nav::LinkKind::drop));
    QCOMPARE(chosenLink(work())->kind, nav::LinkKind::jump);
    auto* chosen = sheet().findChild<QComboBox*>(QStringLiteral("chosenKind"));
    chosen->setFocus();
    QTest::keyClick(chosen, Qt::Key_End);
    QCOMPARE(chosenLink(work())->kind, nav::LinkKind::teleport);
    QCOMPARE(next->currentIndex(), static_cast<int>(nav::LinkKind::drop));
  }
  void aDropGoesDown() {
    drive_->goTo(Stop::links);
    choose(QStringLiteral("drop 2"));
    QVERIFY(!links::withId(work().ground()->broken, 2));
    click(QStringLiteral("Turn round"));
    const links::Broken* broken = links::withId(work().ground()->broken, 2);
    QVERIFY(broken && broken->why.find("a drop goes down") != std::string::npos);
    click(QStringLiteral("Turn round"));
    QVERIFY(!links::withId(work().ground()->broken, 2));
  }
  void aPathTakesWhatWasFound() {
    drive_->goTo(Stop::links);
    find(true);
    route::Search search(*work().ground()->field);
    bool taken = false;
    for (const nav::Link& l : found()) {
      const auto answer = route::findPath(*work().ground()->field, search, l.from, l.to);
      QCOMPARE(answer.status, route::PathStatus::complete);
      taken = taken || std::ranges::count(answer.links, l.id, &route::LinkUse::id) > 0;
    }
    QVERIFY(taken);
  }
};

QTEST_MAIN(TestLinksStop)
#include "links_stop.moc"
