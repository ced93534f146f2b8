// What is drawn, as lists: stand-ins for what is large, edges, hatching, the squares of a box. No window is shown.

#include <QtTest>
#include <map>

#include "tests/core/scenes.h"
#include "window/scene/coarse.h"
#include "window/scene/labels.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"
#include "window/stops/crowd/crowd_picture.h"
#include "window/stops/links/links_picture.h"
#include "window/stops/mesh/scope_tool.h"

using namespace dune;
using namespace dune::window;

class TestPictures : public QObject {
  Q_OBJECT

  static double hill(double x, double z) { return 6 * std::sin(x / 13.0) * std::cos(z / 17.0); }

  /// Squares of a metre on hills, each a face; ten rows of one kind and ten of another.
  static nav::NavMesh hills(std::uint32_t side) {
    nav::NavMesh mesh;
    mesh.kinds = {{"ground"}, {"brine", "#336699"}, {"sand", "#994433"}};
    for (std::uint32_t z = 0; z <= side; ++z)
      for (std::uint32_t x = 0; x <= side; ++x) mesh.vertices.push_back({x, hill(x, z), z});
    auto face = [&](std::int64_t x, std::int64_t z) {
      const bool there = x >= 0 && z >= 0 && x < side && z < side;
      return there ? nav::FaceId{static_cast<std::uint32_t>(z * side + x)} : nav::kNoFace;
    };
    for (std::uint32_t z = 0; z < side; ++z)
      for (std::uint32_t x = 0; x < side; ++x) {
        const std::uint32_t i = z * (side + 1) + x;
        for (const std::uint32_t v : {i, i + side + 1, i + side + 2, i + 1}) mesh.corners.push_back(v);
        for (const nav::FaceId f : {face(std::int64_t{x} - 1, z), face(x, z + 1), face(x + 1, z), face(x, std::int64_t{z} - 1)})
          mesh.across.push_back(f);
        mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
        mesh.area.push_back(z / 10 % 2 == 1 ? 1 : 0);
      }
    nav::labelIslands(mesh);
    return mesh;
  }
  /// The same as an object of two triangles a square.
  static level::Object hillsObject(std::uint32_t side) {
    level::Object hills;
    hills.name = "hills";
    for (std::uint32_t z = 0; z <= side; ++z)
      for (std::uint32_t x = 0; x <= side; ++x) hills.vertices.edit().push_back({x, hill(x, z), z});
    for (std::uint32_t z = 0; z < side; ++z)
      for (std::uint32_t x = 0; x < side; ++x) {
        const std::uint32_t i = z * (side + 1) + x;
        hills.triangles.edit().push_back({i, i + side + 1, i + side + 2}), hills.triangles.edit().push_back({i, i + side + 2, i + 1});
      }
    return hills;
  }
  static double planArea(const level::Object& o) {
    double area = 0;
    for (const auto& t : o.triangles)
      area += cross(plan(o.vertices[t[1]]) - plan(o.vertices[t[0]]), plan(o.vertices[t[2]]) - plan(o.vertices[t[0]])) / 2;
    return area;
  }
  static pipeline::ChangedPlace square(bool gained, const Vec3& at, double side) {
    pipeline::ChangedPlace place;
    place.gained = gained;
    place.ground.patches = {{{at, at + Vec3{0, 0, side}, at + Vec3{side, 0, side}, at + Vec3{side, 0, 0}}, side * side}};
    place.ground.area = side * side, place.ground.at = at + Vec3{side / 2, 0, side / 2};
    return place;
  }
  static double lengthOf(const LineVertex& v) { return glm::distance(Vec3(v.x, v.y, v.z), Vec3(v.ox, v.oy, v.oz)); }
  static Box2 boxOf(const std::vector<LineVertex>& lines) {
    Box2 box;
    for (const LineVertex& v : lines) box.add(plan(Vec3(v.x, v.y, v.z)));
    return box;
  }

 private slots:
  void initTestCase() { applyTheme(false); }
  void aStandInIsNearTheTrueSurface() {
    const std::uint32_t side = 120;
    const level::Object hills = hillsObject(side);
    auto level = std::make_shared<level::Level>();
    level->objects = {hills, {"crate", {{5, 9, 5}, {6, 9, 5}, {5, 9, 6}}, {{0, 1, 2}}}};
    level->objects[1].counts = level::Role::obstacle;
    QVERIFY(coarseLevel(level, Job(), 1'000'000) == level);  // small enough as it is
    for (const std::size_t most : {2000u, 6000u, 12000u}) {
      const auto coarse = coarseLevel(level, Job(), most);
      QVERIFY(coarse->triangleCount() <= most && coarse->triangleCount() > most / 6);
      QCOMPARE(coarse->objects.size(), std::size_t{2});
      QVERIFY(coarse->objects[1].name == "crate" && coarse->objects[1].counts == level::Role::obstacle);
      const double cell = 4 * std::sqrt(2.0 * side * side / static_cast<double>(most));
      for (const Vec3& v : coarse->objects[0].vertices) {
        const double truth = 6 * std::sin(v.x / 13.0) * std::cos(v.z / 17.0);
        QVERIFY(v.y < truth + 0.1 && v.y > truth - cell);  // seldom above, and no deeper than the steepest slope over a cell
      }
      for (const auto& t : coarse->objects[0].triangles) QVERIFY(t[0] != t[1] && t[1] != t[2] && t[2] != t[0]);
    }
  }
  void dearGroundIsFarFromPlainGroundAndCheapGroundOnTheOtherSide() {
    nav::NavMesh mesh;
    mesh.kinds.resize(5);
    const GroundColours colours(mesh, {{{1}, {4}, {16}, {0.25}, {1, 0, true}}}, true, true);
    std::set<std::uint32_t> all;
    for (std::size_t kind = 0; kind < 5; ++kind) all.insert(colours.of(kind));
    QCOMPARE(all.size(), std::size_t{5});
    const auto part = [&](std::size_t kind, int which) { return static_cast<int>(colours.of(kind) >> 8 * which & 0xff); };
    const auto light = [&](std::size_t kind) { return part(kind, 0) + part(kind, 1) + part(kind, 2); };
    QVERIFY(light(0) > light(1) && light(1) > light(2));
    QVERIFY(part(3, 1) - part(3, 0) > part(0, 1) - part(0, 0));  // greener
    // By their own colours a rule changes nothing.
    const GroundColours kinds(mesh, {{{1}, {4}, {16}, {0.25}, {1, 0, true}}}, true), plain(mesh, {}, true);
    for (std::size_t kind = 0; kind < 5; ++kind) QCOMPARE(kinds.of(kind), plain.of(kind));
  }
  void groundLayerHasEveryFace() {
    const auto b = test::built(test::Scene().floor(0, 0, 10, 10).box({4, -1, 4}, {6, 3, 6}).world());
    std::size_t triangles = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) triangles += b->mesh.cornerCount(nav::FaceId{f}) - 2;
    QCOMPARE(groundLayer(b->mesh, b->rules(), {b->mesh, b->rules(), true}).triangles.size(), triangles * 3);
  }
  void aStandInForGroundLiesOverIt() {
    const std::uint32_t side = 130;
    const nav::NavMesh mesh = hills(side);
    QVERIFY(nav::checkStructure(mesh).empty());
    QVERIFY(!coarseGround(mesh, Job(), 2 * mesh.faceCount()));  // small enough as it is
    for (const std::size_t most : {2000u, 8000u}) {
      const auto coarse = coarseGround(mesh, Job(), most);
      QVERIFY(coarse && coarse->triangleCount() <= most && coarse->triangleCount() > most / 6);
      QCOMPARE(coarse->objects.size(), mesh.kinds.size());
      QVERIFY(coarse->objects[2].triangles.empty());  // a kind that no face has
      const double cell = 4 * std::sqrt(2.0 * side * side / static_cast<double>(most));
      for (const level::Object& o : coarse->objects)
        for (const auto& t : o.triangles) {
          for (const std::uint32_t v : t) {
            const Vec3& p = o.vertices[v];
            QVERIFY(p.y > hill(p.x, p.z) - 0.1 && p.y < hill(p.x, p.z) + cell);
          }
          const Vec2 a = plan(o.vertices[t[0]]);
          QVERIFY(cross(plan(o.vertices[t[1]]) - a, plan(o.vertices[t[2]]) - a) > 0);  // nothing is folded
        }
      const double covered = planArea(coarse->objects[0]) + planArea(coarse->objects[1]);
      QVERIFY2(covered > 0.7 * side * side && covered < 1.05 * side * side, qPrintable(QString::number(covered)));
    }
  }
  void whatIsLargeHasASketchForWhileTheViewMoves() {
    const std::uint32_t side = 260;
    auto level = std::make_shared<level::Level>();
    level->objects = {hillsObject(side)};
    const auto picture = pictureOf(level, Job());
    QVERIFY(picture->level != level && picture->sketch && picture->sketch->triangleCount() <= kMostSketched);
    const DrawList list = levelLayer(*picture, {level::Role::ground}, {}, false);
    QCOMPARE(list.sketch.size(), picture->sketch->triangleCount() * 3);
    QVERIFY(list.sketch.size() < list.triangles.size() / 2 && list.sketch[0].colour == list.triangles[0].colour);
    // About two triangles a square: those of the hills themselves are a metre wide.
    const double expected = std::sqrt(2.0 * side * side / static_cast<double>(picture->sketch->triangleCount()));
    QVERIFY2(list.sketchGrain() > 0.9 * expected && list.sketchGrain() < 1.5 * expected, qPrintable(QString::number(list.sketchGrain())));
    // What is small is drawn itself at all times.
    auto small = std::make_shared<level::Level>();
    small->objects.push_back({"floor", {{0, 0, 0}, {0, 0, 9}, {9, 0, 9}}, {{0, 1, 2}}});
    QVERIFY(!pictureOf(small, Job())->sketch && levelLayer(*pictureOf(small, Job()), {level::Role::ground}, {}, false).sketch.empty());
  }
  void facesWithinABoxAreThoseThatMeetIt() {
    const nav::NavMesh mesh = hills(40);
    const nav::Locator locator(mesh);
    for (std::uint64_t seed = 0; seed < 40; ++seed) {
      test::Random random(seed);
      Box2 box;
      box.add({random.in(-5, 45), random.in(-45, 5)}), box.add({random.in(-5, 45), random.in(-45, 5)});
      std::vector<std::uint32_t> expected;
      for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
        Box2 own;
        for (const std::uint32_t v : mesh.cornersOf(nav::FaceId{f})) own.add(plan(mesh.vertices[v]));
        if (own.overlaps(box)) expected.push_back(f);
      }
      const auto found = facesWithin(mesh, locator, box, 1'000'000);
      QVERIFY(found && *found == expected);
      QVERIFY(facesWithin(mesh, locator, box, expected.size() * 4).has_value());
      if (!expected.empty()) QVERIFY(!facesWithin(mesh, locator, box, expected.size() * 4 - 1).has_value());
    }
  }
  void someFacesAreDrawnAsTheyAreAmongAll() {
    const nav::NavMesh mesh = hills(12);
    const DrawList all = groundLayer(mesh, {}, {mesh, {}, true}),
                   none = groundLayer(mesh, {}, {mesh, {}, true}, std::vector<std::uint32_t>{}),
                   some = groundLayer(mesh, {}, {mesh, {}, true}, std::vector<std::uint32_t>{5, 40});
    QVERIFY(none.triangles.empty() && none.lines.empty());
    QCOMPARE(some.triangles.size(), std::size_t{12});
    for (std::size_t i = 0; i < 12; ++i) {
      const DrawVertex &now = some.triangles[i], &then = all.triangles[(i < 6 ? 5 : 40 - 1) * 6 + i];
      QVERIFY(now.x == then.x && now.y == then.y && now.z == then.z && now.colour == then.colour);
    }
    // Without inner edges only the border is left: four sides of twelve metres.
    const DrawList border = groundLayer(mesh, {}, {mesh, {}, true}, std::nullopt, false);
    QCOMPARE(border.lines.size(), std::size_t{4 * 12 * 6});
    QVERIFY(all.lines.size() > border.lines.size());
    QCOMPARE(border.triangles.size(), all.triangles.size());
  }
  void kindsOfGroundKeepTheirColoursAfar() {
    const nav::NavMesh mesh = hills(60);
    const auto coarse = coarseGround(mesh, Job(), 1500);
    QVERIFY(coarse);
    const DrawList near = groundLayer(mesh, {}, {mesh, {}, true}), far = coarseGroundLayer(*coarse, nullptr, {mesh, {}, true}),
                   stale = coarseGroundLayer(*coarse, nullptr, {mesh, {}, false});
    auto colours = [](const DrawList& list) {
      std::set<std::uint32_t> found;
      for (const DrawVertex& v : list.triangles) found.insert(v.colour);
      return found;
    };
    QCOMPARE(colours(near).size(), std::size_t{2});
    QVERIFY(colours(far) == colours(near));
    QVERIFY(colours(stale) != colours(far));
    QCOMPARE(far.triangles.size(), coarse->triangleCount() * 3);
    const auto coarsest = coarserGround(*coarse, Job(), 400);
    QVERIFY(coarsest && coarsest->triangleCount() <= 400 && !coarserGround(*coarse, Job(), 1500));
    const DrawList both = coarseGroundLayer(*coarse, coarsest.get(), {mesh, {}, true});
    QVERIFY(far.sketch.empty() && both.triangles.size() == far.triangles.size());
    QCOMPARE(both.sketch.size(), coarsest->triangleCount() * 3);
    QCOMPARE(far.lift, near.lift);
  }
  void anotherAgentsGroundIsAVeilWithItsBorder() {
    const nav::NavMesh mesh = hills(60);
    const auto coarse = coarseGround(mesh, Job(), 1500);
    const DrawList near = comparedLayer(mesh, nullptr), far = comparedLayer(mesh, coarse.get());
    QCOMPARE(near.triangles.size(), std::size_t{60 * 60 * 6});
    QCOMPARE(far.triangles.size(), coarse->triangleCount() * 3);
    for (const DrawList* list : {&near, &far}) QCOMPARE(list->lines.size(), std::size_t{4 * 60 * 6});  // the border is the true one
    QCOMPARE(near.triangles[0].colour, far.triangles[0].colour);
  }
  void onlyEdgesThatShowAShapeAreDrawn() {
    // A box has twelve edges, though its sides are two triangles each; a flat floor only its border.
    auto level = std::make_shared<level::Level>(*test::Scene().box({0, 0, 0}, {2, 3, 4}).world().level);
    level->objects.push_back({"floor", {{0, 0, 0}, {0, 0, 9}, {9, 0, 9}, {9, 0, 0}}, {{0, 1, 2}, {0, 2, 3}}});
    // Corners that are written twice are one.
    level->objects.push_back({"twice", {{0, 0, 0}, {0, 0, 9}, {9, 0, 9}, {0, 0, 0}, {9, 0, 9}, {9, 0, 0}}, {{0, 1, 2}, {3, 4, 5}}});
    const auto picture = pictureOf(level, Job());
    QVERIFY(picture->level == level);
    QCOMPARE(picture->edges[0].size(), std::size_t{12});
    QCOMPARE(picture->edges[1].size(), std::size_t{4});
    QCOMPARE(picture->edges[2].size(), std::size_t{4});
    const std::vector<level::Role> roles{level::Role::ground, level::Role::ignored, level::Role::obstacle};
    const DrawList list = levelLayer(*picture, roles, {}, false);
    QCOMPARE(list.lines.size(), std::size_t{(12 + 4 + 4) * 6});
    QCOMPARE(list.triangles.size(), std::size_t{(12 + 2) * 3});  // what is ignored is an outline only
    QCOMPARE(levelLayer(*picture, roles, {}, true).triangles.size(), std::size_t{(12 + 2 + 2) * 3});
  }
  void bodiesLeanWithTheGroundWhereTheirKindDoes() {
    auto ground = std::make_shared<pipeline::Ground>();
    nav::Agent agent;
    agent.maxSlope = 45;
    ground->mesh = test::built(test::Scene().ramp(0, 0, 10, 10, 0, 5).world(), agent)->mesh;
    const auto shared = std::make_shared<pipeline::Run>();
    pipeline::Run& run = *shared;
    run.ground = ground, run.grounds = {ground}, run.meshOf = {0};
    const auto crown = [&](const nav::FaceId face) {
      run.trace = {};
      trace::Writer writer(run.trace, {{1, 0.4, std::nullopt, 0}});
      (void)writer.begin();
      (void)writer.frame(0, std::vector<trace::Sample>{{0, 1, {5, 2.5, 5}, {}, {}, crowd::State::moving, face}});
      (void)writer.end();
      Vec3 farthest{};
      const DrawList list = bodiesLayer(shared, 0, {}, false);
      for (const DrawVertex& v : list.triangles)
        if (const Vec3 off = Vec3(v.x, v.y, v.z) - Vec3(5, 2.5, 5); glm::length(off) > glm::length(farthest)) farthest = off;
      return glm::normalize(farthest);
    };
    const Vec3 up{0, 1, 0}, normal = glm::normalize(Vec3{-1, 2, 0});
    ground->mesh.agent.tilts = false;
    QVERIFY(glm::distance(crown(nav::FaceId{0}), up) < 1e-4);
    ground->mesh.agent.tilts = true;
    QVERIFY(glm::distance(crown(nav::FaceId{0}), normal) < 1e-3);
    QVERIFY(glm::distance(crown(nav::kNoFace), up) < 1e-4);  // in the air
  }
  void linksThatAreNotTakenSayForWhom() {
    pipeline::Ground ground;
    ground.mesh.agent.name = "Sledge";
    ground.broken = {{2, "its landing is in the air", {}}};
    ground.beyond = {{3, "it is a jump of 2 m, and Sledge does not jump", {}, {2, 0}}};
    project::LinksSection links;
    for (const int id : {1, 2, 3}) links.links.push_back({id, nav::LinkKind::jump, {0, 0, id * 5.0}, {3, 0, id * 5.0}, false, 0});
    std::vector<WorldLabel> labels;
    linksLayer(&ground, links, -1, true, labels);
    QCOMPARE(labels.size(), std::size_t{2});
    QVERIFY(labels[0].text == QStringLiteral("broken") && labels[0].at.z == 10);
    QVERIFY(labels[1].text == QStringLiteral("not for Sledge") && labels[1].at.z == 15);
    labels.clear();
    linksLayer(nullptr, links, -1, true, labels);  // not known before a build
    QVERIFY(labels.empty());
  }
  void labelsAreWholeInTheWorld() {
    test::Random random(4);
    const QRectF world(0, 0, 900, 600);
    for (int i = 0; i < 500; ++i) {
      const QRectF wanted(random.in(-200, 1000), random.in(-50, 650), random.in(20, 200), 20);
      const QRectF placed = wholeIn(world, wanted);
      QVERIFY(placed.size() == wanted.size() && world.contains(placed));
      QVERIFY(!world.contains(wanted) || placed == wanted);
    }
  }
  void labelsDoNotLieOverEachOther() {
    test::Random random(3);
    std::vector<QRectF> taken;
    for (int i = 0; i < 200; ++i) {
      const QRectF wanted(random.in(0, 800), random.in(0, 500), random.in(20, 200), 20);
      const QRectF placed = aboveOthers(wanted, taken);
      QVERIFY(placed.size() == wanted.size() && placed.left() == wanted.left() && placed.top() <= wanted.top());
      const bool free = std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(wanted); });
      QVERIFY(!free || placed == wanted);  // nobody moves without need
      QVERIFY(std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(placed); }));
      taken.push_back(placed);
    }
  }
  void hatchingStaysCountableHoweverMuchChanged() {
    pipeline::Change change;
    std::vector<WorldLabel> labels;
    change.places = {square(true, {0, 0, 0}, 4), square(false, {10, 0, 0}, 2)};
    const DrawList little = changeLayer(change, -1, labels);
    // Crosses where gained: two families of lines at 0.28 m over a diagonal of 5.66 m; bars where lost.
    const double expected = 2 * 4 * std::sqrt(2.0) / 0.28 + 2 * std::sqrt(2.0) / 0.28;
    QVERIFY2(std::abs(static_cast<double>(little.lines.size()) / 6 - expected) <= 4, qPrintable(QString::number(little.lines.size() / 6)));
    QCOMPARE(labels.size(), std::size_t{2});
    QVERIFY(labels[0].text.contains(QStringLiteral("+16.0")) && labels[1].text.contains(QStringLiteral("–4.0")));
    labels.clear();
    change.places.clear();
    for (int i = 0; i < 3000; ++i) change.places.push_back(square(i % 2 == 0, {(i % 60) * 20.0, 0, (i / 60) * 20.0}, 18));
    const DrawList much = changeLayer(change, -1, labels);
    QVERIFY2(much.lines.size() / 6 < 40'000 && much.lines.size() / 6 > 5'000, qPrintable(QString::number(much.lines.size() / 6)));
    QCOMPARE(much.triangles.size(), std::size_t{3000 * 6});
    QVERIFY(labels.size() <= 8);
  }
  void theSquaresThatABoxTouchesAreShown() {
    for (std::uint64_t seed = 0; seed < 30; ++seed) {
      test::Random random(seed);
      Workspace workspace;
      ScopeTool tool(workspace);
      DrawList nothing;
      tool.draw(nothing, Camera());
      QVERIFY(nothing.lines.empty());
      generate::Scope scope{generate::Scope::Kind::box, {}};
      const Vec2 low{random.in(-70, 40), random.in(-70, 40)};
      scope.box.add(low), scope.box.add(low + Vec2{random.in(1, 60), random.in(1, 60)});
      workspace.setScope(scope);
      DrawList list;
      tool.draw(list, Camera());
      // What is drawn around all is what would be looked at, square by square.
      const double size = ground::chunkSize(workspace.agentKind());
      Box2 looked;
      for (int row = -8; row < 8; ++row)
        for (int column = -8; column < 8; ++column)
          if (const Box2 square = ground::chunkBox({row, column}, size); generate::looksAt(scope, square, nullptr))
            looked.add(square.min), looked.add(square.max);
      std::erase_if(list.lines, [](const LineVertex& v) { return v.y != v.oy; });  // handles look at the eye
      const Box2 drawn = boxOf(list.lines);
      QVERIFY(glm::distance(drawn.min, looked.min) < 0.01 && glm::distance(drawn.max, looked.max) < 0.01);
      const auto sides = std::ranges::count_if(list.lines, [&](const LineVertex& v) { return v.width == 3 && lengthOf(v) > 0.9; });
      QVERIFY(sides >= 4);
    }
  }
};

QTEST_MAIN(TestPictures)
#include "pictures.moc"
