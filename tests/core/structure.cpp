// Meshes are believed only when every number in them keeps its promise, in both forms of the file.

#include <QtTest>
#include <limits>

#include "core/links/attach.h"
#include "core/meshes/mesh_files.h"
#include "tests/core/scenes.h"

using namespace dune;
using meshes::Content;
using test::built;
using test::Scene;

class TestStructure : public QObject {
  Q_OBJECT

  static Content sample() {
    const auto b = built(Scene().floor(0, 0, 8, 8).floor(11, 0, 19, 8, 0, "far").box({2, -1, 2}, {3, 2, 3}).world());
    Content c{b->mesh, b->rules()};
    c.mesh.agent.maxJump = 3;
    c.mesh.links = links::attach(c.mesh, nav::Locator(c.mesh), {{3, nav::LinkKind::jump, {7.6, 0, 4}, {11.4, 0, 4}, false, 2}}).links;
    return c;
  }

 private slots:
  void everyWrongNumberIsFound_data() {
    QTest::addColumn<std::function<void(Content&)>>("spoil");
    constexpr double kNan = std::numeric_limits<double>::quiet_NaN(), kInfinite = std::numeric_limits<double>::infinity();
    const auto row = [](const char* name, std::function<void(Content&)> spoil) { QTest::newRow(name) << spoil; };
    row("no island", [](Content& c) { c.mesh.island[0] = 0xffffffffu; });
    row("huge island", [](Content& c) { c.mesh.island[0] = 4'000'000'000u; });
    row("island of another piece", [](Content& c) { c.mesh.island[0] ^= 1; });
    row("one island for two pieces", [](Content& c) { std::ranges::fill(c.mesh.island, 0u); });
    row("negative link cost", [](Content& c) { c.mesh.links[0].cost = -1e9; });
    row("link cost is no number", [=](Content& c) { c.mesh.links[0].cost = kNan; });
    row("link radius", [=](Content& c) { c.mesh.links[0].radius = kInfinite; });
    row("link end is no number", [=](Content& c) { c.mesh.links[0].from.x = kNan; });
    row("link end off its face", [](Content& c) { c.mesh.links[0].from.y += 3; });
    row("link face", [](Content& c) { c.mesh.links[0].toFace = nav::FaceId{1'000'000}; });
    row("link area", [](Content& c) { c.mesh.links[0].area = -1; });
    row("vertex is no number", [=](Content& c) { c.mesh.vertices[1].y = kNan; });
    row("vertex far away", [](Content& c) { c.mesh.vertices[1].x = 1e30; });
    row("agent's radius", [](Content& c) { c.mesh.agent.radius = -1; });
    row("agent's height is no number", [=](Content& c) { c.mesh.agent.height = kNan; });
    row("cost of zero", [](Content& c) { c.rules.kinds[0].cost = 0; });
    row("cost is no number", [=](Content& c) { c.rules.kinds[0].cost = kNan; });
    row("cost to enter", [](Content& c) { c.rules.kinds[0].entryCost = -1; });
    row("area of a face", [](Content& c) { c.mesh.area[0] = 9; });
    row("corner", [](Content& c) { c.mesh.corners[0] = 70000; });
    row("neighbour", [](Content& c) { c.mesh.across[0] = nav::FaceId{70000}; });
    row("own neighbour", [](Content& c) { c.mesh.across[0] = nav::FaceId{0}; });
    row("two corners", [](Content& c) { c.mesh.start[1] = 2; });
    row("starts that go down", [](Content& c) { c.mesh.start[1] = 0xfffffff0u; });
    row("turned over", [](Content& c) { std::reverse(c.mesh.corners.begin(), c.mesh.corners.begin() + c.mesh.start[1]); });
  }
  void everyWrongNumberIsFound() {
    QFETCH(std::function<void(Content&)>, spoil);
    Content c = sample();
    QVERIFY(nav::checkStructure(c.mesh).empty());
    spoil(c);
    const bool found = !nav::checkStructure(c.mesh).empty() || nav::checkRules(c.mesh, c.rules);
    QVERIFY(found);
    const auto binary = meshfile::fromBytes(meshfile::toBytes(c));
    QVERIFY(!binary && binary.problem().code == ProblemCode::damaged);
    // The text form cannot be written from arrays that do not fit.
    if (c.mesh.start[1] > c.mesh.corners.size()) return;
    const auto json = meshes::meshFromJson(meshes::meshToJson(c));
    QVERIFY(!json && json.problem().code == ProblemCode::damaged);
  }
  void numbersThatAreNoIndexAreRefusedInText() {
    const std::string text = meshes::meshToJson(sample());
    for (const char* island : {"-1", "4294967295", "1e300", "0.5", "\"0\"", "null"}) {
      std::string broken = text;
      const std::size_t at = broken.find("\"island\":") + 9, end = broken.find('}', at);
      broken.replace(at, end - at, island);
      const auto read = meshes::meshFromJson(broken);
      QVERIFY2(!read && read.problem().code == ProblemCode::damaged, island);
    }
  }
  void islandsAreCountedWhereTheFileDoesNotSay() {
    std::string text = meshes::meshToJson(sample());
    for (std::size_t at; (at = text.find(",\"island\":")) != std::string::npos;) text.erase(at, text.find('}', at) - at);
    const auto read = meshes::meshFromJson(text);
    QVERIFY(read.ok());
    QCOMPARE(read->mesh.island, sample().mesh.island);
  }
  void whichCornerIsTheFirstChangesNoPlaceOnAFace() {
    // Corners that faces beyond have on an edge lie on one line; where the first three did, all of it once had the first one's height, and
    // places on any such line went to its next corner where rounding wanted it so.
    test::Random random(3);
    for (int i = 0; i < 200; ++i) {
      const double turn = random.in(0, 2 * kPi), rise = random.in(-0.5, 0.5), fall = random.in(-0.5, 0.5);
      std::vector<Vec3> corners;
      const int sides = 3 + random.upTo(4), on = 1 + random.upTo(4);
      const auto at = [&](int k) {
        const double a = turn + 2 * kPi * k / sides;
        // On whole metres, so that what lies on a line does so exactly.
        const Vec2 q{std::round(40 * std::cos(a)) * on, std::round(40 * std::sin(a)) * on};
        return q;
      };
      const auto onPlane = [&](const Vec2& q) { return lift(q, rise * q.x + fall * q.y); };
      for (int k = 0; k < sides; ++k)
        for (int j = 0; j < on; ++j)
          corners.push_back(onPlane(at(k) + (at(k + 1) - at(k)) / static_cast<double>(on) * static_cast<double>(j)));
      for (std::size_t first = 0; first < corners.size(); ++first) {
        nav::NavMesh mesh;
        for (std::uint32_t k = 0; k < corners.size(); ++k) {
          mesh.vertices.push_back(corners[(first + k) % corners.size()]);
          mesh.corners.push_back(k), mesh.across.push_back(nav::kNoFace);
        }
        mesh.start.push_back(static_cast<std::uint32_t>(corners.size()));
        for (std::size_t k = 0; k < corners.size(); ++k)
          for (const double t : {0.0, 0.3, 0.77}) {
            const Vec3 p = glm::mix(corners[k], corners[(k + 1) % corners.size()], t);
            const double off = glm::distance(nav::nearestOnFace(mesh, nav::FaceId{0}, lift(plan(p), 0)), p);
            QVERIFY2(off < 1e-6, qPrintable(QStringLiteral("face %1 from corner %2: %3 m off at %4 of %5, %6 on a side")
                                                .arg(i)
                                                .arg(first)
                                                .arg(off)
                                                .arg(static_cast<double>(k) + t)
                                                .arg(corners.size())
                                                .arg(on)));
          }
      }
    }
  }
  void faceOfManyCornersIsCheckedAtOnce() {
    // A hundred thousand corners on a flat circle: checks that look at all pairs would take minutes.
    nav::NavMesh mesh;
    mesh.kinds.emplace_back();
    constexpr std::uint32_t kCorners = 100'000;
    for (std::uint32_t i = 0; i < kCorners; ++i) {
      const double a = 2 * kPi * i / kCorners;
      mesh.vertices.push_back(lift(Vec2{std::cos(a), std::sin(a)} * 60000.0, 0));
      mesh.corners.push_back(i), mesh.across.push_back(nav::kNoFace);
    }
    mesh.start.push_back(kCorners), mesh.area.push_back(0), mesh.island.push_back(0);
    QVERIFY(nav::checkStructure(mesh).size() <= 20);
  }
};

QTEST_APPLESS_MAIN(TestStructure)
#include "structure.moc"
