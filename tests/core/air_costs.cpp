// Ways through air of different cost, held against closed forms, against ways that were tried, and against laws.

#include <QtTest>

#include "core/meshfile/space_file.h"
#include "tests/core/air.h"

using namespace dune;
using flight::AirZone;
using flight::Searcher;
using flight::Space;
using flight::Way;
using test::boxOf;
using test::Random;
using test::Scene;

namespace {

std::shared_ptr<const Space> airOf(const Scene& scene, const Box3& volume, std::vector<AirZone> zones, const Space* before = nullptr) {
  ThreadedJob job;
  auto input = pipeline::flightInput(scene.world(), test::flyer(0.5, 0.4), {volume}, job);
  input->zones = std::move(zones);
  auto made = Space::make(*std::move(input), job, before);
  if (!made) throw std::runtime_error(made.problem().text());
  return *made;
}

/// What a way costs, by looking at many short parts of it.
double costBySteps(const std::vector<AirZone>& zones, const std::vector<Vec3>& points) {
  const auto airAt = [&](const Vec3& p) -> const AirZone* {
    for (std::size_t z = zones.size(); z-- > 0;)
      if (zones[z].box.contains(p)) return &zones[z];
    return nullptr;
  };
  double cost = 0;
  const AirZone* before = airAt(points[0]);
  for (std::size_t i = 1; i < points.size(); ++i) {
    const int steps = 4000;
    for (int s = 0; s < steps; ++s) {
      const Vec3 p = glm::mix(points[i - 1], points[i], (s + 0.5) / steps);
      const AirZone* air = airAt(p);
      if (air && (!before || air->kind != before->kind)) cost += air->entry;
      before = air;
      cost += glm::distance(points[i - 1], points[i]) / steps * (air ? air->cost : 1);
    }
  }
  return cost;
}

}  // namespace

class TestAirCosts : public QObject {
  Q_OBJECT
 private slots:
  void throughALayerItBendsAsLightDoes() {
    // From under a layer 4 m high to over it, far to the side: by Fermat the sines of the angles are as the costs, found by halving.
    for (const double cost : {0.4, 2.0, 5.0}) {
      const auto space = airOf(Scene(), boxOf({-20, 0, -4}, {40, 12, 4}), {{boxOf({-30, 4, -9}, {50, 8, 9}), cost, 0, 0}});
      const Vec3 from(0, 1, 0), to(14, 11, 0);
      const auto whole = [&](double within) {  // metres to the side within the layer; the rest outside, 3 m below and 3 m above
        return cost * std::hypot(4, within) + std::hypot(6, 14 - within);
      };
      double low = 0, high = 14;
      for (int i = 0; i < 200; ++i) {
        const double a = low + (high - low) / 3, b = high - (high - low) / 3;
        (whole(a) < whole(b) ? high : low) = whole(a) < whole(b) ? b : a;
      }
      const Way way = Searcher(*space).find({from, to});
      QVERIFY(way.found());
      // Where the layer is cheap, going along in it is all.
      const double best = whole(low);
      QVERIFY2(way.cost >= best - 1e-6 && way.cost <= 1.003 * best, qPrintable(QString("%1: %2 but %3").arg(cost).arg(way.cost).arg(best)));
    }
  }

  void aroundWhatIsDearItGoesAlongItsEdges() {
    // A dear block across the hall but for a metre at the top: over it, the taut way over its two upper edges.
    const auto space = airOf(Scene(), boxOf({0, 0, 0}, {30, 9, 6}), {{boxOf({12, -1, -1}, {18, 8, 7}), 20, 0, 0}});
    const Vec3 from(6, 2, 3), to(24, 3, 3);
    const double best = glm::distance(from, Vec3(12, 8, 3)) + 6 + glm::distance(Vec3(18, 8, 3), to);
    const Way way = Searcher(*space).find({from, to});
    QVERIFY2(way.found() && way.cost >= best - 1e-6 && way.cost <= 1.004 * best, qPrintable(QString("%1 but %2").arg(way.cost).arg(best)));
  }

  void whatItCostsIsWhatItSays() {
    int zonesMet = 0;
    for (int n = 0; n < 3; ++n) {
      Random random(300 + static_cast<std::uint64_t>(n));
      const Box3 volume = boxOf({0, 0, 0}, {24, 10, 24});
      Scene scene;
      test::scatter(scene, random, 10, volume.size());
      std::vector<AirZone> zones;
      for (std::uint32_t k = 0; k < 4; ++k) {
        const Vec3 at(random.in(2, 22), random.in(0, 10), random.in(2, 22)), half(random.in(1, 6), random.in(1, 6), random.in(1, 6));
        zones.push_back({boxOf(at - half, at + half), k % 2 ? random.in(1.5, 6) : random.in(0.3, 1), k == 3 ? 4.0 : 0, k});
      }
      const auto space = airOf(scene, volume, zones), plain = airOf(scene, volume, {});
      Searcher search(*space), shortest(*plain);
      for (int k = 0; k < 6; ++k) {
        const Vec3 a = test::chanceFit(*space, random, volume), b = test::chanceFit(*space, random, volume);
        const Way way = search.find({a, b}), back = search.find({b, a}), straight = shortest.find({a, b});
        QCOMPARE(way.found(), straight.found());
        if (!way.found()) continue;
        const double told = costBySteps(zones, way.points), direct = costBySteps(zones, straight.points);
        zonesMet += std::abs(direct - straight.length) > 0.1;
        QVERIFY2(std::abs(told - way.cost) < 0.01 * told + 0.02,
                 qPrintable(QString("%1, %2: %3 but %4").arg(n).arg(k).arg(way.cost).arg(told)));
        // Not dearer than the shortest one; and the air through which it goes lets the body through.
        QVERIFY2(way.cost <= 1.01 * direct + 0.02, qPrintable(QString("%1, %2: %3 but %4").arg(n).arg(k).arg(way.cost).arg(direct)));
        for (std::size_t i = 1; i < way.points.size(); ++i) QVERIFY(space->passes(way.points[i - 1], way.points[i]));
        // Over other places it is hardly ever cheaper, either.
        double best = back.cost;
        for (int over = 0; over < 6; ++over) {
          const Vec3 c = test::chanceFit(*space, random, volume);
          const Way one = search.find({a, c}), two = search.find({c, b});
          if (one.found() && two.found()) best = std::min(best, one.cost + two.cost);
        }
        worst_ = std::max(worst_, way.cost / best), sum_ += way.cost / best, ++ways_;
      }
    }
    QVERIFY(ways_ > 12 && zonesMet > 6);
    QVERIFY2(sum_ / ways_ <= 1.005 && worst_ <= 1.04, qPrintable(QString("mean %1 worst %2").arg(sum_ / ways_).arg(worst_)));
  }

  void whereItIsForbiddenNobodyFlies() {
    project::Project p;
    edit(p.areas, [](project::AreasSection& s) { s.kinds = {{}, {"smoke", "#888888", 3, 0, false}, {"no-fly", "#cc3333", 1, 0, true}}; });
    edit(p.flight, [](project::FlightSection& s) {
      for (int id = 1; id <= 2; ++id) {
        project::FlyerKind kind;
        kind.id = id, kind.name = "kind " + std::to_string(id);
        s.flyers.push_back(kind);
      }
      s.volumes = {{1, "all", boxOf({0, 0, 0}, {30, 10, 10})},
                   {2, "tower", boxOf({12, -1, -1}, {16, 11, 11}), "no-fly"},
                   {3, "lane", boxOf({12, 2, 2}, {16, 4, 8}), "smoke"}};
      s.rules = {{2, "no-fly", {1, 0, false}}, {2, "smoke", {1, 0, false}}};
    });
    const auto level = std::make_shared<level::Level>();
    ThreadedJob job;
    const auto airFor = [&](std::size_t flyer) {
      auto made = pipeline::makeAir(p, level, flyer, nullptr, job);
      return made ? *made : nullptr;
    };
    const auto one = airFor(0), two = airFor(1);
    QVERIFY(one && two);
    QVERIFY(!one->space->fits(one->space->stretched({14, 6, 5})) && one->space->fits(one->space->stretched({14, 3, 5})));
    QVERIFY(two->space->fits(two->space->stretched({14, 6, 5})));
    const Way low = Searcher(*one->space).find({{5, 3, 5}, {25, 3, 5}}), straight = Searcher(*two->space).find({{5, 6, 5}, {25, 6, 5}});
    QVERIFY2(low.found() && std::abs(low.cost - (16 + 4 * 3)) < 0.3, qPrintable(QString::number(low.cost)));
    QVERIFY(straight.found() && std::abs(straight.cost - 20) < 1e-6);
    // A rule of the other one changes nothing; its own does.
    project::Project other = p;
    edit(other.flight, [](project::FlightSection& s) { s.rules[0].rule.cost = 2; });
    QVERIFY(pipeline::sameAir(p, other, 1) && !pipeline::sameAir(p, other, 2));
    // Also where no volume says where they may fly.
    edit(p.flight, [](project::FlightSection& s) { s.volumes.erase(s.volumes.begin()); });
    other = p;
    edit(other.flight, [](project::FlightSection& s) { s.volumes[0].box.max.x += 1; });
    QVERIFY(!pipeline::sameAir(p, other, 1) && pipeline::sameAir(p, p, 1));
  }

  void filesAndRebuildsKeepIt() {
    Random random(17);
    const Box3 volume = boxOf({0, 0, 0}, {30, 10, 30});
    Scene scene;
    test::scatter(scene, random, 12, volume.size());
    const std::vector<AirZone> zones{{boxOf({3, 1, 3}, {9, 6, 9}), 2.5, 3, 1}, {boxOf({20, -1, 5}, {40, 4, 12}), 0.5, 0, 2}};
    const auto space = airOf(scene, volume, zones);
    const std::string bytes = meshfile::spaceToBytes(*space);
    const auto read = meshfile::spaceFromBytes(bytes);
    QVERIFY(read && (*read)->airs().zones() == zones && meshfile::spaceToBytes(**read) == bytes);
    const Vec3 a = test::chanceFit(*space, random, volume), b = test::chanceFit(*space, random, volume);
    QCOMPARE(Searcher(**read).find({a, b}).cost, Searcher(*space).find({a, b}).cost);
    std::vector<AirZone> moved = zones;
    moved[0].box.max.x += 1;
    const auto partial = airOf(scene, volume, moved, space.get()), full = airOf(scene, volume, moved);
    QVERIFY(meshfile::spaceToBytes(*partial) == meshfile::spaceToBytes(*full) && partial->renewed() < full->renewed());
  }

  void boxesWithoutOthersAreTheRest() {
    Random random(5);
    const auto any = [&] {
      const Vec3 at(random.in(0, 10), random.in(0, 10), random.in(0, 10)), half(random.in(0.2, 4), random.in(0.2, 4), random.in(0.2, 4));
      return boxOf(at - half, at + half);
    };
    for (int n = 0; n < 100; ++n) {
      const std::vector<Box3> boxes{any(), any()}, no{any(), any()};
      const auto left = flight::without(boxes, no);
      const auto in = [](std::span<const Box3> all, const Vec3& p) {
        return std::ranges::any_of(all, [&](const Box3& b) { return b.contains(p); });
      };
      for (int k = 0; k < 200; ++k) {
        const Vec3 p(random.in(-2, 12), random.in(-2, 12), random.in(-2, 12));
        QCOMPARE(in(left, p), in(boxes, p) && !in(no, p));
      }
    }
  }

 private:
  double worst_ = 1, sum_ = 0;
  int ways_ = 0;
};

QTEST_APPLESS_MAIN(TestAirCosts)
#include "air_costs.moc"
