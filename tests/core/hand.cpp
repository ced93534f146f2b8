// Changes by hand: each does what it says to the very face, leaves everything else as it was, and outlives every rebuild.

#include <QtTest>

#include "core/exchange/hand_script.h"
#include "core/hand/drape.h"
#include "core/hand/edit.h"
#include "core/hand/shape.h"
#include "core/meshfile/mesh_file.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/hand_review.h"
#include "core/pipeline/remedy.h"
#include "core/pipeline/sweep.h"
#include "core/project/file.h"
#include "core/project/rules.h"
#include "core/review/shape_review.h"
#include "tests/core/scenes.h"

using namespace dune;
using namespace dune::test;
using hand::Edge;
using hand::Work;
using nav::FaceId;

namespace {

/// A ground that is changed by hand again and again.
struct Hands {
  std::shared_ptr<const generate::Built> built;
  Work work{};
  hand::Laid laid{};
  hand::LevelAt levelAt{};

  explicit Hands(std::shared_ptr<const generate::Built> from) : built(std::move(from)) {
    levelAt = pipeline::levelOf(built);
    lay();
  }
  void lay() { laid = hand::lay(built->mesh, work, 1); }
  const nav::NavMesh& mesh() const { return laid.mesh; }
  hand::Editor editor() const { return {laid.mesh, laid.origin, work, 1, levelAt}; }
  bool take(Result<Work> changed) {
    if (!changed) return false;
    work = std::move(changed.value());
    lay();
    return true;
  }
  FaceId faceAt(const Vec3& p) const { return nav::Locator(mesh()).under(p, 0.5).face; }
  std::uint32_t cornerAt(const Vec3& p) const {
    std::uint32_t best = 0;
    for (std::uint32_t v = 0; v < mesh().vertices.size(); ++v)
      if (glm::distance(mesh().vertices[v], p) < glm::distance(mesh().vertices[best], p)) best = v;
    return best;
  }
  std::vector<FaceId> drawn() const {
    std::vector<FaceId> faces;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      if (laid.origin[f].patch != 0) faces.push_back(FaceId{f});
    return faces;
  }
  Edge edgeAt(const Vec3& p) const {
    Edge best;
    double least = INFINITY;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      for (std::uint32_t i = 0; i < mesh().cornerCount(FaceId{f}); ++i) {
        const Vec3 &a = mesh().cornerAt(FaceId{f}, i), &b = mesh().cornerAt(FaceId{f}, (i + 1) % mesh().cornerCount(FaceId{f}));
        if (const double d = distanceToSegment(plan(a), plan(b), plan(p)); d < least) least = d, best = {FaceId{f}, i};
      }
    return best;
  }
  /// Sides along a line, of the faces on its left, that have ground behind them.
  std::vector<Edge> edgesAlong(const Vec3& from, const Vec3& to) const {
    std::vector<Edge> edges;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      for (std::uint32_t k = 0; k < mesh().cornerCount(FaceId{f}); ++k) {
        const auto [a, b] = hand::endsOf(mesh(), {FaceId{f}, k});
        const auto on = [&](const Vec3& p) { return distanceToSegment(plan(from), plan(to), plan(p)) < 0.01; };
        if (on(a) && on(b) && glm::dot(plan(b) - plan(a), plan(to) - plan(from)) > 0) edges.push_back({FaceId{f}, k});
      }
    return edges;
  }
  bool splitAll(const Vec3& from, const Vec3& to) {
    std::vector<FaceId> all;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f) all.push_back(FaceId{f});
    return take(editor().splitAlong(all, from, to));
  }
  /// Its mesh with what leads over borders that are crossed one way.
  nav::NavMesh crossed() const {
    nav::NavMesh all = mesh();
    for (nav::Link l : laid.crossings) l.id = 1 + static_cast<int>(all.links.size()), all.links.push_back(l);
    return all;
  }
  double handArea() const {
    double area = 0;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      if (laid.origin[f].patch != 0) area += nav::faceArea(mesh(), FaceId{f});
    return area;
  }
};

QString wrongWith(const nav::NavMesh& mesh) {
  QString wrong;
  for (const std::string& s : nav::checkStructure(mesh)) wrong += QString::fromStdString(s + "\n");
  for (const review::Finding& f : review::reviewShape(review::rawOf(mesh), review::kOurShape))
    if (f.severity != review::Severity::hint) wrong += QString::fromStdString(f.code + ": " + f.sentence + "\n");
  return wrong;
}

Scene storeys(std::uint64_t seed) {
  Random random(seed);
  Scene scene;
  scene.floor(0, 0, 30, 30).floor(12, 12, 22, 22, 3, "upper").ramp(4, 14, 12, 18, 0, 3);
  for (int i = 0; i < 6; ++i) {
    const double x = random.in(1, 26), z = random.in(1, 26);
    scene.box({x, 0, z}, {x + random.in(0.2, 3), random.in(0.2, 2.5), z + random.in(0.2, 3)}, "box_" + std::to_string(i));
  }
  return scene;
}

}  // namespace

class TestHand : public QObject {
  Q_OBJECT

 private slots:
  void nothingByHandChangesNothing() {
    const auto built = test::built(storeys(1).world());
    const Hands hands(built);
    QCOMPARE(hands.mesh().corners, built->mesh.corners);
    QVERIFY(hands.mesh().across == built->mesh.across);
    QVERIFY(std::ranges::all_of(hands.laid.origin, [](const hand::Origin& o) { return o.patch == 0; }));
  }

  /// Ground that is drawn takes the place of what lies there, and is one with what is around; when it goes, that is there again.
  void aDrawnFaceStandsInPlaceOfTheGround() {
    Hands hands(test::built(Scene().floor(0, 0, 10, 10).world()));
    const double whole = nav::totalArea(hands.mesh());
    QVERIFY(hands.take(hands.editor().draw({{3, 0.25, 3}, {5, 0.25, 3}, {5, 0.25, 4}, {3, 0.25, 4}})));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    QVERIFY(std::abs(hands.handArea() - 2) < 1e-3);
    QVERIFY(std::abs(nav::totalArea(hands.mesh()) - whole) < 1e-3);
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{1});
    QVERIFY(std::abs(nav::Locator(hands.mesh()).under({4, 0.25, 3.5}, 0.5).position.y - 0.25) < 1e-3);
    // Drawn far over the floor it is a storey of its own, and takes nothing.
    QVERIFY(hands.take(hands.editor().draw({{6, 3, 6}, {8, 3, 6}, {8, 3, 8}, {6, 3, 8}})));
    QVERIFY(std::abs(nav::totalArea(hands.mesh()) - whole - 4) < 1e-3);
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{2});
    // When it goes, what gave way to it is there again; and when that goes too, nothing is.
    const Vec3 at{4, 0, 3.5};
    QVERIFY(hands.take(hands.editor().remove(std::vector{hands.faceAt({4, 0.25, 3.5})})));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    QVERIFY(std::abs(nav::Locator(hands.mesh()).under(at, 0.5).position.y) < 1e-3);
    QVERIFY(hands.take(hands.editor().remove(std::vector{hands.faceAt(at)})));
    QVERIFY(!nav::Locator(hands.mesh()).under(at, 0.5).valid());
  }

  void cornersMoveWithAllTheirFaces() {
    Hands hands(test::built(Scene().floor(0, 0, 10, 10).world()));
    QCOMPARE(hands.mesh().faceCount(), std::size_t{1});
    const double whole = nav::totalArea(hands.mesh());
    const std::uint32_t corner = hands.cornerAt({9.6, 0, 9.6});
    QVERIFY(hands.take(hands.editor().move(std::vector{corner}, {0.4, 0.2, 0.4}, false)));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    QVERIFY(nav::totalArea(hands.mesh()) > whole + 3);
    const Vec3 moved = hands.mesh().vertices[hands.cornerAt({10, 0.2, 10})];
    QVERIFY(glm::distance(moved, Vec3(10, 0.2, 10)) < 0.01);
    // Beyond the middle it is inverted: refused, and nothing is changed.
    const auto no = hands.editor().move(std::vector{hands.cornerAt({10, 0.2, 10})}, {-20, 0, -20}, false);
    QVERIFY(!no.ok() && !no.problem().what.empty() && !no.problem().where.empty());
  }

  /// One change of all faces, on storeys over each other.
  void oneChangeGoesOverAllStoreys() {
    Hands hands(test::built(storeys(1).world()));
    std::vector<FaceId> all;
    for (std::uint32_t f = 0; f < hands.mesh().faceCount(); ++f) all.push_back(FaceId{f});
    const double area = nav::totalArea(hands.mesh());
    const std::size_t islands = nav::countIslands(hands.mesh());
    QVERIFY(hands.take(hands.editor().paint(all, {})));
    QVERIFY(hands.laid.notLaid.empty());
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    QVERIFY(std::abs(nav::totalArea(hands.mesh()) - area) < 0.05);
    QCOMPARE(nav::countIslands(hands.mesh()), islands);
    QVERIFY(std::ranges::all_of(hands.laid.origin, [](const hand::Origin& o) { return o.patch == 1; }));
  }

  /// A corner that is moved on to its neighbour: the face between them goes, and the rest hangs together.
  void cornersThatFallTogetherBecomeOne() {
    Hands hands(test::built(Scene().floor(0, 0, 10, 10).world()));
    QVERIFY(hands.take(hands.editor().splitAlong(std::vector{FaceId{0}}, {5, 0, 0}, {6, 0, 10})));
    QVERIFY(hands.take(hands.editor().splitAlong(std::vector{hands.faceAt({8, 0, 5})}, {7, 0, 0}, {6, 0, 10})));
    const std::uint32_t from = hands.cornerAt({7, 0, 0.4}), to = hands.cornerAt({5, 0, 0.4});
    const std::size_t faces = hands.mesh().faceCount();
    const double area = nav::totalArea(hands.mesh());
    QVERIFY(hands.take(hands.editor().move(std::vector{from}, hands.mesh().vertices[to] - hands.mesh().vertices[from], false)));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    QVERIFY(hands.mesh().faceCount() <= faces);
    QVERIFY(std::abs(nav::totalArea(hands.mesh()) - area) < 0.05);
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{1});
  }

  /// A strip over a gap of 3 m, and one edge pulled out over it, are ground that a path takes.
  void stripsAndPulledEdgesBridgeAGap() {
    const Scene scene = Scene().floor(0, 0, 10, 10).floor(13, 0, 23, 10);
    Hands strip(test::built(scene.world()));
    QCOMPARE(nav::countIslands(strip.mesh()), std::size_t{2});
    const Edge left = strip.edgeAt({9.6, 0, 5}), right = strip.edgeAt({13.4, 0, 5});
    QVERIFY(strip.take(strip.editor().strip(left, right)));
    QVERIFY2(wrongWith(strip.mesh()).isEmpty(), qPrintable(wrongWith(strip.mesh())));
    QCOMPARE(nav::countIslands(strip.mesh()), std::size_t{1});
    QCOMPARE(strip.work.patches.size(), std::size_t{1});
    QCOMPARE(strip.work.patches[0].faces.size(), std::size_t{1});
    Hands pull(test::built(scene.world()));
    QVERIFY(pull.take(pull.editor().pull(pull.edgeAt({9.6, 0, 5}), {4, 0, 0}, false)));
    QVERIFY2(wrongWith(pull.mesh()).isEmpty(), qPrintable(wrongWith(pull.mesh())));
    QCOMPARE(nav::countIslands(pull.mesh()), std::size_t{1});
    // The side between is no border any more.
    QVERIFY(!pull.editor().pull(pull.edgeAt({9.6, 0, 5}), {1, 0, 0}, false).ok());
  }

  /// Up a wall a strip is a link to climb, as wide as the narrower side; over a gap, and up a ramp that one can walk, it is ground.
  void aStripUpAWallIsALinkToClimb() {
    const auto level = Scene().floor(0, 0, 12, 10).box({8, 0, 3}, {11, 2.5, 7}, "annex").floor(14, 0, 20, 10, 0.8, "east").world().level;
    const auto done = [&](const char* script) {
      Job job;
      auto project = exchange::runHandScript(script, project::Project(), level, job);
      if (!project) qWarning() << project.problem().text().c_str();
      return project ? *project : project::Project();
    };
    const auto leads = [&](const project::Project& project, const Vec3& to) {
      Job job;
      const auto ground = pipeline::makeGround(project, level, 0, nullptr, job);
      route::Search search(*(*ground)->field);
      return route::findPath(*(*ground)->field, search, {3, 0, 5}, to).status == route::PathStatus::complete;
    };
    const Vec3 roof{9.5, 2.5, 5}, east{17, 0.8, 5};
    QVERIFY(!leads(project::Project(), roof) && !leads(project::Project(), east));
    const project::Project climbs = done(R"([{"do": "strip", "from": [7.6, 0, 5], "to": [8.4, 2.5, 5]}])");
    QVERIFY(climbs.hand->patches.empty());
    QCOMPARE(climbs.links->links.size(), std::size_t{1});
    const links::HandLink& link = climbs.links->links[0];
    QVERIFY(link.kind == nav::LinkKind::climb && link.from.y < 0.1 && std::abs(link.to.y - 2.5) < 0.1);
    QVERIFY(2 * glm::length(link.fromHalf) > 2.5 && glm::dot(link.fromHalf, link.toHalf) > 0);
    QVERIFY(leads(climbs, roof));
    const project::Project bridged = done(R"([{"do": "strip", "from": [11.6, 0, 8.5], "to": [14.4, 0.8, 5]}])");
    QCOMPARE(bridged.hand->patches.size(), std::size_t{1});
    QVERIFY(bridged.links->links.empty());
    QVERIFY(leads(bridged, east));
  }

  void partedEdgesAreCrossedByNobody() {
    Hands hands(test::built(Scene().floor(0, 0, 10, 10).world()));
    QVERIFY(hands.take(hands.editor().splitAlong(std::vector{FaceId{0}}, {5, 0, 0}, {5, 0, 10})));
    QCOMPARE(hands.mesh().faceCount(), std::size_t{2});
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{1});
    QVERIFY(hands.take(hands.editor().part(std::vector{hands.edgeAt({5, 0, 5})})));
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{2});
    QVERIFY(nav::checkStructure(hands.mesh()).empty());
    QVERIFY(hands.take(hands.editor().unpart(std::vector{hands.edgeAt({5, 0, 5})})));
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{1});
    QVERIFY(hands.take(hands.editor().join(std::vector{FaceId{0}, FaceId{1}})));
    QCOMPARE(hands.mesh().faceCount(), std::size_t{1});
  }

  /// Ways lead over it in one direction, as short as if it were not there; turned round in the other, and parted in none.
  void aBorderIsCrossedOneWay() {
    Hands hands(test::built(Scene().floor(0, 0, 10, 10).floor(10, 0, 16, 4).world()));
    const Vec3 north{5.5, 0, 0}, south{5, 0, 10};  // what lies to the left of the way from here to there is the east
    QVERIFY(hands.splitAll(north, south));
    const Hands whole = hands;
    const auto length = [&](const nav::NavMesh& mesh, const Vec3& from, const Vec3& to) {
      const route::Field field(mesh, nav::Rules{});
      route::Search search(field);
      const auto path = route::findPath(field, search, from, to);
      return path.status == route::PathStatus::complete ? path.length : INFINITY;
    };
    const auto edges = [&] { return hands.edgesAlong(north, south); };
    QVERIFY(hands.take(hands.editor().partOneWay(edges())));
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{2});
    const nav::NavMesh mesh = hands.crossed();
    QVERIFY2(nav::checkStructure(mesh).empty(), nav::checkStructure(mesh).empty() ? "" : nav::checkStructure(mesh)[0].c_str());
    Random random(7);
    for (int i = 0; i < 200; ++i) {
      const Vec3 west{random.in(0.4, 4.5), 0, random.in(0.4, 9.6)}, east{random.in(6, 15.5), 0, random.in(0.4, 3.6)};
      QVERIFY(std::isinf(length(mesh, west, east)));
      const double there = length(mesh, east, west), before = length(whole.mesh(), east, west);
      QVERIFY2(std::abs(there - before) < 0.01, qPrintable(QStringLiteral("%1 against %2").arg(there).arg(before)));
    }
    QVERIFY(hands.take(hands.editor().partOneWay(edges())));
    QVERIFY(std::isfinite(length(hands.crossed(), {2, 0, 5}, {8, 0, 5})) && std::isinf(length(hands.crossed(), {8, 0, 5}, {2, 0, 5})));
    QVERIFY(hands.take(hands.editor().part(edges())));
    QVERIFY(hands.laid.crossings.empty());
    QVERIFY(hands.take(hands.editor().unpart(edges())));
    QCOMPARE(nav::countIslands(hands.mesh()), std::size_t{1});
  }

  /// A part across a doorway closes it for every radius, though the ground there begins and ends elsewhere then, and its edges are others.
  void partsHoldWhateverTheLimits() {
    Random random(11);
    for (int i = 0; i < 40; ++i) {
      Scene scene;
      scene.floor(0, 0, 20, 10);
      const double low = random.in(1, 3), high = low + random.in(2, 5), wall = random.in(8, 11);
      scene.box({wall, 0, 0}, {wall + random.in(0.2, 1.5), 3, low}, "south")
          .box({wall, 0, high}, {wall + random.in(0.2, 1.5), 3, 10}, "north");
      const double angle = random.in(0, 6.2);
      scene.turned(angle);
      nav::Agent agent;
      agent.radius = random.in(0.3, 0.5);
      Hands hands(test::built(scene.world(), agent));
      const auto at = [&](double x, double z) {
        return Vec3{std::cos(angle) * x + std::sin(angle) * z, 0, -std::sin(angle) * x + std::cos(angle) * z};
      };
      QVERIFY(hands.splitAll(at(wall + 0.1, 0), at(wall + 0.1, 10)));
      const std::vector<Edge> edges = hands.edgesAlong(at(wall + 0.1, 0), at(wall + 0.1, 10));
      QVERIFY(!edges.empty());
      const bool oneWay = i % 2 == 0;
      QVERIFY(hands.take(oneWay ? hands.editor().partOneWay(edges) : hands.editor().part(edges)));
      if (i % 4 < 2) hands.work.patches.clear();  // then no edge is there any more, but for those that the part makes
      for (const double radius : {0.2, 0.25, 0.33, 0.45, 0.6, 0.8}) {
        agent.radius = radius;
        Hands now(test::built(scene.world(), agent));
        now.work = hands.work, now.lay();
        const nav::NavMesh mesh = now.crossed();
        const QString here = QStringLiteral("scene %1, radius %2: ").arg(i).arg(radius);
        QVERIFY2(wrongWith(mesh).isEmpty(), qPrintable(here + wrongWith(mesh)));
        const route::Field field(mesh, nav::Rules{});
        route::Search search(field);
        const auto passes = [&](const Vec3& from, const Vec3& to) {
          return route::findPath(field, search, from, to).status == route::PathStatus::complete;
        };
        const bool there = passes(at(4, 5), at(16, 5)), back = passes(at(16, 5), at(4, 5));
        QVERIFY2(oneWay ? there != back : !there && !back, qPrintable(here + QStringLiteral("%1 %2").arg(there).arg(back)));
      }
    }
  }

  /// Up a ramp each of its edges is known as its own, near the top too, where it is far from the mean height of the whole.
  void partsAreKnownByAnyOfTheirEdges() {
    Hands hands(test::built(Scene().ramp(0, 0, 12, 6, 0, 6).world()));
    QVERIFY(hands.splitAll({9, 4.5, 0}, {9, 4.5, 6}));
    hands.work.parts = {{{}, {1, 0.5, 3}, {11, 5.5, 3}}}, hands.lay();
    const auto above = hands.edgesAlong({9, 4.5, 3}, {11, 5.5, 3}), below = hands.edgesAlong({1, 0.5, 3}, {9, 4.5, 3});
    QVERIFY(!above.empty() && !below.empty());
    const Work whole = hands.work;
    for (const Edge& e : {above[0], below[0]}) {
      QVERIFY(hands.take(hands.editor().unpart(std::vector{e})));
      QVERIFY(hands.work.parts.empty());
      hands.work = whole, hands.lay();
    }
    // Of all edges of one part at once it is turned once.
    std::vector<Edge> all = above;
    all.insert(all.end(), below.begin(), below.end());
    QVERIFY(hands.take(hands.editor().partOneWay(all)));
    const Vec3 from = hands.work.parts[0].from;
    QVERIFY(hands.take(hands.editor().partOneWay(all)));
    QVERIFY(hands.work.parts[0].oneWay && hands.work.parts[0].to == from);
  }

  /// One that ends in the middle of a face is gone around at its ends, at any turn.
  void partsEndWhereTheyEnd() {
    for (int turn = 0; turn < 24; ++turn) {
      const double angle = 0.26 * turn;
      const auto at = [&](double x, double z) {
        return Vec3{std::cos(angle) * x + std::sin(angle) * z, 0, -std::sin(angle) * x + std::cos(angle) * z};
      };
      Hands hands(test::built(Scene().floor(0, 0, 10, 10).turned(angle).world()));
      hands.work.parts = {{{}, at(3, 5), at(5, 5)}, {{}, at(5, 5), at(7, 5.5)}}, hands.lay();
      QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
      const route::Field field(hands.mesh(), nav::Rules{});
      route::Search search(field);
      const double around = route::findPath(field, search, at(4, 3), at(4, 7)).length, beside = std::sqrt(5.0) * 2;
      QVERIFY2(std::abs(around - beside) < 0.01, qPrintable(QStringLiteral("turn %1: %2 against %3").arg(turn).arg(around).arg(beside)));
      const double passed = route::findPath(field, search, at(2.9, 3), at(2.9, 7)).length;
      QVERIFY2(std::abs(passed - 4) < 0.01, qPrintable(QStringLiteral("turn %1: %2").arg(turn).arg(passed)));
    }
  }

  /// A face that rises by six metres is looked at where it is, not at its mean height.
  void aSteepFaceIsDraped() {
    Scene scene;
    for (int i = 0; i < 24; ++i) scene.ramp(i * 0.5, 0, i * 0.5 + 0.5, 6, 0.25 * i + (i % 2) * 0.1, 0.25 * (i + 1) + ((i + 1) % 2) * 0.1);
    Hands hands(test::built(scene.world()));
    QVERIFY(hands.take(hands.editor().draw({{1, 0.5, 1}, {11, 5.5, 1}, {11, 5.5, 5}, {1, 0.5, 5}})));
    QVERIFY(hands.take(hands.editor().drape(hands.drawn())));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    const nav::Locator locator(hands.mesh());
    for (double x = 1.1; x < 11; x += 0.1) {
      const double y = hands.levelAt({x, x / 2, 3}).value();
      const nav::Place place = locator.under({x, y, 3}, 1);
      QVERIFY2(place.valid() && std::abs(place.position.y - y) < 0.08, qPrintable(QString::number(x)));
    }
  }

  /// Half of a ledge is taken away, over which a wide drop leads: whoever takes it now takes off from what is left.
  void linksLeadOnlyFromGroundThatIsThere() {
    nav::Agent agent;
    agent.maxDrop = 3;
    level::World world = Scene().floor(0, 0, 30, 20).floor(5, 0, 15, 8, 2, "upper").world();
    world.findLinks = true;
    Hands hands(test::built(world, agent));
    QVERIFY(!hands.mesh().links.empty());
    QVERIFY(hands.take(hands.editor().splitAlong(std::vector{hands.faceAt({10, 2, 4})}, {9, 2, 0}, {9, 2, 8})));
    QVERIFY(hands.take(hands.editor().remove(std::vector{hands.faceAt({7, 2, 4})})));
    QVERIFY(nav::checkStructure(hands.mesh()).empty());
    const route::Field field(hands.mesh(), level::rulesOf(world.kinds));
    route::Search search(field);
    Random random(4);
    int taken = 0;
    for (int i = 0; i < 200; ++i) {
      const auto path =
          route::findPath(field, search, {random.in(9.5, 14.5), 2, random.in(0.5, 7.5)}, {random.in(1, 29), 0, random.in(10, 19)});
      for (const route::LinkUse& use : path.links) {
        const Vec3 foot = path.points[use.enter];
        QVERIFY2(nav::Locator(hands.mesh()).nearest(foot, 0.05).valid() && foot.x > 8.9, qPrintable(QString::number(foot.x)));
        ++taken;
      }
    }
    QVERIFY(taken > 20);
  }

  /// What is asked of other limits heeds what is made by hand too.
  void theWidestThatPassesGoesOverAStrip() {
    Job job;
    project::Project project;
    const auto level = Scene().floor(0, 0, 10, 10).floor(13, 0, 23, 10).world().level;
    const auto widest = [&] { return pipeline::widestPassing(project, level, 0, {5, 0, 5}, {18, 0, 5}, job)->radius.most; };
    QCOMPARE(widest(), 0.0);
    Hands hands(test::built(level::plainWorld(level)));
    project.hand = std::make_shared<Work>(*hands.editor().draw({{9, 0, 3}, {14, 0, 3}, {14, 0, 7}, {9, 0, 7}}));
    QVERIFY(widest() > 0.3);
  }

  /// A kind that is called otherwise is so wherever the project speaks of it.
  void paintedFacesKeepTheirKindByAnotherName() {
    project::Project project;
    project::edit(project.areas, [](project::AreasSection& s) {
      s.kinds.push_back({"mud", "#886644", 3, 0, false});
      s.volumes.push_back({1, "mud", {{0, 0}, {1, 0}, {1, 1}}, 0, 1});
    });
    project::edit(project.hand, [](Work& w) { w.patches.push_back({1, {}, {}, {{{{0, 0, 0}, {1, 0, 0}, {1, 0, -1}}, "mud"}}}); });
    project::edit(project.routes, [](project::RoutesSection& s) {
      s.routes.push_back({1, "way"});
      s.routes[0].expected.touches.push_back({project::Touch::What::kind, false, "mud"});
    });
    project::renameKind(project, "mud", "clay");
    QCOMPARE(project.hand->patches[0].faces[0].kind, std::string("clay"));
    QCOMPARE(project.routes->routes[0].expected.touches[0].kind, std::string("clay"));
    QCOMPARE(project.areas->volumes[0].kind, std::string("clay"));
    project::removeKind(project, "clay");
    QVERIFY(project.areas->volumes.empty() && project.hand->patches[0].faces[0].kind.empty());
  }

  /// On a bump a draped face gets the corners that it needs.
  void drapedFacesLieOnTheLevel() {
    Scene scene;
    const auto height = [](double x, double z) { return 0.8 * std::exp(-((x - 5) * (x - 5) + (z - 5) * (z - 5)) / 6); };
    for (int i = 0; i < 20; ++i)
      for (int j = 0; j < 20; ++j) {
        const double x = i * 0.5, z = j * 0.5;
        const auto at = [&](double u, double w) { return Vec3{u, height(u, w), w}; };
        scene.quad(at(x, z), at(x, z + 0.5), at(x + 0.5, z + 0.5), at(x + 0.5, z), "hill");
      }
    Hands hands(test::built(scene.world()));
    QVERIFY(hands.take(hands.editor().draw({{2, 0.2, 2}, {8, 0.2, 2}, {8, 0.2, 8}, {2, 0.2, 8}})));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    QVERIFY(hands.take(hands.editor().drape(hands.drawn())));
    QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(wrongWith(hands.mesh())));
    const nav::Locator locator(hands.mesh());
    double worst = 0;
    for (double x = 2.05; x < 8; x += 0.1)
      for (double z = 2.05; z < 8; z += 0.1) {
        const nav::Place place = locator.under({x, height(x, z), z}, 1);
        QVERIFY(place.valid());
        worst = std::max(worst, std::abs(place.position.y - hands.levelAt({x, height(x, z), z}).value()));
      }
    QVERIFY2(worst < 0.08, qPrintable(QString::number(worst)));
  }

  /// Outlines by chance, also with sides whose places lie on the lattice: all places of the inside and of the sides fit.
  void drapedOutlinesFitInsideAndOnTheirSides() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> angle(0, 6.28), radius(1, 5);
    const auto height = [](const Vec3& p) { return std::optional(0.4 * std::sin(p.x) * std::cos(p.z)); };
    int fitted = 0;
    for (int scene = 0; scene < 60; ++scene) {
      std::vector<double> angles(static_cast<std::size_t>(3 + scene % 5));
      for (double& a : angles) a = angle(random);
      std::sort(angles.begin(), angles.end(), std::greater<>());
      const double r = std::round(radius(random) * 4);
      std::vector<Vec3> outline;
      for (const double a : angles) outline.push_back({std::round(r * std::cos(a)) / 4, 0.2, std::round(r * std::sin(a)) / 4});
      const auto faces = hand::drapedFaces(outline, height);
      if (!faces) continue;  // corners that fell together
      ++fitted;
      double off = 0;
      for (const std::vector<Vec3>& face : *faces)
        for (std::size_t i = 0; i < face.size(); ++i) {
          const Vec3 &a = face[i], &b = face[(i + 1) % face.size()];
          for (const double t : {0.0, 0.25, 0.5, 0.75})
            off = std::max(off, std::abs(glm::mix(a, b, t).y - height(glm::mix(a, b, t)).value()));
        }
      QVERIFY2(off < 0.1, qPrintable(QString("scene %1: %2 m off").arg(scene).arg(off)));
    }
    QVERIFY2(fitted > 40, qPrintable(QString::number(fitted)));
  }

  /// The level is read again and has sunk under a patch: that is told with the number, the remedy lays it there, keeping it is silent.
  void groundThatMovedUnderAPatchIsTold() {
    Job job;
    project::Project project;
    const auto level = Scene().floor(0, 0, 10, 10).world().level, sunk = Scene().floor(0, 0, 10, 10, -0.3).world().level;
    const auto before = *pipeline::makeGround(project, level, 0, nullptr, job);
    const hand::Editor editor(before->mesh, before->origin, *project.hand, 1, pipeline::levelOf(before->built));
    project.hand = std::make_shared<Work>(*editor.draw({{3, 0, 3}, {5, 0, 3}, {5, 0, 5}, {3, 0, 5}}));
    const auto moved = [](const pipeline::Ground& ground) {
      std::vector<review::Finding> found;
      std::ranges::copy_if(ground.findings, std::back_inserter(found), [](const review::Finding& f) { return f.code == "patch-moved"; });
      return found;
    };
    QVERIFY(moved(**pipeline::makeGround(project, level, 0, nullptr, job)).empty());
    const auto now = *pipeline::makeGround(project, sunk, 0, nullptr, job);
    const auto told = moved(*now);
    QCOMPARE(told.size(), std::size_t{1});
    QVERIFY(std::abs(told[0].measured - 0.3) < 1e-3 && told[0].remedy);
    project::Project draped = project, kept = project;
    pipeline::apply(*told[0].remedy, draped);
    QVERIFY(std::abs(draped.hand->patches[0].faces[0].corners[0].y + 0.3) < 1e-3);
    const auto laid = *pipeline::makeGround(draped, sunk, 0, nullptr, job);
    QVERIFY(moved(*laid).empty());
    QCOMPARE(laid->islands, std::size_t{1});
    QCOMPARE(told[0].instead.size(), std::size_t{2});
    pipeline::apply(told[0].instead[0], kept);
    QVERIFY(moved(**pipeline::makeGround(kept, sunk, 0, nullptr, job)).empty());
    QCOMPARE(kept.hand->patches[0].faces[0].corners, project.hand->patches[0].faces[0].corners);
    project::Project without = project;
    pipeline::apply(told[0].instead[1], without);
    QVERIFY(without.hand->patches.empty());
    // What decides at a place that was made or taken away by hand is said.
    QVERIFY(pipeline::Explainer().at(*laid, {4, -0.3, 4}).sentence.starts_with("Made by hand (patch 1)"));
    const hand::Editor later(laid->mesh, laid->origin, *draped.hand, 1, pipeline::levelOf(laid->built));
    draped.hand = std::make_shared<Work>(*later.remove(std::vector{laid->locator().under({2, -0.3, 0.8}, 0.5).face}));
    const auto less = *pipeline::makeGround(draped, sunk, 0, nullptr, job);
    QVERIFY2(pipeline::Explainer().at(*less, {2, -0.3, 0.8}).sentence.starts_with("Taken away by hand"),
             pipeline::Explainer().at(*less, {2, -0.3, 0.8}).sentence.c_str());
  }

  /// Any edits by chance, on storeys over each other: the structure holds, what was drawn is there, what was not touched is as it was, and
  /// the same after saving and reading, and over meshes of other limits.
  void anyEditsHold() {
    const int seeds = qEnvironmentVariableIsSet("DUNE_MANY_EDITS") ? qEnvironmentVariableIntValue("DUNE_MANY_EDITS") : 12;
    int done = 0;
    for (int seed = 1; seed <= seeds; ++seed) {
      Random random(static_cast<std::uint64_t>(seed));
      Scene scene = storeys(static_cast<std::uint64_t>(seed));
      scene.turned(seed % 2 == 0 ? 0 : random.in(0, 1.5));
      Hands hands(test::built(scene.world()));
      for (int step = 0; step < 12; ++step) {
        const auto face = [&] { return FaceId{static_cast<std::uint32_t>(random.upTo(static_cast<int>(hands.mesh().faceCount())))}; };
        const FaceId f = face();
        const Edge edge{f, static_cast<std::uint32_t>(random.upTo(static_cast<int>(hands.mesh().cornerCount(f))))};
        const Vec3 middle = nav::middleOf(hands.mesh(), f), by{random.in(-0.6, 0.6), random.in(-0.3, 0.3), random.in(-0.6, 0.6)};
        const hand::Editor editor = hands.editor();
        const int what = random.upTo(11);
        const double before = nav::totalArea(hands.mesh()), own = nav::faceArea(hands.mesh(), f);
        const bool made = hands.laid.origin[index(f)].patch != 0;
        bool changed = false;
        switch (what) {
          case 0:
            changed = hands.take(editor.remove(std::vector{f}));
            break;
          case 1:
            changed = hands.take(editor.move(std::vector{hands.mesh().cornersOf(f)[0]}, by, random.upTo(2) == 0));
            break;
          case 2:
            changed = hands.take(editor.pull(edge, by * 2.0, false));
            break;
          case 3:
            changed = hands.take(editor.draw({middle, middle + Vec3{random.in(0.3, 2), 0, 0.2}, middle + Vec3{1, 0.1, random.in(0.4, 2)}}));
            break;
          case 4:
            changed = hands.take(editor.splitEdge(edge, random.in(0.1, 0.9)));
            break;
          case 5:
            changed = hands.take(editor.splitAlong(std::vector{f}, middle, middle + by));
            break;
          case 6:
            if (const FaceId g = hands.mesh().acrossOf(f)[edge.side]; g != nav::kNoFace)
              changed = hands.take(editor.join(std::vector{f, g}));
            break;
          case 7:
            changed = hands.take(editor.drape(std::vector{f}));
            break;
          case 8:
            changed = hands.take(editor.paint(std::vector{f}, {}));
            break;
          case 9:
            changed = hands.take(editor.partOneWay(std::vector{edge}));
            break;
          default:
            changed = hands.take(editor.part(std::vector{edge}));
            break;
        }
        if (!changed) continue;
        ++done;
        const QString here = QStringLiteral("seed %1 step %2 what %3: ").arg(seed).arg(step).arg(what);
        QVERIFY2(wrongWith(hands.mesh()).isEmpty(), qPrintable(here + wrongWith(hands.mesh())));
        QVERIFY2(hands.laid.notLaid.empty(), qPrintable(here + QStringLiteral("not laid")));
        const double after = nav::totalArea(hands.mesh());
        // Where a drawn face goes, the ground that gave way to it comes back.
        if (what == 0)
          QVERIFY2(made ? before - own - after < 0.02 : std::abs(before - own - after) < 0.02,
                   qPrintable(here + QString::number(before - own - after)));
        if (what >= 4 && what != 7)  // draped, it may come to lie on other ground
          QVERIFY2(std::abs(before - after) < 0.02, qPrintable(here + QString::number(before - after)));
      }
      project::Project project;
      project.hand = std::make_shared<hand::Work>(hands.work);
      const auto read = project::fromJson(project::toJson(project));
      QVERIFY2(read.ok(), read.ok() ? "" : read.problem().text().c_str());
      QVERIFY(*read->hand == hands.work);
      // Other limits, and another level: a crate has come.
      for (const double radius : {0.25, 0.6, 0.4}) {
        nav::Agent other;
        other.radius = radius;
        if (radius == 0.4) scene.box({9, 0, 9}, {11, 1, 11.5}, "crate");
        Hands rebuilt(test::built(scene.world(), other));
        rebuilt.work = hands.work, rebuilt.lay();
        const QString here = QStringLiteral("seed %1 radius %2: ").arg(seed).arg(radius);
        QVERIFY2(wrongWith(rebuilt.mesh()).isEmpty(), qPrintable(here + wrongWith(rebuilt.mesh())));
        // What a later patch covers of an earlier one is covered there too.
        QVERIFY2(std::abs(rebuilt.handArea() - hands.handArea()) < 0.05 || !rebuilt.laid.notLaid.empty(),
                 qPrintable(here + QString::number(rebuilt.handArea() - hands.handArea())));
      }
    }
    QVERIFY(done > seeds * 4);
  }

  /// Blockers by chance on patches by chance, flat and leaning: nothing is left where a body would touch one, and all else is as it was.
  void blockersTakeGroundMadeByHand() {
    const int seeds = qEnvironmentVariableIsSet("DUNE_MANY_EDITS") ? qEnvironmentVariableIntValue("DUNE_MANY_EDITS") : 30;
    int taken = 0, kept = 0;
    for (int seed = 1; seed <= seeds; ++seed) {
      Random random(static_cast<std::uint64_t>(seed));
      Job job;
      project::Project project;
      const auto level = Scene().floor(0, 0, 4, 4).world().level;  // beside it there is nothing but patches
      hand::Patch patch{1, {}, {}, {}};
      for (int i = 0; i < 3; ++i) {
        const double x = 3.5 + 5 * i, low = i == 0 ? 0 : random.in(-0.5, 0.5), rise = random.in(-1.5, 1.5);
        patch.faces.push_back({{{x, low, 3.5}, {x + 4.8, low + rise, 3.5}, {x + 4.8, low + rise, -2}, {x, low, -2}}});
      }
      project::edit(project.hand, [&](hand::Work& work) { work.patches = {patch}; });
      const auto without = *pipeline::makeGround(project, level, 0, nullptr, job);
      project::edit(project.level, [&](project::LevelSection& s) {
        for (int i = 0; i < 5; ++i) {
          level::Blocker b;
          b.id = i + 1, b.shape = static_cast<level::BlockerShape>(random.upTo(5));
          b.at = {random.in(3, 18), random.in(-2, 1), random.in(-3, 4)}, b.turn = random.in(0, 360);
          b.size = {random.in(0.2, 3), random.in(0.1, 2), random.in(0.2, 3)};
          b.role = static_cast<level::Role>(random.upTo(4));
          if (level::hasOutline(b)) b.outline = {{-0.5, -0.5}, {0.5, -0.5}, {0, 0}, {0.5, 0.5}, {-0.5, 0.5}};
          s.blockers.push_back(b);
        }
      });
      const auto with = *pipeline::makeGround(project, level, 0, nullptr, job);
      const QString here = QStringLiteral("seed %1: ").arg(seed);
      QVERIFY2(wrongWith(with->mesh).isEmpty(), qPrintable(here + wrongWith(with->mesh)));
      QVERIFY2(with->notLaid.empty(), qPrintable(here + "not laid"));
      std::vector<hand::Solid> solids;
      for (const level::Blocker& b : project.level->blockers) std::ranges::move(hand::solidsOf(b), std::back_inserter(solids));
      nav::Agent less = with->mesh.agent, more = less;  // on ground that leans a body is asked where it stands, not where it touches
      less.radius -= 0.02, less.height -= 0.35, less.stepHeight += 0.35;
      more.radius = 1.03 * more.radius + 0.01, more.height += 0.35, more.stepHeight -= 0.35;
      const auto by = [&](const nav::Agent& agent, const Vec3& at) {
        return std::ranges::any_of(solids, [&](hand::Solid s) {
          if (s.rise) *s.rise += agent.stepHeight - with->mesh.agent.stepHeight;
          return hand::takes(s, at, agent);
        });
      };
      pipeline::Explainer explainer;
      for (int k = 0; k < 3000; ++k) {
        const Vec3 q{random.in(4.2, 18.5), 0, random.in(-2, 3.5)};
        const nav::Place before = without->locator().under({q.x, 1, q.z}, 3);
        if (!before.valid() || without->origin[index(before.face)].patch == 0) continue;
        // Where it meets ground on a blocker it bends to that, by a step at most.
        const nav::Place after = with->locator().under(before.position, with->mesh.agent.stepHeight);
        const bool now = after.valid() && with->origin[index(after.face)].patch != 0;
        const QString place = here + QStringLiteral("%1 %2 %3").arg(q.x).arg(before.position.y).arg(q.z);
        const bool touches = by(less, before.position), clear = !by(more, before.position);
        QVERIFY2(!touches || !now, qPrintable(place + " is left"));
        QVERIFY2(!clear || after.valid(), qPrintable(place + " is gone"));
        taken += touches, kept += clear;
        const std::string why = touches ? explainer.at(*with, before.position).sentence : std::string();
        QVERIFY2(!touches || why.find("stands on ground made by hand (patch 1)") != std::string::npos, qPrintable(place + why.c_str()));
      }
      // It is there again when they are gone.
      project::edit(project.level, [](project::LevelSection& s) { s.blockers.clear(); });
      const auto again = *pipeline::makeGround(project, level, 0, with, job);
      QVERIFY2(meshfile::toBytes({again->mesh, {}}) == meshfile::toBytes({without->mesh, {}}), qPrintable(here + "not as before"));
    }
    QVERIFY2(taken > seeds * 60 && kept > seeds * 300, qPrintable(QStringLiteral("%1 %2").arg(taken).arg(kept)));
  }

  /// A crate where built ground goes on into ground made by hand: both end a radius before it, and at the same places.
  void aBlockerOnTheSeamTakesBothAlike() {
    Job job;
    project::Project project;
    const auto level = Scene().floor(0, 0, 10, 10).world().level;
    const auto bare = *pipeline::makeGround(project, level, 0, nullptr, job);
    const hand::Editor editor(bare->mesh, bare->origin, *project.hand, 1, pipeline::levelOf(bare->built));
    const auto drawn = std::make_shared<Work>(*editor.draw({{5, 0, 1}, {9, 0, 1}, {9, 0, 9}, {5, 0, 9}}));
    project::edit(project.level, [](project::LevelSection& s) {
      level::Blocker crate;
      crate.id = 1, crate.at = {5, 0, 5}, crate.size = {2, 1.5, 2}, crate.turn = 20;
      s.blockers = {crate};
    });
    const auto built = *pipeline::makeGround(project, level, 0, nullptr, job);
    project.hand = drawn;
    const auto both = *pipeline::makeGround(project, level, 0, nullptr, job);
    QVERIFY2(wrongWith(both->mesh).isEmpty(), qPrintable(wrongWith(both->mesh)));
    QVERIFY2(std::abs(both->area - built->area) < 0.1, qPrintable(QStringLiteral("%1 %2").arg(both->area).arg(built->area)));
    QCOMPARE(both->islands, built->islands);
    QVERIFY(std::ranges::none_of(both->findings, [](const review::Finding& f) { return f.code == "patch-moved"; }));
  }

  void outlinesThatAreNoneAreRefused() {
    using Points = std::vector<Vec3>;
    const Vec3 a{0, 0, 0}, b{2, 0, 0}, c{2, 0, -2}, d{0, 0, -2};
    QCOMPARE(hand::convexFaces(Points{a, b, c, d})->size(), std::size_t{1});
    QCOMPARE(hand::convexFaces(Points{a, b, c, {1.5, 0, -0.5}})->size(), std::size_t{2});
    for (const Points& bad : {Points{}, Points{a}, Points{a, b}, Points{a, b, b}, Points{a, c, b, d}, Points{d, c, b, a},
                              Points{a, {1, 0, 0}, b}, Points{a, b, {NAN, 0, 0}}, Points{a, b, {1e30, 0, 0}}})
      QVERIFY(!hand::convexFaces(bad).ok());
  }
};

QTEST_GUILESS_MAIN(TestHand)
#include "hand.moc"
