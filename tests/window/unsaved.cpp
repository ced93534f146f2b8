// Nothing is lost: work that was not saved is kept aside, and offered by the next program; a window that is killed at any moment loses no
// more than the last seconds; two windows on one file know of each other.

#include <signal.h>

#include <QElapsedTimer>
#include <QProcess>
#include <QPushButton>
#include <iostream>
#include <random>

#include "core/base/file.h"
#include "tests/window/demo_window.h"

using namespace dune;
using namespace dune::window;

namespace {

constexpr int kEveryMs = 15;
constexpr double kMayLose = 5;  // s

qint64 now() { return QDateTime::currentMSecsSinceEpoch(); }

/// The window of a program of its own, in which somebody works without a break, until it is killed: says each edit and when it was made.
int workUntilKilled(const QString& project) {
  MainWindow window;
  window.workspace().setAutoBuild(false);
  window.show();
  if (!window.openProject(project)) return 1;
  int edits = 0;
  QTimer timer;
  QObject::connect(&timer, &QTimer::timeout, &window, [&] {
    ++edits;
    window.workspace().change(QStringLiteral("Edit"), [&](project::Project& p) {
      project::edit(p.places, [&](project::PlacesSection& s) { s.places = {{edits, "edit " + std::to_string(edits), {0, 0, 0}}}; });
    });
    std::cout << edits << ' ' << now() << std::endl;
  });
  timer.start(kEveryMs);
  return QApplication::exec();
}

}  // namespace

class TestUnsaved : public DemoWindow {
  Q_OBJECT

  static void edit(Workspace& work, const char* name) {
    work.change(QStringLiteral("Edit"), [&](project::Project& p) {
      project::edit(p.places, [&](project::PlacesSection& s) { s.places.push_back({project::nextId(s.places), name, {0, 0, 0}}); });
    });
  }
  static bool keptAside() {
    return becomes([] { return !QDir(UnsavedWork::folder()).entryList({QStringLiteral("*.unsaved")}, QDir::Files).isEmpty(); });
  }
  static QStringList files() { return QDir(UnsavedWork::folder()).entryList({QStringLiteral("*.unsaved")}, QDir::Files); }
  /// What a window keeps aside, as if its program had been killed.
  QString leaveBehind(const char* name, bool saved = true) {
    project::Unsaved unsaved{saved ? work().file().path().toStdString() : std::string(), saved ? work().file().stamp() : std::string(),
                             now(), project()};
    project::edit(unsaved.project.places, [&](project::PlacesSection& s) { s.places.push_back({77, name, {0, 0, 0}}); });
    QDir().mkpath(UnsavedWork::folder());
    const QString path = UnsavedWork::folder() + QLatin1Char('/') + QString::fromLatin1(name) + QStringLiteral(".unsaved");
    return writeFile(path.toStdString(), project::unsavedToJson(unsaved)) ? path : QString();
  }
  bool has(const char* name) { return std::ranges::count(project().places->places, std::string(name), &project::NamedPlace::name) > 0; }
  QPushButton* startButton(const QString& name) {
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->accessibleName() == name && b->isVisible()) return b;
    return nullptr;
  }

  QTemporaryDir state_;

 private slots:
  void initTestCase() { qputenv("XDG_STATE_HOME", state_.path().toLocal8Bit()); }
  void cleanup() {
    drive_.reset(), window_.reset();
    for (const QString& f : files()) QFile::remove(UnsavedWork::folder() + QLatin1Char('/') + f);
  }

  void itIsKeptWhileItIsNotSaved() {
    QVERIFY(files().isEmpty());
    edit(work(), "one");
    QVERIFY(keptAside());
    QCOMPARE(files().size(), 1);
    // Its own window does not take it for left behind.
    QVERIFY(UnsavedWork::left().empty());
    QVERIFY(!work().save(work().file().path()));
    QVERIFY(becomes([] { return files().isEmpty(); }));
    edit(work(), "two");
    QVERIFY(keptAside());
    const auto kept = UnsavedWork::read(UnsavedWork::folder() + QLatin1Char('/') + files()[0]);
    QVERIFY(kept && kept->project.same(project()));
    // Undone it is as it was saved.
    work().document().undo();
    QVERIFY(becomes([] { return files().isEmpty(); }));
    edit(work(), "three");
    QVERIFY(keptAside());
    window_.reset();  // set aside by a person
    QVERIFY(files().isEmpty());
  }
  void theStartOffersIt() {
    const QString id = leaveBehind("left");
    const QString never = leaveBehind("never", false);
    const QString file = work().file().path();
    work().startNew();
    QTest::qWait(50);
    QPushButton* on = startButton(QStringLiteral("Go on with %1").arg(QFileInfo(file).completeBaseName()));
    QVERIFY(on && startButton(QStringLiteral("Go on with Untitled")));
    QTest::mouseClick(on, Qt::LeftButton);
    QVERIFY(has("left"));
    QVERIFY(work().document().modified() && work().file().path() == file);
    // What is kept aside from now on takes its place once it is written, and undo leads back to the file.
    QVERIFY(becomes([&] { return !QFileInfo::exists(id); }));
    QVERIFY(files().size() == 2 && QFileInfo::exists(never));
    work().document().undo();
    QVERIFY(!has("left") && !work().document().modified());
    work().startNew();
    QTest::qWait(50);
    QTest::mouseClick(startButton(QStringLiteral("Throw away what was not saved of Untitled")), Qt::LeftButton);
    QVERIFY(!QFileInfo::exists(never));
    QTest::qWait(50);
    QVERIFY(!startButton(QStringLiteral("Go on with Untitled")));
  }
  void openingItsProjectOffersItToo() {
    const QString file = work().file().path();
    const QString id = leaveBehind("left");
    const auto press = [&](const QString& text) {
      answerNext<QMessageBox>([=](QMessageBox& box) {
        for (QAbstractButton* b : box.buttons())
          if (b->text() == text) return QTest::mouseClick(b, Qt::LeftButton);
      });
    };
    press(QStringLiteral("Open the file as it is"));
    QVERIFY(window_->openProject(file));
    QVERIFY(!has("left") && QFileInfo::exists(id));
    press(QStringLiteral("Go on with it"));
    QVERIFY(window_->openProject(file));
    QVERIFY(has("left") && becomes([&] { return !QFileInfo::exists(id); }) && files().size() == 1);
  }
  void brokenLeftOversAreNothing() {
    QDir().mkpath(UnsavedWork::folder());
    QVERIFY(writeFile((UnsavedWork::folder() + QStringLiteral("/x.unsaved")).toStdString(), "{\"format\":").ok());
    QVERIFY(UnsavedWork::left().empty());
    QVERIFY(window_->openProject(work().file().path()));
  }
  void aFolderThatCannotBeWrittenIsSaid() {
    qputenv("XDG_STATE_HOME", "/proc/nowhere");
    edit(work(), "one");
    QVERIFY(becomes([&] { return window_->readoutText().contains(QStringLiteral("save often")); }));
    qputenv("XDG_STATE_HOME", state_.path().toLocal8Bit());
  }
  void savingThatFailsLosesNothing() {
    edit(work(), "one");
    QVERIFY(keptAside());
    const QString gone = folder_.filePath(QStringLiteral("gone/there.dunestep"));
    QVERIFY(work().save(gone).has_value());
    QVERIFY(work().document().modified() && has("one") && files().size() == 1);
    QVERIFY(work().save(QStringLiteral("/proc/none.dunestep")).has_value());
    QVERIFY(work().document().modified() && has("one") && files().size() == 1);
  }
  void twoWindowsOnOneFileKnowOfEachOther() {
    const QString file = work().file().path();
    QVERIFY(!work().file().openElsewhere());
    work().startNew();
    QProcess first;
    first.start(QCoreApplication::applicationFilePath(), {QStringLiteral("--work"), file});
    QVERIFY(becomes([&] { return first.bytesAvailable() > 0; }));
    answerNext<QMessageBox>([](QMessageBox& box) { QTest::mouseClick(box.buttons().last(), Qt::LeftButton); });
    QVERIFY(window_->openProject(file));
    QVERIFY(work().file().openElsewhere());
    first.kill();
    first.waitForFinished();
  }
  /// Five times in the suite; DUNE_MANY_KILLS says how often else.
  void aKillLosesNoMoreThanTheLastSeconds() {
    const QString file = work().file().path();
    window_.reset();
    const int kills = qEnvironmentVariableIsSet("DUNE_MANY_KILLS") ? qEnvironmentVariableIntValue("DUNE_MANY_KILLS") : 5;
    std::mt19937 random(11);
    double worst = 0;
    for (int i = 0; i < kills; ++i) {
      QProcess process;
      process.start(QCoreApplication::applicationFilePath(), {QStringLiteral("--work"), file});
      QVERIFY(becomes([&] { return process.bytesAvailable() > 0; }));
      QTest::qWait(static_cast<int>(random() % 3500));
      const qint64 killed = now();
      process.kill();
      process.waitForFinished();
      // Edits by number and when they were made.
      std::map<int, qint64> made;
      for (const QByteArray& line : process.readAllStandardOutput().split('\n'))
        if (const auto words = line.split(' '); words.size() == 2) made[words[0].toInt()] = words[1].toLongLong();
      const auto left = UnsavedWork::left();
      int kept = 0;
      if (!left.empty()) {
        QCOMPARE(left.size(), std::size_t{1});
        const auto unsaved = UnsavedWork::read(left[0].id);
        QVERIFY(unsaved.ok() && unsaved->project.places->places.size() == 1);
        kept = unsaved->project.places->places[0].id;
        UnsavedWork::forget(left[0].id);
      }
      const auto lost = made.upper_bound(kept);  // the first edit that is not in it
      if (lost != made.end()) worst = std::max(worst, static_cast<double>(killed - lost->second) / 1000);
      QVERIFY2(worst < kMayLose, qPrintable(QString::number(worst)));
    }
    qInfo("killed %d times: at most %.2f s of work were lost", kills, worst);
  }
};

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QCoreApplication::setOrganizationName(QStringLiteral("dune-step-test"));
  if (argc > 2 && QLatin1String(argv[1]) == QLatin1String("--work")) return workUntilKilled(QString::fromLocal8Bit(argv[2]));
  TestUnsaved test;
  return QTest::qExec(&test, argc, argv);
}
#include "unsaved.moc"
