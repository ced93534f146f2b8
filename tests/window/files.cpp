// The File menu with its dialogs, what is dropped on the window, and what happens to work that is not saved.

#include <QMenu>
#include <QMenuBar>
#include <QMimeData>
#include <QProcess>
#include <clocale>

#include "core/meshes/mesh_files.h"
#include "core/pipeline/content.h"
#include "tests/window/demo_window.h"
#include "window/stops/crowd/crowd_sheet.h"
#include "window/stops/level/level_sheet.h"

using namespace dune;
using namespace dune::window;

class TestFiles : public DemoWindow {
  Q_OBJECT

  using Button = QMessageBox::StandardButton;

  void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::ControlModifier) {
    toFront(), QTest::keyClick(window_.get(), key, modifiers), QTest::qWait(1);
  }
  QString write(const QString& name, const std::string& content) {
    const QString path = folder_.filePath(name);
    return writeFile(path.toStdString(), content).ok() ? path : QString();
  }
  QString square(const QString& name, const char* object = "floor") {
    return write(name, std::string("o ") + object + "\nv 0 0 0\nv 0 0 6\nv 6 0 6\nv 6 0 0\nf 1 2 3 4\n");
  }
  void change() {
    work().change("Duration", [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.seconds += 1; }); });
  }
  QAction* action(const QString& menu, const QString& text) {
    for (QAction* top : window_->menuBar()->actions())
      if (top->text().remove('&') == menu)
        for (QAction* a : top->menu()->actions())
          if (a->text().remove('&') == text) return a;
    return nullptr;
  }
  void drop(const QString& path) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path)});
    QDragEnterEvent enter(QPoint(400, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window_.get(), &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent dropped(QPointF(400, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window_.get(), &dropped);
  }

 private slots:
  void savingElsewhereAddsTheEndingAndIsRemembered() {
    change();
    const QString path = folder_.filePath(QStringLiteral("other"));
    answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, path); });
    key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(work().file().path(), path + QStringLiteral(".dunestep"));
    QVERIFY(QFile::exists(work().file().path()));
    QVERIFY(!work().document().modified());
    QVERIFY(window_->readoutText().contains(QStringLiteral("other.dunestep")));
    // It stands first among those that were open last.
    QMenu* recent = action(QStringLiteral("File"), QStringLiteral("Recent projects"))->menu();
    emit recent->aboutToShow();
    QVERIFY(recent->actions().size() >= 2 && recent->actions()[0]->text().startsWith(QStringLiteral("other")));
    const double seconds = project().crowd->seconds;
    recent->actions()[1]->trigger();
    QVERIFY(work().file().path().endsWith(QStringLiteral("saltwind-depot.dunestep")));
    QVERIFY(project().crowd->seconds != seconds);
    QVERIFY(drive_->waitForGround());
  }
  void aSaveThatIsGivenUpSavesNothing() {
    change();
    const QString before = work().file().path();
    answerNext<QFileDialog>([](QFileDialog& d) { QTest::keyClick(&d, Qt::Key_Escape); });
    key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(work().document().modified());
    QCOMPARE(work().file().path(), before);
  }
  void whereNothingCanBeWrittenItIsSaidAndNothingIsLost() {
    QVERIFY(QDir(folder_.path()).mkdir(QStringLiteral("gone")));
    QVERIFY(!work().save(folder_.filePath(QStringLiteral("gone/x.dunestep"))));
    QVERIFY(QDir(folder_.filePath(QStringLiteral("gone"))).removeRecursively());
    change();
    const auto seconds = project().crowd->seconds;
    QString said;
    answerNext<QMessageBox>([&](QMessageBox& box) { said = box.text(), pressIn(box, QMessageBox::Ok); });
    key(Qt::Key_S);
    QVERIFY2(said.contains(QStringLiteral("x.dunestep")), qPrintable(said));
    QVERIFY(work().document().modified() && project().crowd->seconds == seconds);
  }
  void openingAsksForTheFile() {
    const std::string first = project::toJson(project());
    const QString second = folder_.filePath(QStringLiteral("second.dunestep"));
    project::Project p = project();
    project::edit(p.crowd, [](project::CrowdSection& s) { s.groups.clear(); });
    QVERIFY(project::save(second.toStdString(), p).ok());
    answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, second); });
    key(Qt::Key_O);
    QVERIFY(project().crowd->groups.empty());
    QVERIFY(drive_->waitForGround());
  }
  void aBrokenProjectIsSaidAndTheOpenOneStays() {
    const QString broken = write(QStringLiteral("broken.dunestep"), "{\"dune step\": ");
    const std::string before = project::toJson(project());
    QString said;
    answerNext<QFileDialog>([&](QFileDialog& d) {
      answerNext<QMessageBox>([&](QMessageBox& box) { said = box.text(), pressIn(box, QMessageBox::Ok); });
      chooseFile(d, broken);
    });
    key(Qt::Key_O);
    QVERIFY2(said.contains(QStringLiteral("broken.dunestep")), qPrintable(said));
    QCOMPARE(project::toJson(project()), before);
    QVERIFY(work().groundFresh());
  }
  void workThatIsNotSavedIsAskedAbout() {
    change();
    const auto seconds = project().crowd->seconds;
    answerNext<QMessageBox>([](QMessageBox& box) { pressIn(box, QMessageBox::Cancel); });
    key(Qt::Key_N);
    QCOMPARE(project().crowd->seconds, seconds);
    QVERIFY(!project().level->files.empty());
    answerNext<QMessageBox>([](QMessageBox& box) { pressIn(box, QMessageBox::Save); });
    key(Qt::Key_N);
    QVERIFY(project().level->files.empty() && work().file().path().isEmpty());
    const auto saved = project::load(folder_.filePath(QStringLiteral("saltwind-depot.dunestep")).toStdString());
    QVERIFY(saved.ok() && saved->crowd->seconds == seconds);
    change();
    answerNext<QMessageBox>([](QMessageBox& box) { pressIn(box, QMessageBox::Discard); });
    key(Qt::Key_N);
    QVERIFY(!work().document().modified());
  }
  void closingAsksToo() {
    change();
    answerNext<QMessageBox>([](QMessageBox& box) { pressIn(box, QMessageBox::Cancel); });
    QVERIFY(!window_->close());
    QVERIFY(window_->isVisible());
    answerNext<QMessageBox>([](QMessageBox& box) { pressIn(box, QMessageBox::Discard); });
    QVERIFY(window_->close());
  }
  void levelsAreOpenedInPlaceOfOthersOrBesideThem() {
    const QString more = square(QStringLiteral("more.obj"));
    answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, more); });
    action(QStringLiteral("File"), QStringLiteral("Add level file…"))->trigger();
    QVERIFY(becomes([&] { return work().level()->files.size() == 2; }));
    QCOMPARE(work().level()->level->objects.back().name, std::string("more/floor"));
    QVERIFY(drive_->waitForGround());
    // Its own buttons take it out again.
    drive_->goTo(Stop::level);
    auto& page = *sheet<LevelSheet>(Stop::level).objects();
    for (QComboBox* box : page.findChildren<QComboBox*>())
      if (box->count() == 2 && box->itemText(1).contains(QStringLiteral("more.obj"))) box->setFocus(), QTest::keyClick(box, Qt::Key_Down);
    for (QPushButton* b : page.findChildren<QPushButton*>())
      if (b->text() == QStringLiteral("Remove") && b->toolTip().contains(QStringLiteral("file"))) QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(becomes([&] { return work().level()->files.size() == 1; }));
    QVERIFY(project().level->files[0].path.find("depot") != std::string::npos);
    answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, more); });
    key(Qt::Key_L);
    QVERIFY(becomes([&] { return work().level()->level->objects.size() == 1 && !work().building(); }));
    QCOMPARE(work().level()->level->objects[0].name, std::string("floor"));
  }
  void droppedFilesAreOpened() {
    drop(square(QStringLiteral("dropped.obj"), "yard"));
    QVERIFY(becomes([&] { return work().level() && work().level()->level->objects[0].name == "yard" && !work().building(); }));
    work().document().markSaved();
    const QString project = writeDemo(folder_);
    drop(project);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().file().path(), project);
  }
  void theMeshIsExportedAsItIs() {
    for (const char* name : {"out.dsmesh", "out.json", "out.obj", "out.glb"}) {
      const QString path = folder_.filePath(QString::fromLatin1(name)),
                    expected = folder_.filePath(QStringLiteral("expected.") + QFileInfo(path).suffix());
      answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, path); });
      key(Qt::Key_E);
      QVERIFY2(window_->readoutText().contains(QString::fromLatin1(name)), qPrintable(window_->readoutText()));
      QVERIFY(meshes::writeMesh(expected.toStdString(), pipeline::contentOf(*work().ground())).ok());
      QCOMPARE(*readFile(path.toStdString()), *readFile(expected.toStdString()));
    }
    // An ending that is none of ours is refused.
    answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, folder_.filePath(QStringLiteral("out.xyz"))); });
    key(Qt::Key_E);
    QVERIFY(!QFile::exists(folder_.filePath(QStringLiteral("out.xyz"))));
    QVERIFY2(window_->readoutText().contains(QStringLiteral("out.xyz")), qPrintable(window_->readoutText()));
  }
  void filesHavePointsWhereTheDesktopHasCommas() {
    QProcess make;
    make.start(QStringLiteral("localedef"), {"-i", "de_DE", "-f", "UTF-8", folder_.filePath(QStringLiteral("de_DE.UTF-8"))});
    QVERIFY2(make.waitForFinished(600000) && QFileInfo::exists(folder_.filePath(QStringLiteral("de_DE.UTF-8"))), "localedef is needed");
    // Into another folder each time, or the dialog asks about the file that is there.
    const auto written = [&](const char* name, const char* into) {
      QDir(folder_.path()).mkpath(QString::fromLatin1(into));
      const QString path = folder_.filePath(QString::fromLatin1(into)) + QLatin1Char('/') + QString::fromLatin1(name);
      answerNext<QFileDialog>([&](QFileDialog& d) { chooseFile(d, path); });
      if (path.endsWith(QStringLiteral("csv")))
        drive_->press(Stop::review, QStringLiteral("Save…"));
      else
        key(path.endsWith(QStringLiteral("dunestep")) ? Qt::Key_S : Qt::Key_E,
            path.endsWith(QStringLiteral("dunestep")) ? Qt::ControlModifier | Qt::ShiftModifier : Qt::ControlModifier);
      return *readFile(path.toStdString());
    };
    work().change("Short", [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.seconds = 1; }); });
    work().runCrowd();
    QVERIFY(drive_->waitForRun());
    drive_->goTo(Stop::review);
    std::map<std::string, std::string> files;
    const char* names[] = {"out.obj", "out.json", "out.csv", "out.dunestep"};
    for (const char* name : names) files[name] = written(name, "points");
    qputenv("LOCPATH", folder_.path().toLocal8Bit());
    QVERIFY(std::setlocale(LC_ALL, "de_DE.UTF-8"));
    QLocale::setDefault(QLocale(QLocale::German, QLocale::Germany));
    char comma[8];
    std::snprintf(comma, sizeof comma, "%.1f", 1.5);
    QCOMPARE(std::string(comma), std::string("1,5"));  // so that the rest can fail
    for (const char* name : names) {
      QVERIFY2(!files[name].empty(), name);
      QVERIFY2(written(name, "commas") == files[name], name);
    }
    std::setlocale(LC_ALL, "C");
    QLocale::setDefault(QLocale::c());
  }
  void readingAgainIsOneKey() {
    const QString path = square(QStringLiteral("grows.obj"));
    work().openLevel(path);
    QVERIFY(becomes([&] { return work().level()->level->objects.size() == 1 && !work().building(); }));
    write(QStringLiteral("grows.obj"), *readFile(path.toStdString()) + "o post\nv 2 0 2\nv 3 0 2\nv 3 2 2\nf 5 6 7\n");
    key(Qt::Key_F5, {});
    QVERIFY(becomes([&] { return work().level()->level->objects.size() == 2 && !work().building(); }));
  }
  void theThemeIsChangedAndRemembered() {
    QVERIFY(!theme().dark);
    for (QAction* top : window_->menuBar()->actions())
      for (QAction* a : top->menu()->findChildren<QAction*>())
        if (a->text().contains(QStringLiteral("Dusk"))) a->trigger();
    QVERIFY(theme().dark);
    QCOMPARE(QSettings().value(QStringLiteral("theme")).toString(), QStringLiteral("dusk"));
    applyTheme(false);
  }
};

QTEST_MAIN(TestFiles)
#include "files.moc"
