// Numbers over time: curves of bodies that are known exactly, the band of all, and what has nothing to say.

#include <QtTest>

#include "core/pipeline/curves.h"
#include "core/pipeline/recording.h"
#include "core/project/ready_scenes.h"
#include "tests/core/movements.h"

using namespace dune;
using namespace dune::test;
using pipeline::Measure;

class TestCurves : public QObject {
  Q_OBJECT

  /// A floor of 40 m square with a run on it.
  static pipeline::Run runOf(trace::Trace trace) {
    Job job;
    pipeline::Run run;
    auto ground = pipeline::makeGround({}, Scene().floor(0, 0, 40, 40).world().level, 0, nullptr, job);
    run.ground = *ground, run.grounds = {*ground}, run.trace = std::move(trace);
    run.meshOf.assign(run.trace.bodies().size(), 0);
    (void)pipeline::measureWalls(run, job);
    return run;
  }
  static trace::Trace recordedWith(const std::vector<Movement>& bodies, double rate) {
    Random random(1);
    const trace::Trace places = recorded(bodies, {rate}, random);
    trace::Trace trace;
    trace::Writer writer(trace, places.bodies());
    (void)writer.begin();
    for (std::size_t f = 0; f < places.frameCount(); ++f) {
      std::vector<trace::Sample> now;
      for (std::size_t b = 0; b < bodies.size(); ++b) {
        now.push_back(places.at(f, b));
        const double t = places.timeOf(f);
        now.back().velocity = (bodies[b].at(t + 0.01) - bodies[b].at(t - 0.01)) / 0.02;
      }
      (void)writer.frame(places.timeOf(f), now);
    }
    (void)writer.end();
    return trace;
  }

 private slots:
  void curvesSayWhatIsSo() {
    // One goes round a middle, one stands at 3 m from a wall, one is there from second 2 on.
    const auto round = [](double t) { return Vec3{20 + 4 * std::cos(t / 4), 0, 20 + 4 * std::sin(t / 4)}; };
    const std::vector<Movement> bodies{{round, 0, 10, Vec3{20, 0, 20}},
                                       {[](double) {
                                          return Vec3{3, 0, 20};
                                        },
                                        0, 10},
                                       {[&](double t) {
                                          return round(t) + Vec3{1, 0, 0};
                                        },
                                        2, 10}};
    const pipeline::Run run = runOf(recordedWith(bodies, 20));
    Job job;
    const auto curve = [&](std::size_t body, Measure m) { return pipeline::curveOf(run, body, m, job); };
    const std::size_t frames = run.trace.frameCount();
    for (const Measure m : pipeline::kMeasures) QCOMPARE(curve(0, m).size(), frames);
    const auto speed = curve(0, Measure::speed), turning = curve(0, Measure::turning), goal = curve(0, Measure::toGoal),
               near = curve(0, Measure::neighbours);
    const auto wall = curve(1, Measure::wallDistance), stands = curve(1, Measure::turning), nobody = curve(1, Measure::toGoal);
    const auto later = curve(2, Measure::speed);
    QVERIFY(std::isnan(turning.front()) && std::isnan(turning.back()));
    for (std::size_t f = 1; f + 1 < frames; ++f) {
      QVERIFY2(std::abs(turning[f] - static_cast<float>(degrees(0.25))) < 0.5F,
               qPrintable(QString::number(static_cast<double>(turning[f]))));
      QVERIFY(std::abs(speed[f] - 1) < 0.01F);
      QVERIFY(std::abs(goal[f] - 4) < 0.001F);
      QCOMPARE(near[f], run.trace.timeOf(f) < 2 - 1e-9 ? 0.0F : 1.0F);
      QVERIFY(std::abs(wall[f] - 3) < 0.01F);
      QVERIFY(std::isnan(stands[f]) && std::isnan(nobody[f]));
      QCOMPARE(std::isnan(later[f]), run.trace.timeOf(f) < 2 - 1e-9);
    }
  }
  void offTheBestWayAndOffItsPath() {
    // Ten metres straight on, with a bow of two metres to the side.
    const auto bow = [](double t) { return Vec3{10 + t, 0, 20 + 2 * std::sin(kPi * t / 10)}; };
    pipeline::Run run = runOf(recordedWith({{bow, 0, 10, Vec3{20, 0, 20}}}, 20));
    Job job;
    auto off = pipeline::curveOf(run, 0, Measure::offPath, job);
    for (std::size_t f = 0; f < off.size(); ++f)
      QVERIFY(std::abs(off[f] - static_cast<float>(2 * std::sin(kPi * run.trace.timeOf(f) / 10))) < 0.02F);
    QCOMPARE(QString(pipeline::wordsOf(Measure::offPath, run).name), QString("off the best way"));
    // Where the path that was followed is known, that counts.
    run.trace.offPath.assign(run.trace.sampleCount(), 0.5F);
    off = pipeline::curveOf(run, 0, Measure::offPath, job);
    QVERIFY(std::ranges::all_of(off, [](float v) { return v == 0.5F; }));
    QCOMPARE(QString(pipeline::wordsOf(Measure::offPath, run).name), QString("off its path"));
  }
  void aCrowdThatWalksKnowsItsPaths() {
    project::Project project;
    project::edit(project.crowd, [](project::CrowdSection& s) { s.seconds = 10; });
    project::CrowdGroup group;
    group.id = 1, group.count = 6, group.start = {10, 0, 20}, group.goal = {30, 0, 20};
    project::edit(project.crowd, [&](project::CrowdSection& s) { s.groups = {group}; });
    Job job;
    const auto ground = pipeline::makeGround(project, Scene().floor(0, 0, 40, 40).world().level, 0, nullptr, job);
    const auto run = pipeline::runCrowd(project, {*ground}, 0, job);
    QVERIFY(run.ok());
    QCOMPARE((*run)->trace.offPath.size(), (*run)->trace.sampleCount());
    std::size_t known = 0;
    for (const float v : (*run)->trace.offPath) {
      QVERIFY(std::isnan(v) || (v >= 0 && v < 3));
      known += !std::isnan(v);
    }
    QVERIFY(known > (*run)->trace.sampleCount() / 2);
  }
  void theBandHoldsEightOfTen() {
    std::vector<Movement> bodies;
    for (int i = 0; i < 101; ++i)
      bodies.push_back({[i](double t) { return Vec3{5 + t * (0.01 * i), 0, 2 + 0.3 * i}; }, i == 100 ? 5.0 : 0.0, 10});
    const pipeline::Run run = runOf(recordedWith(bodies, 20));
    Job job;
    const pipeline::Band band = pipeline::bandOf(run, Measure::speed, job);
    QVERIFY(band.times.size() > 100 && band.times.size() == band.low.size() && band.low.size() == band.high.size());
    for (std::size_t i = 0; i < band.times.size(); ++i) {
      QVERIFY(std::abs(band.low[i] - 0.1F) < 0.011F && std::abs(band.middle[i] - 0.5F) < 0.011F && std::abs(band.high[i] - 0.9F) < 0.011F);
    }
    // As many others as one counts by hand.
    const auto near = pipeline::bandOf(run, Measure::neighbours, job);
    std::vector<int> counts;
    for (std::size_t b = 0; b < bodies.size(); ++b) {
      int count = 0;
      for (std::size_t o = 0; o < bodies.size(); ++o)
        count += o != b && o != 100 && b != 100 && glm::distance(plan(run.trace.at(0, b).at), plan(run.trace.at(0, o).at)) < 2;
      if (b != 100) counts.push_back(count);
    }
    std::ranges::sort(counts);
    QCOMPARE(near.middle[0], static_cast<float>(counts[50]));
    QVERIFY(std::isnan(pipeline::bandOf(run, Measure::toGoal, job).middle[0]));
    std::stop_source stop;
    stop.request_stop();
    Job stopped(stop.get_token());
    QVERIFY(pipeline::bandOf(run, Measure::speed, stopped).times.empty());
    QVERIFY(pipeline::curveOf(run, 0, Measure::speed, stopped).empty());
  }
};

QTEST_GUILESS_MAIN(TestCurves)
#include "curves.moc"
