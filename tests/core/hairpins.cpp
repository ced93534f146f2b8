// Grounds that touch at a corner, and ways around the tip of a crack that nothing fits into, with corners closer than one counts as passed.

#include <QtTest>

#include "tests/core/scenes.h"
#include "tests/core/traces.h"

using namespace dune;

namespace {

constexpr std::uint32_t kTip = 0, kLow = 1, kHigh = 2, kLeft = 3;

void addFace(nav::NavMesh& mesh, std::uint32_t a, std::uint32_t b, std::uint32_t c) {
  const Vec2 p = plan(mesh.vertices[a]), q = plan(mesh.vertices[b]), r = plan(mesh.vertices[c]);
  if (cross(q - p, r - p) < 0) std::swap(b, c);
  mesh.corners.insert(mesh.corners.end(), {a, b, c});
  mesh.across.insert(mesh.across.end(), 3, nav::kNoFace);
  mesh.area.push_back(0);
  mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
}

void joinFaces(nav::NavMesh& mesh) {
  std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> edges;  // by the way one goes round the face
  const auto edge = [&](std::uint32_t i) { return std::pair(mesh.corners[i], mesh.corners[i % 3 == 2 ? i - 2 : i + 1]); };
  for (std::uint32_t i = 0; i < mesh.corners.size(); ++i) edges[edge(i)] = i;
  for (std::uint32_t i = 0; i < mesh.corners.size(); ++i) {
    const auto [from, to] = edge(i);
    if (const auto other = edges.find({to, from}); other != edges.end()) mesh.across[i] = nav::FaceId{other->second / 3};
  }
}

/// Ground of 8 by 8 m with a crack from its middle to its right side: no wider than `widest` over its first half metre.
nav::NavMesh cracked(test::Random& random, double widest, double turn) {
  nav::NavMesh mesh;
  mesh.kinds.emplace_back();
  mesh.vertices = {{0, 0, 0}, {1, 0, 4}, {1, 0, -4}, {-4, 0, 0}};
  for (const double side : {1.0, -1.0}) {
    const std::uint32_t anchor = side > 0 ? kLow : kHigh;
    std::uint32_t last = kTip;
    double x = 0;
    while (x < 4) {
      x += x < 0.5 ? random.in(0.01, 0.12) : 3;
      mesh.vertices.push_back({x, 0, side * (x < 0.5 ? random.in(0.001, widest) : widest)});
      const auto next = static_cast<std::uint32_t>(mesh.vertices.size() - 1);
      addFace(mesh, anchor, last, next);
      last = next;
    }
    addFace(mesh, kTip, anchor, kLeft);
  }
  for (Vec3& v : mesh.vertices) {
    const Vec3 at{std::cos(turn) * v.x + std::sin(turn) * v.z, v.y, -std::sin(turn) * v.x + std::cos(turn) * v.z};
    v = {std::round(at.x / kLatticeStep) * kLatticeStep, at.y, std::round(at.z / kLatticeStep) * kLatticeStep};
  }
  joinFaces(mesh);
  nav::labelIslands(mesh);
  return mesh;
}

Vec3 onFace(const nav::NavMesh& mesh, nav::FaceId face, test::Random& random) {
  const double a = random.in(0.1, 1), b = random.in(0.1, 1), c = random.in(0.1, 1);
  return (mesh.cornerAt(face, 0) * a + mesh.cornerAt(face, 1) * b + mesh.cornerAt(face, 2) * c) / (a + b + c);
}

}  // namespace

class TestHairpins : public QObject {
  Q_OBJECT

 private slots:
  void whoGoesRoundTheTipOfACrackArrives() {
    int tried = 0;
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
      test::Random random(seed);
      const nav::NavMesh mesh = cracked(random, seed % 3 == 0 ? 0.002 : 0.03, random.in(0, 2 * kPi));
      if (!nav::checkStructure(mesh).empty()) continue;  // rounding turned a needle over
      const route::Field field(mesh, {});
      for (int i = 0; i < 8; ++i) {
        const auto any = [&] { return nav::FaceId{static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())))}; };
        crowd::Walker w;
        w.id = 1, w.start = onFace(mesh, any(), random), w.goal = onFace(mesh, any(), random);
        w.passWithin = random.in(0.02, 0.3);
        route::Search search(field);
        const auto path = route::findPath(field, search, w.start, w.goal, {2, false, false});
        QCOMPARE(path.status, route::PathStatus::complete);
        const trace::Trace t = test::walked(field, {w}, 1.5 * path.length / w.speed + 4);
        ++tried;
        const trace::Sample end = t.at(t.frameCount() - 1, 0);
        QVERIFY2(end.state == crowd::State::arrived,
                 qPrintable(QStringLiteral("seed %1 try %2: ends at %3, %4").arg(seed).arg(i).arg(end.at.x).arg(end.at.z)));
      }
    }
    QVERIFY2(tried > 300, qPrintable(QString::number(tried)));
  }
  void whereGroundsTouchAtACornerAPathBeginsOnTheOneItIsAskedFrom() {
    nav::NavMesh mesh;
    mesh.kinds.emplace_back();
    mesh.vertices = {{0, 0, 0}, {4, 0, -1}, {4, 0, 1}, {-4, 0, -1}, {-4, 0, 1}};
    addFace(mesh, 0, 1, 2), addFace(mesh, 0, 3, 4);
    nav::labelIslands(mesh);
    const route::Field field(mesh, {});
    route::Search search(field);
    for (const std::uint32_t side : {0U, 1U})
      for (const double goal : {3.0, -3.0}) {
        const auto path = route::findPath(field, search, nav::Place{nav::FaceId{side}, {0, 0, 0}}, {goal, 0, 0}, {2, false, false});
        QCOMPARE(path.status, (goal > 0) == (side == 0) ? route::PathStatus::complete : route::PathStatus::partial);
      }
  }
};

QTEST_APPLESS_MAIN(TestHairpins)
#include "hairpins.moc"
