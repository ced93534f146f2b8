// Bodies that fly: alone, together, among things that move; and what the review says of them.

#include <QtTest>

#include "core/flight/fleet.h"
#include "core/flight/half_spaces.h"
#include "core/review/flight_review.h"
#include "tests/core/air.h"

using namespace dune;
using flight::Airborne;
using flight::Fleet;
using flight::FlightState;
using flight::Pilot;
using flight::Space;
using test::boxOf;
using test::chanceFit;
using test::flyer;
using test::Random;
using test::Scene;
using test::spaceOf;

namespace {

Pilot pilot(int id, const Vec3& start, const Vec3& goal) {
  Pilot p;
  p.id = id, p.start = start, p.goal = goal;
  const Vec3 way = goal - start;
  p.heading = std::atan2(-way.z, way.x);
  return p;
}

std::vector<Pilot> ring(int count, double radius, const Vec3& middle) {
  std::vector<Pilot> pilots;
  for (int i = 0; i < count; ++i) {
    const double a = 2 * kPi * i / count;
    const Vec3 out(std::cos(a) * radius, 0, std::sin(a) * radius);
    pilots.push_back(pilot(i + 1, middle + out, middle - out));
  }
  return pilots;
}

/// The nearest point to `p` that all bounds allow, by trying every one, two and three of them as those that hold it.
std::optional<Vec3> triedNearest(const Vec3& p, const std::vector<flight::Bound>& bounds) {
  std::optional<Vec3> best;
  const auto tryPoint = [&](const Vec3& v) {
    for (const flight::Bound& b : bounds)
      if (glm::dot(b.normal, v) < b.least - 1e-7) return;
    if (!best || glm::distance(v, p) < glm::distance(*best, p)) best = v;
  };
  tryPoint(p);
  const auto missing = [&](std::size_t i) { return bounds[i].least - glm::dot(bounds[i].normal, p); };
  for (std::size_t i = 0; i < bounds.size(); ++i) {
    const Vec3 a = bounds[i].normal;
    tryPoint(p + a * missing(i));
    for (std::size_t j = i + 1; j < bounds.size(); ++j) {
      const Vec3 b = bounds[j].normal;
      const double lean = glm::dot(a, b), rest = 1 - lean * lean;
      if (rest < 1e-12) continue;
      tryPoint(p + a * ((missing(i) - lean * missing(j)) / rest) + b * ((missing(j) - lean * missing(i)) / rest));
      for (std::size_t k = j + 1; k < bounds.size(); ++k) {
        const Vec3 c = bounds[k].normal, bc = glm::cross(b, c);
        const double volume = glm::dot(a, bc);
        if (std::abs(volume) < 1e-9) continue;
        tryPoint((bc * bounds[i].least + glm::cross(c, a) * bounds[j].least + glm::cross(a, b) * bounds[k].least) / volume);
      }
    }
  }
  return best;
}

/// Lets them fly until all have arrived, or for so many seconds; false when one step goes through something.
bool flyAll(Fleet& fleet, const Space& space, double seconds, std::size_t& arrived, double& leastGap) {
  Job job;
  leastGap = 1e9;
  const double radius = space.flyer().radius;
  while (fleet.time() < seconds) {
    const std::vector<Airborne> before = fleet.bodies();
    if (!fleet.step(job)) return false;
    const auto& now = fleet.bodies();
    arrived = 0;
    for (std::size_t i = 0; i < now.size(); ++i) {
      if (!space.obstacles().clear(space.stretched(before[i].at), space.stretched(now[i].at), radius - 1e-4)) return false;
      if (!space.volume().contains(space.stretched(now[i].at))) return false;
      arrived += now[i].state == FlightState::arrived;
      for (std::size_t k = i + 1; k < now.size(); ++k)
        leastGap = std::min(leastGap, glm::length(space.stretched(now[i].at - now[k].at)) - 2 * radius);
    }
    if (arrived == now.size()) return true;
  }
  return true;
}

trace::Trace recorded(const Space& space, std::vector<Pilot> pilots, double seconds) {
  Job job;
  auto fleet = Fleet::make({&space}, std::move(pilots), {}, job);
  trace::Trace trace;
  if (!pipeline::recordFlight(fleet.value(), {}, {seconds}, trace, job)) qFatal("not recorded");
  return trace;
}

/// The same with the samples of one body changed from a frame on.
trace::Trace spoiled(const trace::Trace& trace, std::size_t body, const std::function<void(std::size_t frame, trace::Sample&)>& change) {
  trace::Trace other;
  trace::Writer writer(other, trace.bodies());
  bool whole = writer.begin().ok();
  std::vector<trace::Sample> samples(trace.bodies().size());
  for (std::size_t f = 0; f < trace.frameCount(); ++f) {
    for (std::size_t i = 0; i < samples.size(); ++i) samples[i] = trace.at(f, i);
    change(f, samples[body]);
    whole = whole && writer.frame(trace.timeOf(f), samples).ok();
  }
  if (!whole || !writer.end()) qFatal("not written");
  return other;
}

std::vector<std::string> codes(const Space& space, const trace::Trace& trace) {
  Job job;
  const Space* const spaces[] = {&space};
  const auto found = review::reviewFlight(spaces, {}, trace, {}, job);
  std::vector<std::string> codes;
  for (const review::Finding& f : *found) codes.push_back(f.code);
  return codes;
}

bool has(const std::vector<std::string>& list, const char* code) { return std::ranges::count(list, code) > 0; }

}  // namespace

class TestFleet : public QObject {
  Q_OBJECT
 private slots:
  void theNearestVelocityIsTheNearest() {
    Random random(11);
    int none = 0;
    for (int n = 0; n < 3000; ++n) {
      std::vector<flight::Bound> bounds;
      const auto any = [&] { return Vec3(random.in(-1, 1), random.in(-1, 1), random.in(-1, 1)); };
      for (int i = random.upTo(9); i >= 0; --i) {
        const Vec3 normal = glm::normalize(any());
        bounds.push_back({normal, n % 3 ? random.in(-1, 0.6) : random.in(-1, 0), i % 2 == 0});
        // Walls of one direction nearly, and the same once more.
        if (n % 5 == 0) bounds.push_back({glm::normalize(normal + any() * (n % 2 ? 1e-7 : 1e-3)), bounds.back().least, true});
      }
      const Vec3 p = any() * 2.0;
      const auto found = flight::nearestPoint(p, bounds), tried = triedNearest(p, bounds);
      none += !tried;
      QCOMPARE(found.has_value(), tried.has_value());
      if (found) QVERIFY2(glm::distance(*found, *tried) < 1e-5, qPrintable(QString::number(n)));
    }
    QVERIFY(none > 100 && none < 1500);
  }
  void steepWaysAreTurnedTo() {
    // Its aim is a hand's breadth ahead, nearly straight below.
    flight::Flyer kind = flyer(0.5, 0.4);
    kind.turnsFirst = true, kind.passWithin = 0.13;
    const auto space = spaceOf(Scene(), kind, boxOf({0, 0, 0}, {10, 10, 10}));
    Pilot one = pilot(1, {5, 8, 5}, {6.35, 2, 5});
    one.heading = kPi;
    Job job;
    auto fleet = Fleet::make({space.get()}, {one}, {}, job);
    std::size_t arrived = 0;
    double leastGap = 0;
    QVERIFY(flyAll(fleet.value(), *space, 30, arrived, leastGap) && arrived == 1);
  }
  void whoIsInShapeKeepsItsPlace() {
    // Five behind each other to both sides; through the open, then through an opening that lets one through at a time.
    // Without a leader they are drawn apart there.
    for (const auto& [narrow, led] : {std::pair(false, true), {true, true}, {true, false}}) {
      const flight::Flyer kind = flyer(0.5, 0.4);
      Scene scene;
      if (narrow) scene.box({29.8, -1, -1}, {30.2, 13, 8.2}, "left").box({29.8, -1, 9.8}, {30.2, 13, 19}, "right");
      const auto space = spaceOf(scene, kind, boxOf({0, 0, 0}, {80, 12, 18}));
      std::vector<Pilot> pilots{pilot(1, {8, 5, 9}, {72, 5, 9})};
      for (int n = 0; n < 4; ++n) {
        const Vec3 off(-1.5 - 1.5 * (n / 2), n < 2 ? 0 : 0.8, (n % 2 ? 1 : -1) * (1.6 + 1.6 * (n / 2)));
        pilots.push_back(pilot(n + 2, pilots[0].start + off, pilots[0].goal + off));
        if (led) pilots.back().leader = 0;
        pilots.back().place = {off.x, off.y, off.z};
      }
      for (Pilot& p : pilots) p.lookAhead();
      Job job;
      auto fleet = Fleet::make({space.get()}, pilots, {}, job);
      QVERIFY(fleet);
      double worst = 0, least = 1e9;
      for (int step = 0; step < 30 * 60; ++step) {
        QVERIFY(fleet->step(job));
        const auto& bodies = fleet->bodies();
        const double x = bodies[0].at.x;
        for (std::size_t i = 0; i < bodies.size(); ++i)
          for (std::size_t k = i + 1; k < bodies.size(); ++k)
            least = std::min(least, glm::length((bodies[i].at - bodies[k].at) / Vec3(1, 0.8, 1)));
        // Where there is room: from a while after the start, or after the opening, until the leader is nearly there.
        if (bodies[0].state != flight::FlightState::flying || x < (narrow ? 60 : 20) || x > 70) continue;
        for (std::size_t i = 1; i < bodies.size(); ++i)
          worst = std::max(worst, glm::distance(bodies[i].at, bodies[0].at + pilots[i].place));
      }
      QVERIFY2(led ? worst < (narrow ? 2.0 : 0.6) : worst > 2.4, qPrintable(QString("%1 %2: %3").arg(narrow).arg(led).arg(worst)));
      QVERIFY2(least > 0.999, qPrintable(QString::number(least)));
      for (const flight::Airborne& b : fleet->bodies()) QVERIFY(b.state == flight::FlightState::arrived);
    }
    Job job;
    const auto space = spaceOf(Scene(), flyer(0.5, 0.4), boxOf({0, 0, 0}, {20, 12, 18}));
    std::vector<Pilot> wrong{pilot(1, {2, 2, 2}, {9, 2, 2}), pilot(2, {4, 2, 4}, {9, 2, 4})};
    wrong[0].leader = 1, wrong[1].leader = 0;
    QVERIFY(!Fleet::make({space.get()}, wrong, {}, job));
  }

  void whereItJustFitsItGets() {
    // Under a slab, along the floor of the volume, with a ten millionth of its size to spare.
    const flight::Flyer kind = flyer(0.3, 0.44);
    for (const double turn : {0.0, 0.3, 1.1}) {
      Scene scene;
      scene.box({4, 0.44 * (1 + 1e-7), -9}, {6, 12, 19}, "slab");
      for (level::Object& o : scene.objects())
        for (Vec3& v : o.vertices.edit())
          v = Vec3(5, 0, 5) +
              Vec3(std::cos(turn) * (v.x - 5) + std::sin(turn) * (v.z - 5), v.y, -std::sin(turn) * (v.x - 5) + std::cos(turn) * (v.z - 5));
      const auto space = spaceOf(scene, kind, boxOf({0, 0, 0}, {10, 5, 10}));
      Job job;
      auto fleet = Fleet::make({space.get()}, {pilot(1, {1, 3, 5}, {9, 3, 5})}, {}, job);
      std::size_t arrived = 0;
      double leastGap = 0;
      QVERIFY2(flyAll(fleet.value(), *space, 60, arrived, leastGap) && arrived == 1, qPrintable(QString::number(turn)));
    }
  }
  void aloneEverybodyArrives() {
    for (int n = 0; n < 10; ++n) {
      Random random(9000 + static_cast<std::uint64_t>(n));
      Scene scene;
      flight::Flyer kind = flyer(random.in(0.25, 0.7), random.in(0.2, 0.7));
      kind.passWithin = random.in(0.1, 2.5), kind.speed = random.in(1, 12), kind.acceleration = random.in(2, 12);
      kind.climbRate = random.in(0.8, 8), kind.turnsFirst = n % 2;
      const Box3 volume = boxOf({0, 0, 0}, {18, 9, 18});
      test::scatter(scene, random, n % 4 < 2 ? 26 : 12, {18, 9, 18});
      const auto space = n % 2 ? spaceOf(scene, kind, test::bentRoom()) : spaceOf(scene, kind, volume);
      flight::Searcher search(*space);
      for (int k = 0; k < 8; ++k) {
        Pilot one = pilot(1, chanceFit(*space, random, volume), chanceFit(*space, random, volume));
        const flight::Way way = search.find({one.start, one.goal});
        if (!way.found()) continue;
        one.heading = random.in(-3, 3);
        Job job;
        auto fleet = Fleet::make({space.get()}, {one}, {}, job);
        std::size_t arrived = 0;
        double leastGap = 0;
        QVERIFY2(flyAll(fleet.value(), *space, 5 * way.length / kind.speed + 20, arrived, leastGap) && arrived == 1,
                 qPrintable(QString("scene %1, way %2").arg(n).arg(k)));
      }
    }
  }
  void whatCannotHoverLinesUpWithAnOpening() {
    // From everywhere on one side, along the wall too.
    flight::Flyer kind = flyer(0.3, 0.3);
    kind.speed = 2, kind.leastSpeed = 0.8, kind.turnRate = 55, kind.acceleration = 10, kind.passWithin = 2, kind.arriveWithin = 2.4;
    const auto space = spaceOf(test::wallWithOpening(0.66, 0.66), kind, boxOf({0, 0, 0}, {20, 8, 10}));
    Random random(5);
    for (int n = 0; n < 10; ++n) {
      Pilot one = pilot(1, {random.in(10.8, 14), random.in(1, 7), random.in(1, 9)}, {random.in(2, 7), random.in(1, 7), random.in(1, 9)});
      one.heading = random.in(-3, 3);
      Job job;
      auto fleet = Fleet::make({space.get()}, {one}, {}, job);
      std::size_t arrived = 0;
      double leastGap = 0;
      QVERIFY2(flyAll(fleet.value(), *space, 45, arrived, leastGap) && arrived == 1, qPrintable(QString::number(n)));
    }
  }
  void whoeverMeetsAtANarrowPlaceGetsThrough() {
    for (int n = 0; n < 12; ++n) {
      Random random(300 + static_cast<std::uint64_t>(n));
      flight::Flyer kind = flyer(random.in(0.3, 0.6), random.in(0.3, 0.6));
      kind.speed = random.in(2, 8), kind.climbRate = random.in(1, 6);
      const double share = random.in(1.01, 1.6);
      const auto space =
          spaceOf(test::wallWithOpening(2 * kind.radius * share, 2 * kind.halfHeight * share), kind, boxOf({0, 0, 0}, {20, 8, 10}));
      std::vector<Pilot> pilots;
      for (int i = 0; i < 1 + n % 4; ++i) {
        const double z = 1 + 2.0 * i + random.in(0, 0.8);
        const Vec3 a(random.in(1, 7), random.in(1, 7), z), b(random.in(13, 19), random.in(1, 7), z);
        pilots.push_back(n % 3 == 2 && i % 2 ? pilot(i + 1, b, a) : pilot(i + 1, a, b));
      }
      Job job;
      auto fleet = Fleet::make({space.get()}, pilots, {}, job);
      QVERIFY(fleet);
      std::size_t arrived = 0;
      double leastGap = 0;
      QVERIFY(flyAll(fleet.value(), *space, 120, arrived, leastGap));
      QVERIFY2(arrived == pilots.size(), qPrintable(QString("%1: %2 of %3").arg(n).arg(arrived).arg(pilots.size())));
      QVERIFY(leastGap > -1e-6);
    }
  }
  void whoeverHasAWayArrives() {
    // In scenes by chance, with bodies and limits by chance, hovering or not.
    for (int n = 0; n < 6; ++n) {
      Random random(60 + static_cast<std::uint64_t>(n));
      Scene scene;
      test::scatter(scene, random, 12, {22, 10, 22});
      flight::Flyer kind = flyer(random.in(0.3, 0.7), random.in(0.25, 0.6));
      kind.passWithin = random.in(0.2, 2.5), kind.speed = random.in(2, 11), kind.climbRate = random.in(1, 6);
      kind.turnsFirst = n % 2;
      if (n % 3 == 2) kind.leastSpeed = kind.speed / 2, kind.arriveWithin = 1.5, kind.turnsFirst = false;
      const Box3 volume = boxOf({0, 0, 0}, {22, 10, 22});
      const auto space = spaceOf(scene, kind, volume);
      for (int k = 0; k < 8; ++k) {
        const Vec3 a = chanceFit(*space, random, volume), b = chanceFit(*space, random, volume);
        const flight::Way way = flight::Searcher(*space).find({a, b});
        if (!way.found()) continue;
        Job job;
        auto fleet = Fleet::make({space.get()}, {pilot(1, a, b)}, {}, job);
        QVERIFY(fleet.ok());
        double rises = 0;
        for (std::size_t i = 1; i < way.points.size(); ++i) rises += std::abs(way.points[i].y - way.points[i - 1].y);
        const double seconds = 3 * way.length / kind.speed + 2 * rises / kind.climbRate + 20;
        std::size_t arrived = 0;
        double gap;
        QVERIFY(flyAll(fleet.value(), *space, seconds, arrived, gap));
        QVERIFY2(arrived == 1, qPrintable(QString("scene %1, %2: %3 m left").arg(n).arg(k).arg(glm::distance(fleet->bodies()[0].at, b))));
      }
    }
  }

  void ringsSwap_data() {
    QTest::addColumn<int>("count");
    QTest::addColumn<double>("radius");
    QTest::newRow("2") << 2 << 8.0;
    QTest::newRow("16") << 16 << 9.0;
    QTest::newRow("60") << 60 << 21.0;
  }
  void ringsSwap() {
    QFETCH(int, count);
    QFETCH(double, radius);
    const auto space = spaceOf(Scene(), flyer(0.5, 0.4), boxOf({-40, 0, -40}, {40, 30, 40}));
    Job job;
    auto fleet = Fleet::make({space.get()}, ring(count, radius, {0, 12, 0}), {}, job);
    std::size_t arrived = 0;
    double gap = 0;
    const double straight = 2 * radius / space->flyer().speed;
    QVERIFY(flyAll(fleet.value(), *space, 3 * straight + 6, arrived, gap));
    QCOMPARE(arrived, static_cast<std::size_t>(count));
    QVERIFY2(gap > -0.005, qPrintable(QString::number(gap)));
    // Nor does anybody climb faster than it can, however many make way.
    const trace::Trace flown = recorded(*space, ring(count, radius, {0, 12, 0}), 3 * straight + 6);
    QVERIFY(!has(codes(*space, flown), "climbed-too-fast"));
  }

  void whereNoWayLeadsItEndsAsNearAsItGets() {
    const auto space = spaceOf(Scene().box({9, -1, -1}, {10, 11, 21}, "wall"), flyer(0.5, 0.4), boxOf({0, 0, 0}, {20, 10, 20}));
    Job job;
    auto fleet = Fleet::make({space.get()}, {pilot(1, {3, 5, 10}, {16, 5, 10})}, {}, job);
    while (fleet->time() < 12) QVERIFY(fleet.value().step(job));
    QCOMPARE(fleet->bodies()[0].state, FlightState::stuck);
    QVERIFY2(std::abs(fleet->bodies()[0].at.x - 8.5) < 0.5, qPrintable(QString::number(fleet->bodies()[0].at.x)));
  }

  void sameBytesOnAnyThreads() {
    const auto space = spaceOf(Scene().box({-2, 0, -2}, {2, 20, 2}), flyer(0.5, 0.4), boxOf({-30, 0, -30}, {30, 20, 30}));
    const auto fly = [&](int threads) {
      ThreadedJob job({}, {}, threads);
      auto fleet = Fleet::make({space.get()}, ring(100, 24, {0, 9, 0}), {}, job);
      for (int i = 0; i < 200; ++i) fleet.value().step(job);
      return fleet->bodies();
    };
    const auto one = fly(1), two = fly(2);
    for (std::size_t i = 0; i < one.size(); ++i)
      QVERIFY(one[i].at == two[i].at && one[i].velocity == two[i].velocity && one[i].heading == two[i].heading &&
              one[i].bank == two[i].bank);
  }

  void aWiderPassGivesSweepingTurns() {
    // Round a corner: who may pass it at a distance is sooner there, and bends less sharply.
    Scene scene;
    scene.box({-1, 0, -1}, {12, 12, 12}, "block");
    double seconds[2], sharpest[2];
    for (const int wide : {0, 1}) {
      flight::Flyer kind = flyer(0.5, 0.5);
      kind.passWithin = wide ? 4 : 0.2;
      const auto space = spaceOf(scene, kind, boxOf({-10, 0, -10}, {20, 10, 20}));
      Job job;
      auto fleet = Fleet::make({space.get()}, {pilot(1, {-6, 5, 16}, {16, 5, -6})}, {}, job);
      double most = 0;
      while (fleet->bodies()[0].state != FlightState::arrived && fleet->time() < 60) {
        const Vec3 before = fleet->bodies()[0].velocity;
        QVERIFY(fleet.value().step(job));
        const Vec3 now = fleet->bodies()[0].velocity;
        if (glm::length(before) > 1 && glm::length(now) > 1)
          most = std::max(most, std::acos(std::clamp(glm::dot(before, now) / glm::length(before) / glm::length(now), -1.0, 1.0)));
      }
      QCOMPARE(fleet->bodies()[0].state, FlightState::arrived);
      seconds[wide] = fleet->time(), sharpest[wide] = most;
    }
    QVERIFY2(seconds[1] < seconds[0] && sharpest[1] <= sharpest[0],
             qPrintable(QString("%1 %2 s, %3 %4").arg(seconds[0]).arg(seconds[1]).arg(sharpest[0]).arg(sharpest[1])));
  }

  void itTurnsFirstOrWhileItGoes() {
    for (const bool first : {false, true}) {
      flight::Flyer kind = flyer(0.5, 0.4);
      kind.turnsFirst = first, kind.turnRate = 60;
      const auto space = spaceOf(Scene(), kind, boxOf({0, 0, 0}, {40, 10, 10}));
      Pilot p = pilot(1, {5, 5, 5}, {35, 5, 5});
      p.heading = kPi;  // it looks the other way
      Job job;
      auto fleet = Fleet::make({space.get()}, {p}, {}, job);
      for (int i = 0; i < 45; ++i) fleet.value().step(job);  // a second and a half: half of the turn
      const double gone = fleet->bodies()[0].at.x - 5;
      QVERIFY2(first ? gone < 0.1 : gone > 1, qPrintable(QString::number(gone)));
      while (fleet->bodies()[0].state != FlightState::arrived && fleet->time() < 60) fleet.value().step(job);
      QCOMPARE(fleet->bodies()[0].state, FlightState::arrived);
    }
  }

  void whatMovesIsMadeWayFor() {
    const auto space = spaceOf(Scene(), flyer(0.5, 0.4), boxOf({0, 0, 0}, {40, 10, 20}));
    Job job;
    auto fleet = Fleet::make({space.get()}, {pilot(1, {4, 5, 10}, {36, 5, 10})}, {}, job);
    flight::Mover mover;
    mover.at = {36, 5, 10}, mover.velocity = {-3, 0, 0}, mover.radius = 1, mover.halfHeight = 1;
    double least = 1e9;
    while (fleet->bodies()[0].state != FlightState::arrived && fleet->time() < 40) {
      QVERIFY(fleet.value().step(job, std::span(&mover, 1)));
      mover.at += mover.velocity / 30.0;
      const Vec3 d = fleet->bodies()[0].at - mover.at;
      least = std::min(least, glm::length(Vec3(d.x, d.y * 1.5 / 1.4, d.z)) - 1.5);
    }
    QCOMPARE(fleet->bodies()[0].state, FlightState::arrived);
    QVERIFY2(least > 0, qPrintable(QString::number(least)));
  }

  /// A box on a track crosses the straight way, and a person who was recorded stands in it.
  void tracksAndRecordingsAreMadeWayFor() {
    const auto space = spaceOf(Scene(), flyer(0.5, 0.4), boxOf({0, 0, 0}, {40, 10, 20}));
    crowd::MovingObstacle box;
    box.size = {2, 6, 3}, box.track = {{20, 0, 2}, {20, 0, 18}}, box.speed = 2.5;
    trace::Trace people;
    trace::Writer writer(people, {{1, 0.5, std::nullopt, 0}});
    QVERIFY(writer.begin() && writer.frame(0, std::vector<trace::Sample>{{0, 1, {30, 0, 10}}}) && writer.end());
    // How near it comes to both, in metres between their outsides.
    const auto nearest = [&](bool heeds) {
      Job job;
      auto fleet = Fleet::make({space.get()}, {pilot(1, {4, 1, 10}, {36, 1, 10})}, {}, job);
      pipeline::Flying how{40};
      if (heeds)
        how.movers = [&](double time) {
          auto movers = pipeline::moversOf(people, time, [](std::size_t) { return pipeline::PersonSize{}; });
          movers.push_back(pipeline::moverOf(box, time));
          return movers;
        };
      std::pair<double, double> least(1e9, 1e9);
      how.goesOn = [&](std::size_t) {
        const Vec3 at = fleet->bodies()[0].at, d = at - Vec3(30, 0.9, 10);
        if (at.y - 0.4 < box.size.y)
          least.first = std::min(least.first, crowd::footprint(box, crowd::whereabouts(box, fleet->time())).distance(plan(at)) - 0.5);
        least.second = std::min(least.second, glm::length(Vec3(d.x, d.y / 1.3, d.z)) - 1);
        return fleet->bodies()[0].state != FlightState::arrived;
      };
      trace::Trace flown;
      if (!pipeline::recordFlight(fleet.value(), {}, how, flown, job) || fleet->bodies()[0].state != FlightState::arrived) least = {-9, -9};
      return least;
    };
    const auto blind = nearest(false), heeding = nearest(true);
    QVERIFY2(blind.first < -0.3 && blind.second < -0.3 && blind.first > -9,
             qPrintable(QString("%1 %2").arg(blind.first).arg(blind.second)));
    QVERIFY2(heeding.first > -1e-3 && heeding.second > -1e-3, qPrintable(QString("%1 %2").arg(heeding.first).arg(heeding.second)));
  }

  void theReviewFindsWhatIsWrongAndNothingElse() {
    Scene scene;
    scene.box({9, 0, -1}, {10, 6, 21}, "wall");
    const auto space = spaceOf(scene, flyer(0.5, 0.4), boxOf({0, 0, 0}, {20, 10, 20}));
    const trace::Trace good = recorded(*space, {pilot(1, {4, 3, 10}, {16, 3, 10}), pilot(2, {4, 3, 14}, {16, 4, 14})}, 12);
    const auto none = codes(*space, good);
    QVERIFY2(none.empty(), none.empty() ? "" : none[0].c_str());
    QVERIFY(has(codes(*space, spoiled(good, 0,
                                      [&](std::size_t f, trace::Sample& s) { s.at = Vec3(4 + 12 * static_cast<double>(f) / 360, 3, 10); })),
                "through-wall"));
    QVERIFY(has(codes(*space, spoiled(good, 1, [&](std::size_t f, trace::Sample& s) { s.at = good.at(f, 0).at + Vec3(0.3, 0, 0); })),
                "overlap"));
    QVERIFY(has(codes(*space, spoiled(good, 0,
                                      [&](std::size_t f, trace::Sample& s) {
                                        if (f > 20) s.at.z += 5;
                                      })),
                "jumped"));
    const auto still =
        codes(*space, spoiled(good, 0, [&](std::size_t, trace::Sample& s) { s.at = good.at(0, 0).at, s.state = trace::State::moving; }));
    QVERIFY(has(still, "stuck") && has(still, "never-arrives"));
    QVERIFY(has(codes(*space, spoiled(good, 0,
                                      [&](std::size_t f, trace::Sample& s) {
                                        s.at = Vec3(4, 3 + 0.25 * static_cast<double>(std::min<std::size_t>(f, 20)), 10);
                                      })),
                "climbed-too-fast"));
    QVERIFY(
        has(codes(*space, spoiled(good, 0, [&](std::size_t f, trace::Sample& s) { s.at.y = f > 100 ? 10.5 : s.at.y; })), "left-volume"));
    QVERIFY(has(codes(*space, spoiled(good, 0,
                                      [&](std::size_t f, trace::Sample& s) {
                                        if (f < 15) s.at.x = 8.7;
                                      })),
                "wall-touched"));
  }

  void partsOfSpaceThatAreCutOffAreFound() {
    Scene scene;
    scene.box({9, -1, -1}, {10, 11, 21}, "wall");
    const auto space = spaceOf(scene, flyer(0.5, 0.4), boxOf({0, 0, 0}, {20, 10, 20}));
    const auto found = review::reviewSpace(*space);
    QCOMPARE(found.size(), std::size_t{1});
    QCOMPARE(found[0].code, std::string("air-cut-off"));
  }
};

QTEST_APPLESS_MAIN(TestFleet)
#include "fleet.moc"
