// How one begins, and finds one's way: the first page, examples, projects of late, commands by name, keys, the tour, the guide.

#include <QAction>
#include <QFile>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QRegularExpression>
#include <QTextBrowser>
#include <QToolButton>
#include <QTreeWidget>

#include "demo/examples.h"
#include "tests/window/demo_window.h"
#include "window/help/command_finder.h"
#include "window/help/guide.h"
#include "window/help/tour.h"
#include "window/start/start_page.h"

using namespace dune;
using namespace dune::window;

class TestBegin : public DemoWindow {
  Q_OBJECT

  QToolButton* card(const QString& name) {
    for (QToolButton* b : window_->startPage().findChildren<QToolButton*>())
      if (b->accessibleName() == name) return b;
    return nullptr;
  }
  void press(const QString& text) {
    for (QPushButton* b : window_->startPage().findChildren<QPushButton*>())
      if (b->text() == text) return QTest::mouseClick(b, Qt::LeftButton), QTest::qWait(1), void();
    QFAIL(qPrintable(text));
  }
  void startAnew() {
    work().document().markSaved();
    work().startNew();
    QTest::qWait(1);
  }
  QAction* action(const QString& text) {
    for (QAction* a : window_->findChildren<QAction*>())
      if (a->text() == text) return a;
    return nullptr;
  }
  CommandFinder* find(const QString& typed) {
    toFront();
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    auto* finder = window_->findChild<CommandFinder*>();
    if (finder) QTest::keyClicks(finder->line(), typed);
    return finder;
  }
  /// What the first row of the finder says.
  static QString first(const CommandFinder& finder) { return finder.rows()->topLevelItem(0)->text(0); }
  static void enter(CommandFinder& finder) {
    QTest::keyClick(finder.line(), Qt::Key_Return);
    QTest::qWait(20);
  }

 private slots:
  void theFirstPageStandsWhereNothingIs() {
    QVERIFY(!window_->startPage().isVisible());
    startAnew();
    QVERIFY(window_->startPage().isVisible());
    QCOMPARE(window_->startPage().size(), window_->world().size());
    window_->resize(1024, 700);
    QTest::qWait(20);
    QCOMPARE(window_->startPage().size(), window_->world().size());
    QVERIFY(window_->hintText().startsWith(QStringLiteral("Nothing is here yet")));
    for (const demo::Example& e : demo::examples()) {
      QToolButton* b = card(QString::fromLatin1(e.name));
      QVERIFY(b && b->isVisible());
      QVERIFY(!b->icon().pixmap(b->iconSize()).isNull());
      QVERIFY(window_->startPage().viewport()->rect().contains(QRect(b->mapTo(window_->startPage().viewport(), QPoint()), b->size())));
    }
  }
  void everyExampleOpensAndIsBuilt() {
    for (const demo::Example& e : demo::examples()) {
      startAnew();
      QTest::mouseClick(card(QString::fromLatin1(e.name)), Qt::LeftButton);
      QVERIFY(drive_->waitForGround());
      QVERIFY(!window_->startPage().isVisible());
      QVERIFY(work().ground()->area > 100);
      QVERIFY(work().file().path().isEmpty());  // it is nobody's until it is saved
      QVERIFY(!work().document().modified());
    }
    // Saved, it is a project like any other.
    const QString path = folder_.filePath(QStringLiteral("mine.dunestep"));
    answerNext<QFileDialog>([&](QFileDialog& dialog) { chooseFile(dialog, path); });
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(becomes([&] { return QFileInfo::exists(path); }));
    startAnew();
    QVERIFY(window_->openProject(path));
    QVERIFY(drive_->waitForGround());
  }
  void projectsOfLateAreThereAsPictures() {
    const QString path = work().file().path();
    startAnew();
    QToolButton* b = card(QFileInfo(path).completeBaseName());
    QVERIFY(b && b->isVisible());
    QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().file().path(), path);
    // One that is gone from the disk is left out.
    QVERIFY(QFile::remove(path));
    startAnew();
    QVERIFY(!card(QFileInfo(path).completeBaseName()));
  }
  void floorsAreDrawnWithoutAFile() {
    startAnew();
    press(QStringLiteral("Draw floors by hand"));
    QVERIFY(becomes([&] { return !window_->startPage().isVisible(); }));
    QVERIFY(window_->gestures().tool() && window_->gestures().tool()->aims());
    const Vec3 corners[] = {{-4, 0, -4}, {4, 0, -4}, {4, 0, 4}, {-4, 0, 4}};
    for (const Vec3& c : corners) drive_->click(c);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->area > 30);
  }

  void commandsAreFoundByName() {
    CommandFinder* finder = find(QStringLiteral("whole lev"));
    QVERIFY(finder);
    QCOMPARE(first(*finder), QStringLiteral("Show the whole level"));
    const Vec3 before = window_->world().camera().target();
    window_->world().camera().lookAt({1, 2, 3}, 5);
    enter(*finder);
    QVERIFY(glm::distance(window_->world().camera().target(), before) < 20 && window_->world().camera().distance() > 20);
    // A button of a page that is not open.
    finder = find(QStringLiteral("two places"));
    QVERIFY(finder);
    enter(*finder);
    QCOMPARE(window_->stop(), static_cast<int>(Stop::mesh));
    QVERIFY(drive_->button(Stop::mesh, QStringLiteral("Two places"))->isChecked());
    // A number gets the keys.
    finder = find(QStringLiteral("radius"));
    QVERIFY(finder);
    QCOMPARE(first(*finder), QStringLiteral("Radius"));
    enter(*finder);
    QCOMPARE(window_->stop(), static_cast<int>(Stop::agents));
    QVERIFY(field(Stop::agents, QStringLiteral("Radius"))->spin()->hasFocus());
    finder = find(QStringLiteral("no such thing"));
    QVERIFY(finder);
    QCOMPARE(finder->rows()->topLevelItemCount(), 1);
    enter(*finder);  // does nothing
    QVERIFY(finder->isVisible());
    QTest::keyClick(finder, Qt::Key_Escape);
    QTest::qWait(20);
    QVERIFY(!window_->findChild<CommandFinder*>());
  }
  void everyCommandHasANameAndSomeAreNotOffered() {
    const auto all = window_->commands();
    QVERIFY(all.size() > 80);
    for (const Command& c : all) QVERIFY2(!c.name.isEmpty() && !c.where.isEmpty() && c.run, qPrintable(c.name + c.where));
    const auto has = [&](const QString& name) {
      return std::ranges::any_of(window_->commands(), [&](const Command& c) { return c.name == name; });
    };
    QVERIFY(!has(QStringLiteral("Undo")));
    work().change(QStringLiteral("Rename"),
                  [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.seconds = 9; }); });
    QTest::qWait(1);
    QVERIFY(has(QStringLiteral("Undo Rename")));
  }
  void fitsAreRanked() {
    const Command c{QStringLiteral("Build mesh"), QStringLiteral("Work"), {}, {}};
    QCOMPARE(fitOf(c, QStringLiteral("bui")), 0);
    QCOMPARE(fitOf(c, QStringLiteral("MESH")), 1);
    QCOMPARE(fitOf(c, QStringLiteral("uild")), 2);
    QCOMPARE(fitOf(c, QStringLiteral("work mesh")), 3);
    QCOMPARE(fitOf(c, QStringLiteral("work meshes")), -1);
  }
  void allKeysAreListedOnce() {
    action(QStringLiteral("All keys…"))->trigger();
    auto* list = window_->findChild<CommandFinder*>();
    QVERIFY(list);
    std::set<QString> keys;
    for (int i = 0; i < list->rows()->topLevelItemCount(); ++i) {
      const QTreeWidgetItem* row = list->rows()->topLevelItem(i);
      QVERIFY2(!row->text(2).isEmpty(), qPrintable(row->text(0)));
      if (row->text(1) != QStringLiteral("World")) QVERIFY2(keys.insert(row->text(2)).second, qPrintable(row->text(2)));
    }
    QVERIFY(keys.contains(QStringLiteral("F4")) && keys.contains(QStringLiteral("Ctrl+K")));
    list->close();
    // No tip promises a key that is not there.
    const QRegularExpression key(QStringLiteral("\\b(Ctrl\\+(?:Shift\\+)?\\S|Shift\\+F\\d+|F\\d+|Delete|Home)\\b"));
    int promised = 0;
    for (const QWidget* w : window_->findChildren<QWidget*>())
      for (auto found = key.globalMatch(w->toolTip()); found.hasNext(); ++promised) {
        const QString name = found.next().captured(1);
        QVERIFY2(keys.contains(name == QStringLiteral("Delete") ? QStringLiteral("Del") : name), qPrintable(w->toolTip()));
      }
    QVERIFY(promised > 5);
  }
  void theTourShowsEveryPartAndLocksNothing() {
    action(QStringLiteral("Tour of the window"))->trigger();
    auto* tour = window_->findChild<Tour*>();
    QVERIFY(tour && tour->isVisible());
    for (int i = 0; i < tour->steps(); ++i) {
      QCOMPARE(tour->step(), i);
      QVERIFY(window_->rect().contains(tour->geometry()));
      for (QPushButton* b : tour->findChildren<QPushButton*>())
        if (i + 1 < tour->steps() && b->text() == QStringLiteral("Next")) {
          QTest::mouseClick(b, Qt::LeftButton);
          break;
        }
    }
    drive_->goTo(Stop::routes);
    QCOMPARE(window_->stop(), static_cast<int>(Stop::routes));
    tour->setFocus();
    QTest::keyClick(tour, Qt::Key_Escape);
    QTest::qWait(20);
    QVERIFY(!window_->findChild<Tour*>());
  }
  void theGuideIsInTheProgram() {
    action(QStringLiteral("Guide…"))->trigger();
    auto* guide = window_->findChild<Guide*>();
    QVERIFY(guide);
    const auto* pages = guide->findChild<QTextBrowser*>();
    QVERIFY(pages->toPlainText().contains(QStringLiteral("Routes")));
    QVERIFY(pages->toPlainText().size() > 4000);
    // Every picture that it names is there; they take their room at once, and come.
    QFile text(QStringLiteral(":/guide/guide.md"));
    QVERIFY(text.open(QIODevice::ReadOnly));
    QRegularExpressionMatchIterator named =
        QRegularExpression(QStringLiteral("!\\[[^\\]]*\\]\\(([^)]+)\\)")).globalMatch(QString::fromUtf8(text.readAll()));
    QVERIFY(named.hasNext());
    while (named.hasNext()) {
      const QString name = named.next().captured(1);
      QVERIFY2(QFile::exists(QStringLiteral(":/guide/") + name), qPrintable(name));
    }
    const QUrl level(QStringLiteral("screenshots/level.png"));
    const auto picture = [&] { return pages->document()->resource(QTextDocument::ImageResource, level).value<QImage>(); };
    const auto colours = [&] {
      std::set<QRgb> seen;
      const QImage image = picture();
      for (int x = 0; x < image.width(); x += 7) seen.insert(image.pixel(x, image.height() / 2));
      return seen.size();
    };
    const QSize room = picture().size();
    QVERIFY(room.width() > 300 && room.height() > 200);
    QVERIFY(becomes([&] { return colours() > 5; }));
    QCOMPARE(picture().size(), room);
    guide->close();
  }
};

QTEST_MAIN(TestBegin)
#include "begin.moc"
