// What is one in the level is one in the mesh: where the generator cuts ground for its own sake, nothing is left of the cut.

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/plan_geometry.h"
#include "core/pipeline/ground.h"
#include "demo/examples.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Random;
using test::Scene;

namespace {

constexpr double kApart = 0.0015, kLeast = 0.01;  // metres

struct Edge {
  Vec3 a, b;
};

std::vector<Edge> borderOf(const nav::NavMesh& mesh) {
  std::vector<Edge> border;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const nav::FaceId face{f};
    for (std::size_t i = 0, n = mesh.cornerCount(face); i < n; ++i)
      if (mesh.acrossOf(face)[i] == nav::kNoFace) border.push_back({mesh.cornerAt(face, i), mesh.cornerAt(face, (i + 1) % n)});
  }
  return border;
}

/// How long two pieces of border run beside each other with nothing between them, each with its ground on the other side.
double partedBy(const Edge& e, const Edge& f) {
  const Vec2 a = plan(e.a), b = plan(e.b), p = plan(f.a), q = plan(f.b);
  const double length = glm::distance(a, b), other = glm::distance(p, q);
  if (length < kLeast || other < kLeast || glm::dot(b - a, q - p) > -0.99 * length * other) return 0;
  const Vec2 along = (b - a) / length;
  const double from = std::max(0.0, glm::dot(q - a, along)), to = std::min(length, glm::dot(p - a, along));
  if (to - from < kLeast) return 0;
  const double t = (from + to) / 2, u = glm::dot(a + along * t - p, q - p) / (other * other);
  const double gap = glm::dot(glm::mix(p, q, u) - (a + along * t), leftOf(along));
  const bool beside = gap <= 1e-9 && gap > -kApart && std::abs(glm::mix(e.a.y, e.b.y, t / length) - glm::mix(f.a.y, f.b.y, u)) < 1;
  return beside ? to - from : 0;
}

/// Metres of border with ground at the same height right beyond it.
double parted(const nav::NavMesh& mesh) {
  const std::vector<Edge> border = borderOf(mesh);
  double sum = 0;
  for (std::size_t i = 0; i < border.size(); ++i)
    for (std::size_t j = i + 1; j < border.size(); ++j) sum += partedBy(border[i], border[j]);
  return sum;
}

/// Ramps or steps around a pole, some turns up.
Scene spiral(Random& random, bool steps) {
  const double inner = random.in(1, 3), outer = inner + random.in(1.5, 4), rise = random.in(2.4, 4) / 24, turn = random.in(0, 2 * kPi);
  const Vec3 pole{random.in(-20, 20), 0, random.in(-20, 20)};
  const int parts = static_cast<int>(24 * random.in(1.5, 5)), way = random.upTo(2) == 0 ? 1 : -1;
  Scene scene;
  const auto at = [&](double r, int k, double y) {
    const double angle = turn + way * 2 * kPi * k / 24;
    return pole + Vec3{r * std::cos(angle), y, r * std::sin(angle)};
  };
  for (int k = 0; k < parts; ++k) {
    const double low = rise * k, high = rise * (k + 1), end = steps ? low : high;
    scene.quad(at(inner, k, low), at(outer, k, low), at(outer, k + 1, end), at(inner, k + 1, end), "part");
    if (steps && k + 1 < parts)
      scene.quad(at(inner, k + 1, low), at(outer, k + 1, low), at(outer, k + 1, high), at(inner, k + 1, high), "riser");
  }
  return scene;
}

}  // namespace

class TestSeams : public QObject {
  Q_OBJECT

 private slots:
  void theCheckSpeaks() {
    // Two rooms with a wall of nothing between them, as a mesh that was joined badly would have them.
    nav::NavMesh mesh;
    mesh.vertices = {{0, 0, 0}, {0, 0, 4}, {4, 0, 4}, {4, 0, 0}, {4.001, 0, 0}, {4.001, 0, 4}, {8, 0, 4}, {8, 0, 0}};
    mesh.start = {0, 4, 8}, mesh.corners = {0, 1, 2, 3, 4, 5, 6, 7};
    mesh.across.assign(8, nav::kNoFace), mesh.area = {0, 0}, mesh.island = {0, 1};
    QVERIFY(std::abs(parted(mesh) - 4) < 1e-6);
    for (std::size_t v = 4; v < 6; ++v) mesh.vertices[v].x = 4.01;
    QCOMPARE(parted(mesh), 0.0);
  }
  void spiralsAreOneGround() {
    // One sheet of ground cannot lie over itself, so a spiral is cut once a turn.
    for (std::uint64_t seed = 1; seed <= 90; ++seed) {
      Random random(seed);
      const auto b = built(spiral(random, seed % 3 == 0).world());
      const QByteArray which = "seed " + QByteArray::number(static_cast<qulonglong>(seed));
      QVERIFY2(nav::checkStructure(b->mesh).empty(), which);
      QVERIFY2(nav::countIslands(b->mesh) == 1, which);
      QVERIFY2(parted(b->mesh) == 0, which);
    }
  }
  void everyExampleIsWholeForEveryAgent() {
    // Kerbs exactly as high as an agent's step once were two storeys in one place.
    QTemporaryDir folder;
    ThreadedJob job;
    for (const demo::Example& example : demo::examples()) {
      QVERIFY(example.writeLevel(folder.path().toStdString()));
      const project::Project p = example.project();
      const auto level = pipeline::loadLevel(p, folder.filePath(QStringLiteral("x.dunestep")).toStdString(), job);
      QVERIFY(level.ok());
      for (std::size_t agent = 0; agent < p.agents->agents.size(); ++agent) {
        const auto ground = pipeline::makeGround(p, (*level)->level, agent, nullptr, job);
        QVERIFY(ground.ok());
        const QByteArray which = QByteArray(example.file) + ", " + QByteArray::fromStdString(p.agents->agents[agent].name);
        const auto wrong = nav::checkStructure((*ground)->mesh);
        QVERIFY2(wrong.empty(), which + ": " + QByteArray::fromStdString(wrong.empty() ? "" : wrong[0]));
        QVERIFY2(parted((*ground)->mesh) == 0, which);
      }
    }
  }
  void aStoreyIsAsIfItWereAlone() {
    Scene both, alone;
    both.floor(0, 0, 14, 14, 4, "upper"), alone.floor(0, 0, 14, 14, 4, "upper");
    for (int i = 0; i < 12; ++i) both.box({1.0 + i, 0, 1}, {2.0 + i, 0.1 + 0.2 * (i % 2), 13}, "step " + std::to_string(i));
    const auto b = built(both.world()), a = built(alone.world());
    std::size_t upper = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) upper += b->mesh.cornerAt(nav::FaceId{f}, 0).y > 3;
    QCOMPARE(upper, a->mesh.faceCount());
  }
  void chanceArenasHangTogether() {
    // Slopes, steep banks and thin ways at any turn: the lattice must not part what lies between two limits.
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
      Random random(seed + 500);
      Scene scene;
      scene.floor(0, 0, 24, 24);
      for (int i = 0; i < 14; ++i) {
        const double x = random.in(0, 20), z = random.in(0, 20), w = random.in(0.5, 5), d = random.in(0.3, 4), h = random.in(0.1, 3);
        if (random.upTo(2) == 0)
          scene.box({x, -0.5, z}, {x + w, h, z + d});
        else
          scene.ramp(x, z, x + w, z + d, random.in(-0.2, 0.2), h);
      }
      scene.turned(random.in(0, 6), {random.in(-9, 9), 0, random.in(-9, 9)});
      const auto b = built(scene.world());
      const QByteArray which = "seed " + QByteArray::number(static_cast<qulonglong>(seed)) + ": " + QByteArray::number(parted(b->mesh));
      QVERIFY2(nav::checkStructure(b->mesh).empty(), which);
      QVERIFY2(parted(b->mesh) == 0, which);
    }
  }
};

QTEST_GUILESS_MAIN(TestSeams)
#include "seams.moc"
