// Review: each finding on movement made so that the number is known.

#include <QRegularExpression>
#include <QtTest>
#include <filesystem>
#include <set>

#include "core/base/file.h"
#include "core/pipeline/crowd_run.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/remedy.h"
#include "core/review/findings.h"
#include "core/review/kinds.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;
using review::Finding;
using review::FindingKind;
using review::findingKinds;
using review::kindOf;
using test::built;
using test::Scene;

class TestReview : public QObject {
  Q_OBJECT

  std::shared_ptr<const generate::Built> room_;

  /// A trace of bodies given as functions of time, 10 samples a second.
  static trace::Trace traceOf(const std::vector<std::function<Vec3(double)>>& bodies, double seconds, double radius = 0.4,
                              std::optional<Vec3> goal = std::nullopt) {
    std::vector<trace::Body> who;
    for (std::size_t i = 0; i < bodies.size(); ++i) who.push_back({static_cast<int>(i) + 1, radius, goal, 0});
    trace::Trace t;
    trace::Writer writer(t, who);
    (void)writer.begin();
    for (int f = 0; f * 0.1 <= seconds + 1e-9; ++f) {
      std::vector<trace::Sample> samples(bodies.size());
      for (std::size_t i = 0; i < bodies.size(); ++i) {
        samples[i].at = bodies[i](f * 0.1);
        samples[i].velocity = (bodies[i](f * 0.1 + 0.05) - bodies[i](f * 0.1 - 0.05)) / 0.1;
      }
      (void)writer.frame(f * 0.1, samples);
    }
    (void)writer.end();
    return t;
  }
  std::vector<Finding> reviewed(const trace::Trace& t) const {
    const nav::Locator locator(room_->mesh);
    ThreadedJob job;
    auto result = review::reviewMovement(room_->mesh, locator, t, {}, job);
    return result ? *result : std::vector<Finding>{};
  }
  static const Finding* find(const std::vector<Finding>& list, const std::string& code) {
    const auto at = std::ranges::find(list, code, &Finding::code);
    return at == list.end() ? nullptr : &*at;
  }

 private slots:
  void everyKindOfFindingIsInTheTable() {
    std::set<std::string_view> codes;
    for (const FindingKind& k : findingKinds()) {
      QVERIFY(codes.insert(k.code).second);
      QVERIFY(*k.title && *k.remedy && kindOf(k.code) == &k);
    }
    QVERIFY(!kindOf("no-such-kind"));
    // Every code in the sources is a row of the table, and every row is made somewhere.
    std::set<std::string> found;
    for (const char* folder : {"review", "pipeline"})
      for (const auto& entry : std::filesystem::directory_iterator(std::filesystem::path(DUNE_ROOT) / "core" / folder)) {
        if (entry.path().extension() != ".cpp" || entry.path().filename() == "kinds.cpp") continue;
        const std::string text = *readFile(entry.path().string());
        static const QRegularExpression made(
            QStringLiteral(R"re((?:finding\(|aboutGroup\(\s*|add\(|Finding f\{|push_back\(\{|return \{)"([a-z-]+)",)re"));
        for (auto it = made.globalMatch(QString::fromStdString(text)); it.hasNext();) {
          const std::string code = it.next().captured(1).toStdString();
          QVERIFY2(kindOf(code), code.c_str());
          found.insert(code);
        }
      }
    for (const std::string_view code : codes) QVERIFY2(found.contains(std::string(code)), std::string(code).c_str());
  }
  void aStartWithTooLittleRoomIsFound() {
    // A floor of three metres square holds no fifty bodies.
    const auto loaded = Scene().floor(0, 0, 3, 3).world().level;
    project::Project p;
    project::edit(p.crowd, [](project::CrowdSection& s) { s.groups = {{7, {1.5, 0, 1.5}, {1, 0, 1}, 50, 0}}, s.seconds = 1; });
    ThreadedJob job;
    const auto ground = pipeline::makeGround(p, loaded, 0, nullptr, job);
    QVERIFY(ground.ok());
    const auto run = pipeline::runCrowd(p, {*ground}, 0, job);
    QVERIFY(run.ok());
    const auto found = std::ranges::find((*run)->findings, "too-few-places", &Finding::code);
    QVERIFY(found != (*run)->findings.end());
    QCOMPARE(found->limit, 50.0);
    QCOMPARE(found->measured, static_cast<double>((*run)->trace.bodies().size()));
    QVERIFY(found->measured >= 1 && found->measured < 50);
    QVERIFY(glm::distance(found->at, Vec3(1.5, 0, 1.5)) < 1e-9);
  }
  void initTestCase() { room_ = built(Scene().floor(0, 0, 20, 20).world()); }
  void cleanMovementHasNoFindings() {
    QVERIFY(reviewed(traceOf({[](double t) { return Vec3{2 + t, 0, 10}; }}, 10)).empty());
  }
  void wallTouchedIsMeasured() {
    // The body goes along 0.25 m from the edge with radius 0.4: 0.15 m too near.
    const auto found = reviewed(traceOf({[](double t) { return Vec3{5 + t, 0, 0.25}; }}, 4));
    const Finding* f = find(found, "wall-touched");
    QVERIFY(f);
    QVERIFY2(std::abs(f->measured - 0.15) < 0.002, qPrintable(QString::number(f->measured)));
    QCOMPARE(found.size(), std::size_t{1});
  }
  void leftGroundIsMeasured() {
    const Finding* f = nullptr;
    const auto found = reviewed(traceOf({[](double t) { return Vec3{5 + t, t > 2 && t < 3 ? 0.7 : 0, 10}; }}, 5));
    f = find(found, "left-ground");
    QVERIFY(f);
    QVERIFY(std::abs(f->measured - 0.7) < 1e-6);
    QVERIFY(f->time > 2 && f->time < 3);
  }
  void overlapIsMeasuredOnceAPair() {
    const auto found = reviewed(traceOf({[](double t) { return Vec3{5 + t, 0, 10}; }, [](double t) { return Vec3{11 - t, 0, 10.1}; }}, 6));
    const Finding* f = find(found, "overlap");
    QVERIFY(f);
    QVERIFY(std::abs(f->measured - 0.7) < 0.02);
    QCOMPARE(std::ranges::count(found, std::string("overlap"), &Finding::code), 1);
  }
  void stuckIsTimed() {
    const auto found = reviewed(traceOf({[](double t) { return Vec3{5 + std::min(t, 2.0) + std::max(0.0, t - 7), 0, 10}; }}, 9));
    const Finding* f = find(found, "stuck");
    QVERIFY(f);
    QVERIFY2(std::abs(f->measured - 5) < 0.3, qPrintable(QString::number(f->measured)));
    QVERIFY(std::abs(f->time - 2) < 0.2);
  }
  void neverArrivesSaysHowFar() {
    const auto found = reviewed(traceOf({[](double s) { return Vec3{5 + s, 0, 10}; }}, 4, 0.4, Vec3{15, 0, 10}));
    const Finding* f = find(found, "never-arrives");
    QVERIFY(f);
    QVERIFY(std::abs(f->measured - 6) < 1e-5);
  }
  void islandsAndBrokenLinksAreFound() {
    auto b = built(Scene().floor(0, 0, 10, 10).floor(20, 0, 25, 5, 0, "b").world());
    auto found = review::reviewMesh(b->mesh, {{7, "why", {1, 2, 3}}});
    const Finding* island = find(found, "island");
    QVERIFY(island);
    QVERIFY(std::abs(island->measured - 4.2 * 4.2) < 0.02);
    QVERIFY(find(found, "broken-link"));
    nav::NavMesh linked = b->mesh;
    linked.agent.maxJump = 11;
    linked.links = links::attach(linked, nav::Locator(linked), {{1, nav::LinkKind::jump, {9.5, 0, 3}, {20.5, 0, 3}, false, 0}}).links;
    QVERIFY(!find(review::reviewMesh(linked, {}), "island"));
    QVERIFY(find(review::reviewMesh(nav::NavMesh{}, {}), "empty-mesh"));
  }
  void linksThatAskForTooMuchAreHintsWithARemedy() {
    const auto b = built(Scene().floor(0, 0, 10, 10).floor(12, 0, 20, 10, -3, "low").world());
    nav::NavMesh m = b->mesh;
    m.agent.name = "Porter", m.agent.maxDrop = 2;
    const std::vector<links::HandLink> drawn{{4, nav::LinkKind::drop, {9.5, 0, 3}, {12.5, -3, 3}, true, 0},
                                             {5, nav::LinkKind::jump, {9.5, 0, 6}, {12.5, -3, 6}, true, 0}};
    const auto tied = links::attach(m, nav::Locator(m), drawn);
    QVERIFY(tied.links.empty() && tied.broken.empty());
    const auto found = review::reviewMesh(m, tied.broken, tied.beyond, {100});
    std::vector<const Finding*> beyond;
    for (const Finding& f : found)
      if (f.code == "link-beyond") beyond.push_back(&f);
    QCOMPARE(beyond.size(), std::size_t{2});
    QCOMPARE(beyond[0]->measured, 3.0);
    QCOMPARE(beyond[0]->limit, 2.0);
    QVERIFY(beyond[0]->severity == review::Severity::hint);
    QCOMPARE(beyond[0]->sentence, std::string("Link 4 is not for Porter: it is a drop of 3.00 m, and Porter drops 2.00 m at most."));
    QVERIFY2(beyond[1]->sentence.find("Porter does not jump") != std::string::npos, beyond[1]->sentence.c_str());
    // The remedy is enough, and makes nothing else.
    project::Project p;
    project::edit(p.agents, [&](project::AgentsSection& s) { s.agents = {m.agent}; });
    for (const Finding* f : beyond) pipeline::apply(*f->remedy, p);
    nav::NavMesh now = m;
    now.agent = p.agents->agents[0];
    const auto after = links::attach(now, nav::Locator(now), drawn);
    QCOMPARE(after.links.size(), std::size_t{2});
    QVERIFY(after.beyond.empty());
    QVERIFY(now.agent.maxDrop <= 3.11 && now.agent.maxJump <= 2.3);
  }
  void aGapIsAsWideForThinAgentsAsForThick() {
    for (const double radius : {0.1, 0.3, 0.6, 1.0}) {
      nav::Agent agent;
      agent.radius = radius, agent.maxJump = 2.01;
      for (const double back : {0.0, 0.3, 1.5}) {  // how far behind the edges the link was drawn
        const auto b = built(Scene().floor(0, 0, 10, 10).floor(12, 0, 20, 10, 0, "far").world(), agent);
        const std::vector<links::HandLink> drawn{{1, nav::LinkKind::jump, {10 - back, 0, 5}, {12 + back, 0, 5}, false, 0}};
        nav::NavMesh m = b->mesh;
        QCOMPARE(links::attach(m, nav::Locator(m), drawn).links.size(), std::size_t{1});
        m.agent.maxJump = 1.98;
        const auto tooFar = links::attach(m, nav::Locator(m), drawn);
        QCOMPARE(tooFar.beyond.size(), std::size_t{1});
        QVERIFY2(std::abs(tooFar.beyond[0].demand.jump - 2) < 0.005, qPrintable(QString::number(tooFar.beyond[0].demand.jump)));
      }
    }
  }
  void wallDistanceIsExact() {
    const review::WallDistance walls(room_->mesh);
    QVERIFY(std::abs(walls.at({3, 0, 10}) - 3) < 0.002);
    QVERIFY(std::abs(walls.at({0.1, 0, 10}) - 0.1) < 0.002);
  }
};

QTEST_APPLESS_MAIN(TestReview)
#include "review.moc"
