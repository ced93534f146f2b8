// Promises of core/base: results, files, jobs, parallel loops, plan geometry, the plan grid.

#include <QTemporaryDir>
#include <QtTest>
#include <numeric>
#include <set>

#include "core/base/box_nodes.h"
#include "core/base/box_tree.h"
#include "core/base/file.h"
#include "core/base/job.h"
#include "core/base/parallel.h"
#include "core/base/plan_geometry.h"
#include "core/base/plan_grid.h"
#include "core/base/plan_tree.h"
#include "core/base/shared_array.h"
#include "core/system/digest.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;

class TestBase : public QObject {
  Q_OBJECT

 private slots:
  void copiesOfArraysShareUntilOneIsWrittenTo() {
    SharedArray<int> a{1, 2, 3};
    SharedArray<int> b = a;
    QCOMPARE(a.data(), b.data());
    QVERIFY(a == b);
    b.edit().push_back(4);
    QCOMPARE(a.values(), (std::vector<int>{1, 2, 3}));
    QCOMPARE(b.values(), (std::vector<int>{1, 2, 3, 4}));
    QVERIFY(!(a == b));
    const int* alone = b.data();
    b.edit()[0] = 7;  // nobody shares it any more
    QCOMPARE(b.data(), alone);
    b = SharedArray<int>({1, 2, 3});
    QVERIFY(a == b && a.data() != b.data());
    SharedArray<int> none, moved = std::move(b);
    QVERIFY(none.empty() && none == SharedArray<int>() && none.begin() == none.end());
    QVERIFY(b.empty());
    b.edit().push_back(5);
    QVERIFY(b.size() == 1 && b.back() == 5 && moved.size() == 3);
  }
  void problemTellsWhereWhatAndAdvice() {
    const Problem p{ProblemCode::damaged, "It is broken.", "file.json", "another."};
    QCOMPARE(p.text(), std::string("file.json: It is broken. Try: another."));
    QCOMPARE(p.within("project").where, std::string("project, file.json"));
  }
  void exitCodesAreTheContract() {
    QCOMPARE(exitCode(ProblemCode::usage), 2);
    for (const auto code : {ProblemCode::unreadable, ProblemCode::unwritable, ProblemCode::notOurs, ProblemCode::tooNew,
                            ProblemCode::damaged, ProblemCode::unusable})
      QCOMPARE(exitCode(code), 3);
    QCOMPARE(exitCode(ProblemCode::cancelled), 4);
    QCOMPARE(exitCode(ProblemCode::overLimit), 5);
  }
  void writtenFileIsReadBackAndLeavesNothingBeside() {
    const QTemporaryDir folder;
    const std::string path = folder.filePath("a.txt").toStdString();
    QVERIFY(writeFile(path, "one").ok());
    QVERIFY(writeFile(path, "two").ok());
    QCOMPARE(*readFile(path), std::string("two"));
    QCOMPARE(QDir(folder.path()).entryList(QDir::Files).size(), 1);
  }
  void failedWriteIsAProblemAndLeavesTheTarget() {
    const auto result = writeFile("/no/such/folder/a.txt", "x");
    QVERIFY(!result);
    QVERIFY(result.problem().code == ProblemCode::unwritable);
  }
  void readingAFolderIsAProblem() {
    const QTemporaryDir folder;
    QVERIFY(!readFile(folder.path().toStdString()));
  }
  void progressOnlyGrows() {
    std::vector<double> seen;
    ThreadedJob job({}, [&](const std::string&, double f) { seen.push_back(f); });
    job.step("one", 0.5), job.advance(0.5), job.advance(0.2), job.step("two", 1), job.advance(1);
    QVERIFY(std::is_sorted(seen.begin(), seen.end()));
    QCOMPARE(seen.back(), 1.0);
  }
  void cancelIsSticky() {
    ThreadedJob job;
    job.cancelAtCheck(2);
    QVERIFY(!job.cancelled());
    QVERIFY(job.cancelled());
    QVERIFY(job.cancelled());
  }
  void parallelVisitsEachOnce() {
    for (const int threads : {1, 2}) {
      ThreadedJob job;
      job.setThreads(threads);
      std::vector<int> visits(5000, 0);
      QVERIFY(parallelFor(job, visits.size(), [&](std::size_t i) { ++visits[i]; }));
      QVERIFY(std::ranges::all_of(visits, [](int v) { return v == 1; }));
    }
  }
  void convexHullOfRandomPointsHoldsAllOfThem() {
    for (std::uint64_t seed = 0; seed < 50; ++seed) {
      test::Random random(seed);
      std::vector<Vec2> points(30);
      for (Vec2& p : points) p = {random.in(-5, 5), random.in(-5, 5)};
      const Polygon hull = convexHull(points);
      QVERIFY(doubleArea(hull) > 0);
      for (const Vec2& p : points) QVERIFY2(glm::distance(nearestOnConvex(hull, p), p) < 1e-9, qPrintable(QString::number(seed)));
    }
  }
  void clippedSegmentAgreesWithSampling() {
    for (std::uint64_t seed = 0; seed < 100; ++seed) {
      test::Random random(seed);
      Box2 box;
      box.add({random.in(-3, 3), random.in(-3, 3)}), box.add({random.in(-3, 3), random.in(-3, 3)});
      const Vec2 a{random.in(-5, 5), random.in(-5, 5)}, b{random.in(-5, 5), random.in(-5, 5)};
      const auto inside = clipToBox(a, b, box);
      for (int i = 0; i <= 100; ++i) {
        const double t = i / 100.0;
        const bool said = inside && t >= inside->from && t <= inside->to;
        const bool atEdge = inside && (std::abs(t - inside->from) < 1e-6 || std::abs(t - inside->to) < 1e-6);
        QVERIFY2(box.contains(glm::mix(a, b, t)) == said || atEdge, qPrintable(QString::number(seed)));
      }
    }
  }
  void boxesOnBothSidesOfALineCutASegmentAtTheSamePoint() {
    for (std::uint64_t seed = 0; seed < 200; ++seed) {
      test::Random random(seed);
      Box2 left, right;
      left.add({-16, 0}), left.add({0, 16}), right.add({0, 0}), right.add({16, 16});
      const Vec2 a{random.in(-12, -0.1), random.in(1, 15)}, b{random.in(0.1, 12), random.in(1, 15)};
      const auto one = clipToBox(a, b, left), other = clipToBox(a, b, right);
      QVERIFY(one && other);
      QCOMPARE(one->to, other->from);
    }
  }
  void keysTellInputsApart() {
    std::set<Key> keys;
    for (int i = 0; i < 1000; ++i) {
      Digest digest;
      digest.add(i % 10), digest.add(i / 10 * 0.1), digest.add(std::string(static_cast<std::size_t>(i % 3), 'x'));
      keys.insert(digest.key());
    }
    QCOMPARE(keys.size(), std::size_t{1000});
    Digest once, twice;
    once.add(Vec2{1, 2}), twice.add(1.0), twice.add(2.0);
    QVERIFY(once.key() == twice.key());
  }
  void complementFillsTheGaps() {
    const auto rest = complement({{0.5, 0.6}, {-1, 0.2}, {0.55, 0.8}}, 1e-9);
    QCOMPARE(rest.size(), std::size_t{2});
    QCOMPARE(rest[0].from, 0.2);
    QCOMPARE(rest[0].to, 0.5);
    QCOMPARE(rest[1].from, 0.8);
    QCOMPARE(rest[1].to, 1.0);
  }
  void gridAnswersLikeBruteForce() {
    for (std::uint64_t seed = 0; seed < 20; ++seed) {
      test::Random random(seed);
      std::vector<Box2> boxes(200);
      for (Box2& b : boxes) {
        b.min = {random.in(-50, 50), random.in(-50, 50)};
        b.max = b.min + Vec2(random.in(0, 5), random.in(0, 5));
      }
      boxes[0].max = boxes[0].min + Vec2(1e7, 1);  // one far away must cost nothing
      const PlanGrid grid(boxes, 1.0);
      for (int q = 0; q < 50; ++q) {
        Box2 box;
        box.add({random.in(-60, 60), random.in(-60, 60)});
        box = box.grown(random.in(0, 4));
        std::vector<std::uint32_t> expected;
        for (std::uint32_t i = 0; i < boxes.size(); ++i)
          if (boxes[i].overlaps(box)) expected.push_back(i);
        QCOMPARE(grid.collect(box), expected);
      }
    }
  }
  void theTreeMissesNoTriangle() {
    // Fine detail, piles, fans and lines beside very large triangles.
    test::Random random(11);
    std::vector<std::array<Vec2, 3>> triangles{{Vec2{-500, -500}, Vec2{900, -400}, Vec2{0, 1000}}};
    const auto near = [&](const Vec2& p, double r) { return p + Vec2{random.in(-r, r), random.in(-r, r)}; };
    for (int i = 0; i < 600; ++i) {
      const Vec2 at = near({5, 5}, 5);
      triangles.push_back({at, near(at, 0.1), near(at, 0.1)});
      if (i % 3 == 0) triangles.push_back({Vec2{2, 2}, Vec2{3, 2}, Vec2{2, 3}});
      if (i % 3 == 1) triangles.push_back({Vec2{8, 8}, near({8, 8}, 1), near({8, 8}, 1)});
      if (i % 3 == 2) triangles.push_back({Vec2{1, 7}, Vec2{4, 7.5}, Vec2{1, 7}});
    }
    std::vector<std::uint32_t> which(triangles.size());
    std::iota(which.begin(), which.end(), 0);
    const PlanTree tree(triangles, which);
    std::size_t looked = 0;
    for (int i = 0; i < 2000; ++i) {
      const Vec2 q = near({5, 5}, 6);
      const auto over = tree.at(q);
      looked += over.size();
      QVERIFY(over.size() <= tree.mostAtOnce());
      for (const std::uint32_t t : which) {
        const auto& c = triangles[t];
        const std::array<Vec2, 3> turned{c[2], c[1], c[0]};
        if (contains(c, q) || contains(turned, q)) QVERIFY(std::ranges::find(over, t) != over.end());
      }
    }
    QVERIFY2(looked < 2000 * 60, qPrintable(QString::number(looked)));  // of more than a thousand
  }
  void railingsArePartedAcross() {
    // Sixty strips of four metres on two centimetres, several over each other, in a corner of a hall.
    std::vector<std::array<Vec2, 3>> triangles{{Vec2{0, 0}, Vec2{60, 0}, Vec2{60, 60}}, {Vec2{0, 0}, Vec2{60, 60}, Vec2{0, 60}}};
    for (int storey = 0; storey < 5; ++storey)
      for (int i = 0; i < 60; ++i) {
        const double v = 7 + 0.02 * i / 60;
        triangles.push_back({Vec2{3, v}, Vec2{7, v}, Vec2{7, v + 0.02 / 60}});
      }
    std::vector<std::uint32_t> which(triangles.size());
    std::iota(which.begin(), which.end(), 0);
    QVERIFY(PlanTree(triangles, which).mostAtOnce() < 60);
  }
  void boxesAreFoundByAnyBoxAndLine() {
    test::Random random(12);
    const auto any = [&] { return Vec3{random.in(0, 10), random.in(0, 30), random.in(0, 10)}; };
    const auto boxAt = [&](double size) {
      const Vec3 at = any();
      Box3 box;
      box.add(at), box.add(at + Vec3{random.in(0, size), random.in(0, size), random.in(0, size)});
      return box;
    };
    std::vector<Box3> boxes;
    for (int i = 0; i < 700; ++i) boxes.push_back(boxAt(i % 7 == 0 ? 8 : 0.3));
    for (int i = 0; i < 40; ++i) boxes.push_back(boxes[0]);
    // Ever nearer to one place, along a line: by cost such a tree would be as deep as there are boxes.
    for (int i = 0; i < 900; ++i) boxes.push_back({Vec3(std::pow(1.4, -i), 5, 5), Vec3(std::pow(1.4, -i), 5, 5)});
    const BoxTree tree(boxes);
    QVERIFY(!BoxTree().any(boxes[0]) && BoxTree(std::vector<Box3>{}).collect(boxes[0]).empty());
    std::vector<std::uint32_t> along;
    for (int i = 0; i < 500; ++i) {
      const Box3 asked = boxAt(i % 2 == 0 ? 0 : 3);
      std::vector<std::uint32_t> expected;
      for (std::uint32_t k = 0; k < boxes.size(); ++k)
        if (boxes[k].overlaps(asked)) expected.push_back(k);
      QCOMPARE(tree.collect(asked), expected);
      QCOMPARE(tree.any(asked), !expected.empty());
      const Vec2 a = plan(any()), b = plan(any());
      const double low = random.in(0, 30), beside = random.in(0, 0.1);
      tree.along(a, b, beside, {low, low + 2}, along);
      for (std::uint32_t k = 0; k < boxes.size(); ++k) {
        Box2 own;
        own.add(plan(boxes[k].min)), own.add(plan(boxes[k].max));
        const bool meets = boxes[k].max.y >= low && boxes[k].min.y <= low + 2 && clipToBox(a, b, own);
        if (meets) QVERIFY(std::ranges::find(along, k) != along.end());
      }
    }
  }

  void aLargeTreeIsTheSameHoweverItIsMade() {
    // So many that its parts are made side by side; most of them in one place, so that parts are of all sizes.
    test::Random random(13);
    std::vector<Box3> boxes;
    for (int i = 0; i < 90000; ++i) {
      const double far = i % 3 == 0 ? 1000 : 20;
      const Vec3 at(random.in(0, far), random.in(0, 20), random.in(0, far));
      boxes.push_back({at, at + Vec3(random.in(0, 1), random.in(0, 1), random.in(0, 1))});
    }
    ThreadedJob two({}, {}, 2);
    const BoxNodes alone(boxes, 4), tree(boxes, 4, &two);
    std::size_t leaves = 0;
    std::vector<std::uint32_t> open{0};
    while (!open.empty()) {
      const std::uint32_t at = open.back();
      open.pop_back();
      const BoxNodes::Node &a = alone[at], &b = tree[at];
      QVERIFY(a.box.min == b.box.min && a.box.max == b.box.max && a.from == b.from && a.to == b.to && a.second == b.second);
      if (a.leaf()) {
        QVERIFY(a.to - a.from <= 4);
        leaves += a.to - a.from;
        continue;
      }
      // Both children share what the node has, within its box.
      const BoxNodes::Node &one = tree[at + 1], &other = tree[b.second];
      QVERIFY(one.from == b.from && one.to == other.from && other.to == b.to);
      for (const auto* child : {&one, &other}) QVERIFY(b.box.contains(child->box.min) && b.box.contains(child->box.max));
      open.push_back(at + 1), open.push_back(b.second);
    }
    QCOMPARE(leaves, boxes.size());
    QVERIFY(alone.order() == tree.order());
    for (int i = 0; i < 30; ++i) {
      const Vec3 at(random.in(0, 40), random.in(0, 20), random.in(0, 40));
      const Box3 asked{at, at + Vec3(2)};
      std::size_t expected = 0, found = 0;
      for (const Box3& box : boxes) expected += box.overlaps(asked);
      tree.each([&](const Box3& box) { return box.overlaps(asked); },
                [&](std::uint32_t k) { return found += boxes[tree.order()[k]].overlaps(asked), true; });
      QCOMPARE(found, expected);
    }
    ThreadedJob cancelled;
    cancelled.cancelAtCheck(1);
    QVERIFY(BoxNodes(boxes, 4, &cancelled).empty());
  }
};

QTEST_APPLESS_MAIN(TestBase)
#include "base.moc"
