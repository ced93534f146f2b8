// Convex faces from triangles, step by step, on random rooms with round obstacles: what must hold after each step, exactly on the lattice.

#include <QtTest>
#include <map>

#include "core/generate/face_shape.h"
#include "core/generate/fewer.h"
#include "core/generate/merge.h"
#include "core/generate/needles.h"
#include "core/generate/straight_runs.h"
#include "core/generate/triangulation.h"
#include "tests/core/scenes.h"

using namespace dune;
using namespace dune::generate;

namespace {

constexpr std::int64_t kSide = 20000;  // lattice steps, about 20 m
const double kLeast = radians(1);

struct Room {
  std::vector<LatticePoint> points;
  std::vector<double> heights;
  std::vector<std::array<std::uint32_t, 3>> triangles;
  std::vector<std::uint16_t> area;

  MergeInput input() const { return {points, heights, triangles, area, 0.01}; }
};

/// A square with round holes; `areas` kinds of ground in stripes; heights of the given function.
template <class Height>
Room room(std::uint64_t seed, int areas, Height&& height) {
  test::Random random(seed);
  struct Hole {
    Vec2 at;
    double radius;
  };
  std::vector<Hole> holes;
  Triangulation plan({0, 0}, {kSide, kSide});
  for (int i = 0; i < 6; ++i) {
    const Hole hole{{random.in(3000, 17000), random.in(3000, 17000)}, random.in(300, 1500)};
    if (std::ranges::any_of(holes, [&](const Hole& h) { return glm::distance(h.at, hole.at) < h.radius + hole.radius + 50; })) continue;
    holes.push_back(hole);
    constexpr int kCorners = 18;
    auto corner = [&](int k) {
      const double angle = 2 * kPi * k / kCorners;
      return LatticePoint{std::llround(hole.at.x + hole.radius * std::cos(angle)), std::llround(hole.at.y + hole.radius * std::sin(angle))};
    };
    for (int k = 0; k < kCorners; ++k) plan.constrain(corner(k), corner(k + 1), 1);
  }
  for (int i = 1; i < areas; ++i) plan.constrain({kSide * i / areas, 0}, {kSide * i / areas, kSide}, 1);
  Room result{plan.points(), {}, {}, {}};
  for (const LatticePoint& p : result.points) result.heights.push_back(roundHeight(height(toPlan(p))));
  for (const auto& t : plan.triangles()) {
    const LatticePoint &a = plan.points()[t.v[0]], &b = plan.points()[t.v[1]], &c = plan.points()[t.v[2]];
    const Vec2 centre{static_cast<double>(a.u + b.u + c.u) / 3, static_cast<double>(a.v + b.v + c.v) / 3};
    if (std::ranges::any_of(holes, [&](const Hole& h) { return glm::distance(h.at, centre) < h.radius * 0.98; })) continue;
    result.triangles.push_back(t.v);
    result.area.push_back(static_cast<std::uint16_t>(centre.x * areas / kSide));
  }
  return result;
}

std::int64_t doubleArea(const std::vector<LatticePoint>& points, const Loop& loop) {
  std::int64_t sum = 0;
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const LatticePoint &a = points[loop[i]], &b = points[loop[(i + 1) % loop.size()]];
    sum += a.u * b.v - a.v * b.u;
  }
  return sum;
}

std::map<std::uint16_t, std::int64_t> areas(const Room& room) {
  std::map<std::uint16_t, std::int64_t> sums;
  for (std::size_t t = 0; t < room.triangles.size(); ++t)
    sums[room.area[t]] += doubleArea(room.points, {room.triangles[t].begin(), room.triangles[t].end()});
  return sums;
}

std::map<std::uint16_t, std::int64_t> areas(const Faces& faces) {
  std::map<std::uint16_t, std::int64_t> sums;
  for (std::size_t f = 0; f < faces.loops.size(); ++f)
    if (!faces.loops[f].empty()) sums[faces.area[f]] += doubleArea(faces.points, faces.loops[f]);
  return sums;
}

/// What is wrong with the faces, or nothing: convex, flat, each directed edge once.
QString wrong(const Faces& faces) {
  std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
  for (const Loop& loop : faces.loops) {
    if (loop.empty()) continue;
    if (loop.size() < 3) return "a face with two corners";
    for (std::size_t i = 0; i < loop.size(); ++i) {
      if (turnAt(loop, faces.lattice(), i) < 0) return "a face that is not convex";
      if (++edges[{loop[i], loop[(i + 1) % loop.size()]}] > 1) return "an edge twice";
    }
    if (doubleArea(faces.points, loop) <= 0) return "a face without area";
    if (loop.size() > 3 && !nearlyFlat(loop, faces.place(), faces.flat * 1.0001)) return "a face that is not flat";
  }
  return {};
}

std::size_t count(const Faces& faces) {
  return static_cast<std::size_t>(std::ranges::count_if(faces.loops, [](const Loop& loop) { return !loop.empty(); }));
}
std::size_t needles(const Faces& faces) {
  return static_cast<std::size_t>(
      std::ranges::count_if(faces.loops, [&](const Loop& loop) { return !loop.empty() && faces.leastAngle(loop) < kLeast; }));
}

}  // namespace

class TestFaces : public QObject {
  Q_OBJECT
 private slots:
  void eachStepKeepsWhatMustHold() {
    std::size_t merged = 0, fewer = 0, thin = 0, thinAfter = 0;
    for (std::uint64_t seed = 0; seed < 30; ++seed) {
      // Flat, tilted and bumpy ground by turns, with one or three areas.
      const Room r = room(seed, seed % 2 ? 3 : 1, [&](const Vec2& p) {
        return seed % 3 == 0 ? 1.0 : seed % 3 == 1 ? 0.2 * p.x : 0.1 * std::sin(p.x) * std::cos(p.y);
      });
      const auto before = areas(r);
      Faces faces = mergeTriangles(r.input());
      QCOMPARE(wrong(faces), QString());
      QCOMPARE(areas(faces), before);
      QVERIFY(count(faces) < r.triangles.size());
      merged += count(faces);

      mergeThroughReflex(faces, kLeast);
      QCOMPARE(wrong(faces), QString());
      QCOMPARE(areas(faces), before);
      fewer += count(faces);

      dissolveStraightCorners(faces, {});
      QCOMPARE(wrong(faces), QString());
      QCOMPARE(areas(faces), before);

      const std::size_t facesBefore = count(faces);
      thin += needles(faces);
      shortenFans(faces, kLeast);
      QCOMPARE(wrong(faces), QString());
      QCOMPARE(areas(faces), before);
      QCOMPARE(count(faces), facesBefore);
      thinAfter += needles(faces);
    }
    QVERIFY2(fewer < merged, qPrintable(QString("%1 %2").arg(fewer).arg(merged)));
    QVERIFY2(thin > 20 && thinAfter * 2 <= thin, qPrintable(QString("%1 %2").arg(thin).arg(thinAfter)));
  }

  void pinnedCornersStay() {
    // Two squares side by side become one face; the corners between are straight and go, unless something else needs them.
    const std::vector<LatticePoint> points{{0, 0}, {1000, 0}, {2000, 0}, {2000, 1000}, {1000, 1000}, {0, 1000}};
    const std::vector<double> heights(6, 0.5);
    const std::vector<std::array<std::uint32_t, 3>> triangles{{0, 1, 4}, {0, 4, 5}, {1, 2, 3}, {1, 3, 4}};
    const std::vector<std::uint16_t> area(4, 0);
    for (const bool pin : {false, true}) {
      Faces faces = mergeTriangles({points, heights, triangles, area, 0.01});
      const std::vector<LatticePoint> pinned{{1000, 0}};
      dissolveStraightCorners(faces, pin ? std::span<const LatticePoint>(pinned) : std::span<const LatticePoint>());
      QCOMPARE(faces.loops.size(), std::size_t{1});
      QCOMPARE(faces.loops[0].size(), pin ? std::size_t{5} : std::size_t{4});
    }
  }

  void gentleBendsAddUp() {
    // A long strip that bends by 2 mm at each corner: each alone is straight enough to go, all together are not.
    std::vector<LatticePoint> points;
    std::vector<double> heights;
    constexpr std::uint32_t kCorners = 41;
    for (std::uint32_t i = 0; i < kCorners; ++i)
      for (const std::int64_t v : {std::int64_t{0}, std::int64_t{1000}}) {
        points.push_back({500 * static_cast<std::int64_t>(i), v});
        heights.push_back(std::pow(static_cast<double>(i) - 20, 2) * 0.001);
      }
    Faces faces{points, heights, {}, {}, 0.01};
    for (std::uint32_t i = 0; i + 1 < kCorners; ++i)
      faces.loops.push_back({2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1}), faces.area.push_back(0);
    std::vector<char> going(points.size(), 1);
    Loop side;
    for (std::uint32_t i = 0; i < kCorners; ++i) side.push_back(2 * i);
    going[0] = going[2 * (kCorners - 1)] = 0;
    QVERIFY(keepBent(
        side.size(), [&](std::size_t i) { return side[i]; }, faces.place(), going, 0.0025));
    // Every corner that went lies within the bound of the line between the two that stayed around it.
    std::vector<std::uint32_t> stay;
    for (const std::uint32_t v : side)
      if (!going[v]) stay.push_back(v);
    QVERIFY(stay.size() > 4 && stay.size() < side.size() / 2 + 1);
    for (std::size_t i = 0; i + 1 < stay.size(); ++i)
      for (std::uint32_t v = stay[i]; v <= stay[i + 1]; v += 2) {
        const double part = static_cast<double>(v - stay[i]) / (stay[i + 1] - stay[i]);
        QVERIFY(std::abs(heights[v] - glm::mix(heights[stay[i]], heights[stay[i + 1]], part)) <= 0.0025);
      }
  }
};

QTEST_APPLESS_MAIN(TestFaces)
#include "faces.moc"
