// Review of movement: nothing is found in movement without a flaw, however it was recorded, and every fault that is put into it is.

#include <QtTest>
#include <set>

#include "core/hand/lay.h"
#include "core/links/attach.h"
#include "core/review/reach.h"
#include "tests/core/movements.h"
#include "tests/core/traces.h"

using namespace dune;
using namespace dune::test;
using review::Finding;

class TestMovementReview : public QObject {
  Q_OBJECT

  /// Boxes and thin walls on a floor, a ramp to a platform that one can drop from, dear and forbidden ground.
  struct Yard {
    std::shared_ptr<const generate::Built> built;
    nav::NavMesh mesh;
    std::unique_ptr<route::Field> field;
    std::vector<Vec3> low, high;  // of the boxes

    explicit Yard(std::uint64_t seed) {
      Random random(seed);
      Scene scene;
      scene.floor(0, 0, 40, 30).floor(40, 20, 46, 30, 2, "platform").ramp(30, 24, 40, 28, 0, 2);
      for (int i = 0; i < 7; ++i) {
        const double x = random.in(3, 26), z = random.in(3, 26);
        const bool thin = i % 2 == 0;
        const double w = thin ? 0.2 : random.in(1, 4), d = random.in(1, 6);
        low.push_back({x, 0, z}), high.push_back({x + (i % 4 == 0 ? d : w), 3, z + (i % 4 == 0 ? w : d)});
        scene.box(low.back(), high.back(), "box_" + std::to_string(i));
      }
      level::World world = scene.world();
      world.kinds = {{"ground", "#d98e32", 1}, {"mud", "#705030", 6}, {"pit", "#202020", 1, 0, true}};
      world.volumes = {{1, "mud", {plan({30, 0, 2}), plan({30, 0, 9}), plan({35, 0, 9}), plan({35, 0, 2})}, -1, 1},
                       {2, "pit", {plan({32, 0, 13}), plan({32, 0, 17}), plan({36, 0, 17}), plan({36, 0, 13})}, -1, 1}};
      built = test::built(world);
      mesh = built->mesh;
      mesh.agent.maxDrop = 3;
      mesh.links = links::attach(mesh, nav::Locator(mesh), {{1, nav::LinkKind::drop, {40.5, 2, 21.5}, {39, 0, 21.5}, true, 0}}).links;
      field = std::make_unique<route::Field>(mesh, built->rules());
    }
    std::optional<nav::Place> anywhere(Random& random) const {
      const nav::Place p = field->locator().under({random.in(0, 46), random.in(0, 2), random.in(0, 30)}, 3);
      return p.valid() && field->passable(p.face) ? std::optional(p) : std::nullopt;
    }
    route::PathAnswer way(const Vec3& from, const Vec3& to) const {
      route::Search search(*field);
      return route::findPath(*field, search, from, to);
    }
    /// Of at least that length, on ground alone.
    std::vector<Vec3> someWay(Random& random, double least) const {
      while (true) {
        const auto from = anywhere(random), to = anywhere(random);
        if (!from || !to) continue;
        const auto answer = way(from->position, to->position);
        if (answer.status == route::PathStatus::complete && answer.links.empty() && answer.length >= least) return answer.points;
      }
    }
    std::vector<Finding> reviewed(const trace::Trace& trace, int threads = 0) const {
      ThreadedJob job;
      job.setThreads(threads);
      auto found = review::reviewMovement({mesh, field->locator(), field.get()}, trace, {}, job);
      return found ? *found : std::vector<Finding>{};
    }
  };
  std::vector<std::unique_ptr<Yard>> yards_;

  static constexpr int kYards = 6, kRuns = 160;

  static Sampling someSampling(Random& random) {
    constexpr double kRates[] = {5, 8, 10, 15, 20, 30, 50, 60};
    return {kRates[random.upTo(8)], random.upTo(2) ? random.in(0, 0.8) : 0, random.upTo(4) ? 0 : 0.001};
  }
  static Walk someWalk(const Yard& yard, Random& random, double least) {
    return {yard.someWay(random, least), random.in(0.7, 1.4), random.upTo(2) ? random.in(1.5, 4) : 0};
  }
  static QString text(const std::vector<Finding>& found) {
    QString all;
    for (const Finding& f : found) all += QString::fromStdString(f.code + ": " + f.sentence + " " + f.why + "\n");
    return all;
  }
  /// A fault of that code that happens between two times and is the only kind but for those.
  void onlyFinds(const std::vector<Finding>& found, const char* code, double from, double until, const std::set<std::string>& besides = {},
                 int count = 1) {
    const auto is = [&](const Finding& f) { return f.code == code && f.from < until + 0.6 && f.until > from - 0.6; };
    QVERIFY2(std::ranges::count_if(found, is) == count,
             qPrintable(QString("%1 at %2-%3 of\n").arg(code).arg(from).arg(until) + text(found)));
    for (const Finding& f : found)
      QVERIFY2(f.code == code || besides.contains(f.code), qPrintable(QString("beside %1: ").arg(code) + text(found)));
  }
  /// So many walkers, close together in rows, from one place to another.
  static std::vector<crowd::Walker> block(int count, int abreast, const Vec3& from, const Vec3& to) {
    std::vector<crowd::Walker> all;
    for (int i = 0; i < count; ++i) {
      const Vec3 place{0.9 * (i % abreast), 0, 0.9 * (i / abreast)};
      crowd::Walker w;
      w.id = i + 1, w.start = from + place, w.goal = to + place;
      all.push_back(w);
    }
    return all;
  }
  template <class Plant>
  void each(std::uint64_t seed, Plant&& plant) {
    const char* more = std::getenv("DUNE_MANY_MOVEMENTS");
    for (int run = 0; run < (more ? std::atoi(more) : kRuns) && !QTest::currentTestFailed(); ++run) {
      Random random(seed * 1000003 + static_cast<std::uint64_t>(run));
      plant(*yards_[static_cast<std::size_t>(run) % kYards], random);
      if (QTest::currentTestFailed()) qWarning("in run %d", run);
    }
  }

 private slots:
  void initTestCase() {
    for (std::uint64_t seed = 1; seed <= kYards; ++seed) yards_.push_back(std::make_unique<Yard>(seed));
  }

  void nothingIsFoundWhereNothingIsWrong() {
    each(1, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 2);
      const double late = random.upTo(2) ? random.in(0, 5) : 0, stays = random.upTo(2) ? random.in(0, 8) : 0;
      const std::optional<Vec3> goal = random.upTo(2) ? std::optional(walk.points.back()) : std::nullopt;
      const double from = random.upTo(3) ? 0 : random.in(-20, 1000);
      std::vector<Movement> bodies{{[=](double t) { return walk(t - late - from); }, from + (random.upTo(2) ? late : 0),
                                    from + late + walk.seconds() + stays + 0.1, goal}};
      const auto found = yard.reviewed(recorded(bodies, someSampling(random), random));
      QVERIFY2(found.empty(), qPrintable(text(found)));
    });
  }
  void severalTripsAreNoFault() {
    each(2, [&](const Yard& yard, Random& random) {
      Walk first = someWalk(yard, random, 4), second = first;
      const auto to = yard.someWay(random, 1).front();
      const auto on = yard.way(first.points.back(), to);
      if (on.status != route::PathStatus::complete || !on.links.empty()) return;
      second.points = on.points;
      const double rest = random.in(0.2, 1.8), then = first.seconds() + rest;
      // Off again another way, which is a turn at once only where it does not stand before.
      const auto at = [=](double t) { return t < then ? first(t) : second(t - then); };
      const auto found = yard.reviewed(recorded({{at, 0, then + second.seconds()}}, someSampling(random), random));
      for (const Finding& f : found)
        QVERIFY2((rest < 0.5 && f.code == "turned-at-once") || (rest < 1.3 && f.code == "hesitates"), qPrintable(text(found)));
    });
  }
  void gaps() {
    each(3, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 14);
      const Walk other{{walk.points[0], walk.points[0]}};
      const double t = random.in(1, 3), gone = random.in(3, 5);
      Sampling sampling = someSampling(random);
      Movement body{walk, 0, walk.seconds()};
      const trace::Trace whole = recorded({body}, sampling, random);
      // Without the samples in between; the other body far away keeps its own.
      const bool alone = random.upTo(2);
      trace::Trace trace;
      std::vector<trace::Body> who = whole.bodies();
      if (!alone) who.push_back({2, 0.4, std::nullopt, 0});
      trace::Writer writer(trace, who);
      (void)writer.begin();
      for (std::size_t f = 0; f < whole.frameCount(); ++f) {
        const bool lost = whole.timeOf(f) > t && whole.timeOf(f) < t + gone;
        if (lost && alone) continue;
        std::vector<trace::Sample> now{whole.at(f, 0)};
        if (lost) now[0].state = trace::State::waiting;
        if (!alone) now.push_back({0, 2, {1000, 0, 0}, {}, {}, trace::State::offMesh, nav::kNoFace});
        (void)writer.frame(whole.timeOf(f), now);
      }
      (void)writer.end();
      onlyFinds(yard.reviewed(trace), "gap", t, t + gone);
    });
  }
  void jumps() {
    each(4, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 14);
      const double t = random.in(1, 4), far = random.in(3, 6);
      if (glm::distance(walk(t), walk(t + far / walk.speed)) < 2) return;
      onlyFinds(yard.reviewed(recorded({{[=](double s) { return walk(s < t ? s : s + far / walk.speed); }, 0, walk.seconds()}},
                                       someSampling(random), random)),
                "jumped", t, t);
    });
  }
  void floatsAndSinks() {
    each(5, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 8);
      const double t = random.in(1, 3), by = random.upTo(2) ? random.in(0.4, 0.9) : -random.in(0.4, 0.9);
      const auto found =
          yard.reviewed(recorded({{[=](double s) {
                                     return walk(s) + Vec3{0, by * std::clamp(std::min(s - t, t + 1.5 - s) / 0.3, 0.0, 1.0), 0};
                                   },
                                   0, walk.seconds()}},
                                 someSampling(random), random));
      onlyFinds(found, "left-ground", t, t + 1.5);
      if (QTest::currentTestFailed()) return;
      QVERIFY2(std::abs(found[0].measured - std::abs(by)) < 0.02, qPrintable(text(found)));
      QVERIFY(found[0].sentence.find(by > 0 ? "floats" : "under") != std::string::npos);
    });
  }
  void tooFast() {
    each(6, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 16);
      const double speed = random.in(4, 8), seconds = random.in(0.8, 1.2), t = random.in(1, 3);
      const auto at = [=](double s) { return walk(s + (speed / walk.speed - 1) * std::clamp(s - t, 0.0, seconds)); };
      if (glm::distance(at(t), at(t + seconds)) < 0.7 * speed * seconds) return;
      const auto found = yard.reviewed(recorded({{at, 0, walk.seconds()}}, someSampling(random), random));
      onlyFinds(found, "too-fast", t, t + seconds);
      if (!QTest::currentTestFailed()) QVERIFY2(std::abs(found[0].measured - speed) < 0.35 * speed, qPrintable(text(found)));
    });
  }
  void stuckAndByWhom() {
    each(7, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 8);
      const double t = random.in(2, 4), seconds = random.in(4, 9);
      const auto held = [=](double s) { return walk(s - std::clamp(s - t, 0.0, seconds)); };
      const Vec3 there = walk(t), ahead = walk(t + 0.1) - there;
      std::vector<Movement> bodies{{held, 0, walk.seconds() + seconds}};
      // Another one that stands right beside it all the while, or nobody.
      const bool crowd = random.upTo(2);
      const Vec3 beside = there + glm::normalize(Vec3{-ahead.z, 0, ahead.x} + Vec3{1e-9, 0, 0}) * 0.95;
      const nav::Place stands = yard.field->locator().under(beside, 0.5);
      if (!stands.valid() || !yard.field->passable(stands.face)) return;
      if (crowd) bodies.push_back({[at = stands.position](double) { return at; }, t - 0.5, t + seconds + 0.5});
      const auto found = yard.reviewed(recorded(bodies, someSampling(random), random));
      onlyFinds(found, "stuck", t, t + seconds, crowd ? std::set<std::string>{"overlap"} : std::set<std::string>{});
      if (QTest::currentTestFailed()) return;
      const auto f = std::ranges::find(found, "stuck", &Finding::code);
      QVERIFY2(std::abs(f->measured - seconds) < 0.6, qPrintable(text(found)));
      QVERIFY2(crowd ? f->others == std::vector<int>{2} : f->others.empty(), qPrintable(text(found)));
      QVERIFY2(crowd || f->why.find("wall") != std::string::npos || f->why.find("nobody is near") != std::string::npos, f->why.c_str());
    });
  }
  void hesitates() {
    int told = 0;
    each(19, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 10);
      Sampling sampling = someSampling(random);
      sampling.rate = std::max(sampling.rate, 15.0);  // what is slower shows nothing of it
      const double t = random.in(2.5, 5), seconds = random.in(0.5, 0.85);
      // Where the way bends it may have slowed down for that, and it stops on level ground.
      const Vec3 in = walk(t) - walk(t - 0.8), out = walk(t + 0.8) - walk(t);
      if (glm::dot(in, out) < 0.9 * glm::length(in) * glm::length(out) || walk.seconds() < t + 2) return;
      const auto found = yard.reviewed(
          recorded({{[=](double s) { return walk(s - std::clamp(s - t, 0.0, seconds)); }, 0, walk.seconds() + seconds}}, sampling, random));
      onlyFinds(found, "hesitates", t, t + seconds);
      ++told;
      if (!QTest::currentTestFailed()) QVERIFY2(std::abs(found[0].measured - seconds) < 0.3, qPrintable(text(found)));
    });
    QVERIFY(told > 40);
  }
  void late() {
    int told = 0;
    each(20, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 14);
      // Again and again it goes on as slowly as a tenth of its pace.
      const double slow = 0.06, period = walk.seconds() / 3, lost = random.in(7, 10);
      const auto at = [=](double s) {
        double gone = 0;
        for (int part = 0; part < 3; ++part) {
          const double fast = std::clamp(s, 0.0, period * 0.6), then = std::clamp(s - period * 0.6, 0.0, lost);
          const double rest = period * 0.4 - slow * lost, last = std::clamp(s - period * 0.6 - lost, 0.0, rest);
          gone += fast + slow * then + last;
          s -= period * 0.6 + lost + rest;
        }
        return walk(gone);
      };
      const double seconds = 3 * (period * 0.6 + lost + period * 0.4 - slow * lost);
      if (period * 0.4 < slow * lost + 0.3 || seconds < 1.6 * walk.seconds() + 8) return;
      const auto found = yard.reviewed(recorded({{at, 0, seconds + 1, walk.points.back()}}, someSampling(random), random));
      onlyFinds(found, "late", 0, seconds, {"too-sudden"});
      ++told;
      if (!QTest::currentTestFailed())
        QVERIFY2(std::ranges::any_of(found, [&](const Finding& f) { return f.code == "late" && std::abs(f.measured - seconds) < 2.5; }),
                 qPrintable(text(found)));
    });
    QVERIFY2(told > 30, qPrintable(QString::number(told)));
  }
  void offItsPath() {
    Random random(5);
    const Walk walk{{{30, 0, 11}, {38, 0, 11}}, 1.2};
    trace::Trace trace = recorded({{walk, 0, 7}}, {20}, random);
    trace.offPath.assign(trace.sampleCount(), 0.1F);
    QVERIFY(yards_[0]->reviewed(trace).empty());
    for (std::size_t f = 40; f < 60; ++f) trace.offPath[f] = 4.0F + 0.1F * static_cast<float>(std::min(f - 40, 60 - f));
    const auto found = yards_[0]->reviewed(trace);
    onlyFinds(found, "off-path", 2, 3);
    if (!QTest::currentTestFailed()) QVERIFY(std::abs(found[0].measured - 5) < 0.01 && found[0].why.find("Nobody") == 0);
    for (std::size_t f = 43; f < 60; ++f) trace.offPath[f] = std::numeric_limits<float>::quiet_NaN();
    QVERIFY(yards_[0]->reviewed(trace).empty());  // a moment is nothing
  }
  /// What the mesh leaves open the level decides: a step is no floating, and who stands on something is said.
  void heightsAreThoseOfTheLevel() {
    Random random(6);
    const Walk walk{{{30, 0, 11}, {38, 0, 11}}, 1.2};
    const auto reviewed = [&](double by, const std::function<std::optional<review::Surface>(const Vec3&, double)>& surface) {
      const trace::Trace trace = recorded({{[=](double t) { return walk(t) + Vec3{0, t > 2 && t < 4 ? by : 0, 0}; }, 0, 7}}, {20}, random);
      ThreadedJob job;
      auto found =
          review::reviewMovement({yards_[0]->mesh, yards_[0]->field->locator(), yards_[0]->field.get(), {}, surface}, trace, {}, job);
      return found ? *found : std::vector<Finding>{};
    };
    const auto flat = [](const Vec3&, double) { return std::optional(review::Surface{0, "floor"}); };
    const auto atFeet = [](const Vec3& at, double) { return std::optional(review::Surface{at.y, "plinth"}); };
    QVERIFY(reviewed(0.1, flat).empty());
    QVERIFY(reviewed(0.22, atFeet).empty() && reviewed(0.22, {}).empty());
    auto found = reviewed(0.22, flat);
    onlyFinds(found, "left-ground", 2, 4);
    if (QTest::currentTestFailed()) return;
    QVERIFY2(std::abs(found[0].measured - 0.22) < 0.01 && found[0].sentence.find("floats") != std::string::npos, qPrintable(text(found)));
    found = reviewed(-0.22, flat);
    onlyFinds(found, "left-ground", 2, 4);
    if (!QTest::currentTestFailed()) QVERIFY(found[0].sentence.find("sinks") != std::string::npos);
    found = reviewed(0.5, atFeet);
    onlyFinds(found, "left-ground", 2, 4, {"jumped"});
    if (!QTest::currentTestFailed())
      QVERIFY(std::ranges::any_of(found, [](const Finding& f) { return f.why.find("stands on plinth") != std::string::npos; }));
  }
  void trembles() {
    each(8, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 8);
      Sampling sampling = someSampling(random);
      sampling.rate = std::max(sampling.rate, 15.0);  // what is slower shows nothing of it
      const double t = random.in(1, 3), seconds = random.in(2.5, 4), hertz = std::min(sampling.rate / 5, random.in(2.5, 5)),
                   wide = random.in(0.06, 0.12);
      const bool stands = random.upTo(2);
      const Vec3 side = glm::normalize(Vec3{random.in(-1, 1), 0, random.in(-1, 1)});
      const auto at = [=](double s) {
        const double on = std::clamp(s - t, 0.0, seconds);
        const Vec3 base = walk(stands ? s - on : s);
        const Vec3 ahead = walk(s + 0.05) - walk(s - 0.05);
        const Vec3 across = stands || glm::length(ahead) < 1e-6 ? side : glm::normalize(Vec3{-ahead.z, 0, ahead.x});
        return s > t && s < t + seconds ? base + across * (wide * std::sin(2 * kPi * hertz * (s - t))) : base;
      };
      if (walk.seconds() < t + seconds && !stands) return;
      onlyFinds(yard.reviewed(recorded({{at, 0, walk.seconds() + (stands ? seconds : 0)}}, sampling, random)), "trembles", t, t + seconds,
                {"wall-touched", "on-forbidden", "stuck", "too-fast", "too-sudden"});
      if (QTest::currentTestFailed())
        qWarning("%g a second, %g Hz, %g m, %s, %g m/s", sampling.rate, hertz, wide, stands ? "stands" : "walks", walk.speed);
    });
  }
  void backAndForth() {
    each(9, [&](const Yard& yard, Random& random) {
      const Walk walk = someWalk(yard, random, 10);
      const double wide = random.in(0.8, 4), t = 2, times = 2 + random.upTo(3), period = 2 * wide / walk.speed;
      const auto at = [=](double s) {
        if (s < t) return walk.after(walk.speed * s);
        if (s > t + times * period) return walk.after(walk.speed * (s - times * period));
        const double share = std::fmod(s - t, period) / period;
        return walk.after(walk.speed * t + wide * (share < 0.5 ? 2 * share : 2 - 2 * share));
      };
      // Bends of the way itself within what it goes over would be others.
      if (glm::distance(walk.after(walk.speed * t), walk.after(walk.speed * t + wide)) < 0.98 * wide) return;
      onlyFinds(yard.reviewed(recorded({{at, 0, walk.length() / walk.speed + times * period}}, someSampling(random), random)),
                "back-and-forth", t, t + times * period);
    });
  }
  void circles() {
    each(10, [&](const Yard& yard, Random& random) {
      const Vec3 middle{37, 0, 11};  // open
      const double radius = random.in(0.5, 1.5), speed = random.in(0.7, 1.3), turns = random.in(2.6, 5), left = random.upTo(2) ? 1 : -1;
      const double seconds = turns * 2 * kPi * radius / speed;
      const auto at = [=](double s) {
        const double angle = left * std::clamp(s - 1, 0.0, seconds) * speed / radius;
        const Vec3 on = middle + Vec3{std::cos(angle), 0, std::sin(angle)} * radius;
        const Vec3 out = Vec3{-std::sin(angle), 0, std::cos(angle)} * (left * speed * (s < 1 ? s - 1 : std::max(0.0, s - 1 - seconds)));
        return on + out;
      };
      const auto found = yard.reviewed(recorded({{at, 0, seconds + 2}}, someSampling(random), random));
      onlyFinds(found, "circles", 1, 1 + seconds, {"turned-at-once"});
      if (!QTest::currentTestFailed()) QVERIFY2(std::abs(found[0].measured - turns) < 0.9, qPrintable(text(found)));
    });
  }
  void throughWalls() {
    int tried = 0;
    each(11, [&](const Yard& yard, Random& random) {
      // Across a box, the shorter way.
      const auto box = static_cast<std::size_t>(random.upTo(static_cast<int>(yard.low.size())));
      const Vec3 size = yard.high[box] - yard.low[box], out = size.x < size.z ? Vec3{1, 0, 0} : Vec3{0, 0, 1};
      const Vec3 middle = yard.low[box] + size * random.in(0.3, 0.7), far = out * (std::min(size.x, size.z) + random.in(0.6, 2));
      const nav::Locator& locator = yard.field->locator();
      const nav::Place from = locator.under(Vec3{middle.x, 0, middle.z} - far, 0.1),
                       to = locator.under(Vec3{middle.x, 0, middle.z} + far, 0.1);
      if (!from.valid() || !to.valid() || !yard.field->passable(from.face) || !yard.field->passable(to.face)) return;
      const auto way = yard.way(from.position, to.position);
      if (way.status != route::PathStatus::complete || way.length < 2 * glm::distance(from.position, to.position)) return;
      ++tried;
      const Walk walk{{from.position, to.position}, random.in(0.8, 1.4)};
      const auto found = yard.reviewed(recorded({{walk, 0, walk.seconds(), to.position}}, someSampling(random), random));
      const bool any = std::ranges::count(found, std::string("through-wall"), &Finding::code) > 0;
      QVERIFY2(any, qPrintable(text(found)));
      // Beside it, ends of walls may be scraped, and ground may be forbidden on the way.
      for (const Finding& f : found)
        QVERIFY2(f.code == "through-wall" || f.code == "wall-touched" || f.code == "on-forbidden" || f.code == "dear-way" ||
                     f.code == "left-ground",
                 qPrintable(text(found)));
    });
    QVERIFY2(tried >= 10, qPrintable(QString::number(tried)));
  }
  void forbiddenGround() {
    each(12, [&](const Yard& yard, Random& random) {
      const double z = random.in(13.5, 16.5);
      const Walk walk{{{30.5, 0, z}, {38, 0, z}}, random.in(0.8, 1.4)};
      const auto found = yard.reviewed(recorded({{walk, 0, walk.seconds()}}, someSampling(random), random));
      onlyFinds(found, "on-forbidden", 1.5 / walk.speed, 5.5 / walk.speed);
      if (!QTest::currentTestFailed()) QVERIFY(found[0].sentence.find("pit") != std::string::npos);
    });
  }
  void dearWays() {
    each(13, [&](const Yard& yard, Random& random) {
      const double z = random.in(6.5, 8.8);
      const Walk walk{{{29.2, 0, z}, {36, 0, z}}, random.in(0.8, 1.4)};
      const auto way = yard.way(walk.points[0], walk.points[1]);
      if (way.status != route::PathStatus::complete || way.cost > 24) return;
      onlyFinds(yard.reviewed(recorded({{walk, 0, walk.seconds(), walk.points[1]}}, someSampling(random), random)), "dear-way", 0,
                walk.seconds());
    });
  }
  void longWays() {
    each(14, [&](const Yard& yard, Random& random) {
      const auto from = yard.anywhere(random), over = yard.anywhere(random), to = yard.anywhere(random);
      if (!from || !over || !to) return;
      const auto first = yard.way(from->position, over->position), then = yard.way(over->position, to->position),
                 best = yard.way(from->position, to->position);
      for (const auto* w : {&first, &then, &best})
        if (w->status != route::PathStatus::complete || !w->links.empty()) return;
      if (first.length + then.length < 1.5 * best.length + 5 || best.length < 1) return;
      Walk walk{first.points, random.in(0.8, 1.4)};
      walk.points.insert(walk.points.end(), then.points.begin(), then.points.end());
      const auto found = yard.reviewed(recorded({{walk, 0, walk.seconds(), to->position}}, someSampling(random), random));
      // On its way it may come by its goal: then it had arrived.
      for (double t = 0; t < walk.seconds() - 2; t += 0.1)
        if (glm::distance(walk(t), to->position) < 0.7) return;
      onlyFinds(found, "long-way", 0, walk.seconds(), {"turned-at-once"});
    });
  }
  void linksAgainstTheirDirection() {
    each(15, [&](const Yard& yard, Random& random) {
      const bool up = random.upTo(2);
      std::vector<Vec3> points{{36, 0, 21.5}, {39, 0, 21.5}, {39.2, 2, 21.5}, {40.5, 2, 21.5}, {44, 2, 23}};
      if (!up) std::ranges::reverse(points);
      const Walk walk{points, random.in(0.9, 1.4)};
      const auto found = yard.reviewed(recorded({{walk, 0, walk.seconds()}}, someSampling(random), random));
      if (up)
        onlyFinds(found, "link-against", 3 / walk.speed, 6.5 / walk.speed);
      else
        QVERIFY2(found.empty(), qPrintable(text(found)));
    });
  }
  /// Also where there is a way around, and however seldom it was recorded.
  void bordersAgainstTheirDirection() {
    Yard yard(1);
    hand::Work work;
    work.parts = {{{}, {38, 0, 0.4}, {38, 0, 18}, true, {true, false}}};  // from the east to the west
    const hand::Laid laid = hand::lay(yard.mesh, work, 1);
    yard.mesh = laid.mesh;
    for (nav::Link l : laid.crossings) l.id = 10 + static_cast<int>(yard.mesh.links.size()), yard.mesh.links.push_back(l);
    yard.field = std::make_unique<route::Field>(yard.mesh, yard.built->rules());
    for (int run = 0; run < kRuns && !QTest::currentTestFailed(); ++run) {
      Random random(17 * 1000003 + static_cast<std::uint64_t>(run));
      const double z = random.in(2, 14);
      std::vector<Vec3> points{{36.5, 0, z}, {39.4, 0, z + random.in(-1.5, 1.5)}};
      const bool against = random.upTo(2) == 0;
      if (!against) std::ranges::reverse(points);
      const Walk walk{points, random.in(0.8, 1.4)};
      const auto found = yard.reviewed(recorded({{walk, 0, walk.seconds()}}, someSampling(random), random));
      if (against)
        onlyFinds(found, "link-against", 0, walk.seconds());
      else
        QVERIFY2(found.empty(), qPrintable(text(found)));
    }
  }
  void turnsAtOnce() {
    each(16, [&](const Yard& yard, Random& random) {
      const Vec3 from{31, 0, 11}, to{38, 0, 10.5 + random.in(0, 1)};
      const double far = random.in(2.5, 6);
      Walk walk{{from, glm::mix(from, to, far / 7), from}, random.in(1.1, 1.4)};
      Sampling sampling = someSampling(random);
      sampling.rate = std::max(sampling.rate, 20.0);  // in what is slower it may have stopped in between
      onlyFinds(yard.reviewed(recorded({{walk, 0, walk.seconds()}}, sampling, random)), "turned-at-once", far / walk.speed - 0.3,
                far / walk.speed + 0.3);
    });
  }
  void twoContactsAreTwo() {
    each(17, [&](const Yard& yard, Random& random) {
      const Walk walk{{{29, 0, 11}, {39, 0, 11}}, random.in(0.7, 0.9)};
      const double near = random.in(0.4, 0.7), first = random.in(1, 2), second = first + random.in(4, 5);
      const auto apart = [=](double t) {
        const auto within = [&](double from) { return std::clamp(std::min(t - from, from + 2.6 - t) / 1.2, 0.0, 1.0); };
        return 1.4 - (1.4 - near) * std::max(within(first), within(second));
      };
      const auto found = yard.reviewed(recorded({{walk, 0, 11},
                                                 {[=](double t) {
                                                    return walk(t) + Vec3{0, 0, apart(t)};
                                                  },
                                                  0, 11}},
                                                someSampling(random), random));
      onlyFinds(found, "overlap", first, second + 2.6, {}, 2);
      if (QTest::currentTestFailed()) return;
      for (const Finding& f : found) QVERIFY2(std::abs(f.measured - (0.8 - near)) < 0.05 && f.others.size() == 1, qPrintable(text(found)));
    });
  }
  void timesBelowZeroAreTimesToo() {
    Random random(9);
    const Walk walk{{{30, 0, 11}, {38, 0, 11}}, 1.2};
    const auto found =
        yards_[0]->reviewed(recorded({{[=](double t) { return walk(t + 20 < 2 ? t + 20 : t + 23); }, -20, -17}}, {20}, random));
    onlyFinds(found, "jumped", -18.1, -17.9);
    if (!QTest::currentTestFailed()) QVERIFY(found[0].timed() && found[0].time < -17);
  }
  void offTheMap() {
    each(18, [&](const Yard& yard, Random& random) {
      const double x = random.in(2, 28);
      const Walk walk{{{x, 0, 28.5}, {x, 0, 33}}, random.in(0.8, 1.4)};
      if (!yard.field->locator().under({x, 0, 28.5}, 0.1).valid()) return;
      onlyFinds(yard.reviewed(recorded({{walk, 0, walk.seconds()}}, someSampling(random), random)), "left-ground", 1.5, walk.seconds(),
                {"wall-touched"});
    });
  }
  /// Before a door of one metre a group stands; once it is through, and where it stays, it does not.
  void crowdedTogether() {
    const auto ground =
        test::built(Scene().floor(0, 0, 30, 12).box({12, 0, 0}, {12.3, 3, 5.4}, "left").box({12, 0, 6.6}, {12.3, 3, 12}, "right").world());
    const route::Field field(ground->mesh, ground->rules());
    const std::vector<crowd::Walker> walkers = block(24, 6, {4, 0, 4}, {22, 0, 4});
    const auto reviewed = [&](const trace::Trace& trace) {
      ThreadedJob job;
      auto found = review::reviewMovement({ground->mesh, field.locator(), &field}, trace, {}, job);
      return found ? *found : std::vector<Finding>{};
    };
    const auto found = reviewed(walked(field, walkers, 60));
    const auto crush = std::ranges::find(found, "crush", &Finding::code);
    QVERIFY2(crush != found.end(), qPrintable(text(found)));
    QVERIFY2(crush->at.x < 12.5 && std::abs(crush->at.z - 6) < 2.5, qPrintable(text(found)));
    QVERIFY2(crush->why.find("1.2") != std::string::npos, crush->why.c_str());
    QVERIFY(crush->measured >= 5 && crush->others.size() >= 4);
    // Five walk there one long after the other, and all stay at the end: nobody is held up.
    std::vector<crowd::Walker> few(walkers.begin(), walkers.begin() + 8);
    for (std::size_t i = 0; i < few.size(); ++i) few[i].startTime = 5.0 * static_cast<double>(i);
    const auto calm = reviewed(walked(field, few, 80));
    QVERIFY2(std::ranges::count(calm, std::string("crush"), &Finding::code) == 0, qPrintable(text(calm)));
    // A recording without goals whose bodies stand together from its begin to its end says nothing of that.
    Random random(3);
    std::vector<Movement> stand;
    for (int i = 0; i < 12; ++i) stand.push_back({[i](double) { return Vec3{4 + 0.85 * (i % 4), 0, 4 + 0.85 * (i / 4)}; }, 0, 30});
    const auto standing = reviewed(recorded(stand, {10}, random));
    QVERIFY2(standing.empty(), qPrintable(text(standing)));
  }
  /// Between two lakes of mud one file of bodies walks dry: a crowd queues for it, and wades through no mud.
  void aCrowdKeepsOffDearGround() {
    level::World world = Scene().floor(0, 0, 40, 24).world();
    world.kinds = {{"ground", "#d98e32", 1}, {"mud", "#705030", 6}};
    world.volumes = {{1, "mud", {plan({14, 0, 1}), plan({14, 0, 11.7}), plan({24, 0, 11.7}), plan({24, 0, 1})}, -1, 1},
                     {2, "mud", {plan({14, 0, 12.3}), plan({14, 0, 23}), plan({24, 0, 23}), plan({24, 0, 12.3})}, -1, 1}};
    const auto ground = test::built(world);
    const route::Field field(ground->mesh, ground->rules());
    const std::vector<crowd::Walker> walkers = block(16, 4, {6, 0, 10.5}, {33, 0, 10.5});
    const trace::Trace trace = walked(field, walkers, 90);
    ThreadedJob job;
    const auto found = review::reviewMovement({ground->mesh, field.locator(), &field}, trace, {}, job);
    QVERIFY(found.ok());
    for (const Finding& f : *found)
      QVERIFY2(f.code != "dear-way" && f.code != "never-arrives" && f.code != "overlap", qPrintable(text(*found)));
    // Nobody waded more than he was pushed.
    for (std::size_t b = 0; b < walkers.size(); ++b) {
      double mud = 0;
      for (std::size_t f = 1; f < trace.frameCount(); ++f) {
        const Vec3 at = trace.at(f, b).at;
        const nav::Place under = field.locator().under(at, 1);
        if (under.valid() && field.perMetre(under.face) > 2) mud += glm::distance(at, trace.at(f - 1, b).at);
      }
      QVERIFY2(mud < 2, qPrintable(QString("%1 m by %2").arg(mud).arg(walkers[b].id)));
    }
  }
  void theSameOnAnyNumberOfThreads() {
    Random random(77);
    std::vector<Movement> bodies;
    for (int i = 0; i < 40; ++i) {
      const Walk walk = someWalk(*yards_[0], random, 5);
      bodies.push_back({[=](double t) { return walk(t) + Vec3{0, t > 3 && t < 4 ? 0.6 : 0, 0}; }, 0, 20, walk.points.front()});
    }
    const trace::Trace trace = recorded(bodies, {20, 0.3}, random);
    const auto one = yards_[0]->reviewed(trace, 1), two = yards_[0]->reviewed(trace, 2);
    QVERIFY(one.size() > 40);
    QCOMPARE(text(one), text(two));
  }
};

QTEST_GUILESS_MAIN(TestMovementReview)
#include "movement_review.moc"
