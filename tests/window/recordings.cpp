// Movement that was recorded elsewhere, in the window; and a list of findings that one can master.

#include "tests/window/demo_window.h"
#include "window/stops/review/review_sheet.h"
#include "window/timeline/reel.h"

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
    for (std::size_t i = 1; i < way_.size(); ++i) {
      const double step = glm::distance(way_[i - 1], way_[i]);
      if (metres <= step) return glm::mix(way_[i - 1], way_[i], metres / step);
      metres -= step;
    }
    return way_.back();
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
    const auto stood = pipeline::heatOf(*work().run(), pipeline::Heat::stood),
               there = pipeline::heatOf(*work().run(), pipeline::Heat::there);
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
  void whatIsNoRecordingIsSaid() {
    const QString path = folder_.filePath(QStringLiteral("no.csv"));
    QVERIFY(writeFile(path.toStdString(), "a,b\n1,2\n").ok());
    window_->openTrace(path);
    QVERIFY(becomes([&] { return window_->readoutText().contains(QStringLiteral("no.csv")); }));
    QVERIFY(!work().run());
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
    own.setOpen(true);
    own.resize(300, 700);
    own.show();
    QVERIFY(QTest::qWaitForWindowExposed(&own));
    list.gather({&many});
    own.refresh();
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
    list.gather({&many});
    list.beginRun();
    many.resize(39);
    many[0].at.x = 1000;
    list.gather({&many});
    own.refresh();
    QVERIFY(own.onlyNew()->isVisible());
    QTest::mouseClick(own.onlyNew(), Qt::LeftButton, {}, QPoint(8, own.onlyNew()->height() / 2));
    QCOMPARE(own.list()->count(), 1);
    QVERIFY(own.list()->textAt(0).contains(QStringLiteral("Agents 0 and")));
  }
};

QTEST_MAIN(TestRecordings)
#include "recordings.moc"
