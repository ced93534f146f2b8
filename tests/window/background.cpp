// Work beside the window: the newest wins, what was stopped tells nothing, and nothing outlives its owner.

#include <QtTest>
#include <atomic>

#include "tests/core/scenes.h"
#include "window/session/background.h"
#include "window/session/build_prices.h"
#include "window/session/trials.h"

using namespace dune;
using namespace dune::window;

class TestBackground : public QObject {
  Q_OBJECT

  static constexpr int kPatience = 60000;  // ms

  /// Works until it is asked to stop.
  static void untilStopped(Job& job) {
    while (!job.cancelled()) QThread::msleep(1);
  }
  static project::Project plain() { return {}; }
  static std::shared_ptr<const level::Level> yard() {
    return test::Scene().floor(0, 0, 20, 12).box({9, -0.2, 0}, {10, 3, 5}, "wall").box({9, -0.2, 6.5}, {10, 3, 12}, "wall 2").world().level;
  }

 private slots:
  void whatIsToldComesOnTheWindowsThread() {
    Background background;
    QThread *worked = nullptr, *heard = nullptr;
    background.start(this, [&](Job&, const Background::Tell& tell) {
      worked = QThread::currentThread();
      tell([&] { heard = QThread::currentThread(); });
    });
    QVERIFY(QTest::qWaitFor([&] { return heard != nullptr; }, kPatience));
    QVERIFY(heard == QThread::currentThread() && worked != heard);
  }
  void tellingKeepsItsOrder() {
    Background background;
    std::vector<int> heard;
    background.start(this, [&](Job&, const Background::Tell& tell) {
      for (int i = 0; i < 100; ++i) tell([&heard, i] { heard.push_back(i); });
    });
    QVERIFY(QTest::qWaitFor([&] { return heard.size() == 100; }, kPatience));
    QVERIFY(std::ranges::is_sorted(heard));
  }
  void theNewestWins() {
    Background background;
    std::vector<int> heard;
    std::atomic<int> stopped{0};
    for (int i = 0; i < 5; ++i)
      background.start(this, [&, i](Job& job, const Background::Tell& tell) {
        if (i < 4) untilStopped(job), ++stopped;
        tell([&heard, i] { heard.push_back(i); });
      });
    QVERIFY(QTest::qWaitFor([&] { return !heard.empty(); }, kPatience));
    QTest::qWait(20);
    QCOMPARE(heard, std::vector<int>{4});
    QCOMPARE(stopped.load(), 4);
  }
  void whatWasStoppedTellsNothing() {
    Background background;
    std::atomic<bool> ended{false};
    bool heard = false;
    background.start(this, [&](Job& job, const Background::Tell& tell) {
      untilStopped(job);
      tell([&] { heard = true; });
      ended = true;
    });
    background.stop();
    QVERIFY(QTest::qWaitFor([&] { return ended.load(); }, kPatience));
    QTest::qWait(20);
    QVERIFY(!heard);
    background.stop();  // twice is no harm
  }
  void anAnswerOnItsWayIsDroppedByAStop() {
    Background background;
    std::atomic<bool> told{false};
    bool heard = false;
    background.start(this, [&](Job&, const Background::Tell& tell) {
      tell([&] { heard = true; });
      told = true;
    });
    while (!told.load()) QThread::msleep(1);  // without the event loop, so that it is told and not yet heard
    background.stop();
    QTest::qWait(20);
    QVERIFY(!heard);
  }
  void nothingOutlivesItsOwner() {
    std::atomic<int> ended{0};
    for (int i = 0; i < 20; ++i) {
      Background background;
      background.start(this, [&](Job& job, const Background::Tell& tell) {
        untilStopped(job);
        tell([] { QFAIL("told after its end"); });
        ++ended;
      });
    }
    QCOMPARE(ended.load(), 20);
    QTest::qWait(5);
  }
  void progressOfThePresentWorkIsHeard() {
    Background background;
    std::vector<double> fractions;
    QStringList steps;
    connect(&background, &Background::progressed, this, [&] {
      if (!background.step().isEmpty()) steps << background.step(), fractions.push_back(background.fraction());
    });
    bool done = false;
    background.start(this, [&](Job& job, const Background::Tell& tell) {
      job.step("counting", 0.5);
      job.advance(0.5);
      tell([&] { done = true; });
    });
    QVERIFY(QTest::qWaitFor([&] { return done; }, kPatience));
    QVERIFY(!steps.isEmpty() && steps[0] == QStringLiteral("counting"));
    QVERIFY(std::ranges::is_sorted(fractions) && fractions.back() <= 0.5);
  }
  void pricesAreLearntFromTheLastBuilds() {
    BuildPrices prices;
    QVERIFY(!prices.seconds(10, 1000));
    // What one build says holds for twice as much.
    prices.learn(20, 20, 1300, 0.2);
    QVERIFY(std::abs(*prices.seconds(40, 2600) - 0.4) < 1e-9);
    // Two kinds of levels tell what a square costs and what a triangle costs: 5 ms and 2 us.
    prices = {};
    for (const auto& [squares, triangles] : {std::pair(20, 1300), std::pair(63, 10000), std::pair(9000, 5'000'000)})
      prices.learn(static_cast<std::size_t>(squares), static_cast<std::size_t>(squares), static_cast<std::size_t>(triangles),
                   squares * 0.005 + triangles * 2e-6);
    QVERIFY(std::abs(*prices.seconds(100, 400'000) - 1.3) < 1e-6);
    // Rebuilding one square of many says nothing about all of them.
    prices.learn(1, 63, 10000, 0.5);
    QVERIFY(std::abs(*prices.seconds(100, 400'000) - 1.3) < 1e-6);
    // They outlive the program, and what is damaged is left out.
    QStringList kept = prices.toSettings();
    QVERIFY(std::abs(*BuildPrices::fromSettings(kept).seconds(100, 400'000) - 1.3) < 1e-4);
    kept << QStringLiteral("nonsense") << QStringLiteral("1 2 -3") << QStringLiteral("1 2 nan") << QString();
    QVERIFY(std::abs(*BuildPrices::fromSettings(kept).seconds(100, 400'000) - 1.3) < 1e-4);
    // Never below zero, whatever was measured.
    prices = {};
    prices.learn(10, 10, 100'000, 0.1), prices.learn(1000, 1000, 1000, 0.1), prices.learn(500, 500, 90'000, 0.01);
    for (const double squares : {0.0, 10.0, 5000.0})
      for (const double triangles : {0.0, 1e3, 1e7}) QVERIFY(*prices.seconds(squares, triangles) >= 0);
  }
  void aTrialAnswersAndIsForgotten() {
    Bulletin bulletin;
    Trials trials(bulletin);
    trials.passing(plain(), yard(), 0, {2, 0, 6}, {18, 0, 6});
    QVERIFY(trials.busy());
    QVERIFY(QTest::qWaitFor([&] { return !trials.busy(); }, kPatience));
    QVERIFY(trials.passed().has_value());
    QVERIFY2(std::abs(trials.passed()->radius.most - 0.75) < 0.006, qPrintable(QString::number(trials.passed()->radius.most)));
    trials.drop();
    QVERIFY(!trials.passed() && !trials.swept());
  }
  void aCancelledTrialSaysSoAndKeepsWhatWasThere() {
    Bulletin bulletin;
    Trials trials(bulletin);
    QStringList said;
    connect(&bulletin, &Bulletin::said, this, [&](const QString& what) { said << what; });
    trials.cancel();  // of nothing
    QVERIFY(said.isEmpty());
    trials.passing(plain(), yard(), 0, {2, 0, 6}, {18, 0, 6});
    QVERIFY(QTest::qWaitFor([&] { return !trials.busy(); }, kPatience));
    trials.sweep(plain(), yard(), 0, {pipeline::SweptLimit{}, 0.1, 1.0, 16});
    trials.cancel();
    QVERIFY(!trials.busy() && !trials.swept() && trials.passed());
    QCOMPARE(said.size(), 1);
    QTest::qWait(50);
    QVERIFY(!trials.swept());
  }
  void senselessTrialsAreSaid() {
    Bulletin bulletin;
    Trials trials(bulletin);
    QStringList said;
    connect(&bulletin, &Bulletin::said, this, [&](const QString& what) { said << what; });
    trials.sweep(plain(), yard(), 0, {pipeline::SweptLimit{}, 1.0, 0.1, 16});
    QVERIFY(QTest::qWaitFor([&] { return !trials.busy(); }, kPatience));
    QCOMPARE(said.size(), 1);
    QVERIFY(!trials.swept());
  }
};

QTEST_MAIN(TestBackground)
#include "background.moc"
