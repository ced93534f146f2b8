// Movement that was recorded elsewhere, in the window; and a list of findings that one can master.

#include "core/base/polyline.h"
#include "tests/window/demo_window.h"
#include "window/findings/mute_dialog.h"
#include "window/stops/review/review_sheet.h"
#include "window/timeline/lanes.h"
#include "window/timeline/reel.h"
#include "window/widgets/reading_dialog.h"

using namespace dune;
using namespace dune::window;

class TestRecordings : public DemoWindow {
  Q_OBJECT

  /// A place along the way of the bodies, so many metres from its begin.
  Vec3 onWay(double metres) {
    if (way_.empty()) {
      route::Search search(*work().ground()->field);
      way_ = route::findPath(*work().ground()->field, search, {50, 0, 16}, {26, 0, 40}).points;
    }
    return placeAlong(way_, metres);
  }
  std::vector<Vec3> way_;

  /// Bodies that walk one behind the other from second 100 on; the second one stands for six seconds, the third jumps.
  QString recording() {
    std::string table = "Time;Agent;PosX;PosY;PosZ\n";
    for (int step = 0; step <= 200; ++step) {
      const double t = step * 0.1;
      const auto row = [&](int id, double metres) {
        const Vec3 p = onWay(metres);
        table += std::to_string(100 + t) + ";" + std::to_string(id) + ";" + std::to_string(p.x) + ";" + std::to_string(p.y) + ";" +
                 std::to_string(p.z) + "\n";
      };
      row(1, 9 + 0.9 * t);
      row(2, 5 + (t < 5 ? t : t < 11 ? 5 : t - 6) * 0.9);
      row(3, (t < 8 ? t : t + 4) * 0.2);
    }
    const QString path = folder_.filePath(QStringLiteral("shift.csv"));
    return writeFile(path.toStdString(), table) ? path : QString();
  }
  /// A list of findings in a window of its own.
  static bool showAlone(Ledger& ledger) {
    ledger.setOpen(true);
    ledger.resize(300, 700);
    ledger.show();
    ledger.refresh();
    return QTest::qWaitForWindowExposed(&ledger);
  }
  bool waitForRecording() {
    return becomes([&] { return work().run() && !work().run()->recording.empty() && !work().crowd().running(); });
  }

 private slots:
  void aRecordingIsOpenedFromTheSheet() {
    const QString path = recording();
    drive_->goTo(Stop::review);
    answerNext<QFileDialog>([&](QFileDialog& dialog) { chooseFile(dialog, path); });
    drive_->press(Stop::review, QStringLiteral("Open recording…"));
    QVERIFY(waitForRecording());
    QCOMPARE(window_->stop(), static_cast<int>(Stop::review));
    QCOMPARE(findingCount("stuck"), std::ptrdiff_t{1});
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{1});
    // It plays over its own time, which begins at 100 s.
    QVERIFY(window_->reel().isVisible());
    QCOMPARE(work().playback().time(), 100.0);
    chooseFinding("jumped");
    QVERIFY(std::abs(work().playback().time() - 108) < 0.2);
    QCOMPARE(work().playback().body(), 3);
    window_->reel().slider()->setValue(window_->reel().slider()->maximum() / 2);
    QVERIFY(std::abs(work().playback().time() - 110) < 0.2);
    // It is no run of the crowd.
    drive_->goTo(Stop::crowd);
    QVERIFY(!work().crowdRun());
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(becomes([&] { return work().crowdRun() && !work().crowd().running(); }));
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{0});
  }
  void onAnotherGroundItIsReviewedAgain() {
    window_->openTrace(recording());
    QVERIFY(waitForRecording());
    const auto ofTheFirst = [&] {
      return std::ranges::count_if(work().findings().all(), [](const KeptFinding& k) { return k.finding.agent == 1 && k.finding.timed(); });
    };
    QCOMPARE(ofTheFirst(), std::ptrdiff_t{0});
    const auto before = work().run();
    // A crate right in the way of the first one.
    work().change(QStringLiteral("Crate"), [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) {
        s.blockers.push_back({9, level::BlockerShape::box, onWay(15), {1, 1, 1}, 0, level::Role::obstacle, {}, {}});
      });
    });
    QVERIFY(becomes([&] { return work().run() != before && work().run() && !work().crowd().running() && work().runFresh(); }));
    QVERIFY(ofTheFirst() > 0);
  }
  void theGroundIsShadedByWhereTheyStood() {
    window_->openTrace(recording());
    QVERIFY(waitForRecording());
    // The second one stands for six seconds in one place; everybody is somewhere all the time.
    Job job;
    const auto stood = pipeline::heatOf(*work().run(), pipeline::Heat::stood, job),
               there = pipeline::heatOf(*work().run(), pipeline::Heat::there, job);
    double most = 0, all = 0;
    Vec3 at{};
    for (const pipeline::HeatCell& c : stood) {
      if (c.seconds <= most) continue;
      most = c.seconds, at = c.at;
    }
    QVERIFY(glm::distance(plan(at), plan(onWay(5 + 5 * 0.9))) < 0.6);
    for (const pipeline::HeatCell& c : there) all += c.seconds;
    QVERIFY2(std::abs(most - 6) < 0.5, qPrintable(QString::number(most)));
    QVERIFY2(std::abs(all - 60) < 0.5, qPrintable(QString::number(all)));
    auto& review = sheet<ReviewSheet>(Stop::review);
    QTest::qWait(1);
    const auto says = [&] {
      return std::ranges::any_of(review.findChildren<QLabel*>(), [](const QLabel* l) {
        return l->isVisibleTo(l->window()) && l->text().contains(QStringLiteral("Darkest: 6."));
      });
    };
    QVERIFY(!says());
    review.heatChoice()->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(review.heatChoice(), Qt::Key_Down);
    QVERIFY(becomes(says));
  }
  void anotherProjectHasNothingOfTheFilterNorOfWhatIsNew() {
    for (int run = 0; run < 2; ++run) {
      const auto before = work().run();
      window_->openTrace(recording());
      QVERIFY(becomes([&] { return work().run() != before && !work().crowd().running(); }));
    }
    Ledger& ledger = window_->ledger();
    ledger.setOpen(true);
    QTest::qWait(1);
    QVERIFY(ledger.onlyNew()->isVisible());
    ledger.onlyNew()->setChecked(true);
    QTest::keyClicks(ledger.filter(), QStringLiteral("nobody says this"));
    QCOMPARE(ledger.list()->count(), 0);
    // A recording that cannot be read is no run: what is new stays what it was.
    const QString path = folder_.filePath(QStringLiteral("no.csv"));
    QVERIFY(writeFile(path.toStdString(), "a,b\n1,2\n").ok());
    window_->openTrace(path);
    QVERIFY(becomes([&] { return window_->readoutText().contains(QStringLiteral("no.csv")); }));
    QVERIFY(std::ranges::none_of(work().findings().all(), &KeptFinding::isNew));
    work().document().markSaved();
    QVERIFY(window_->openProject(writeDemo(folder_)));
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ledger.onlyNew()->isVisible() && !ledger.onlyNew()->isChecked());
    QVERIFY(ledger.filter()->text().isEmpty());
    QVERIFY(ledger.list()->count() > 5);
  }
  void whatIsNoRecordingIsSaid() {
    const QString path = folder_.filePath(QStringLiteral("no.csv"));
    QVERIFY(writeFile(path.toStdString(), "a,b\n1,2\n").ok());
    window_->openTrace(path);
    QVERIFY(becomes([&] { return window_->readoutText().contains(QStringLiteral("no.csv")); }));
    QVERIFY(!work().run());
  }
  void columnsThatSayNothingAreAskedFor() {
    std::string table = "when;who;a;b;c\n";
    for (int step = 0; step <= 100; ++step) {
      const Vec3 p = onWay(2 + 0.09 * step);
      table += std::to_string(100 * step) + ";1;" + std::to_string(p.x * 100) + ";" + std::to_string(-p.z * 100) + ";" +
               std::to_string(p.y * 100) + "\n";
    }
    const QString path = folder_.filePath(QStringLiteral("odd.csv"));
    QVERIFY(writeFile(path.toStdString(), table).ok());
    answerNext<ReadingDialog>([](ReadingDialog& dialog) {
      QVERIFY(!dialog.readButton()->isEnabled());
      const std::pair<std::size_t, const char*> kColumns[] = {
          {trace::kT, "when"}, {trace::kId, "who"}, {trace::kX, "a"}, {trace::kY, "b"}, {trace::kZ, "c"}};
      for (const auto& [column, name] : kColumns) dialog.columnChoice(column)->setCurrentText(QString::fromLatin1(name));
      QVERIFY(dialog.readButton()->isEnabled());
      dialog.columnChoice(trace::kZ)->setCurrentText(QStringLiteral("a"));
      QVERIFY(!dialog.readButton()->isEnabled());  // twice the same
      dialog.columnChoice(trace::kZ)->setCurrentText(QStringLiteral("c"));
      QTest::mouseClick(dialog.readButton(), Qt::LeftButton);
    });
    window_->openTrace(path);
    QVERIFY(waitForRecording());
    // It is in other units: that is the only thing said of it, and one click puts it right.
    QCOMPARE(findingCount("recording-units"), std::ptrdiff_t{1});
    const auto ofMovement = [&] {
      return std::ranges::count_if(work().findings().all(), [](const KeptFinding& k) { return k.finding.timed(); });
    };
    QCOMPARE(ofMovement(), std::ptrdiff_t{0});
    Ledger& ledger = window_->ledger();
    ledger.setOpen(true);
    chooseFinding("recording-units");
    QTest::qWait(1);
    QVERIFY2(ledger.remedy()->text().contains(QStringLiteral("centimetres, Z up")), qPrintable(ledger.remedy()->text()));
    const auto before = work().run();
    QTest::mouseClick(ledger.remedy(), Qt::LeftButton);
    QVERIFY(becomes([&] { return work().run() != before && !work().crowd().running(); }));
    QCOMPARE(findingCount("recording-units"), std::ptrdiff_t{0});
    QCOMPARE(work().crowd().kept().size(), std::size_t{1});
    QVERIFY(glm::distance(work().run()->trace.at(0, 0).at, onWay(2)) < 0.01);
    QVERIFY(std::abs(work().run()->trace.duration() - 10) < 1e-6);
    // The next one of that make is not asked about.
    const QString next = folder_.filePath(QStringLiteral("next.csv"));
    QVERIFY(writeFile(next.toStdString(), table).ok());
    window_->openTrace(next);
    QVERIFY(becomes([&] { return work().crowd().kept().size() == 2 && !work().crowd().running(); }));
    QVERIFY(work().run()->reading.scale == 0.01 && work().run()->reading.zUp);
    // How it is read can be seen and changed at any time.
    auto& review = *static_cast<ReviewSheet*>(window_->sheet(static_cast<int>(Stop::review)));
    QVERIFY(review.readingButton()->isVisible());
    answerNext<ReadingDialog>([](ReadingDialog& dialog) {
      QCOMPARE(dialog.unitChoice()->currentText(), QStringLiteral("centimetres"));
      QCOMPARE(dialog.columnChoice(trace::kX)->currentText(), QStringLiteral("a"));
      QTest::keyClick(&dialog, Qt::Key_Escape);
    });
    QTest::mouseClick(review.readingButton(), Qt::LeftButton);
    QCOMPARE(work().crowd().kept().size(), std::size_t{2});
  }
  void severalRunsAreKeptAndCompared() {
    auto& review = *static_cast<ReviewSheet*>(window_->sheet(static_cast<int>(Stop::review)));
    window_->openTrace(recording());
    QVERIFY(waitForRecording());
    QVERIFY(!review.runChoice()->isVisible());
    const auto first = work().run();
    // The same shift after a change: nobody stands any more, and a fourth one jumps.
    std::string table = "Time;Agent;PosX;PosY;PosZ\n";
    for (int step = 0; step <= 200; ++step)
      for (const auto& [id, metres] :
           {std::pair(1, 9 + 0.09 * step), {2, 5 + 0.09 * step}, {4, 1 + 0.02 * step + (step > 100 ? 1.5 : 0)}}) {
        const Vec3 p = onWay(metres);
        table += std::to_string(0.1 * step) + ";" + std::to_string(id) + ";" + std::to_string(p.x) + ";" + std::to_string(p.y) + ";" +
                 std::to_string(p.z) + "\n";
      }
    const QString path = folder_.filePath(QStringLiteral("after.csv"));
    QVERIFY(writeFile(path.toStdString(), table).ok());
    window_->openTrace(path);
    QVERIFY(becomes([&] { return work().run() != first && !work().crowd().running(); }));
    QTest::qWait(1);
    QVERIFY(review.runChoice()->isVisible());
    QCOMPARE(review.runChoice()->count(), 2);
    QCOMPARE(review.runChoice()->currentText(), QStringLiteral("after.csv"));
    const auto after = work().run();
    // Beside it the first one: what is new, and what is gone.
    review.otherChoice()->setFocus();
    QTest::keyClick(review.otherChoice(), Qt::Key_Down);
    QVERIFY(work().crowd().compared() == first && work().playback().other() == first);
    QCOMPARE(work().findings().gone().size(), std::size_t{2});
    QVERIFY(work().findings().based());
    for (const KeptFinding& k : work().findings().all())
      if (k.finding.timed()) QVERIFY(k.isNew == (k.finding.agent == 4));
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{1});
    // Both play in step, each over its own time.
    work().playback().setTime(5);
    QCOMPARE(work().playback().frameOf(*after), work().playback().frameOf(*first));
    QTest::qWait(1);
    Ledger& ledger = window_->ledger();
    ledger.setOpen(true);
    QVERIFY(ledger.list()->textAt(ledger.list()->count() - 1).contains(QStringLiteral("No more there (2)")));
    // Looking at the first one again, the other way round.
    review.runChoice()->setFocus();
    QTest::keyClick(review.runChoice(), Qt::Key_Up);
    QVERIFY(work().run() == first && !work().crowd().compared());
    QVERIFY(!work().findings().compares());
    QCOMPARE(findingCount("stuck"), std::ptrdiff_t{1});
  }
  void mutedFindingsArePassedOverWithAReason() {
    window_->openTrace(recording());
    QVERIFY(waitForRecording());
    Ledger& ledger = window_->ledger();
    ledger.setOpen(true);
    const std::ptrdiff_t all = std::ssize(work().findings().all());
    const auto mute = [&](const char* code, int scope, bool really) {
      chooseFinding(code);
      QTest::qWait(1);
      QVERIFY(ledger.muteButton()->isVisible());
      answerNext<MuteDialog>([=](MuteDialog& dialog) {
        QVERIFY(!dialog.muteButton()->isEnabled());  // without a reason
        dialog.scope()->setCurrentIndex(scope);
        QTest::keyClicks(dialog.reason(), QStringLiteral("it teleports there"));
        if (really)
          QTest::mouseClick(dialog.muteButton(), Qt::LeftButton);
        else
          QTest::keyClick(&dialog, Qt::Key_Escape);
      });
      QTest::mouseClick(ledger.muteButton(), Qt::LeftButton);
    };
    mute("jumped", 0, false);
    QVERIFY(work().project().review->muted.empty() && findingCount("jumped") == 1);
    mute("jumped", 0, true);
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{0});
    QCOMPARE(std::ssize(work().findings().all()), all - 1);
    QCOMPARE(work().findings().muted().size(), std::size_t{1});
    QCOMPARE(QString::fromStdString(work().findings().muted()[0].finding.muted), QStringLiteral("it teleports there"));
    // It stays muted at the next run, and is in the file.
    const auto before = work().run();
    window_->openTrace(recording());
    QVERIFY(becomes([&] { return work().run() != before && !work().crowd().running(); }));
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{0});
    const auto again = project::fromJson(project::toJson(work().project()));
    QVERIFY(again && again->same(work().project()) && again->review->muted.size() == 1);
    // The group at the end unfolds, and what is in it can be told again; that can be undone.
    QTest::qWait(1);
    const int last = ledger.list()->count() - 1;
    QVERIFY(ledger.list()->textAt(last).contains(QStringLiteral("Muted (1)")));
    ledger.list()->scrollTo(ledger.list()->model()->index(last, 0));
    QTest::mouseClick(ledger.list()->viewport(), Qt::LeftButton, {},
                      ledger.list()->visualRect(ledger.list()->model()->index(last, 0)).center());
    ledger.choose(work().findings().muted()[0].id);
    QTest::qWait(1);
    QCOMPARE(ledger.muteButton()->text(), QStringLiteral("Tell again"));
    QTest::mouseClick(ledger.muteButton(), Qt::LeftButton);
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{1});
    QVERIFY(work().findings().muted().empty());
    work().document().undo();
    QCOMPARE(findingCount("jumped"), std::ptrdiff_t{0});
  }
  void findingsByCausePlaceAndAgent() {
    project::Project places;
    project::edit(places.places, [](project::PlacesSection& s) { s.places = {{1, "Gate", {0, 0, 0}}}; });
    std::vector<review::Finding> many;
    for (int i = 0; i < 12; ++i) {
      review::Finding f;
      f.code = i % 2 ? "overlap" : "stuck", f.severity = i == 11 ? review::Severity::error : review::Severity::warning;
      f.sentence = "Finding " + std::to_string(i) + '.', f.why = i % 3 ? "The door is narrow." : "They do not see each other.";
      f.agent = i % 4, f.at = {i < 5 ? 1.0 : 60.0, 0, 0}, f.time = f.from = f.until = i;
      many.push_back(f);
    }
    FindingList list(work().bulletin());
    Ledger own(list, work().selection());
    list.gather({&many}, places);
    QVERIFY(showAlone(own));
    const auto rows = [&](Grouping by) {
      own.groupingChoice()->setFocus();
      while (own.groupingChoice()->currentIndex() != static_cast<int>(by))
        QTest::keyClick(own.groupingChoice(), own.groupingChoice()->currentIndex() < static_cast<int>(by) ? Qt::Key_Down : Qt::Key_Up);
      QStringList all;
      for (int i = 0; i < own.list()->count(); ++i) all << own.list()->textAt(i).mid(2);
      return all;
    };
    QCOMPARE(rows(Grouping::cause), (QStringList{"The door is narrow. (8)", "They do not see each other. (4)"}));
    QCOMPARE(rows(Grouping::place), (QStringList{"Around 60, 0 (7)", "Near Gate (5)"}));
    QCOMPARE(rows(Grouping::agent), (QStringList{"Agent 3 (3)", "Agent 0 (3)", "Agent 1 (3)", "Agent 2 (3)"}));
    QCOMPARE(rows(Grouping::kind), (QStringList{"Overlaps (6)", "Stuck (6)"}));
  }
  void lanesShowWhatOneWants() {
    window_->openTrace(recording());
    QVERIFY(waitForRecording());
    Reel& reel = window_->reel();
    Lanes* lanes = reel.lanes();
    QVERIFY(becomes([&] { return !lanes->waits(); }));
    QCOMPARE(lanes->shown().size(), std::size_t{2});
    const int two = lanes->height();
    using pipeline::Measure;
    reel.laneAction(Measure::turning)->trigger();
    reel.laneAction(Measure::neighbours)->trigger();
    reel.laneAction(Measure::speed)->trigger();
    QCOMPARE(lanes->shown(), (std::set{Measure::wallDistance, Measure::turning, Measure::neighbours}));
    QVERIFY(lanes->height() > two);
    // One stays whatever one does.
    for (const Measure m : {Measure::wallDistance, Measure::turning, Measure::neighbours}) reel.laneAction(m)->trigger();
    QCOMPARE(lanes->shown().size(), std::size_t{1});
    reel.laneAction(Measure::speed)->trigger();
    // Several agents: a curve each.
    drive_->lookAt(onWay(7), 14);
    QTest::qWait(50);
    const auto clickOn = [&](int id, Qt::KeyboardModifiers with) {
      const auto& t = work().run()->trace;
      const Vec3 at = t.at(work().playback().frame(), *t.bodyOf(id)).at + Vec3{0, 0.9, 0};
      QTest::mouseClick(&window_->world(), Qt::LeftButton, with, drive_->pixelOf(at));
      QTest::qWait(1);
    };
    clickOn(1, Qt::NoModifier);
    QCOMPARE(work().playback().bodies(), (std::vector{1}));
    clickOn(2, Qt::ControlModifier);
    QCOMPARE(work().playback().bodies(), (std::vector{1, 2}));
    QVERIFY(becomes([&] { return !lanes->waits(); }));
    QCOMPARE(lanes->bodies(), (std::vector{1, 2}));
    const auto drawn = [&] {
      std::ptrdiff_t count = 0;
      for (int g = 0; g < lanes->graphCount(); ++g) count += lanes->graph(g)->dataCount() > 100;
      return count;
    };
    const std::ptrdiff_t curves = drawn();
    QCOMPARE(curves, std::ptrdiff_t{2} * std::ssize(lanes->shown()));
    // And all, as a band.
    for (QToolButton* b : reel.findChildren<QToolButton*>())
      if (b->text() == QStringLiteral("All")) QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(becomes([&] { return !lanes->waits() && drawn() == curves + std::ptrdiff_t{3} * std::ssize(lanes->shown()); }));
    // The wheel looks closer about where it is turned, the right button moves, a double click shows all.
    QVERIFY(!lanes->zoomed());
    const QPoint middle(lanes->width() / 2, 20);
    QWheelEvent wheel(middle, lanes->mapToGlobal(middle), {}, {0, 480}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(lanes, &wheel);
    QVERIFY(lanes->zoomed() && lanes->seen().size() < 10 && lanes->seen().contains(110));
    const double from = lanes->seen().lower;
    QTest::mousePress(lanes, Qt::RightButton, {}, middle);
    QTest::mouseMove(lanes, middle + QPoint(100, 0));
    QTest::mouseRelease(lanes, Qt::RightButton, {}, middle + QPoint(100, 0));
    QVERIFY(lanes->seen().lower < from);
    // What is played stays in sight.
    work().playback().setTime(119);
    QTest::qWait(1);
    QVERIFY(lanes->zoomed() && lanes->seen().contains(119));
    QTest::mouseDClick(lanes, Qt::LeftButton, {}, middle);
    QVERIFY(!lanes->zoomed());
    QTest::mouseClick(lanes, Qt::LeftButton, {}, middle);
    QVERIFY(std::abs(work().playback().time() - 110) < 1);
  }
  void manyFindingsOfAKindAreOneRow() {
    window_->openTrace(recording());
    QVERIFY(waitForRecording());
    Ledger& ledger = window_->ledger();
    ledger.setOpen(true);
    std::vector<review::Finding> many;
    for (int i = 0; i < 40; ++i) {
      review::Finding f;
      f.code = "overlap", f.sentence = "Agents " + std::to_string(i) + " and 99 overlap by 0.10 m for 1.0 s.", f.agent = i, f.others = {99};
      f.why = i < 30 ? "The door is narrow." : "They do not see each other.";
      f.at = {static_cast<double>(i), 0, 0}, f.time = i, f.from = i, f.until = i + 1;
      many.push_back(f);
    }
    FindingList list(work().bulletin());
    Ledger own(list, work().selection());
    list.gather({&many}, work().project());
    QVERIFY(showAlone(own));
    QCOMPARE(own.list()->count(), 1);
    QVERIFY(own.list()->textAt(0).contains(QStringLiteral("Overlaps (40)")));
    QTest::mouseClick(own.list()->viewport(), Qt::LeftButton, {}, own.list()->visualRect(own.list()->model()->index(0, 0)).center());
    QCOMPARE(own.list()->count(), 41);
    // What is said most often of why stands below.
    const auto says = [&](const QString& text) {
      return std::ranges::any_of(own.findChildren<QLabel*>(), [&](const QLabel* l) { return l->text().contains(text); });
    };
    QVERIFY(says(QStringLiteral("30 of 40: The door is narrow.")));
    QTest::keyClicks(own.filter(), QStringLiteral("agent 7"));
    QCOMPARE(own.list()->count(), 1);
    QVERIFY(own.list()->textAt(0).contains(QStringLiteral("Agents 7 and 99")));
    own.filter()->clear();
    QTest::keyClicks(own.filter(), QStringLiteral("see each warnings"));
    QVERIFY(says(QStringLiteral("10 of 40")));
    QCOMPARE(own.list()->count(), 11);
    own.filter()->clear();
    // The next one unfolds what it is folded away in.
    QTest::mouseClick(own.list()->viewport(), Qt::LeftButton, {}, own.list()->visualRect(own.list()->model()->index(0, 0)).center());
    QCOMPARE(own.list()->count(), 1);
    own.step(1);
    QCOMPARE(own.list()->count(), 41);
    QCOMPARE(own.list()->currentRow(), 1);
    // Only what is new since the run before.
    QVERIFY(!own.onlyNew()->isVisible());
    list.beginRun();
    list.gather({&many}, work().project());
    list.beginRun();
    many.resize(39);
    many[0].at.x = 1000;
    list.gather({&many}, work().project());
    own.refresh();
    QVERIFY(own.onlyNew()->isVisible());
    QTest::mouseClick(own.onlyNew(), Qt::LeftButton, {}, QPoint(8, own.onlyNew()->height() / 2));
    QCOMPARE(own.list()->count(), 2);
    QVERIFY(own.list()->textAt(0).contains(QStringLiteral("Agents 0 and")));
    QVERIFY(own.list()->textAt(1).contains(QStringLiteral("No more there (2)")));
  }
};

QTEST_MAIN(TestRecordings)
#include "recordings.moc"
