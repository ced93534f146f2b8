// Heights over ground that flyers keep, held against closed forms and against rays straight down.

#include <QtTest>

#include "core/flight/fleet.h"
#include "core/meshfile/space_file.h"
#include "core/review/flight_review.h"
#include "tests/core/air.h"

using namespace dune;
using flight::Flyer;
using flight::Searcher;
using flight::Space;
using flight::Way;
using test::boxOf;
using test::Random;
using test::Scene;
using test::spaceOf;

namespace {

Flyer keeping(double least, double most, double radius = 0.5, double half = 0.4) {
  Flyer f = test::flyer(radius, half);
  f.leastHeight = least, f.mostHeight = most;
  return f;
}

/// The height of what lies straight under a place, of ground alone or of all of the level, by looking at each triangle; -inf: nothing.
double heightBelow(const level::World& world, const Vec3& p, bool groundAlone) {
  double best = -std::numeric_limits<double>::infinity();
  for (std::size_t o = 0; o < world.level->objects.size(); ++o) {
    if (groundAlone && world.roles[o] != level::Role::ground) continue;
    const level::Object& object = world.level->objects[o];
    for (const auto& t : object.triangles) {
      const Vec3 &a = object.vertices[t[0]], &b = object.vertices[t[1]], &c = object.vertices[t[2]];
      const Vec2 q = plan(p), pa = plan(a), pb = plan(b), pc = plan(c);
      const double whole = cross(pb - pa, pc - pa);
      if (std::abs(whole) < 1e-9) continue;
      const double u = cross(pb - q, pc - q) / whole, v = cross(pc - q, pa - q) / whole, w = 1 - u - v;
      if (u < 0 || v < 0 || w < 0) continue;
      const double y = u * a.y + v * b.y + w * c.y;
      if (y <= p.y) best = std::max(best, y);
    }
  }
  return best;
}

/// Whether a body of a share of the flyer's size keeps its heights at a place, as many points of its skin tell.
bool keeps(const level::World& world, const Flyer& f, const Vec3& at, double share) {
  for (int i = 0; i < 12; ++i)
    for (int k = 0; k <= 8; ++k) {
      const double turn = 2 * kPi * i / 12, up = kPi * (k / 8.0 - 0.5);
      const Vec3 out =
          Vec3(std::cos(turn) * std::cos(up) * f.radius, std::sin(up) * f.halfHeight, std::sin(turn) * std::cos(up) * f.radius);
      const Vec3 p = at + out * share;
      if (f.leastHeight > 0 && p.y - heightBelow(world, p, true) < f.leastHeight) return false;
      if (f.mostHeight > 0 && p.y - heightBelow(world, p, false) > f.mostHeight + 2 * f.halfHeight) return false;
    }
  return true;
}

/// Bumpy ground of squares of 2 m, with boxes that are ground too, and others that only stand in the way.
level::World yard(Random& random, double size) {
  Scene scene;
  const int n = static_cast<int>(size / 2);
  std::vector<double> height(static_cast<std::size_t>((n + 1) * (n + 1)));
  for (double& h : height) h = random.in(0, 1.2);
  const auto corner = [&](int i, int k) { return Vec3(2 * i, height[static_cast<std::size_t>(i * (n + 1) + k)], 2 * k); };
  level::Object ground;
  ground.name = "ground";
  for (int i = 0; i < n; ++i)
    for (int k = 0; k < n; ++k) {
      const auto first = static_cast<std::uint32_t>(ground.vertices.size());
      for (const Vec3& p : {corner(i, k), corner(i, k + 1), corner(i + 1, k + 1), corner(i + 1, k)}) ground.vertices.edit().push_back(p);
      ground.triangles.edit().push_back({first, first + 1, first + 2}), ground.triangles.edit().push_back({first, first + 2, first + 3});
    }
  scene.objects().push_back(ground);
  for (int b = 0; b < 7; ++b) {
    const Vec3 at(random.in(0, size), random.in(-1, 3), random.in(0, size)),
        half(random.in(0.4, 2.5), random.in(0.3, 3), random.in(0.4, 2.5));
    scene.box(at - half, at + half, (b % 2 ? "stands " : "roof ") + std::to_string(b));
  }
  level::World world = scene.world();
  for (std::size_t o = 0; o < world.roles.size(); ++o)
    if (world.level->objects[o].name.starts_with("stands")) world.roles[o] = level::Role::obstacle;
  return world;
}

std::shared_ptr<const Space> spaceIn(const level::World& world, const Flyer& kind, const Box3& volume, const Space* before = nullptr,
                                     int threads = 0) {
  ThreadedJob job({}, {}, threads);
  auto input = pipeline::flightInput(world, kind, {volume}, job);
  auto made = Space::make(*std::move(input), job, before);
  if (!made) throw std::runtime_error(made.problem().text());
  return *made;
}

}  // namespace

class TestHeights : public QObject {
  Q_OBJECT
 private slots:
  void overAFloorTheyAreExact() {
    Scene scene;
    scene.floor(0, 0, 20, 20);
    const auto space = spaceOf(scene, keeping(2, 5), boxOf({-5, -2, -5}, {25, 20, 25}));
    const auto fits = [&](const Vec3& p) { return space->fits(space->stretched(p)); };
    QVERIFY(fits({10, 2.401, 10}) && !fits({10, 2.398, 10}) && !fits({10, 1, 10}) && !fits({10, 0.5, 10}));
    QVERIFY(fits({10, 5.399, 10}) && !fits({10, 5.402, 10}) && !fits({10, 12, 10}));
    // All of it is over the floor.
    QVERIFY(fits({0.502, 4, 10}) && !fits({0.49, 4, 10}) && !fits({-3, 4, 10}));
    const pipeline::FlightAnswer low = pipeline::explainFlight(*space, {10, 1, 10}), high = pipeline::explainFlight(*space, {10, 9, 10}),
                                 beside = pipeline::explainFlight(*space, {-3, 4, 10});
    QVERIFY2(
        low.reason == "height" && std::abs(low.missing - 1.4) < 1e-6 && low.sentence.find("0.60 m over \"floor\"") != std::string::npos,
        low.sentence.c_str());
    QVERIFY2(high.reason == "height" && std::abs(high.missing - 3.6) < 1e-6, high.sentence.c_str());
    QVERIFY2(beside.reason == "height" && beside.sentence.find("nothing is under it") != std::string::npos, beside.sentence.c_str());
    const Way way = Searcher(*space).find({{3, 4, 3}, {10, 9, 10}});
    QVERIFY2(way.outcome == Way::Outcome::none && way.why.find("no higher than 5.00 m") != std::string::npos, way.why.c_str());
    QVERIFY(space->parts() == 1 && space->freeVolume() > 300 && space->freeVolume() < 19.0 * 19 * 3);
  }

  void whatFitsIsWhatRaysTell() {
    int told = 0, yes = 0;
    for (int n = 0; n < 3; ++n) {
      Random random(40 + static_cast<std::uint64_t>(n));
      const level::World world = yard(random, 12);
      const Flyer kind =
          keeping(n % 3 == 1 ? 0 : random.in(0.3, 2.5), n % 3 == 0 ? 0 : random.in(3, 6), random.in(0.3, 0.7), random.in(0.2, 0.6));
      const Box3 volume = boxOf({-2, -2, -2}, {14, 14, 14});
      const auto space = spaceIn(world, kind, volume);
      for (int k = 0; k < 400; ++k) {
        const Vec3 p(random.in(-1, 13), random.in(0, 10), random.in(-1, 13));
        const Vec3 q = space->stretched(p);
        if (space->obstacles().nearest(q, kind.radius * 1.02, flight::Obstacles::Which::ofLevel).barrier >= 0 ||
            space->obstacles().inSolid(q))
          continue;
        const bool inner = keeps(world, kind, p, 0.95), outer = keeps(world, kind, p, 1.05), fits = space->fits(q);
        ++told, yes += fits;
        if (!inner) QVERIFY2(!fits, qPrintable(QString("%1, %2: fits").arg(n).arg(k)));
        // Between few points of its skin something may touch it, so that only what has much room must fit.
        if (outer && keeps(world, kind, p, 1.3)) QVERIFY2(fits, qPrintable(QString("%1, %2: does not fit").arg(n).arg(k)));
      }
    }
    QVERIFY(told > 400 && yes > 100);
  }

  void waysKeepThem() {
    int ways = 0;
    for (int n = 0; n < 3; ++n) {
      Random random(70 + static_cast<std::uint64_t>(n));
      const level::World world = yard(random, 20);
      const Flyer kind = keeping(random.in(0.5, 2), n % 2 ? random.in(4, 7) : 0, random.in(0.3, 0.7), random.in(0.2, 0.6));
      const Box3 volume = boxOf({0, 0, 0}, {20, 12, 20});
      const auto space = spaceIn(world, kind, volume);
      Searcher search(*space);
      for (int k = 0; k < 8; ++k) {
        const Vec3 a = test::chanceFit(*space, random, volume), b = test::chanceFit(*space, random, volume);
        const Way way = search.find({a, b}), back = search.find({b, a});
        QCOMPARE(way.found(), back.found());
        if (!way.found()) continue;
        ++ways;
        for (std::size_t i = 1; i < way.points.size(); ++i) {
          const int steps = 1 + static_cast<int>(glm::distance(way.points[i - 1], way.points[i]) / 0.2);
          for (int s = 0; s <= steps; ++s) {
            const Vec3 p = glm::mix(way.points[i - 1], way.points[i], static_cast<double>(s) / steps);
            QVERIFY2(keeps(world, kind, p, 0.98), qPrintable(QString("%1, %2: at %3 %4 %5").arg(n).arg(k).arg(p.x).arg(p.y).arg(p.z)));
          }
        }
      }
    }
    QVERIFY(ways > 12);
  }

  void gapsUnderThemAreNeitherMissedNorMadeUp() {
    // Between what is too low over the floor and a beam across the hall.
    for (const double share : {0.95, 0.98, 1.02, 1.05}) {
      const Flyer kind = keeping(1.5, 0);
      Scene scene;
      scene.floor(0, 0, 20, 8).box({9.8, 1.5 + 2 * kind.halfHeight * share, -1}, {10.2, 9, 9}, "beam");
      const auto space = spaceOf(scene, kind, boxOf({0, 0, 0}, {20, 8, 8}));
      const Way way = Searcher(*space).find({{4, 4, 4}, {16, 4, 4}});
      QVERIFY2(way.found() == (share > 1), qPrintable(QString::number(share)));
    }
  }

  void fromARoofThatIsTooHighNoWayLeadsDown() {
    // Over a street and a roof; with the greatest height over the roof's, the air over both hangs together.
    for (const bool leads : {true, false}) {
      Scene scene;
      scene.floor(0, 0, 30, 12).box({10, -0.1, -1}, {20, 6, 13}, "house");
      const Flyer kind = keeping(0, leads ? 6 + 2 * 0.4 + 0.3 : 5);
      const auto space = spaceOf(scene, kind, boxOf({0, 0, 0}, {30, 20, 12}));
      const Way way = Searcher(*space).find({{4, 2, 6}, {15, 7, 6}});
      QVERIFY2(way.found() == leads, way.why.c_str());
      QCOMPARE(space->parts(), leads ? std::size_t{1} : std::size_t{3});
    }
  }

  void filesAndRebuildsKeepThem() {
    Random random(9);
    level::World world = yard(random, 12);
    const Flyer kind = keeping(1.2, 6);
    const Box3 volume = boxOf({-2, -2, -2}, {22, 14, 22});
    const auto one = spaceIn(world, kind, volume, nullptr, 1), two = spaceIn(world, kind, volume, nullptr, 2);
    const std::string bytes = meshfile::spaceToBytes(*one);
    QVERIFY(bytes == meshfile::spaceToBytes(*two));
    const auto read = meshfile::spaceFromBytes(bytes);
    QVERIFY(read && meshfile::spaceToBytes(**read) == bytes && (*read)->flyer() == kind);
    QVERIFY((*read)->heightAt((*read)->stretched({-1, 5, 5})).is == flight::HeightAt::Is::high);
    // A box moves; what is made from the space before is the same as from nothing.
    level::Level moved = *world.level;
    for (Vec3& p : moved.objects.back().vertices.edit()) p += Vec3(0.7, 0.2, -0.4);
    level::World after = world;
    after.level = std::make_shared<level::Level>(std::move(moved));
    const auto partial = spaceIn(after, kind, volume, one.get()), full = spaceIn(after, kind, volume);
    QVERIFY(meshfile::spaceToBytes(*partial) == meshfile::spaceToBytes(*full) && partial->renewed() < full->renewed());
    // Its own triangles are as they were.
    ThreadedJob job;
    const auto given = pipeline::flightInput(world, kind, {volume}, job);
    QCOMPARE(pipeline::inputOf(*one).barriers.size(), given->barriers.size());
  }

  void whoFliesKeepsThem() {
    for (int n = 1; n < 3; ++n) {
      Random random(110 + static_cast<std::uint64_t>(n));
      const level::World world = yard(random, 20);
      Flyer kind = keeping(random.in(0.5, 2), 6);
      if (n == 2) kind.leastSpeed = 2;
      const Box3 volume = boxOf({0, 0, 0}, {20, 12, 20});
      const auto space = spaceIn(world, kind, volume);
      std::vector<flight::Pilot> pilots;
      for (int k = 0; k < 60 && pilots.size() < 6; ++k) {
        flight::Pilot pilot;
        pilot.id = static_cast<int>(pilots.size()) + 1;
        pilot.start = test::chanceFit(*space, random, volume), pilot.goal = test::chanceFit(*space, random, volume);
        const bool apart = std::ranges::all_of(pilots, [&](const flight::Pilot& other) {
          return glm::distance(other.start, pilot.start) > 2 && glm::distance(other.goal, pilot.goal) > 2;
        });
        if (!apart || !Searcher(*space).find({pilot.start, pilot.goal}).found()) continue;
        pilot.lookAhead();
        pilots.push_back(pilot);
      }
      QVERIFY(pilots.size() == 6);
      Job job;
      auto fleet = flight::Fleet::make({space.get()}, pilots, {}, job);
      QVERIFY(fleet);
      for (int step = 0; step < 30 * 40; ++step) {
        QVERIFY(fleet->step(job));
        for (const flight::Airborne& b : fleet->bodies())
          QVERIFY2(space->heightAt(space->stretched(b.at)).is == flight::HeightAt::Is::fine,
                   qPrintable(QString("%1: %2").arg(n).arg(step)));
      }
      if (kind.hovers())
        for (const flight::Airborne& b : fleet->bodies()) QVERIFY2(b.state == flight::FlightState::arrived, qPrintable(QString::number(n)));
    }
  }

  void waysTakeOffAndLandStraight() {
    Scene scene;
    scene.floor(0, 0, 30, 12).box({13, 0, -1}, {15, 4, 13}, "house").box({22, 2, 4}, {26, 2.2, 8}, "awning");
    const Box3 volume = boxOf({0, 0, 0}, {30, 12, 12});
    const auto space = spaceOf(scene, keeping(2, 0), volume);
    const Way way = Searcher(*space).find({{4, 0.41, 6}, {20, 0.41, 6}});
    QVERIFY(way.found() && way.lifts && way.lands && way.points.size() >= 4);
    const Vec3 up = way.points[1], down = way.points[way.points.size() - 2];
    QVERIFY(up.x == 4 && up.z == 6 && up.y > 2.4 && up.y < 2.45 && down.x == 20 && down.z == 6 && down.y < 2.45);
    // Under an awning it does not, and what must keep moving does not at all.
    const Way under = Searcher(*space).find({{4, 0.41, 6}, {24, 0.41, 6}});
    QVERIFY2(under.outcome == Way::Outcome::none && under.why.find("goal: it is 0.01 m over \"floor\"") != std::string::npos,
             under.why.c_str());
    Flyer moving = keeping(2, 0);
    moving.leastSpeed = 1;
    const Way on = Searcher(*spaceOf(scene, moving, volume)).find({{4, 0.41, 6}, {20, 4, 6}});
    QVERIFY2(on.outcome == Way::Outcome::none && on.why.find("keep moving") != std::string::npos, on.why.c_str());
  }

  void whoTakesOffAndLandsArrives() {
    int flown = 0;
    for (int n = 0; n < 2; ++n) {
      Random random(130 + static_cast<std::uint64_t>(n));
      const level::World world = yard(random, 20);
      const Flyer kind = keeping(random.in(0.8, 2), n % 2 ? 0 : 7);
      const Box3 volume = boxOf({0, 0, 0}, {20, 12, 20});
      const auto space = spaceIn(world, kind, volume);
      std::vector<flight::Pilot> pilots;
      const auto ground = [&] {
        const Vec3 p(random.in(1, 19), 11, random.in(1, 19));
        return Vec3(p.x, heightBelow(world, p, false) + 1.3 * kind.halfHeight + 0.2, p.z);
      };
      for (int k = 0; k < 400 && pilots.size() < 5; ++k) {
        flight::Pilot pilot;
        pilot.id = static_cast<int>(pilots.size()) + 1, pilot.start = ground(), pilot.goal = ground();
        const bool apart = std::ranges::all_of(pilots, [&](const flight::Pilot& other) {
          return glm::distance(other.start, pilot.start) > 2.5 && glm::distance(other.goal, pilot.goal) > 2.5;
        });
        const Way way = apart ? Searcher(*space).find({pilot.start, pilot.goal}) : Way{};
        if (!way.found() || !way.lifts || !way.lands) continue;
        pilots.push_back(pilot);
      }
      if (pilots.empty()) continue;
      Job job;
      auto fleet = flight::Fleet::make({space.get()}, pilots, {}, job);
      QVERIFY(fleet);
      for (int step = 0; step < 30 * 60; ++step) {
        QVERIFY(fleet->step(job));
        for (std::size_t i = 0; i < fleet->size(); ++i) {
          const Vec3 at = fleet->bodies()[i].at;
          const auto over = [&](const Vec3& end) { return std::hypot(at.x - end.x, at.z - end.z) < kind.radius + kind.arriveWithin; };
          const bool low = space->heightAt(space->stretched(at)).is != flight::HeightAt::Is::fine;
          QVERIFY2(!low || over(pilots[i].start) || over(pilots[i].goal), qPrintable(QString("%1: %2, %3").arg(n).arg(step).arg(i)));
        }
      }
      for (const flight::Airborne& b : fleet->bodies())
        QVERIFY2(b.state == flight::FlightState::arrived, qPrintable(QString("%1: %2 %3 %4").arg(n).arg(b.at.x).arg(b.at.y).arg(b.at.z)));
      flown += static_cast<int>(fleet->size());
    }
    QVERIFY2(flown >= 6, qPrintable(QString::number(flown)));
  }

  void whatMakesNoSenseIsSaid() {
    QVERIFY(flight::checkFlyer(keeping(5, 4)) && flight::checkFlyer(keeping(-1, 0)) && !flight::checkFlyer(keeping(5, 0)));
  }

  void aBodyThatLeavesThemIsFound() {
    Scene scene;
    scene.floor(0, 0, 40, 10);
    const auto space = spaceOf(scene, keeping(2, 5), boxOf({0, 0, 0}, {40, 20, 10}));
    trace::Trace trace;
    trace::Writer writer(trace, {{1, 0.5, std::nullopt, 0, 0}});
    QVERIFY(writer.begin());
    for (int i = 0; i <= 50; ++i) {
      const double y = i < 20 ? 3 : i < 30 ? 1.6 : i < 40 ? 7 : 4;
      QVERIFY(
          writer.frame(i * 0.1, std::vector<trace::Sample>{{i * 0.1, 1, {4 + i * 0.5, y, 5}, {5, 0, 0}, {5, 0, 0}, trace::State::moving}}));
    }
    QVERIFY(writer.end());
    ThreadedJob job;
    const Space* const spaces[] = {space.get()};
    const auto found = review::reviewFlight(spaces, {}, trace, {}, job);
    QVERIFY(found);
    const auto of = [&](std::string_view code) { return std::ranges::find(*found, code, &review::Finding::code); };
    QVERIFY(of("too-low") != found->end() && std::abs(of("too-low")->measured - 0.8) < 1e-6);
    QVERIFY(of("too-high") != found->end() && std::abs(of("too-high")->measured - 1.6) < 1e-6);
  }
};

QTEST_APPLESS_MAIN(TestHeights)
#include "heights.moc"
