// Review: each finding on movement made so that the number is known.

#include <QRegularExpression>
#include <QtTest>
#include <filesystem>
#include <set>

#include "core/base/file.h"
#include "core/pipeline/crowd_run.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/remedy.h"
#include "core/pipeline/reviewed_on.h"
#include "core/project/rules.h"
#include "core/review/kinds.h"
#include "core/review/movement.h"
#include "core/review/reach.h"
#include "core/review/walls.h"
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
    const route::Field field(room_->mesh, room_->rules());
    ThreadedJob job;
    auto result = review::reviewMovement({room_->mesh, field.locator(), &field}, t, {}, job);
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
            QStringLiteral(R"re((?:finding\(|aboutGroup\(\s*|add\(|tell\(|Finding f\{|push_back\(\s*\{|return \{+)"([a-z-]+)",)re"));
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
    auto found = review::reviewMesh(b->mesh, {}, {{7, "why", {1, 2, 3}}});
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
  void whoComesWhereAgreesWithBruteForce() {
    constexpr std::size_t kFloors = 9;
    Scene scene;
    for (std::size_t i = 0; i < kFloors; ++i) {
      const double x = 10 * static_cast<double>(i), side = 3 + 0.5 * static_cast<double>(i);
      scene.floor(x, 0, x + side, side, 0, "floor_" + std::to_string(i));
    }
    const auto b = built(scene.world());
    const nav::Locator locator(b->mesh);
    const auto at = [&](std::size_t i) { return Vec3{10 * static_cast<double>(i) + 1.5, 0, 1.5}; };
    for (std::uint64_t seed = 1; seed <= 300; ++seed) {
      test::Random random(seed);
      nav::NavMesh mesh = b->mesh;
      nav::Rules rules;
      rules.links[static_cast<std::size_t>(nav::LinkKind::door)] = false;
      bool to[kFloors][kFloors] = {}, joined[kFloors][kFloors] = {};
      std::vector<links::HandLink> drawn;
      for (int l = 0, count = random.upTo(14); l < count; ++l) {
        const auto i = static_cast<std::size_t>(random.upTo(kFloors)), j = static_cast<std::size_t>(random.upTo(kFloors));
        if (i == j) continue;
        const bool both = random.upTo(3) == 0, closed = random.upTo(4) == 0;
        drawn.push_back({l + 1, closed ? nav::LinkKind::door : nav::LinkKind::teleport, at(i), at(j), !both, 0});
        if (closed) continue;
        to[i][j] = joined[i][j] = joined[j][i] = true;
        if (both) to[j][i] = true;
      }
      for (std::size_t i = 0; i < kFloors; ++i) to[i][i] = joined[i][i] = true;
      for (auto* all : {&to, &joined})
        for (std::size_t k = 0; k < kFloors; ++k)
          for (std::size_t i = 0; i < kFloors; ++i)
            for (std::size_t j = 0; j < kFloors; ++j) (*all)[i][j] = (*all)[i][j] || ((*all)[i][k] && (*all)[k][j]);
      mesh.links = links::attach(mesh, locator, drawn).links;
      QCOMPARE(mesh.links.size(), drawn.size());
      // The largest ground within which one can go from anywhere to anywhere.
      const auto area = [](std::size_t i) { return std::pow(2.2 + 0.5 * static_cast<double>(i), 2); };
      std::size_t main = 0;
      double largest = -1;
      for (std::size_t i = 0; i < kFloors; ++i) {
        double sum = 0;
        for (std::size_t j = 0; j < kFloors; ++j) sum += to[i][j] && to[j][i] ? area(j) : 0;
        if (sum > largest) largest = sum, main = i;
      }
      const review::Reach reach = review::reachOf(mesh, rules);
      QCOMPARE(reach.pieces.size(), kFloors);
      double islands = 0, traps = 0, unreached = 0;
      for (std::size_t i = 0; i < kFloors; ++i) {
        const review::Piece& p = reach.pieces[reach.pieceOf[index(locator.under(at(i), 1).face)]];
        QCOMPARE(p.reached, to[main][i]);
        QCOMPARE(p.left, to[i][main]);
        QCOMPARE(p.together == reach.main, joined[i][main]);
        QVERIFY(std::abs(p.area - area(i)) < 0.02);
        if (p.reached && p.left) continue;
        (!joined[i][main] ? islands : p.reached ? traps : unreached) += p.area;
      }
      // What is told comes to the same ground, and every drawn link that nobody can take from its start is told.
      const auto found = review::reviewMesh(mesh, rules, {}, {}, {0});
      const auto sum = [&](const char* code) {
        double all = 0;
        for (const Finding& f : found) all += f.code == code ? f.measured : 0;
        return all;
      };
      QVERIFY(std::abs(sum("island") - islands) < 1e-6 && std::abs(sum("trap") - traps) < 1e-6 &&
              std::abs(sum("unreached") - unreached) < 1e-6);
      std::size_t useless = 0;
      for (const nav::Link& l : mesh.links) {
        const auto from = static_cast<std::size_t>(l.from.x / 10), end = static_cast<std::size_t>(l.to.x / 10);
        useless += rules.allows(l) && !to[main][from] && (l.oneWay || !to[main][end]);
      }
      QCOMPARE(static_cast<std::size_t>(std::ranges::count(found, std::string("unreached-link"), &Finding::code)), useless);
    }
  }
  void aLinkTheWrongWayRoundHasARemedy() {
    const auto b = built(Scene().floor(0, 0, 10, 10).floor(12, 0, 18, 6, 0, "far").world());
    project::Project p;
    project::edit(p.links, [](project::LinksSection& s) { s.links = {{3, nav::LinkKind::teleport, {14, 0, 3}, {8, 0, 3}, true, 0}}; });
    nav::NavMesh mesh = b->mesh;
    const nav::Locator locator(mesh);
    const auto found = [&] {
      mesh.links = links::attach(mesh, locator, p.links->links).links;
      return review::reviewMesh(mesh, {});
    };
    const auto before = found();
    const Finding* f = find(before, "unreached-link");
    QVERIFY(f && f->remedy && find(before, "unreached"));
    pipeline::apply(*f->remedy, p);
    QVERIFY(!p.links->links[0].oneWay);
    QVERIFY(found().empty());
  }
  void aFlightIntoSomethingAndALinkForNobodyAreFound() {
    Scene yard;
    yard.floor(0, 0, 10, 10).floor(12, 0, 20, 10, 0, "far").box({10.9, 0, 2}, {11.1, 1, 4}, "fence");
    project::Project p;
    project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].maxJump = 3; });
    project::edit(p.links, [](project::LinksSection& s) {
      s.links = {{1, nav::LinkKind::jump, {9.5, 0, 3}, {12.5, 0, 3}, false, 0},
                 {2, nav::LinkKind::jump, {9.5, 0, 7}, {12.5, 0, 7}, false, 0}};
      s.links.push_back({3, nav::LinkKind::teleport, {2, 0, 2}, {15, 0, 8}, false, 0});
    });
    project::edit(p.areas,
                  [&](project::AreasSection& s) { project::setMayTake(s, p.agents->agents[0].id, nav::LinkKind::teleport, false); });
    ThreadedJob job;
    const auto ground = pipeline::makeGround(p, yard.world().level, 0, nullptr, job);
    QVERIFY(ground.ok());
    std::vector<std::string> told;
    for (const Finding& f : (*ground)->findings)
      if (f.code == "blocked-link" || f.code == "link-for-nobody") told.push_back(f.sentence);
    QCOMPARE(told.size(), std::size_t{2});
    QVERIFY2(told[0].starts_with("Link 1,") && told[0].find("fence") != std::string::npos, told[0].c_str());
    QVERIFY2(told[1].find("link 3") != std::string::npos, told[1].c_str());
  }
  void whatWasWalkedThroughIsNamed() {
    Scene yard;
    yard.floor(0, 0, 20, 20).box({9, 0, 0}, {11, 2, 15}, "long_crate");
    project::Project p;
    ThreadedJob job;
    const auto ground = pipeline::makeGround(p, yard.world().level, 0, nullptr, job);
    QVERIFY(ground.ok());
    const auto found = review::reviewMovement(pipeline::reviewedOn(**ground),
                                              traceOf({[](double t) {
                                                        return Vec3{4 + t, 0, 5};
                                                      }},
                                                      12),
                                              {}, job);
    QVERIFY(found.ok());
    const Finding* f = find(*found, "through-wall");
    QVERIFY(f && found->size() == 1);
    QVERIFY2(f->sentence.find("long_crate, in at 8.") != std::string::npos, f->sentence.c_str());
  }
  void linksThatAskForTooMuchAreHintsWithARemedy() {
    const auto b = built(Scene().floor(0, 0, 10, 10).floor(12, 0, 20, 10, -3, "low").world());
    nav::NavMesh m = b->mesh;
    m.agent.name = "Porter", m.agent.maxDrop = 2;
    const std::vector<links::HandLink> drawn{{4, nav::LinkKind::drop, {9.5, 0, 3}, {12.5, -3, 3}, true, 0},
                                             {5, nav::LinkKind::jump, {9.5, 0, 6}, {12.5, -3, 6}, true, 0}};
    const auto tied = links::attach(m, nav::Locator(m), drawn);
    QVERIFY(tied.links.empty() && tied.broken.empty());
    const auto found = review::reviewMesh(m, {}, tied.broken, tied.beyond, {100});
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
