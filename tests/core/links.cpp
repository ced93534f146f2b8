// Drops and jumps that are found: at their limits, against what is in the way, and against trying every place.
#include <QtTest>

#include "core/links/attach.h"
#include "core/links/find.h"
#include "core/links/short_walk.h"
#include "core/meshes/mesh_files.h"
#include "core/route/path.h"
#include "tests/core/scenes.h"

using namespace dune;
using nav::LinkKind;
using test::Random;
using test::Scene;

namespace {

struct Block {
  Vec3 low, high;
};

nav::Agent jumper(double drop, double jump, double rise = 0.5) {
  nav::Agent agent;
  agent.maxDrop = drop, agent.maxJump = jump, agent.maxRise = rise;
  return agent;
}

std::shared_ptr<const generate::Built> linked(const Scene& scene, const nav::Agent& agent, int threads = 0) {
  level::World world = scene.world();
  world.findLinks = true;
  return test::built(world, agent, threads);
}

Scene sceneOf(const std::vector<Block>& blocks) {
  Scene scene;
  for (const Block& b : blocks) scene.box(b.low, b.high);
  return scene;
}

Vec3 along(const Vec3& middle, const Vec3& half, double t) { return middle + half * t; }

/// Whether an upright body that is thinner by `thinner` meets a block anywhere along a flight; by its own arithmetic, every centimetre.
bool meetsBlock(const std::vector<Block>& blocks, const nav::Agent& agent, LinkKind kind, const Vec3& from, const Vec3& to,
                double thinner) {
  const std::vector<Vec3> flight = nav::flight(kind, from, to, agent.radius);
  for (std::size_t leg = 0; leg + 1 < flight.size(); ++leg) {
    const int looks = 1 + static_cast<int>(glm::distance(flight[leg], flight[leg + 1]) / 0.01);
    for (int i = 0; i <= looks; ++i) {
      const Vec3 feet = glm::mix(flight[leg], flight[leg + 1], static_cast<double>(i) / looks);
      double bottom = feet.y + 0.02;
      for (const Vec3& end : {from, to})
        if (glm::distance(plan(feet), plan(end)) < 2 * agent.radius + 0.1)
          bottom = std::max(bottom, std::min(feet.y, end.y) + agent.stepHeight);
      for (const Block& b : blocks) {
        if (b.high.y <= bottom + thinner || b.low.y >= feet.y + agent.height - thinner) continue;
        const double dx = std::max({b.low.x - feet.x, 0.0, feet.x - b.high.x}), dz = std::max({b.low.z - feet.z, 0.0, feet.z - b.high.z});
        if (std::hypot(dx, dz) < agent.radius - thinner) return true;
      }
    }
  }
  return false;
}

std::vector<Block> randomBlocks(Random& random) {
  std::vector<Block> blocks{{{-14, -1, -14}, {14, 0, 14}}};
  for (int i = 0; i < 9; ++i) {
    const Vec3 at{random.in(-11, 11), random.upTo(4) == 0 ? random.in(2, 4) : 0, random.in(-11, 11)};
    const Vec3 size{random.in(1.2, 6), random.in(0.3, 3.2), random.in(1.2, 6)};
    blocks.push_back({at, at + size});
  }
  for (int i = 0; i < 4; ++i) {  // railings and low ceilings
    const Vec3 at{random.in(-11, 11), random.in(0.5, 3), random.in(-11, 11)};
    blocks.push_back(
        {at, at + (random.upTo(2) ? Vec3{random.in(1, 6), random.in(0.6, 1.2), 0.1} : Vec3{random.in(1, 4), 0.2, random.in(1, 4)})});
  }
  return blocks;
}

/// Whether a link goes from one place to another, give or take, or to where one walks on from in a short way.
bool goes(const nav::NavMesh& mesh, const Vec3& from, const nav::Place& to, double near, double walk) {
  const auto isNear = [&](const Vec3& middle, const Vec3& half, const Vec3& p) {
    const double length = glm::dot(half, half), t = length > 0 ? std::clamp(glm::dot(p - middle, half) / length, -1.0, 1.0) : 0;
    return glm::distance(plan(p), plan(middle + half * t)) < near && std::abs(p.y - (middle + half * t).y) < 0.3;
  };
  const auto lands = [&](const nav::Link& l, const Vec3& at, const Vec3& half, nav::FaceId face) {
    return isNear(at, half, to.position) || links::walksWithin(mesh, {face, at}, to, walk + l.width() / 2);
  };
  return std::ranges::any_of(mesh.links, [&](const nav::Link& l) {
    return (isNear(l.from, l.fromHalf, from) && lands(l, l.to, l.toHalf, l.toFace)) ||
           (!l.oneWay && isNear(l.to, l.toHalf, from) && lands(l, l.from, l.fromHalf, l.fromFace));
  });
}

}  // namespace

class TestLinks : public QObject {
  Q_OBJECT

 private slots:
  void aLedgeIsOneDropEachSide() {
    Scene scene;
    scene.floor(-20, -20, 20, 20).box({-4, 0, -3}, {4, 1.5, 3});
    const auto built = linked(scene, jumper(2, 0));
    QVERIFY(built);
    QCOMPARE(built->mesh.links.size(), std::size_t{4});
    QVERIFY(nav::checkStructure(built->mesh).empty());
    double widths = 0;
    for (const nav::Link& l : built->mesh.links) {
      QCOMPARE(l.kind, LinkKind::drop);
      QVERIFY(l.oneWay && l.generated);
      QVERIFY(std::abs(l.from.y - 1.5) < 0.01 && std::abs(l.to.y) < 0.01);
      QVERIFY(std::abs(glm::distance(plan(l.from), plan(l.to)) - 0.8) < 0.03);
      widths += l.width();
    }
    QVERIFY2(std::abs(widths - 2 * (7.2 + 5.2)) < 0.3, qPrintable(QString::number(widths)));
  }
  void limitsHoldOnBothSides_data() {
    QTest::addColumn<double>("angle");
    for (const int angle : {0, 17, 45, 71}) QTest::addRow("turned by %d", angle) << radians(angle);
  }
  void limitsHoldOnBothSides() {
    QFETCH(double, angle);
    for (const double limit : {1.0, 2.5}) {
      for (const double deep : {limit * 0.97, limit * 1.03}) {
        Scene ledge;
        ledge.floor(-15, -15, 15, 15).box({-4, 0, -3}, {4, deep, 3}).turned(angle, {3, 0, 5});
        QCOMPARE(linked(ledge, jumper(limit, 0))->mesh.links.size(), deep < limit ? std::size_t{4} : std::size_t{0});
        Scene gap;
        gap.floor(-8, -3, 0, 3).floor(deep, -3, 8 + deep, 3).turned(angle, {3, 0, 5});
        const auto built = linked(gap, jumper(0, limit));
        QCOMPARE(built->mesh.links.size(), deep < limit ? std::size_t{1} : std::size_t{0});
        if (built->mesh.links.empty()) continue;
        const nav::Link& l = built->mesh.links[0];
        QVERIFY(!l.oneWay && l.kind == LinkKind::jump);
        QVERIFY2(std::abs(l.width() - 5.2) < 0.05, qPrintable(QString::number(l.width())));
      }
      for (const double high : {limit * 0.97, limit * 1.03}) {
        Scene step;  // up over a gap
        step.floor(-8, -3, 0, 3).floor(1, -3, 9, 3, high).turned(angle, {3, 0, 5});
        QCOMPARE(linked(step, jumper(0, 2, limit))->mesh.links.size(), high < limit ? std::size_t{1} : std::size_t{0});
      }
    }
  }
  void whatIsInTheWayBlocks() {
    const auto count = [](const Block& block) {
      Scene scene;
      scene.floor(-8, -3, 0, 3).floor(1.5, -3, 9, 3).box(block.low, block.high);
      return linked(scene, jumper(0, 2))->mesh.links.size();
    };
    QCOMPARE(count({{0.6, -9, -9}, {0.7, -8, 9}}), std::size_t{1});          // deep below
    QCOMPARE(count({{0.6, -1, -4}, {0.7, 1.5, 4}}), std::size_t{0});         // a fence in the gap
    QCOMPARE(count({{0, 2.0, -4}, {1.5, 2.1, 4}}), std::size_t{0});          // a ceiling that one would hit in the air
    QCOMPARE(count({{0, 3.2, -4}, {1.5, 3.3, 4}}), std::size_t{1});          // one that is high enough
    QCOMPARE(count({{0.7, 0.5, -0.05}, {0.8, 1.5, 0.05}}), std::size_t{2});  // a pole: beside it there is room
  }
  void aPathTakesAWideLinkWhereItIsBest() {
    Scene scene;
    scene.floor(-10, -6, 0, 6).floor(1, -6, 10, 6);
    const auto built = linked(scene, jumper(0, 2));
    QCOMPARE(built->mesh.links.size(), std::size_t{1});
    const route::Field field(built->mesh, built->rules());
    route::Search search(field);
    Random random(5);
    for (int i = 0; i < 200; ++i) {
      const Vec3 from{random.in(-9, -1), 0, random.in(-5.4, 5.4)}, to{random.in(2, 9), 0, random.in(-5.4, 5.4)};
      const route::PathAnswer answer = route::findPath(field, search, from, to);
      QCOMPARE(answer.status, route::PathStatus::complete);
      QCOMPARE(answer.links.size(), std::size_t{1});
      // Straight over the gap, as over ground that is left out: what is before and after it is one straight line.
      const double best = std::hypot(to.x - from.x - 1.8, to.z - from.z) + 1.8;
      QVERIFY2(answer.length < best * 1.0005 + 1e-3, qPrintable(QString("%1 %2").arg(answer.length).arg(best)));
      QVERIFY(answer.cost >= best * (1 - 1e-6) - 1e-3);
      QVERIFY(answer.cost <= answer.optimalityBound * best + 1e-3);
    }
  }
  void wideLinksAreAsGoodAsManyNarrowOnes() {
    Random random(41);
    std::size_t taken = 0;
    for (int round = 0; round < 20; ++round) {
      const auto built = linked(sceneOf(randomBlocks(random)), jumper(3, 2.5, 1));
      const nav::NavMesh narrow = inLanes(built->mesh, 0.1);
      const route::Field field(built->mesh, built->rules()), lanes(narrow, built->rules());
      route::Search search(field), inLanes(lanes);
      for (int i = 0; i < 60; ++i) {
        const Vec3 from{random.in(-13, 13), random.in(0, 4), random.in(-13, 13)},
            to{random.in(-13, 13), random.in(0, 4), random.in(-13, 13)};
        const auto a = route::findPath(field, search, from, to), b = route::findPath(lanes, inLanes, from, to);
        QCOMPARE(a.status, b.status);
        if (a.status != route::PathStatus::complete) continue;
        taken += !a.links.empty();
        QVERIFY2(a.cost <= b.cost * 1.015 + 0.05, qPrintable(QString("%1 against %2").arg(a.cost).arg(b.cost)));
        QVERIFY(a.cost <= a.optimalityBound * b.cost + 0.02);
        for (const route::LinkUse& use : a.links) {
          const auto link = std::ranges::find(built->mesh.links, use.id, &nav::Link::id);
          QVERIFY(link != built->mesh.links.end());
          QVERIFY(glm::distance(a.points[use.enter], a.points[use.leave]) > 0.5);
        }
      }
    }
    QVERIFY2(taken > 100, qPrintable(QString::number(taken)));
  }
  void groundThatASeedReachesOverALinkStays() {
    Scene scene;
    scene.floor(-8, -3, 0, 3).floor(1, -3, 9, 3, -1.2).floor(20, -3, 28, 3);
    level::World world = scene.world();
    world.seeds = {{-4, 0, 0}};
    QCOMPARE(nav::countIslands(test::built(world, jumper(2, 2))->mesh), std::size_t{1});
    world.findLinks = true;
    QCOMPARE(nav::countIslands(test::built(world, jumper(2, 2))->mesh), std::size_t{2});
    world.seeds = {{4, -1.2, 0}};  // from below there is no way up
    QCOMPARE(nav::countIslands(test::built(world, jumper(2, 2))->mesh), std::size_t{1});
  }
  void doorsAndTeleportsCostWhatIsSaid() {
    Scene scene;
    scene.floor(0, 0, 10, 10).floor(40, 0, 50, 10);
    const auto built = test::built(scene.world());
    nav::NavMesh mesh = built->mesh;
    std::vector<links::HandLink> drawn{{1, LinkKind::teleport, {9, 0, 5}, {41, 0, 5}, false, 3, {}, {}, 0, 2, {}},
                                       {2, LinkKind::door, {9, 0, 2}, {41, 0, 2}, true, 0, {}, {}, 0.5, 0, {7}}};
    const nav::Locator locator(mesh);
    QCOMPARE(links::attach(mesh, locator, drawn).links.size(), std::size_t{2});
    const auto mine = links::attach(mesh, locator, drawn, 8);
    QCOMPARE(mine.links.size(), std::size_t{1});
    QCOMPARE(mine.notFor, std::vector<int>{2});
    mesh.links = mine.links;
    const route::Field field(mesh, built->rules());
    route::Search search(field);
    Random random(3);
    for (int i = 0; i < 100; ++i) {
      const Vec3 from{random.in(1, 9), 0, random.in(1, 9)}, to{random.in(41, 49), 0, random.in(1, 9)};
      const auto answer = route::findPath(field, search, from, to);
      const double best = std::hypot(from.x - 9, from.z - 5) + 3 + std::hypot(to.x - 41, to.z - 5);
      QCOMPARE(answer.status, route::PathStatus::complete);
      QVERIFY2(std::abs(answer.cost - best) < 0.01, qPrintable(QString("%1 %2").arg(answer.cost).arg(best)));
      QVERIFY(answer.optimalityBound < 1.001);
    }
    // Both: the cheaper one is taken, whatever the distance over it is.
    mesh.links = links::attach(mesh, locator, drawn, 7).links;
    const route::Field both(mesh, built->rules());
    route::Search again(both);
    for (int i = 0; i < 100; ++i) {
      const Vec3 from{random.in(1, 9), 0, random.in(1, 9)}, to{random.in(41, 49), 0, random.in(1, 9)};
      const double one = std::hypot(from.x - 9, from.z - 5) + 3 + std::hypot(to.x - 41, to.z - 5);
      const double other = std::hypot(from.x - 9, from.z - 2) + 16 + std::hypot(to.x - 41, to.z - 2);
      QVERIFY(std::abs(route::findPath(both, again, from, to).cost - std::min(one, other)) < 0.01);
    }
  }
  void filesKeepWidths() {
    Scene scene;
    scene.floor(-8, -3, 0, 3).floor(1, -3, 9, 3);
    const auto built = linked(scene, jumper(0, 2));
    const meshes::Content content{built->mesh, built->rules()};
    const auto binary = meshfile::fromBytes(meshfile::toBytes(content));
    QVERIFY(binary);
    QCOMPARE(binary->mesh.links.size(), std::size_t{1});
    QVERIFY(binary->mesh.links == built->mesh.links);
    QCOMPARE(binary->mesh.agent.maxRise, 0.5);
    const auto json = meshes::meshFromJson(meshes::meshToJson(content));
    QVERIFY(json);
    QVERIFY(std::abs(json->mesh.links[0].width() - built->mesh.links[0].width()) < 1e-9);
    QVERIFY(json->mesh.links[0].generated);
  }
  void whatChangedIsFoundAnewAndTheRestTakenOver() {
    Random random(88);
    std::vector<Block> blocks;
    for (int i = 0; i < 4; ++i) {
      std::vector<Block> part = randomBlocks(random);
      for (Block& b : part) b.low += Vec3{40.0 * i, 0, 0}, b.high += Vec3{40.0 * i, 0, 0};
      blocks.insert(blocks.end(), part.begin(), part.end());
    }
    const nav::Agent agent = jumper(3, 2.5, 1);
    auto before = linked(sceneOf(blocks), agent);
    for (int round = 0; round < 8; ++round) {
      const auto moved = static_cast<std::size_t>(random.upTo(static_cast<int>(blocks.size())));
      const Vec3 by{random.in(-2, 2), random.in(-0.5, 0.5), random.in(-2, 2)};
      blocks[moved].low += by, blocks[moved].high += by;
      level::World world = sceneOf(blocks).world();
      world.findLinks = true;
      ThreadedJob job;
      const auto now = generate::build(world, agent, job, before);
      QVERIFY(now);
      QVERIFY((*now)->mesh.links == linked(sceneOf(blocks), agent)->mesh.links);
      before = *now;
    }
    // Other limits of the jump alone change no ground.
    level::World world = sceneOf(blocks).world();
    world.findLinks = true;
    ThreadedJob job;
    const nav::Agent further = jumper(3, 1.2, 1);
    QVERIFY((*generate::build(world, further, job, before))->mesh.links == linked(sceneOf(blocks), further)->mesh.links);
  }
  void manyThreadsFindTheSame() {
    Random random(77);
    const Scene scene = sceneOf(randomBlocks(random));
    const auto one = linked(scene, jumper(3, 2.5, 1), 1), two = linked(scene, jumper(3, 2.5, 1), 2);
    QVERIFY(one->mesh.links == two->mesh.links && !one->mesh.links.empty());
  }
  void everyLinkCanBeFlownAndNoneIsMissing() {
    Random random(2026);
    std::size_t links = 0, tried = 0;
    for (int round = 0; round < 40; ++round) {
      const std::vector<Block> blocks = randomBlocks(random);
      const nav::Agent agent = jumper(random.in(0.8, 3.5), random.in(0.5, 3), random.in(0.2, 1.2));
      const auto built = linked(sceneOf(blocks), agent);
      QVERIFY(built);
      const nav::NavMesh& mesh = built->mesh;
      const nav::Locator locator(mesh);
      for (const nav::Link& l : mesh.links) flown(mesh, locator, blocks, l);
      if (QTest::currentTestFailed()) QFAIL(qPrintable(QString("in round %1").arg(round)));
      none(mesh, locator, blocks, tried);
      if (QTest::currentTestFailed()) QFAIL(qPrintable(QString("in round %1").arg(round)));
      twice(mesh);
      links += mesh.links.size();
    }
    qInfo("%zu links, %zu ways tried", links, tried);
    QVERIFY(links > 600 && tried > 800);
  }

 private:
  /// Every wide link as narrow ones beside each other.
  static nav::NavMesh inLanes(const nav::NavMesh& wide, double apart) {
    nav::NavMesh mesh = wide;
    mesh.links.clear();
    const nav::Locator locator(wide);
    for (const nav::Link& l : wide.links) {
      const int parts = std::max(1, static_cast<int>(std::ceil(l.width() / apart)));
      for (int i = 0; i <= parts; ++i) {
        nav::Link lane = l;
        const double t = l.width() > 0 ? 2.0 * i / parts - 1 : 0;
        const nav::Place from = locator.nearest(along(l.from, l.fromHalf, t), 0.1), to = locator.nearest(along(l.to, l.toHalf, t), 0.1);
        lane.fromHalf = lane.toHalf = Vec3{0};
        lane.from = from.position, lane.to = to.position, lane.fromFace = from.face, lane.toFace = to.face;
        lane.id = static_cast<int>(mesh.links.size()) + 1;
        if (from.valid() && to.valid()) mesh.links.push_back(lane);
      }
    }
    return mesh;
  }
  void flown(const nav::NavMesh& mesh, const nav::Locator& locator, const std::vector<Block>& blocks, const nav::Link& l) {
    const nav::Agent& agent = mesh.agent;
    for (int i = -4; i <= 4; ++i) {
      const Vec3 from = along(l.from, l.fromHalf, i / 4.0), to = along(l.to, l.toHalf, i / 4.0);
      const QString which = QString("%1 %2: %3 %4 %5 to %6 %7 %8 at %9")
                                .arg(nav::kindName(l.kind))
                                .arg(l.id)
                                .arg(from.x)
                                .arg(from.y)
                                .arg(from.z)
                                .arg(to.x)
                                .arg(to.y)
                                .arg(to.z)
                                .arg(i);
      QVERIFY2(locator.nearest(from, 0.05).valid() && locator.nearest(to, 0.05).valid(), qPrintable(which + QString(" %1").arg(l.width())));
      QVERIFY2(!meetsBlock(blocks, agent, l.kind, from, to, 0.04), qPrintable(which));
    }
    const double rise = l.to.y - l.from.y;
    QVERIFY(rise <= agent.maxRise + 0.02 && -rise <= std::max(agent.maxDrop, agent.stepHeight) + 0.02);
    if (!l.oneWay) QVERIFY(-rise <= agent.maxRise + 0.02);
    if (l.kind == LinkKind::drop) QVERIFY(l.oneWay && -rise > agent.stepHeight);
  }
  /// Straight out from the border everywhere, looking at every two centimetres: what can be flown there is a link, or one walks there.
  void none(const nav::NavMesh& mesh, const nav::Locator& locator, const std::vector<Block>& blocks, std::size_t& tried) {
    const nav::Agent& agent = mesh.agent;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (std::size_t e = 0; e < mesh.cornerCount(nav::FaceId{f}); ++e) {
        if (mesh.acrossOf(nav::FaceId{f})[e] != nav::kNoFace) continue;
        const Vec3 &a = mesh.cornerAt(nav::FaceId{f}, e), &b = mesh.cornerAt(nav::FaceId{f}, (e + 1) % mesh.cornerCount(nav::FaceId{f}));
        const double length = glm::distance(plan(a), plan(b));
        if (length < 0.8) continue;
        const Vec2 out = -leftOf(plan(b) - plan(a)) / length;
        for (double s = 0.4; s <= length - 0.4; s += 0.9) {
          const Vec3 from = glm::mix(a, b, s / length);
          bool jumped = false;
          for (double d = 2 * agent.radius + 0.005; d <= 2 * agent.radius + agent.maxJump - 0.03 && !jumped; d += 0.02) {
            const Vec2 q = plan(from) + out * d;
            for (const std::uint32_t g : locator.within(Box2{q, q})) {
              if (!nav::coversPlan(mesh, nav::FaceId{g}, q)) continue;
              const Vec3 to = lift(q, nav::heightOn(mesh, nav::FaceId{g}, q));
              const double fall = from.y - to.y, aside = d - 2 * agent.radius;
              const bool drop = aside < 0.3 && fall > agent.stepHeight;
              if (drop ? fall > agent.maxDrop - 0.03 : fall > agent.maxDrop - 0.03 || -fall > agent.maxRise - 0.03) continue;
              if (!drop && aside < 0.03) continue;
              const LinkKind kind = drop ? LinkKind::drop : LinkKind::jump;
              if (meetsBlock(blocks, agent, kind, from, to, -0.06)) continue;
              const Vec3 further = to + lift(out * 0.27, 0);  // what is narrower than that may be missed
              if (!drop && (!locator.nearest(further, 0.02).valid() || meetsBlock(blocks, agent, kind, from, further, -0.06))) {
                jumped = true;
                break;
              }
              ++tried;
              if (!drop) jumped = true;
              const double flight = glm::distance(plan(from), plan(to));
              const nav::Place start{nav::FaceId{f}, from}, end{nav::FaceId{g}, to};
              const double walk = 1.5 * flight + 2.5;
              QVERIFY2(goes(mesh, from, end, 1.3, walk) || links::walksWithin(mesh, start, end, walk),
                       qPrintable(QString("a %1 from %2 %3 %4 to %5 %6 %7")
                                      .arg(nav::kindName(kind))
                                      .arg(from.x)
                                      .arg(from.y)
                                      .arg(from.z)
                                      .arg(to.x)
                                      .arg(to.y)
                                      .arg(to.z)));
              if (drop) goto next;  // what lies further below is another's
            }
          }
        next:;
        }
      }
  }
  void twice(const nav::NavMesh& mesh) {
    for (const nav::Link& a : mesh.links)
      for (const nav::Link& b : mesh.links)
        if (&a != &b && a.kind == b.kind)
          QVERIFY2(glm::distance(a.from, b.from) > 0.15 || glm::distance(a.to, b.to) > 0.15,
                   qPrintable(QString("%1 and %2").arg(a.id).arg(b.id)));
  }
};

QTEST_GUILESS_MAIN(TestLinks)
#include "links.moc"
