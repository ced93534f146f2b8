// The document: undo gives back the first bytes, drags merge, files survive what is done to them.

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"
#include "core/project/document.h"
#include "core/project/file.h"
#include "demo/depot.h"
#include "tests/core/scenes.h"

using namespace dune;
using namespace dune::project;

class TestProject : public QObject {
  Q_OBJECT

  static void randomEdit(Document& doc, test::Random& random) {
    const Vec3 p{random.in(-9, 9), 0, random.in(-9, 9)}, q{random.in(-9, 9), 0, random.in(-9, 9)};
    doc.change(
        "edit",
        [&](Project& project) {
          switch (random.upTo(6)) {
            case 0:
              return edit(project.level, [&](LevelSection& s) {
                s.roles["object " + std::to_string(random.upTo(5))] = static_cast<level::Role>(random.upTo(3));
              });
            case 1:
              return edit(project.agents, [&](AgentsSection& s) { s.agents[0].radius = random.in(0.1, 2); });
            case 2:
              return edit(project.areas, [&](AreasSection& s) {
                s.volumes.push_back({nextId(s.volumes), "ground", {plan(p), plan(q), {0, 0}}, -1, 1});
              });
            case 3:
              return edit(project.links, [&](LinksSection& s) {
                s.links.push_back({nextId(s.links), nav::LinkKind::drop, p, q, true, 1});
              });
            case 4:
              return edit(project.routes, [&](RoutesSection& s) {
                KeptRoute& r = s.routes.emplace_back(KeptRoute{nextId(s.routes), "r", p, q});
                if (random.upTo(2)) r.agent = random.upTo(4), r.folder = "f", r.fromName = "gate", r.toName = "crate_1";
                if (random.upTo(2))
                  r.expected.outcome = static_cast<Expected::Outcome>(random.upTo(3)), r.expected.mostLength = random.in(0, 9);
                if (random.upTo(2))
                  r.expected.leastLength = 1, r.expected.leastCost = 2, r.expected.mostCost = 3, r.expected.leastWidth = 0.4;
                if (random.upTo(2)) r.expected.mostLonger = 20, r.expected.sameWay = {p, q};
                if (random.upTo(2))
                  r.expected.touches = {{Touch::What::kind, true, "sand"},
                                        {Touch::What::link, false, "", 3},
                                        {Touch::What::box, true, "", 0, {{0, 0, 0}, {1, 1, 1}}}};
              });
            default:
              return edit(project.crowd, [&](CrowdSection& s) { s.groups.push_back({nextId(s.groups), p, q, 5, 0}); });
          }
        },
        random.upTo(3) == 0 ? "key" : "");
  }

 private slots:
  void aDragIsOneStepAndCanBeGivenUp() {
    Document d;
    const auto radius = [&](double r, const char* key = "") {
      d.change(
          "Radius", [r](Project& p) { edit(p.agents, [r](AgentsSection& s) { s.agents[0].radius = r; }); }, key);
    };
    radius(0.5), radius(0.6);
    d.undo();
    d.begin();
    radius(0.7, "a"), radius(0.8), radius(0.9, "b");
    QVERIFY(d.dragging());
    d.rollback();
    QVERIFY(!d.dragging() && d.project().agents->agents[0].radius == 0.5 && d.stepCount() == 1 && d.canRedo());
    d.redo();
    QCOMPARE(d.project().agents->agents[0].radius, 0.6);
    d.begin();
    radius(0.7, "a"), radius(0.8), radius(0.9, "b");
    d.commit();
    QCOMPARE(d.stepCount(), std::size_t{3});
    radius(1.0, "b");  // what comes after a drag is a step of its own
    QCOMPARE(d.stepCount(), std::size_t{4});
    d.undo(), d.undo();
    QCOMPARE(d.project().agents->agents[0].radius, 0.6);
    // Undo in the middle gives the drag up; a drag of nothing leaves nothing.
    d.begin();
    radius(0.7);
    d.undo();
    QVERIFY(!d.dragging() && d.project().agents->agents[0].radius == 0.6);
    d.begin(), d.rollback();
    d.begin(), d.commit();
    QCOMPARE(d.stepCount(), std::size_t{2});
    d.begin();
    radius(0.7), radius(0.6), radius(0.75);
    d.commit();
    QCOMPARE(d.stepCount(), std::size_t{3});
    d.undo();
    QCOMPARE(d.project().agents->agents[0].radius, 0.6);
  }
  void kindsOfAgentsHaveLastingIds() {
    Document d;
    const auto ids = [&] {
      std::vector<int> all;
      for (const AgentKind& k : d.project().agents->agents) all.push_back(k.id);
      return all;
    };
    QCOMPARE(ids(), std::vector<int>{1});
    d.change("Add", [](Project& p) {
      edit(p.agents, [](AgentsSection& s) { s.agents.push_back(nav::Agent{.name = "b"}), s.agents.push_back(s.agents[0]); });
    });
    QCOMPARE(ids(), (std::vector<int>{1, 2, 3}));
    d.change("Set", [](Project& p) { edit(p.agents, [](AgentsSection& s) { s.agents[1] = nav::Agent{.name = "c"}; }); });
    d.change("Remove", [](Project& p) { edit(p.agents, [](AgentsSection& s) { s.agents.erase(s.agents.begin()); }); });
    QCOMPARE(ids(), (std::vector<int>{2, 3}));
    const auto read = fromJson(toJson(d.project()));
    QVERIFY(read && read->same(d.project()));
    QCOMPARE(read->agents->agents[0].id, 2);
    QCOMPARE(read->agents->agents[1].id, 3);
  }
  void aDragThatComesBackLeavesNoStep() {
    Document d;
    const auto speed = [](double v) { return [v](Project& p) { edit(p.agents, [v](AgentsSection& s) { s.agents[0].speed = v; }); }; };
    const double before = d.project().agents->agents[0].speed;
    d.change(
        "Rename", [](Project& p) { edit(p.agents, [](AgentsSection& s) { s.agents[0].name = "Porter"; }); }, "drag");
    d.endMerge();
    d.change("Change speed", speed(before + 1), "drag");
    d.change("Change speed", speed(before + 2), "drag");
    d.change("Change speed", speed(before), "drag");
    QCOMPARE(d.stepCount(), std::size_t{1});
    QCOMPARE(d.undoLabel(), std::string("Rename"));
    d.change("Change speed", speed(before + 3), "drag");  // the drag goes on
    QCOMPARE(d.stepCount(), std::size_t{2});
    d.undo();
    QCOMPARE(d.project().agents->agents[0].speed, before);
    QCOMPARE(d.project().agents->agents[0].name, std::string("Porter"));
  }
  void undoingEverythingGivesTheFirstBytes() {
    for (std::uint64_t seed = 0; seed < 30; ++seed) {
      test::Random random(seed);
      Document doc(demo::depotProject());
      const std::string first = toJson(doc.project());
      for (int i = 0; i < 40; ++i) {
        randomEdit(doc, random);
        if (random.upTo(5) == 0) doc.undo();
        if (random.upTo(9) == 0) doc.redo();
        if (random.upTo(7) == 0) doc.markSaved();
      }
      while (doc.canRedo()) doc.redo();
      const std::string last = toJson(doc.project());
      while (doc.canUndo()) doc.undo();
      QCOMPARE(toJson(doc.project()), first);
      while (doc.canRedo()) doc.redo();
      QCOMPARE(toJson(doc.project()), last);
    }
  }
  void whatIsToldAnewIsToldInEveryStep() {
    for (std::uint64_t seed = 0; seed < 10; ++seed) {
      test::Random random(seed);
      Document doc(demo::depotProject());
      for (int i = 0; i < 20; ++i) {
        randomEdit(doc, random);
        if (random.upTo(3) == 0) doc.undo();
      }
      doc.begin();
      randomEdit(doc, random);
      const bool modified = doc.modified();
      const std::size_t steps = doc.stepCount();
      doc.retell([](LevelSection& s) {
        for (LevelFile& f : s.files) f.path = "far/" + f.path;
      });
      QCOMPARE(doc.modified(), modified);
      QCOMPARE(doc.stepCount(), steps);
      const auto everywhere = [&] {
        return std::ranges::all_of(doc.project().level->files, [](const LevelFile& f) { return f.path.starts_with("far/"); });
      };
      QVERIFY(everywhere());
      doc.rollback();
      while (doc.canRedo()) {
        doc.redo();
        QVERIFY(everywhere());
      }
      while (doc.canUndo()) {
        doc.undo();
        QVERIFY(everywhere());
      }
      QVERIFY(!doc.project().level->files.empty());
    }
  }
  void dragsMergeButNotAcrossASave() {
    Document doc;
    auto radius = [&](double r) {
      doc.change(
          "r", [r](Project& p) { edit(p.agents, [r](AgentsSection& s) { s.agents[0].radius = r; }); }, "drag");
    };
    radius(0.5), radius(0.6), doc.markSaved(), radius(0.7);
    QVERIFY(doc.modified());
    doc.undo();
    QCOMPARE(doc.project().agents->agents[0].radius, 0.6);
    QVERIFY(!doc.modified());
    doc.undo();
    QCOMPARE(doc.project().agents->agents[0].radius, 0.4);
  }
  void changingNothingIsNoStep() {
    Document doc;
    doc.change("nothing", [](Project& p) { edit(p.links, [](LinksSection&) {}); });
    QVERIFY(!doc.canUndo());
  }
  void savedAndLoadedIsTheSame() {
    const QTemporaryDir folder;
    const std::string path = folder.filePath("p.dunestep").toStdString();
    const Project p = demo::depotProject();
    QVERIFY(save(path, p).ok());
    const auto loaded = load(path);
    QVERIFY(loaded.ok());
    QVERIFY(loaded->same(p));
    QCOMPARE(toJson(*loaded), *readFile(path));
  }
  /// Whatever a document says of how a file is read is in it again, also what files of that kind do not heed.
  void howFilesAreReadIsKept() {
    test::Random random(5);
    for (int n = 0; n < 200; ++n) {
      Project p;
      edit(p.level, [&](LevelSection& s) {
        for (const char* path : {"a.glb", "b.png", "c.tmx"}) {
          level::ImportOptions read = level::importFor(path);
          if (random.upTo(2)) read.up = level::UpAxis::z;
          if (random.upTo(2)) read.scale = random.in(0.01, 3);
          if (random.upTo(2)) read.spacing = random.in(0.01, 3);
          if (random.upTo(2)) read.rise = random.in(0.01, 30);
          if (random.upTo(2)) read.solid = "wall";
          if (random.upTo(2)) read.pieces = true;
          s.files.push_back({path, read});
        }
      });
      const auto back = fromJson(toJson(p));
      QVERIFY(back && back->same(p));
    }
  }
  void earlierVersionsStillLoad() {
    const auto text = readFile(std::string(DUNE_FIXTURES) + "/project-1.dunestep");
    QVERIFY(text.ok());
    const auto p = fromJson(*text);
    QVERIFY2(p.ok(), p.ok() ? "" : p.problem().text().c_str());
    // It says the same as the file of the second version that was made from it.
    const auto second = readFile(std::string(DUNE_FIXTURES) + "/project-2.dunestep");
    QVERIFY(second.ok());
    QCOMPARE(toJson(*p), toJson(*fromJson(*second)));
    QCOMPARE(p->level->files.at(0).path, std::string("saltwind-depot.glb"));
  }
  void theThirdVersionHasFloorsTileMapsAndCrouching() {
    const auto text = readFile(std::string(DUNE_FIXTURES) + "/project-3.dunestep");
    QVERIFY(text.ok());
    const auto p = fromJson(*text);
    QVERIFY2(p.ok(), p.ok() ? "" : p.problem().text().c_str());
    const level::ImportOptions& import = p->level->files.at(0).import;
    QVERIFY(import.spacing == 0.0625 && import.rise == 1.5 && import.solid == "wall");
    const level::Blocker& floor = p->level->blockers.at(0);
    QVERIFY(floor.shape == level::BlockerShape::floor && floor.role == level::Role::cuts && floor.outline.size() == 3);
    QVERIFY(p->agents->agents[0].crouchHeight == 1.1 && p->agents->agents[0].crouchCost == 3);
    const auto again = fromJson(toJson(*p));
    QVERIFY(again.ok() && again->same(*p));
  }
  void beforeTheFourthVersionEveryAgentTookEveryLink() {
    const auto p = fromJson(*readFile(std::string(DUNE_FIXTURES) + "/project-2.dunestep"));
    QVERIFY(p.ok() && p->links->links.size() == 4);
    for (const nav::Agent& a : p->agents->agents)
      for (const links::HandLink& link : p->links->links) {
        // No link asks for more than its ends are apart; they may be tied to the ground a little further away.
        if (link.kind == nav::LinkKind::jump) QVERIFY(a.maxJump >= glm::distance(plan(link.from), plan(link.to)) + 0.6);
        if (link.kind == nav::LinkKind::drop) QVERIFY(a.maxDrop >= std::abs(link.from.y - link.to.y) + 0.3);
      }
    // What the fourth version says of an agent stays.
    Project now = *p;
    edit(now.agents, [](AgentsSection& s) { s.agents[0].maxJump = s.agents[0].maxDrop = 0; });
    QVERIFY(fromJson(toJson(now))->same(now));
  }
  void theFourthVersionIsRead() {
    const auto text = readFile(std::string(DUNE_FIXTURES) + "/project-4.dunestep");
    const auto p = fromJson(*text);
    QVERIFY2(p.ok(), p.ok() ? "" : p.problem().text().c_str());
    const nav::Agent& a = p->agents->agents[0];
    QVERIFY(a.maxJump == 2 && a.maxDrop == 3 && a.passWithin == 0.4 && a.originHeight == 0.9 && a.tilts);
    QVERIFY(fromJson(toJson(*p))->same(*p));
  }
  void theFifthVersionIsWrittenAsItWasRead() {
    const auto text = readFile(std::string(DUNE_FIXTURES) + "/project-5.dunestep");
    const auto p = fromJson(*text);
    QVERIFY2(p.ok(), p.ok() ? "" : p.problem().text().c_str());
    QVERIFY(p->crowd->groups[3].steering.turnLimit == 90 && p->crowd->obstacles.size() == 1 && p->crowd->other);
    QCOMPARE(toJson(*p), *text);
  }
  void newerAndOtherFilesAreNamed() {
    const auto newer = fromJson(R"({"format": "dune-step project", "version": 99})");
    QVERIFY(!newer && newer.problem().code == ProblemCode::tooNew);
    QVERIFY(newer.problem().what.find("99") != std::string::npos && newer.problem().what.find('5') != std::string::npos);
    QVERIFY(fromJson("{}").problem().code == ProblemCode::notOurs);
    QVERIFY(fromJson("[1, 2").problem().code == ProblemCode::damaged);
  }
  void damageIsSaidWithItsPlace() {
    std::string text = toJson(demo::depotProject());
    const auto at = text.find("\"radius\": 0.35");
    text.replace(at, 14, "\"radius\": \"x\"");
    const auto p = fromJson(text);
    QVERIFY(!p && p.problem().code == ProblemCode::damaged);
    QVERIFY2(p.problem().what.find("/agents/0/radius") != std::string::npos, p.problem().what.c_str());
  }
  void cutFilesNeverLoadAndNeverCrash() {
    const std::string text = toJson(demo::depotProject());
    for (std::size_t n = 0; n + 2 < text.size(); n += 7) QVERIFY(!fromJson(text.substr(0, n)));
  }
  void changedBytesNeverCrash() {
    const std::string text = toJson(demo::depotProject());
    for (std::uint64_t seed = 0; seed < 400; ++seed) {
      test::Random random(seed);
      std::string broken = text;
      for (int i = 0; i < 3; ++i)
        broken[static_cast<std::size_t>(random.upTo(static_cast<int>(broken.size())))] = static_cast<char>(random.upTo(128));
      (void)fromJson(broken).ok();
    }
  }
  void levelPathsAreToldFromTheProjectsFolder() {
    QCOMPARE(storedPath("/a/b/level.glb", "/a/b/p.dunestep"), std::string("level.glb"));
    QCOMPARE(storedPath("/a/c/level.glb", "/a/b/p.dunestep"), std::string("../c/level.glb"));
    Project p;
    const LevelFile file{"../c/level.glb", {}};
    QCOMPARE(levelPath(file, "/a/b/p.dunestep"), std::string("/a/c/level.glb"));
  }
};

QTEST_APPLESS_MAIN(TestProject)
#include "project.moc"
