// The real executable: every command for a known answer, every exit code, outputs whole or not there.

#include <nlohmann/json.hpp>
#include <set>

#include "core/base/file.h"
#include "core/meshes/mesh_files.h"
#include "core/meshfile/mesh_file.h"
#include "core/project/file.h"
#include "core/project/rules.h"
#include "core/trace/csv.h"
#include "core/trace/file.h"
#include "demo/date_garden.h"
#include "demo/depot.h"
#include "demo/shift.h"
#include "tests/batch/runner.h"

using namespace dune;
using Json = nlohmann::json;

class TestBatch : public BatchTest {
  Q_OBJECT

  Job reading_;

 private slots:
  void initTestCase() {
    write("room.obj",
          "o floor\nv 0 0 0\nv 0 0 10\nv 10 0 10\nv 10 0 0\nf 1 2 3 4\no far\nv 20 0 0\nv 20 0 5\nv 25 0 5\nv 25 0 0\nf 5 6 7 8\no "
          "steep\nv 0 0 -1\nv 10 0 -1\nv 10 4 -2\nv 0 4 -2\nf 9 10 11 12\n");
    write("saltwind-depot.glb", demo::depotLevel().bytes());
    write("depot.dunestep", project::toJson(demo::depotProject()));
    QCOMPARE(run(words("build @room.obj -o @room.dsmesh")).code, 0);
  }

  void buildWritesEveryKindAndItsStatistics() {
    for (const char* name : {"a.dsmesh", "a.json", "a.obj", "a.glb"}) {
      const Answer a = run({"build", "@room.obj", "-o", QStringLiteral("@") + name, "--json"});
      QCOMPARE(a.code, 0);
      const Json j = Json::parse(a.out);
      QVERIFY(std::abs(j["area"].get<double>() - (9.2 * 9.2 + 4.2 * 4.2)) < 0.05);
      QCOMPARE(j["islands"].get<int>(), 2);
      QVERIFY(exists(name));
    }
  }
  void tileMapsAreBuiltInBothForms() {
    write("date-garden.tsx", demo::gardenTiles());
    write("date-garden.tmx", demo::gardenMap());
    write("garden.dunestep", project::toJson(demo::gardenProject()));
    const Answer xml = run(words("build @date-garden.tmx -o @garden.dsmesh --json --agent-radius 0.3 --agent-height 1.7"));
    QCOMPARE(xml.code, 0);
    const double area = Json::parse(xml.out)["area"].get<double>();
    QVERIFY(std::abs(area - Json::parse(run(words("build @garden.dunestep -o @garden2.dsmesh --json")).out)["area"].get<double>()) < 1e-9);
    // Twice the pixels a metre is a quarter of the floor; without the property nothing but the ground is there.
    const double small =
        Json::parse(
            run(words("build @date-garden.tmx -o @small.dsmesh --json --pixel-size 0.015625 --agent-radius 0.15 --agent-height 0.85"))
                .out)["area"]
            .get<double>();
    QVERIFY2(std::abs(small - area / 4) < 0.01 * area, qPrintable(QStringLiteral("%1 against %2").arg(small).arg(area / 4)));
    const double open = Json::parse(run(words("build @date-garden.tmx -o @open.dsmesh --json --solid walls")).out)["area"].get<double>();
    QVERIFY(open > 39.2 * 25.2 - 90 && open > area + 200);
    const Answer why = run(words("explain @garden.dunestep --at 26.5,0,18 --json"));
    QCOMPARE(why.code, 0);
    QCOMPARE(run(words("explain @garden.dunestep --at 24,0,16.5 --json")).code, 1);
    // A map whose set of tiles is missing is said, by name, and nothing is written.
    QVERIFY(QFile::remove(path("date-garden.tsx")));
    const Answer missing = run(words("build @date-garden.tmx -o @never.dsmesh"));
    QCOMPARE(missing.code, 3);
    QVERIFY2(missing.err.find("date-garden.tsx") != std::string::npos, missing.err.c_str());
    QVERIFY(!exists("never.dsmesh"));
  }
  void lowPlacesAreCrouchedThrough() {
    write(
        "tunnel.obj",
        "o floor\nv 0 0 0\nv 0 0 4\nv 20 0 4\nv 20 0 0\nf 1 2 3 4\no lintel\nv 8 1.2 -1\nv 8 1.2 5\nv 12 1.2 5\nv 12 1.2 -1\nf 5 6 7 8\n");
    QCOMPARE(Json::parse(run(words("build @tunnel.obj -o @t0.dsmesh --json --role lintel=obstacle")).out)["islands"].get<int>(), 2);
    const Answer low = run(words("build @tunnel.obj -o @t1.dsmesh --json --role lintel=obstacle --crouch-height 1.1"));
    QCOMPARE(Json::parse(low.out)["islands"].get<int>(), 1);
    const Json way = Json::parse(run(words("path @t1.dsmesh --from 2,0,2 --to 18,0,2 --json")).out);
    QVERIFY(std::abs(way["length"].get<double>() - 16) < 0.05);
    // Four metres under the lintel and the radius at both ends cost twice.
    QVERIFY2(std::abs(way["cost"].get<double>() - (16 + 4.8)) < 0.1, way.dump().c_str());
    const Answer why = run(words("explain @tunnel.obj --at 10,0,2 --json --role lintel=obstacle --crouch-height 1.1"));
    QCOMPARE(why.code, 0);
    QVERIFY(Json::parse(why.out)["crouching"].get<bool>());
    QVERIFY(Json::parse(why.out)["sentence"].get<std::string>().find("headroom 1.20 m under lintel") != std::string::npos);
    QCOMPARE(run(words("build @tunnel.obj -o @t2.dsmesh --crouch-height 2")).code, 2);
  }
  void kindsByNameCost() {
    // Two materials side by side in one object, over which the straight way leads.
    write("ford.obj",
          "o floor\nv 0 0 0\nv 0 0 6\nv 20 0 6\nv 20 0 0\nv 8 0 0\nv 8 0 6\nv 12 0 6\nv 12 0 0\nusemtl stone\nf 1 2 6 5\nf 8 7 3 4\n"
          "usemtl liquid/ford\nf 5 6 7 8\n");
    const auto cost = [&](const char* kinds) {
      if (run(words("build @ford.obj -o @ford.dsmesh") + words(kinds)).code != 0) return -1.0;
      const Answer way = run(words("path @ford.dsmesh --from 2,0,3 --to 18,0,3 --json"));
      return way.code == 0 ? Json::parse(way.out)["cost"].get<double>() : -2.0;
    };
    const auto about = [](double x, double expected) { return std::abs(x - expected) < 0.01; };
    QVERIFY(about(cost(""), 16));
    QVERIFY(about(cost("--kind liquid/*=water"), 16));
    QVERIFY(about(cost("--kind liquid/*=water:3"), 12 + 4 * 3));
    QVERIFY(about(cost("--kind liquid/*=water:3:2 --kind *ford=water"), 12 + 4 * 3 + 2));  // named again it costs what it did
    QVERIFY(about(cost("--kind liquid/*=water:3 --kind floor=ground"), 16));               // the last that fits counts
    QCOMPARE(cost("--kind liquid/*=water:forbidden"), -2.0);
    QVERIFY(run("build @ford.obj -o @ford.dsmesh --kind lqiuid/*=water:3").err.find("no object and no material") != std::string::npos);
    QVERIFY(run("build @ford.obj -o @ford.dsmesh --role flor=obstacle").err.find("no object and no material") != std::string::npos);
    // Of several files one may be named as a whole, though its objects are called as those of the other.
    write("yard.obj", "o floor\nv 20 0 0\nv 20 0 6\nv 30 0 6\nv 30 0 0\nf 1 2 3 4\n");
    QCOMPARE(run("build @ford.obj @yard.obj -o @both.dsmesh --kind yard/*=mud:2").code, 0);
    const Json both = Json::parse(run("path @both.dsmesh --from 2,0,3 --to 28,0,3 --json").out);
    QVERIFY2(about(both["cost"].get<double>(), 18 + 8 * 2), both.dump().c_str());
    const Json why = Json::parse(run(words("explain @ford.obj --at 10,0,3 --json --kind liquid/*=water:forbidden")).out);
    QVERIFY2(why["sentence"].get<std::string>().find("forbidden: water, as floor is") != std::string::npos, why.dump().c_str());
    for (const char* wrong :
         {"--kind water", "--kind =water", "--kind a=", "--kind a=b:0", "--kind a=b:x", "--kind a=b:1:-1", "--kind a=b:1:1:1"})
      QCOMPARE(run(words("build @ford.obj -o @ford.dsmesh") + words(wrong)).code, 2);
  }
  void onlyTheBoxIsBuilt() {
    const double all = Json::parse(run(words("build @depot.dunestep -o @all.dsmesh --json")).out)["area"].get<double>();
    const Answer box = run(words("build @depot.dunestep -o @box.dsmesh --json --box 1,1,10,10"));
    QCOMPARE(box.code, 0);
    const double part = Json::parse(box.out)["area"].get<double>();
    QVERIFY(part > 20 && part < all / 3);
    QCOMPARE(run(words("build @depot.dunestep -o @box.dsmesh --box 10,1,1,10")).code, 2);
    QCOMPARE(run(words("build @depot.dunestep -o @box.dsmesh --box 1,2,3")).code, 2);
  }
  void drawnByHandAloneIsALevelToo() {
    project::Project p;
    project::edit(p.level, [](project::LevelSection& s) {
      level::Blocker floor, hole;
      floor.id = 1, floor.shape = level::BlockerShape::floor, floor.role = level::Role::ground, floor.size = {10, 1, 8};
      floor.outline = {{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}};
      hole = floor, hole.id = 2, hole.role = level::Role::cuts, hole.size = {2, 1, 2};
      s.blockers = {floor, hole};
    });
    write("drawn.dunestep", project::toJson(p));
    const Answer a = run(words("build @drawn.dunestep -o @drawn.dsmesh --json"));
    QCOMPARE(a.code, 0);
    const double exact = 9.2 * 7.2 - (4 + 4 * 2 * 0.4 + kPi * 0.16);
    QVERIFY2(std::abs(Json::parse(a.out)["area"].get<double>() - exact) < 0.03, a.out.c_str());
    QCOMPARE(run(words("build @empty.dunestep -o @x.dsmesh")).code, 3);
  }
  void buildHeedsItsFlags() {
    auto area = [&](const char* flags) {
      const Answer a = run(words("build @room.obj -o @flags.dsmesh --json") + words(flags));
      return a.code == 0 ? Json::parse(a.out)["area"].get<double>() : -1.0;
    };
    QVERIFY(std::abs(area("--agent-radius 1") - (64 + 9)) < 0.05);
    QVERIFY(std::abs(area("--bounds 0,-1,0,5,2,10") - 4.2 * 9.2) < 0.05);
    QVERIFY(std::abs(area("--seed 22,0,2") - 4.2 * 4.2) < 0.05);
    QVERIFY(std::abs(area("--seed 22,0,2 --seed 5,0,5") - (9.2 * 9.2 + 4.2 * 4.2)) < 0.05);
    QVERIFY(std::abs(area("--scale 2") - (19.2 * 19.2 + 9.2 * 9.2)) < 0.1);
    QVERIFY(area("--max-slope 80") > 9.2 * 9.2 + 4.2 * 4.2 + 1);
    QVERIFY(area("--up z") > 0);
    QVERIFY(std::abs(area("--least-island 20") - 9.2 * 9.2) < 0.05);
    QVERIFY(std::abs(area("--least-island-width 4") - 9.2 * 9.2) < 0.05);
    QCOMPARE(run(words("build @room.obj -o @x.dsmesh --least-island -1")).code, 2);
  }
  void filesOfOneObjectFallIntoPieces() {
    std::string one = *readFile(path("room.obj").toStdString());
    for (std::size_t at; (at = one.find("\no ")) != std::string::npos;) one.erase(at, one.find('\n', at + 1) - at);
    write("one.obj", one);
    const auto area = [&](const char* flags) {
      return Json::parse(run(words("build @one.obj -o @one.dsmesh --json") + words(flags)).out)["area"].get<double>();
    };
    QVERIFY(std::abs(area("--pieces --role *23*=ignore") - 9.2 * 9.2) < 0.05);
    QVERIFY(std::abs(area("--role *23*=ignore") - (9.2 * 9.2 + 4.2 * 4.2)) < 0.05);
  }
  void buildIsTheSameOnAnyThreads() {
    QCOMPARE(run(words("build @depot.dunestep -o @one.dsmesh --threads 1")).code, 0);
    QCOMPARE(run(words("build @depot.dunestep -o @two.dsmesh --threads 2")).code, 0);
    QCOMPARE(*readFile(path("one.dsmesh").toStdString()), *readFile(path("two.dsmesh").toStdString()));
  }
  void buildOfAProjectTakesItsLinksAndAgent() {
    const Answer a = run(words("build @depot.dunestep --agent Porter -o @depot.json"));
    QCOMPARE(a.code, 0);
    const Json j = Json::parse(*readFile(path("depot.json").toStdString()));
    QCOMPARE(j["agent"]["name"].get<std::string>(), std::string("Porter"));
    QCOMPARE(j["links"].size(), std::size_t{3});
    QCOMPARE(j["areas"].size(), std::size_t{4});
    QCOMPARE(run(words("build @depot.dunestep --agent Nobody -o @x.json")).code, 2);
  }
  void pathAnswersAndItsExitCodes() {
    const Answer a = run(words("path @room.dsmesh --from 1,0,1 --to 9,0,7 --json"));
    QCOMPARE(a.code, 0);
    const Json j = Json::parse(a.out);
    QCOMPARE(j["status"].get<std::string>(), std::string("complete"));
    QCOMPARE(j["length"].get<double>(), 10.0);
    for (const char* key : {"cost", "optimalityBound", "points", "faces", "links", "start", "goal"}) QVERIFY(j.contains(key));
    QCOMPARE(run(words("path @room.dsmesh --from 1,0,1 --to 22,0,2")).code, 1);
    QCOMPARE(run(words("path @room.dsmesh --from 500,0,1 --to 22,0,2")).code, 1);
    QCOMPARE(Json::parse(run(words("path @room.dsmesh --from 500,0,1 --to 22,0,2 --json")).out)["status"].get<std::string>(),
             std::string("none"));
    QCOMPARE(run(words("path @room.dsmesh --from -1,0,2 --to 9,0,2")).code, 0);  // negative numbers follow their flag
  }
  void pathPairsAnswerALineEach() {
    write("pairs.csv", "1,0,1,9,0,7\n1,0,1,22,0,2\n");
    const Answer a = run(words("path @room.dsmesh --pairs @pairs.csv --json"));
    QCOMPARE(a.code, 1);
    const auto lines = QString::fromStdString(a.out).split('\n', Qt::SkipEmptyParts);
    QCOMPARE(lines.size(), 2);
    QCOMPARE(Json::parse(lines[0].toStdString())["status"].get<std::string>(), std::string("complete"));
    QCOMPARE(Json::parse(lines[1].toStdString())["status"].get<std::string>(), std::string("partial"));
  }
  void locateFindsTheNearestPlace() {
    const Answer a = run(words("locate @room.dsmesh --at 5,3,5 --json"));
    QCOMPARE(a.code, 0);
    const Json j = Json::parse(a.out);
    QCOMPARE(j["distance"].get<double>(), 3.0);
    QCOMPARE(j["area"].get<std::string>(), std::string("ground"));
  }
  void reachSightAndPlacesByChance() {
    QCOMPARE(run(words("build @depot.dunestep --agent Porter -o @yard.dsmesh")).code, 0);
    const Json j = Json::parse(run(words("reach @room.dsmesh --from 5,0,5 --within 3 --every 2 --json")).out);
    QVERIFY(j["complete"].get<bool>() && j["rings"].size() == 2);
    QVERIFY(std::abs(j["rings"][0]["area"].get<double>() - 4 * 3.14159265) < 0.2 && !j["rings"][0]["pieces"].empty());
    QVERIFY(std::abs(j["rings"][1]["area"].get<double>() - 9 * 3.14159265) < 0.4);
    QCOMPARE(run(words("reach @room.dsmesh --from 5,0,5 --within -1")).code, 2);
    QCOMPARE(run(words("reach @room.dsmesh --from 500,0,5")).code, 1);
    QVERIFY(run(words("sight @room.dsmesh --from 1,0,1 --to 9,0,9")).out.starts_with("in sight, 11.31 m"));
    const Answer blocked = run(words("sight @room.dsmesh --from 1,0,1 --to 22,0,1 --json"));
    QCOMPARE(blocked.code, 1);
    const Json b = Json::parse(blocked.out);
    QVERIFY(!b["sees"].get<bool>() && b["blockedBy"] == "the border of the ground" && std::abs(b["distance"].get<double>() - 8.6) < 0.01);
    QVERIFY(run(words("sight @yard.dsmesh --from 18,0,26 --to 24,0,31")).out.find("sinking sand, which is forbidden") != std::string::npos);
    const Answer places = run(words("random @room.dsmesh --from 5,0,5 --within 4 --count 50 --seed 3"));
    QCOMPARE(std::ranges::count(places.out, '\n'), 50);
    QVERIFY(places.out == run(words("random @room.dsmesh --from 5,0,5 --within 4 --count 50 --seed 3")).out);
    QVERIFY(places.out != run(words("random @room.dsmesh --from 5,0,5 --within 4 --count 50 --seed 4")).out);
    // A path over places, and its price stretch by stretch.
    const Json via = Json::parse(run(words("path @room.dsmesh --from 1,0,1 --via 9,0,1 --via 9,0,9 --to 1,0,9 --json")).out);
    QVERIFY(std::abs(via["length"].get<double>() - 24) < 1e-6);
    QCOMPARE(via["stretches"].size(), std::size_t{3});
  }
  void explainSaysWhy() {
    QCOMPARE(run(words("explain @room.obj --at 5,0,5")).code, 0);
    const Answer a = run(words("explain @room.obj --at 5,0,9.8 --json"));
    QCOMPARE(a.code, 1);
    QCOMPARE(Json::parse(a.out)["reason"].get<std::string>(), std::string("near-end"));
    QVERIFY(std::abs(Json::parse(a.out)["measured"].get<double>() - 0.2) < 1e-6);
    const Json steep = Json::parse(run(words("explain @room.obj --at 5,2,-1.5 --json")).out);
    QCOMPARE(steep["reason"].get<std::string>(), std::string("too-steep"));
    QVERIFY(std::abs(steep["measured"].get<double>() - 75.9637) < 1e-3);
    QCOMPARE(Json::parse(run(words("explain @depot.dunestep --at 24,2.6,5 --json")).out)["reason"].get<std::string>(),
             std::string("not-ground"));
  }
  void explainGivesAllReasonsAndWhatWouldHaveToChange() {
    const Json a = Json::parse(run(words("explain @room.obj --at 5,2,-1.5 --json --role steep=obstacle")).out);
    QCOMPARE(a["reasons"].size(), std::size_t{2});
    QCOMPARE(a["reasons"][0]["reason"].get<std::string>(), std::string("not-ground"));
    QCOMPARE(a["reasons"][1]["change"].get<std::string>(), std::string("a slope limit of 76.0°"));
    QCOMPARE(Json::parse(run(words("explain @room.obj --at 5,0,5 --json")).out)["reasons"].size(), std::size_t{0});
    const Answer text = run(words("explain @room.obj --at 5,0,9.8"));
    QVERIFY(text.out.find("it would take a radius of 0.19 m") != std::string::npos);
    // What is said to help does.
    QCOMPARE(run(words("explain @room.obj --at 5,0,9.8 --agent-radius 0.19")).code, 0);
  }
  void rolesDecideWhatCounts() {
    auto area = [&](const char* flags) {
      return Json::parse(run(words("build @room.obj -o @roles.dsmesh --json") + words(flags)).out)["area"].get<double>();
    };
    QVERIFY(std::abs(area("--role far=ignore") - 9.2 * 9.2) < 0.05);
    QVERIFY(std::abs(area("--role *=obstacle --role FL*=ground") - 9.2 * 9.2) < 0.05);
    for (const char* wrong : {"--role far", "--role far=", "--role =ground", "--role far=lava"})
      QCOMPARE(run(words("build @room.obj -o @x.dsmesh") + words(wrong)).code, 2);
  }
  void fitsFindsTheWidestAndTheTallest() {
    const Json j = Json::parse(run(words("fits @depot.dunestep --from 7,0,36.4 --to 17,0,28.6 --json")).out);
    QVERIFY(std::abs(j["radius"]["most"].get<double>() - 0.7) < 0.006);  // beside the shelves of the store
    QVERIFY(j["radius"]["cause"].get<std::string>().find("store_") != std::string::npos);
    QVERIFY(std::abs(j["height"]["most"].get<double>() - 2.8) < 0.006);  // under its roof
  }
  void sweepFindsThresholds() {
    const Json j = Json::parse(run(words("sweep @depot.dunestep --least 0.3 --most 0.9 --steps 4 --json")).out);
    QCOMPARE(j["points"].size(), std::size_t{4});
    bool store = false;
    for (const Json& t : j["thresholds"]) store |= t["route"] == "Kilns to store" && std::abs(t["value"].get<double>() - 0.7) < 0.002;
    QVERIFY(store);
    QCOMPARE(run(words("sweep @depot.dunestep --least 0.9 --most 0.3")).code, 2);
    QCOMPARE(run(words("sweep @depot.dunestep --least 0.3 --most 0.9 --limit weight")).code, 2);
  }
  void verifyAsksKeptRoutesAgain() {
    const Answer text = run(words("verify @depot.dunestep"));
    QCOMPARE(text.code, 1);
    QVERIFY2(text.out.find("BROKEN  Rescue/Kilns to canal end (Porter): partial, a complete path is expected") != std::string::npos,
             text.out.c_str());
    QVERIFY2(text.out.ends_with("3 of 5 routes hold\n"), text.out.c_str());
    const Json j = Json::parse(run(words("verify @depot.dunestep --json")).out);
    QVERIFY(!j["holds"].get<bool>() && j["routes"].size() == 5);
    QVERIFY(j["routes"][0]["holds"].get<bool>() && j["routes"][0]["agent"] == "Porter" && j["routes"][0]["folder"] == "Deliveries");
    QCOMPARE(j["routes"][3]["unmet"].size(), std::size_t{1});
    QVERIFY(j["routes"][3]["unmet"][0]["sentence"].get<std::string>().find("artial: ") == std::string::npos);
    const Answer xml = run(words("verify @depot.dunestep --format junit"));
    QVERIFY2(xml.out.find("tests=\"5\" failures=\"2\"") != std::string::npos, xml.out.c_str());
    QVERIFY(xml.out.find("<testcase classname=\"Deliveries\" name=\"Kilns to store\" />") != std::string::npos);
    QVERIFY2(text.out.find("a radius of 0.33 m, or moving shed_wall") != std::string::npos, text.out.c_str());
    // A folder alone; a kind of agent alone; a project without any.
    QVERIFY(run(words("verify @depot.dunestep --folder Rescue")).out.ends_with("0 of 1 routes hold\n"));
    QVERIFY(run(words("verify @depot.dunestep --agent Sledge")).out == "0 of 0 routes hold\n");
    QCOMPARE(run(words("verify @depot.dunestep --agent Nobody")).code, 2);
    QCOMPARE(run(words("verify @room.obj")).code, 3);
    project::Project p = demo::depotProject();
    project::edit(p.routes, [](project::RoutesSection& s) {
      for (const std::size_t i : {3u, 4u}) s.routes[i].expected.outcome = project::Expected::Outcome::notComplete;
      s.routes[1].agent = 0;  // of whichever is asked for
    });
    write("kept.dunestep", project::toJson(p));
    QCOMPARE(run(words("verify @kept.dunestep")).code, 0);
    QVERIFY(run(words("verify @kept.dunestep --agent Hopper")).out.find("Terrace to dock (Hopper)") != std::string::npos);
    // A file that says something impossible is named with the place.
    std::string broken = project::toJson(p);
    const auto at = broken.find("\"not-complete\"");
    QVERIFY(at != std::string::npos);
    broken.replace(at, 14, "\"perhaps\"");
    write("broken-route.dunestep", broken);
    const Answer refused = run(words("verify @broken-route.dunestep"));
    QCOMPARE(refused.code, 3);
    QVERIFY2(refused.err.find("outcome of a route") != std::string::npos, refused.err.c_str());
  }
  void compareSaysWhatIsDifferentAndWhy() {
    project::Project p = demo::depotProject();
    project::edit(p.level, [](project::LevelSection& s) { s.roles.erase("crate_5"); });
    write("changed.dunestep", project::toJson(p));
    QCOMPARE(run(words("compare @depot.dunestep @depot.dunestep")).code, 0);
    const Answer a = run(words("compare @depot.dunestep @changed.dunestep --json"));
    QCOMPARE(a.code, 1);
    const Json j = Json::parse(a.out);
    QVERIFY(j["lost"].get<double>() > 1.5 && j["lost"].get<double>() < 4);
    QVERIFY(j["places"][0]["cause"].get<std::string>().find("crate_5") != std::string::npos);
  }
  void aMissingDoorwayIsExplainedAndSwept() {
    const Answer why = run(words("explain @depot.dunestep --at 50,0,41.1 --json"));
    QCOMPARE(why.code, 1);
    const Json j = Json::parse(why.out);
    QCOMPARE(j["reason"].get<std::string>(), std::string("near-wall"));
    QVERIFY(std::abs(j["measured"].get<double>() - 0.32) < 1e-5);
    QCOMPARE(j["reasons"].size(), std::size_t{2});  // both sides of the door, and nothing said twice
    for (const Json& r : j["reasons"]) QVERIFY(r["object"].get<std::string>().starts_with("shed_wall_south"));
    for (const Json& r : j["reasons"]) QVERIFY(r["change"].get<std::string>().starts_with("a radius of 0.31 m"));
    // An agent as narrow as it says gets in, and the sweep finds just that, with the door as the cause.
    const Json sweep = Json::parse(run(words("sweep @depot.dunestep --least 0.2 --most 0.5 --steps 4 --json")).out);
    bool found = false;
    for (const Json& t : sweep["thresholds"])
      found |= t["route"] == "Gate to shed" && std::abs(t["value"].get<double>() - 0.32) < 0.002 &&
               t["cause"].get<std::string>().find("shed_wall_south") != std::string::npos;
    QVERIFY(found);
    project::Project p = demo::depotProject();
    project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].radius = 0.31; });
    write("narrow.dunestep", project::toJson(p));
    QCOMPARE(run(words("build @narrow.dunestep -o @narrow.dsmesh")).code, 0);
    QCOMPARE(run(words("path @narrow.dsmesh --from 57,0,42 --to 50,0,39")).code, 0);
    QCOMPARE(run(words("build @depot.dunestep -o @porter.dsmesh")).code, 0);
    QCOMPARE(run(words("path @porter.dsmesh --from 57,0,42 --to 50,0,39")).code, 1);
  }
  void agentsTakeTheLinksThatTheyCan() {
    const auto links = [&](const char* agent) {
      return Json::parse(run({"build", "@depot.dunestep", "-o", "@a.dsmesh", "--json", "--agent", agent}).out)["links"].get<int>();
    };
    QCOMPARE(links("Porter"), 3);
    QCOMPARE(links("Sledge"), 1);
    const Answer build = run(words("build @depot.dunestep -o @a.dsmesh --agent Sledge"));
    QVERIFY2(build.err.find("link 1 is left out: it is a jump of 1.40 m, and Sledge does not jump") != std::string::npos,
             build.err.c_str());
    project::Project quiet = demo::depotProject();
    project::edit(quiet.crowd, [](project::CrowdSection& s) { s.groups.clear(); });
    write("quiet.dunestep", project::toJson(quiet));
    const Json found = Json::parse(run(words("inspect @quiet.dunestep --agent Sledge --format json")).out)["findings"];
    QCOMPARE(std::ranges::count_if(found, [](const Json& f) { return f["code"] == "link-beyond"; }), 2);
    QCOMPARE(run(words("inspect @quiet.dunestep --agent Nobody")).code, 2);
  }
  void filesInOtherUnitsAreSaid() {
    std::string large = "o floor\nv 0 0 0\nv 0 0 4500\nv 4500 0 4500\nv 4500 0 0\nf 1 2 3 4\n";
    write("large.obj", large);
    const Answer a = run(words("build @large.obj -o @large.dsmesh --json"));
    QCOMPARE(a.code, 0);
    QVERIFY2(a.err.find("large.obj: It is 4500 m wide: in centimetres it would be 45 m wide.") != std::string::npos, a.err.c_str());
    QVERIFY(run(words("build @large.obj --scale 0.01 -o @large.dsmesh")).err.find("wide") == std::string::npos);
    QVERIFY(run(words("build @room.obj -o @large.dsmesh")).err.find("wide") == std::string::npos);
  }
  void recordedPlacesAreThoseOfTheOrigin() {
    project::Project p = demo::depotProject();
    project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].originHeight = 0.9; });
    write("offset.dunestep", project::toJson(p));
    QCOMPARE(run(words("build @offset.dunestep -o @offset.dsmesh")).code, 0);
    write("one.csv", "id,x,y,z,goal_x,goal_y,goal_z,radius,speed\n1,20,0,17,26,0,17,0.35,1.4\n");
    QCOMPARE(run(words("crowd @offset.dsmesh --agents @one.csv --seconds 8 -o @offset.csv")).code, 0);
    const std::string trace = *readFile(path("offset.csv").toStdString());
    QVERIFY2(trace.find("\n0.00000,1,20.00000,0.90000,17.00000,") != std::string::npos, trace.substr(0, 200).c_str());
    // Looked at with the same agent its feet are on the ground; without the offset it floats.
    auto floats = [&](const char* mesh) {
      return run({"inspect", mesh, "--trace", "@offset.csv", "--format", "json"}).out.find("left-ground") != std::string::npos;
    };
    QCOMPARE(run(words("build @depot.dunestep -o @plain.dsmesh")).code, 0);
    QVERIFY(!floats("@offset.dsmesh"));
    QVERIFY(floats("@plain.dsmesh"));
  }
  void inspectNamesIgnoredObjectsThatMatter() {
    const Answer a = run(words("inspect @depot.dunestep --format json"));
    QVERIFY(a.out.find("ignored-on-ground") != std::string::npos);
  }
  void namesThatAreNoUtf8AreReadAndSaid() {
    write("names.obj", "o caf\xe9\nv 0 0 0\nv 0 0 10\nv 10 0 10\nv 10 0 0\nf 1 2 3 4\no caf\xe8\nv 0 1 0\nv 0 1 1\nv 1 1 1\nf 5 6 7\n");
    const Json j = Json::parse(run(words("explain @names.obj --at 5,0,9.9 --json")).out);
    QCOMPARE(j["object"].get<std::string>(), std::string("café"));
    project::Project named;
    project::edit(named.level, [](project::LevelSection& level) { level.files.push_back({"names.obj", {}}); });
    write("names.dunestep", project::toJson(named));
    const Answer a = run(words("inspect @names.dunestep --format json"));
    QVERIFY2(a.code == 0 || a.code == 1, a.err.c_str());
    QVERIFY(Json::accept(a.out));
  }
  void forbiddenGroundIsToldApart() {
    const Json built = Json::parse(run(words("build @depot.dunestep -o @depot2.dsmesh --json")).out);
    QVERIFY(built["forbiddenArea"].get<double>() > 5);
    const meshes::Content content = *meshfile::read(path("depot2.dsmesh").toStdString());
    QVERIFY(std::abs(built["area"].get<double>() + built["forbiddenArea"].get<double>() - nav::totalArea(content.mesh)) < 1e-6);
    for (std::uint32_t f = 0; f < content.mesh.faceCount(); ++f) {
      const nav::FaceId face{f};
      if (content.rules.passable(content.mesh, face) || nav::faceArea(content.mesh, face) < 1) continue;
      const Vec3 at = (content.mesh.cornerAt(face, 0) + content.mesh.cornerAt(face, 1) + content.mesh.cornerAt(face, 2)) / 3.0;
      const Answer a = run({"explain", "@depot.dunestep", "--json", "--at", QStringLiteral("%1,%2,%3").arg(at.x).arg(at.y).arg(at.z)});
      QCOMPARE(a.code, 1);
      QCOMPARE(Json::parse(a.out)["reason"].get<std::string>(), std::string("forbidden"));
      return;
    }
    QFAIL("the demo has sinking sand");
  }
  void preparedPairsAreAnsweredAlike() {
    std::string pairs;
    for (int i = 0; i < 12; ++i) pairs += std::to_string(1 + i * 0.7) + ",0,1," + std::to_string(9 - i * 0.6) + ",0,7\n";
    write("dozen.csv", pairs);
    const Answer searched = run(words("path @room.dsmesh --pairs @dozen.csv")),
                 prepared = run(words("path @room.dsmesh --pairs @dozen.csv --prepare"));
    QCOMPARE(prepared.code, searched.code);
    QVERIFY2(std::ranges::count(prepared.out, '\n') == 12 && prepared.out == searched.out, prepared.out.c_str());
    QVERIFY(prepared.err.find("cannot be prepared") == std::string::npos);
    QCOMPARE(run(words("path @room.dsmesh --from 1,0,1 --to 9,0,9 --prepare")).code, 2);
  }
  void pairsAreShortUnlessFacesAreAskedFor() {
    write("three.csv", "1,0,1,9,0,9\n1,0,5,9,0,5\n1,0,1,22,0,2\n");
    const Answer plain = run(words("path @room.dsmesh --pairs @three.csv --json")),
                 faces = run(words("path @room.dsmesh --pairs @three.csv --json --faces"));
    QCOMPARE(plain.code, 1);
    QVERIFY(plain.out.find("\"faces\"") == std::string::npos);
    QCOMPARE(QString::fromStdString(faces.out).count(QStringLiteral("\"faces\"")), 3);
    QVERIFY(Json::parse(run(words("path @room.dsmesh --from 1,0,1 --to 9,0,9 --json")).out).contains("faces"));
  }
  void placesOfBodiesAreOfTheirOrigins() {
    // One rule: agents, pairs and traces name origins; the ground is looked for at the feet.
    meshes::Content content = *meshfile::read(path("room.dsmesh").toStdString());
    content.mesh.agent.originHeight = 5;
    QVERIFY(writeFile(path("tall.dsmesh").toStdString(), meshfile::toBytes(content)).ok());
    write("tall.csv", "id,x,y,z,goal_x,goal_y,goal_z\n1,1,5,5,9,5,5\n");
    QCOMPARE(run(words("crowd @tall.dsmesh --agents @tall.csv --seconds 12 -o @tall_trace.csv")).code, 0);
    const std::string trace = *readFile(path("tall_trace.csv").toStdString());
    QVERIFY(trace.find("\n0.00000,1,1.00000,5.00000,5.00000,") != std::string::npos && trace.find("arrived") != std::string::npos);
    const Json j = Json::parse(run(words("path @tall.dsmesh --from 1,5,5 --to 9,5,5 --json")).out);
    QCOMPARE(j["status"].get<std::string>(), std::string("complete"));
    QCOMPARE(j["start"]["asked"][1].get<double>(), 5.0);
    QCOMPARE(j["start"]["used"][1].get<double>(), 0.0);
    QVERIFY(run(words("inspect @tall.dsmesh --trace @tall_trace.csv --format json")).out.find("left-ground") == std::string::npos);
  }
  void mistakesInTablesNameTheFile() {
    write("twice.csv", "id,x,y,z,goal_x,goal_y,goal_z\n7,1,0,5,9,0,5\n7,2,0,5,9,0,5\n");
    const Answer a = run(words("crowd @room.dsmesh --agents @twice.csv --seconds 1 -o @never.csv"));
    QCOMPARE(a.code, 3);
    QVERIFY(a.err.find("twice.csv") != std::string::npos && a.err.find("agent 7") != std::string::npos);
    QVERIFY(!exists("never.csv"));
  }
  void compactTracesAreAsGood() {
    write("one.csv", "id,x,y,z,goal_x,goal_y,goal_z,radius,group\n1,1,0,5,9,0,5,0.4,2\n");
    QCOMPARE(run(words("crowd @room.dsmesh --agents @one.csv --seconds 12 -o @one.dstrace")).code, 0);
    QCOMPARE(run(words("crowd @room.dsmesh --agents @one.csv --seconds 12 -o @one_trace.csv")).code, 0);
    QCOMPARE(run(words("inspect @room.dsmesh --trace @one.dstrace --format json")).out,
             run(words("inspect @room.dsmesh --trace @one_trace.csv --format json")).out);
  }
  void largeFacesAndHeapsAreAnsweredAtOnce() {
    std::string polygon = "o plate\n";
    for (int i = 0; i < 200000; ++i)
      polygon += "v " + std::to_string(std::cos(i / 31830.98) * 50) + " 0 " + std::to_string(std::sin(i / 31830.98) * 50) + "\n";
    polygon += "f";
    for (int i = 1; i <= 200000; ++i) polygon += " " + std::to_string(i);
    write("plate.obj", polygon + "\n");
    const Answer plate = run(words("build @plate.obj -o @plate.dsmesh"));
    QCOMPARE(plate.code, 3);
    QVERIFY2(plate.err.find("plate.obj, plate: A face has 200000 corners") != std::string::npos, plate.err.c_str());
    std::string heap = "o floor\nv -5 0 -5\nv -5 0 5\nv 5 0 5\nv 5 0 -5\nf 1 2 3 4\no heap\nv 0 0.1 0\nv 0 0.1 1\nv 1 0.1 1\n";
    for (int i = 0; i < 50000; ++i) heap += "f 5 6 7\n";
    write("heap.obj", heap);
    QCOMPARE(run(words("build @heap.obj -o @heap.dsmesh")).code, 0);
  }
  void crowdWalksAndIsTheSameOnAnyThreads() {
    write("agents.csv", "id,x,y,z,goal_x,goal_y,goal_z,radius,speed\n1,1,0,5,9,0,5,0.4,1.4\n2,9,0,5.1,1,0,5.1,0.4,1.4\n");
    QCOMPARE(run(words("crowd @room.dsmesh --agents @agents.csv --seconds 12 --threads 1 -o @t1.csv")).code, 0);
    QCOMPARE(run(words("crowd @room.dsmesh --agents @agents.csv --seconds 12 --threads 2 -o @t2.csv")).code, 0);
    const std::string trace = *readFile(path("t1.csv").toStdString());
    QCOMPARE(trace, *readFile(path("t2.csv").toStdString()));
    QVERIFY(trace.starts_with("t,id,x,y,z,vx,vy,vz,want_vx,want_vy,want_vz,state,face"));
    QCOMPARE(std::count(trace.begin(), trace.end(), '\n'), 1 + 2 * (12 * 30 + 1));
    QVERIFY(trace.find("arrived") != std::string::npos);
    const Answer a = run(words("inspect @room.dsmesh --trace @t1.csv --format json"));
    const Json found = Json::parse(a.out)["findings"];
    for (const Json& f : found) QVERIFY(f["code"] == "island");
  }
  void aProjectsScenesWalk() {
    project::Project p = demo::depotProject();
    project::edit(p.crowd, [](project::CrowdSection& s) {
      s.seconds = 4;
      project::CrowdGroup g{21, {20, 0, 17}, {26, 0, 17}, 3, 0};
      g.scene = "yard";
      s.groups.push_back(g);
    });
    write("scenes.dunestep", project::toJson(p));
    QCOMPARE(run(words("crowd @scenes.dunestep --scene yard -o @yard.csv")).code, 0);
    const auto trace = trace::readTrace(path("yard.csv").toStdString(), 0, reading_);
    QVERIFY(trace && trace->bodies().size() == 3 && std::abs(trace->duration() - 4) < 1e-6);
    QCOMPARE(run(words("crowd @scenes.dunestep --seconds 1 -o @all.csv")).code, 0);
    QCOMPARE(trace::readTrace(path("all.csv").toStdString(), 0, reading_)->bodies().size(), std::size_t{40});
    const Answer none = run(words("crowd @scenes.dunestep --scene nowhere -o @x.csv"));
    QVERIFY2(none.code == 2 && none.err.find("\"yard\"") != std::string::npos, none.err.c_str());
    QCOMPARE(run(words("crowd @depot.dsmesh -o @x.csv")).code, 2);
  }
  void waysToSteerAreChosenAndCompared() {
    QCOMPARE(run(words("build @depot.dunestep -o @porter.dsmesh")).code, 0);
    write("two.csv", "id,x,y,z,goal_x,goal_y,goal_z,model,goal_agent\n1,20,0,17,26,0,17,,\n2,26,0,17,20,0,17,none,\n3,22,0,15,0,0,0,,1\n");
    const auto steered = [&](const QString& more) {
      const Answer a = run(words(("crowd @porter.dsmesh --agents @two.csv --seconds 6 -o @steered.csv " + more).toUtf8()));
      return a.code == 0 ? *readFile(path("steered.csv").toStdString()) : std::string();
    };
    const std::string usual = steered({});
    QVERIFY(!usual.empty() && usual == steered({}));
    QVERIFY(steered("--steering direction-ring") != usual);
    QVERIFY(steered("--set side=-7") != usual);
    for (const char* wrong : {"--steering telepathy", "--set swing=1", "--set side", "--set every=1.5", "--set range=-1"})
      QCOMPARE(run(words((QStringLiteral("crowd @porter.dsmesh --agents @two.csv --seconds 6 -o @x.csv ") + wrong).toUtf8())).code, 2);
    write("a.json", "{}");
    write("b.json", R"({"steering": "direction-ring", "range": 4})");
    write("c.json", R"({"steering": "telepathy"})");
    const Answer table = run(words("crowd @porter.dsmesh --agents @two.csv --seconds 6 --compare @a.json @b.json --json -o @both.csv"));
    QCOMPARE(table.code, 0);
    const Json j = Json::parse(table.out);
    QCOMPARE(j["agents"].get<int>(), 3);
    QVERIFY(j["walked"]["a"].get<double>() > 1 && j["walked"]["b"].get<double>() > 1);
    // Each run is recorded, and the first is what it is alone with its settings.
    QCOMPARE(trace::readTrace(path("both-a.csv").toStdString(), 0, reading_)->bodies().size(), std::size_t{3});
    QVERIFY(*readFile(path("both-b.csv").toStdString()) != *readFile(path("both-a.csv").toStdString()));
    const Answer wrong = run(words("crowd @porter.dsmesh --agents @two.csv --seconds 6 --compare @a.json @c.json -o @both.csv"));
    QVERIFY2(wrong.code == 3 && wrong.err.find("c.json") != std::string::npos, wrong.err.c_str());
  }
  void tablesNameKindsOfAProject() {
    QCOMPARE(run(words("build @depot.dunestep -o @porter.dsmesh")).code, 0);
    write("kinds.csv", "id,x,y,z,goal_x,goal_y,goal_z,kind\n1,20,0,17,26,0,17,Porter\n2,20,0,14,26,0,14,Sledge\n");
    QCOMPARE(run(words("crowd @depot.dunestep --agents @kinds.csv --seconds 10 -o @kinds-out.csv")).code, 0);
    const auto trace = trace::readTrace(path("kinds-out.csv").toStdString(), 0, reading_);
    const auto agents = demo::depotProject().agents->agents;
    QCOMPARE(trace->bodies()[0].radius, agents[0].radius);
    QVERIFY(trace->bodies()[1].radius != agents[0].radius);
    const Answer wrong = run(words("crowd @porter.dsmesh --agents @kinds.csv --seconds 1 -o @x.csv"));
    QVERIFY2(wrong.code == 3 && wrong.err.find("kinds.csv, line 3") != std::string::npos, wrong.err.c_str());
  }
  void inspectFindsMistakesInEveryFormat() {
    const Answer a = run(words("inspect @depot.dunestep --format json"));
    QCOMPARE(a.code, 1);
    std::set<std::string> codes;
    const Json found = Json::parse(a.out)["findings"];
    for (const Json& f : found) codes.insert(f["code"].get<std::string>());
    for (const char* code : {"island", "broken-link", "wall-touched"}) QVERIFY2(codes.count(code), code);
    const Json sarif = Json::parse(run(words("inspect @room.dsmesh --format sarif")).out);
    QCOMPARE(sarif["version"].get<std::string>(), std::string("2.1.0"));
    QCOMPARE(sarif["runs"][0]["results"].size(), std::size_t{1});
    write("one.obj", "v 0 0 0\nv 0 0 5\nv 5 0 5\nv 5 0 0\nf 1 2 3 4\n");
    QCOMPARE(run(words("build @one.obj -o @clean.dsmesh")).code, 0);
    QCOMPARE(run(words("inspect @clean.dsmesh")).code, 0);
    write("bad.csv", "t,id,x,y,z\n0,1,2,0,2\n0.5,1,2,3,2\n1,1,2,3,2\n");
    QCOMPARE(run(words("inspect @clean.dsmesh --trace @bad.csv")).code, 1);
  }
  void theRecordedShiftHasItsMistakesAndNoOthers() {
    write("shift.csv", demo::depotShift());
    const Answer a = run(words("inspect @depot.dunestep --trace @shift.csv --format json --report @shift.html"));
    QCOMPARE(a.code, 1);
    write("old.json", a.out);
    std::multiset<std::string> told;
    const Json found = Json::parse(a.out)["findings"];
    for (const Json& f : found)
      if (f.contains("time")) told.insert(f["code"].get<std::string>() + " " + std::to_string(f["agent"].get<int>()));
    const std::multiset<std::string> planted{"stuck 3",   "jumped 5", "too-fast 6",     "trembles 7",      "stuck 7",   "back-and-forth 8",
                                             "circles 9", "gap 11",   "left-ground 10", "on-forbidden 12", "overlap 13"};
    QString all;
    for (const std::string& t : told) all += QString::fromStdString(t) + QStringLiteral(", ");
    QVERIFY2(told == planted, qPrintable(all));
    const std::string report = *readFile(path("shift.html").toStdString());
    for (const char* part :
         {"<svg", "In circles (1)", "without getting on in the middle of the way", "id=\"f1\"", "sinking sand", "Mean speed", "</html>"})
      QVERIFY2(report.find(part) != std::string::npos, part);
    // Against an earlier report only what is new is told: a worker who floats where nobody did.
    const Answer same = run(words("inspect @depot.dunestep --trace @shift.csv --format json --against @old.json"));
    QCOMPARE(same.code, 0);
    QVERIFY(Json::parse(same.out)["findings"].empty());
    write("more.csv", demo::depotShift() + "100,50,31,0.9,27\n100.1,50,31.1,0.9,27\n100.2,50,31.2,0.9,27\n");
    const Answer more = run(words("inspect @depot.dunestep --trace @more.csv --format json --against @old.json"));
    QCOMPARE(more.code, 1);
    QCOMPARE(Json::parse(more.out)["findings"].size(), std::size_t{1});
    QCOMPARE(Json::parse(more.out)["findings"][0]["agent"].get<int>(), 50);
    QCOMPARE(run(words("inspect @depot.dunestep --trace @shift.csv --against @shift.csv")).code, 3);
    // Another limit, and what is no limit.
    const Answer wide = run(
        words("inspect @depot.dunestep --trace @shift.csv --limit off-ground=1 --limit floats=1 --limit stuck-seconds=20 --format json"));
    const Json left = Json::parse(wide.out)["findings"];
    for (const Json& f : left) QVERIFY(f["code"] != "left-ground" && f["code"] != "stuck");
    // Limits hold for the project's own crowd too.
    const Answer walls = run(words("inspect @depot.dunestep --limit wall-touch=0.5 --format json"));
    const Json ofCrowd = Json::parse(walls.out)["findings"];
    QVERIFY(!ofCrowd.empty());
    for (const Json& f : ofCrowd) QVERIFY(f["code"] != "wall-touched");
    for (const char* bad : {"offground=1", "gap", "gap=-1", "gap=x"})
      QCOMPARE(run({"inspect", "@room.dsmesh", "--trace", "@shift.csv", "--limit", bad}).code, 2);
    const Answer junit = run(words("inspect @depot.dunestep --trace @shift.csv --format junit"));
    QVERIFY(junit.out.find("<testsuite") != std::string::npos && junit.out.find("sinking sand") != std::string::npos);
  }
  void recordingsInOtherUnitsAndColumnsAreReadAsOneSays() {
    write("shift.csv", demo::depotShift());
    // The same in centimetres with Z up, times in milliseconds, under names that say nothing.
    const auto asItIs = trace::fromCsv(demo::depotShift());
    QVERIFY(asItIs.ok());
    std::string odd = "frame,who,a,b,c\n", named = "t,id,x,y,z\n";
    for (std::size_t f = 0; f < asItIs->frameCount(); ++f)
      for (std::size_t b = 0; b < asItIs->bodies().size(); ++b) {
        const trace::Sample s = asItIs->at(f, b);
        if (s.state == trace::State::waiting) continue;
        const std::string row = std::to_string(s.t * 1000) + ',' + std::to_string(s.id) + ',' + std::to_string(s.at.x * 100) + ',' +
                                std::to_string(-s.at.z * 100) + ',' + std::to_string(s.at.y * 100) + '\n';
        odd += row, named += row;
      }
    write("odd.csv", odd), write("named.csv", named);
    const auto told = [&](const std::string& how) {
      std::multiset<std::string> all;
      const Answer a = run(words(("inspect @depot.dunestep --format json --trace " + how).c_str()));
      if (a.code != 1) return std::multiset<std::string>{a.err};
      const Json found = Json::parse(a.out)["findings"];
      for (const Json& f : found) {
        if (f["code"] == "recording-units") all.insert(f["advice"].get<std::string>());
        if (f.contains("time")) all.insert(f["code"].get<std::string>() + ' ' + std::to_string(f.value("agent", -1)));
      }
      return all;
    };
    const auto right = told("@shift.csv");
    QVERIFY(right.size() == 11);
    QVERIFY(told("@odd.csv --columns t=frame,id=who,x=a,y=b,z=c --trace-scale 0.01 --trace-up z --trace-seconds 0.001") == right);
    QVERIFY(told("@named.csv --trace-scale 0.01 --trace-up z --trace-seconds 0.001") == right);
    // Our compact file says all itself: nobody can read it in another way.
    const auto wrong = trace::fromCsv(named);
    auto file = trace::createTrace(path("named.dstrace").toStdString());
    QVERIFY(wrong.ok() && file.ok() && (*file)->begin(wrong->bodies()).ok());
    for (const auto& block : wrong->blocks()) QVERIFY((*file)->add(block).ok());
    QVERIFY((*file)->end().ok());
    for (const std::string& t : told("@named.dstrace")) QVERIFY2(t.find("--trace-scale") == std::string::npos, t.c_str());
    // Where nobody says so, it is said how it should be read, and nothing else.
    const auto guessed = told("@named.csv");
    QVERIFY(guessed.size() == 1);
    QVERIFY2(guessed.begin()->find("--trace-scale 0.01 --trace-up z --trace-seconds 0.001") != std::string::npos, guessed.begin()->c_str());
    QVERIFY(told("@odd.csv").begin()->find("column 't'") != std::string::npos);
    QVERIFY(told("@odd.csv --columns t=").begin()->find("--columns") != std::string::npos);
    QVERIFY(told("@odd.csv --columns colour=frame").begin()->find("--columns") != std::string::npos);
  }
  void mutedFindingsAreLeftOutAndCounted() {
    auto project = project::load(path("depot.dunestep").toStdString());
    QVERIFY(project.ok());
    project::edit(project.value().review, [](project::ReviewSection& s) {
      s.muted = {{1, "broken-link", {}, 0, -1, "the roof comes next week"}, {2, "island", Vec3{-500, 0, 0}, 2, -1, "elsewhere"}};
    });
    QVERIFY(project::save(path("muted.dunestep").toStdString(), *project).ok());
    const Json before = Json::parse(run(words("inspect @depot.dunestep --format json")).out);
    const Json after = Json::parse(run(words("inspect @muted.dunestep --format json")).out);
    QVERIFY(!before.contains("muted") && after["muted"] == 1);
    QCOMPARE(after["findings"].size(), before["findings"].size() - 1);
    for (const Json& f : after["findings"]) QVERIFY(f["code"] != "broken-link");
    const Json sarif = Json::parse(run(words("inspect @muted.dunestep --format sarif")).out);
    std::size_t suppressed = 0;
    for (const Json& r : sarif["runs"][0]["results"])
      if (r.contains("suppressions")) {
        ++suppressed;
        QCOMPARE(r["suppressions"][0]["justification"].get<std::string>(), std::string("the roof comes next week"));
      }
    QCOMPARE(suppressed, std::size_t{1});
    QVERIFY(run(words("inspect @muted.dunestep")).out.find("1 more are muted") != std::string::npos);
  }
  void meshesFromElsewhereAreJudged() {
    write("other.obj", "v 0 0 0\nv 4 0 0\nv 4 0 -4\nv 0 0 -4\nv 8 0 0\nv 8 0 -4\nv 9 9 9\nf 1 2 3 4\nf 2 3 6 5\n");
    const Answer a = run(words("inspect @other.obj --format json"));
    QCOMPARE(a.code, 1);
    std::set<std::string> codes;
    const Json found = Json::parse(a.out)["findings"];
    for (const Json& f : found) codes.insert(f["code"].get<std::string>());
    QVERIFY(codes == (std::set<std::string>{"inverted-face", "needless-faces", "unused-corners"}));
    QCOMPARE(run(words("convert @room.dsmesh -o @room_out.glb")).code, 0);
    QCOMPARE(run(words("inspect @room_out.glb")).code, 0);
    QCOMPARE(run(words("inspect @other.obj --trace @t.csv")).code, 2);
    write("none.obj", "v 0 0 0\n");
    QCOMPARE(run(words("inspect @none.obj")).code, 3);
  }
  void convertLosesNothing() {
    QCOMPARE(run(words("convert @room.dsmesh -o @c.json")).code, 0);
    QCOMPARE(run(words("convert @c.json -o @c.dsmesh")).code, 0);
    QCOMPARE(*readFile(path("c.dsmesh").toStdString()), *readFile(path("room.dsmesh").toStdString()));
  }
  /// Two islands, a strip from one to the other by hand, and a path over it; what cannot be done leaves the project as it was.
  void handWorkByAScript() {
    project::Project two;
    project::edit(two.level, [](project::LevelSection& s) { s.files = {{"room.obj", {}}}; });
    write("two.dunestep", project::toJson(two));
    QCOMPARE(run(words("build @two.dunestep -o @two.dsmesh")).code, 0);
    const char* ask = "path @two.dsmesh --from 5,0,5 --to 22,0,2.5 --json";
    QVERIFY(Json::parse(run(words(ask)).out)["status"] != "complete");
    write("strip.json", R"([{"do": "strip", "from": [9.6, 0, 5], "to": [20.4, 0, 2.5]}])");
    const Answer done = run(words("edit @two.dunestep --script @strip.json --out @bridged.dunestep"));
    QVERIFY2(done.code == 0, done.err.c_str());
    QCOMPARE(*readFile(path("two.dunestep").toStdString()), project::toJson(two));
    QCOMPARE(run(words("build @bridged.dunestep -o @two.dsmesh")).code, 0);
    QCOMPARE(Json::parse(run(words(ask)).out)["status"], "complete");
    // Drawn ground far over the level is told, and given up again.
    write("steps.json", R"([{"do": "draw", "outline": [[4, 0, 4], [6, 0, 4], [5, 0, 6]], "kind": ""}, {"do": "give-up", "patch": 2}])");
    QCOMPARE(run(words("edit @bridged.dunestep --script @steps.json --out @again.dunestep")).code, 0);
    QCOMPARE(*readFile(path("again.dunestep").toStdString()), *readFile(path("bridged.dunestep").toStdString()));
    // All or none: the second change fails, and nothing is written.
    write("half.json", R"([{"do": "remove", "faces": [[5, 0, 5]]}, {"do": "remove", "faces": [[500, 0, 5]]}])");
    const Answer half = run(words("edit @bridged.dunestep --script @half.json --out @half.dunestep"));
    QCOMPARE(half.code, 3);
    QVERIFY2(half.err.find("change 2") != std::string::npos, half.err.c_str());
    QVERIFY(!exists("half.dunestep"));
    for (const char* bad : {"{", "{}", "[{}]", R"([{"do": "remove"}])", R"([{"do": "strip", "from": [1], "to": 2}])"}) {
      write("bad.json", bad);
      QCOMPARE(run(words("edit @two.dunestep --script @bad.json --out @half.dunestep")).code, 3);
      QVERIFY(!exists("half.dunestep"));
    }
  }

  /// A mesh from elsewhere is judged, mended and written as ours, or becomes a project.
  void aMeshFromElsewhereIsMended() {
    std::string obj;
    int corners = 0;
    for (int i = 0; i < 4; ++i) {
      const double x = 2 * i + (i == 2 ? 0.02 : 0);
      for (const auto& [u, v] : {std::pair(x, 0.0), {x, 2.0}, {x + 1.98, 2.0}, {x + 1.98, 0.0}})
        obj += "v " + std::to_string(u) + " 0 " + std::to_string(v) + "\n";
      const std::string face = i == 3 ? "f %4 %3 %2 %1" : "f %1 %2 %3 %4";
      for (const char c : face)
        obj += c == '%' ? std::string() : c >= '1' && c <= '4' ? std::to_string(corners + c - '0') : std::string(1, c);
      obj += "\n", corners += 4;
    }
    write("else.obj", obj);
    const auto codes = [&](const char* name) {
      std::map<std::string, int> count;
      const Json said = Json::parse(run(words(("inspect @" + std::string(name) + " --format json").c_str())).out);
      for (const auto& f : said["findings"]) ++count[f["code"].get<std::string>()];
      return count;
    };
    QVERIFY(codes("else.obj").contains("inverted-face") && codes("else.obj").contains("open-seam"));
    const Answer done = run(words("edit @else.obj --mend all --out @else.dsmesh"));
    QVERIFY2(done.code == 0, done.err.c_str());
    QVERIFY2(codes("else.dsmesh").empty(), done.out.c_str());
    QCOMPARE(Json::parse(run(words("path @else.dsmesh --from 0.3,0,1 --to 7.7,0,1 --json")).out)["status"], "complete");
    // The same as a project, of which a mesh can be built.
    QCOMPARE(run(words("edit @else.obj --mend inverted-face,open-seam --out @else.dunestep")).code, 0);
    QCOMPARE(run(words("build @else.dunestep -o @built.dsmesh")).code, 0);
    QCOMPARE(Json::parse(run(words("path @built.dsmesh --from 0.3,0,1 --to 7.7,0,1 --json")).out)["status"], "complete");
    QCOMPARE(run(words("explain @else.dunestep --at 1,0,1")).code, 0);
    QCOMPARE(run(words("explain @else.dunestep --at 30,0,1")).code, 1);
    write("mend.json", R"([{"do": "mend"}, {"do": "remove", "faces": [[1, 0, 1]]}])");
    QCOMPARE(run(words("edit @else.obj --script @mend.json --out @less.obj")).code, 0);
    QVERIFY(exists("less.obj"));
    // Without a goal, without anything to do, of what is no mesh.
    QCOMPARE(run(words("edit @else.obj --mend all")).code, 2);
    QCOMPARE(run(words("edit @else.obj --out @x.dsmesh")).code, 2);
    QCOMPARE(run(words("edit @mend.json --mend all --out @x.dsmesh")).code, 3);
    QCOMPARE(run(words("edit @none.obj --mend all --out @x.dsmesh")).code, 3);
    QVERIFY(!exists("x.dsmesh"));
  }

  void helpAndVersion() {
    QCOMPARE(run({"--help"}).code, 0);
    QVERIFY(run({"--version"}).out.find("dune-step-batch") != std::string::npos);
    for (const char* command : {"build", "path", "locate", "explain", "crowd", "inspect", "convert"}) {
      QCOMPARE(run({QString::fromLatin1(command), "--help"}).code, 0);
      QCOMPARE(run({QString::fromLatin1(command)}).code, 2);
      QCOMPARE(run({QString::fromLatin1(command), "--no-such-flag"}).code, 2);
    }
    QCOMPARE(run({}).code, 2);
    const Answer unknown = run({QStringLiteral("biuld")});
    QCOMPARE(unknown.code, 2);
    QVERIFY2(unknown.err.find("\"biuld\"") != std::string::npos && unknown.err.find("build") != std::string::npos, unknown.err.c_str());
  }
  void senselessValuesAreUsage_data() {
    QTest::addColumn<QString>("line");
    for (const char* line :
         {"build @room.obj -o @x.dsmesh --agent-radius -1", "build @room.obj -o @x.dsmesh --agent-radius nan",
          "build @room.obj -o @x.dsmesh --max-slope 95", "build @room.obj -o @x.dsmesh --bounds 1,2,3",
          "build @room.obj -o @x.dsmesh --bounds 5,0,0,1,1,1", "build @room.obj -o @x.dsmesh --seed 1,2",
          "build @room.obj -o @x.dsmesh --up x", "build @room.obj -o @x.dsmesh --scale 0", "build @room.obj -o @x.unknown",
          "build @room.obj -o @x.dsmesh --spacing 0", "path @room.dsmesh --from 1,2 --to 3,4,5", "path @room.dsmesh --from 1,2,3",
          "path @room.dsmesh --from a,b,c --to 1,2,3", "locate @room.dsmesh --at 1,,3",
          "crowd @room.dsmesh --agents @agents.csv --seconds -3 -o @x.csv", "inspect @room.dsmesh --format pdf",
          "convert @room.dsmesh -o @x.xyz"})
      QTest::newRow(line) << QString::fromLatin1(line);
  }
  void senselessValuesAreUsage() {
    QFETCH(QString, line);
    const Answer a = run(line.split(' '));
    QVERIFY2(a.code == 2, (std::to_string(a.code) + " " + a.err).c_str());
    QVERIFY(!a.err.empty());
    QVERIFY(!exists("x.dsmesh"));
  }
  void brokenFilesAreCode3_data() {
    QTest::addColumn<QString>("line");
    for (const char* line :
         {"build @missing.obj -o @y.dsmesh", "build @empty.obj -o @y.dsmesh", "build @garbage.glb -o @y.dsmesh",
          "build @broken.dunestep -o @y.dsmesh", "build @newer.dunestep -o @y.dsmesh", "path @cut.dsmesh --from 1,0,1 --to 2,0,2",
          "path @garbage.glb --from 1,0,1 --to 2,0,2", "path @room.dsmesh --pairs @garbage.csv", "locate @missing.dsmesh --at 1,2,3",
          "crowd @room.dsmesh --agents @garbage.csv --seconds 1 -o @y.csv",
          "crowd @room.dsmesh --agents @negative.csv --seconds 1 -o @y.csv", "inspect @room.dsmesh --trace @garbage.csv",
          "convert @cut.dsmesh -o @y.json", "build @room.obj -o /no/such/folder/y.dsmesh"})
      QTest::newRow(line) << QString::fromLatin1(line);
  }
  void brokenFilesAreCode3() {
    QFETCH(QString, line);
    write("empty.obj", "");
    write("garbage.glb", "this is no level");
    write("garbage.csv", "this is, no table");
    write("negative.csv", "id,x,y,z,goal_x,goal_y,goal_z,radius,speed\n1,1,0,5,9,0,5,-0.4,1.4\n");
    write("broken.dunestep", project::toJson(demo::depotProject()).substr(0, 900));
    write("newer.dunestep", R"({"format": "dune-step project", "version": 7})");
    const std::string mesh = *readFile(path("room.dsmesh").toStdString());
    write("cut.dsmesh", mesh.substr(0, mesh.size() / 2));
    const Answer a = run(line.split(' '));
    QVERIFY2(a.code == 3, (std::to_string(a.code) + " " + a.err).c_str());
    QVERIFY(!exists("y.dsmesh") && !exists("y.json") && !exists("y.csv"));
  }
  void dropsAndJumpsAreFound() {
    write("gap.obj",
          "o near\nv 0 0 0\nv 0 0 6\nv 8 0 6\nv 8 0 0\nf 1 2 3 4\no far\nv 9.5 0 0\nv 9.5 0 6\nv 16 0 6\nv 16 0 0\nf 5 6 7 8\n"
          "o low\nv -8 -2 -8\nv -8 -2 14\nv 20 -2 14\nv 20 -2 -8\nf 9 10 11 12\n");
    QCOMPARE(Json::parse(run(words("build @gap.obj -o @gap.dsmesh --json")).out)["links"].get<int>(), 0);
    QCOMPARE(run(words("path @gap.dsmesh --from 2,0,3 --to 12,0,3")).code, 1);
    QCOMPARE(Json::parse(run(words("build @gap.obj -o @gap.dsmesh --json --max-jump 1.46")).out)["links"].get<int>(), 0);
    QCOMPARE(Json::parse(run(words("build @gap.obj -o @gap.dsmesh --json --max-jump 1.54")).out)["links"].get<int>(), 1);
    const Answer way = run(words("path @gap.dsmesh --from 2,0,5 --to 12,0,2 --json"));
    QCOMPARE(way.code, 0);
    QCOMPARE(Json::parse(way.out)["links"].size(), std::size_t{1});
    QCOMPARE(run(words("build @gap.obj -o @gap.json --max-jump 1.6 --max-drop 2.5 --seed 2,0,3")).code, 0);
    const Json mesh = Json::parse(*readFile(path("gap.json").toStdString()));
    QVERIFY(mesh["links"].size() >= 7);  // the gap, and a drop at every other edge
    for (const Json& l : mesh["links"]) QVERIFY(l["generated"].get<bool>() && l["width"].get<double>() >= 0);
    QCOMPARE(run(words("path @gap.json --from 2,0,3 --to -4,-2,-4")).code, 0);
    QCOMPARE(run(words("path @gap.json --from -4,-2,-4 --to 2,0,3")).code, 1);
    QCOMPARE(run(words("build @gap.obj -o @gap.json --max-jump 1.6 --link-spacing 0")).code, 2);
    // A body alone takes it.
    write("jumper.csv", "id,x,y,z,goal_x,goal_y,goal_z,radius,speed\n1,2,0,3,12,0,3,0.4,1.4\n");
    QCOMPARE(run(words("crowd @gap.dsmesh --agents @jumper.csv --seconds 20 -o @jumper_trace.csv")).code, 0);
    const std::string trace = *readFile(path("jumper_trace.csv").toStdString());
    QVERIFY(trace.find(",link,") != std::string::npos && trace.find(",arrived,") != std::string::npos);
  }
  void rulesGoByName() {
    project::Project p = demo::depotProject();
    project::edit(p.agents, [](project::AgentsSection& s) { project::numberAgents(s); });
    project::edit(p.areas, [&](project::AreasSection& s) {
      project::setRule(s.rules, p.agents->agents[2].id, "paved", nav::KindRule{50, 10, false});
      project::setMayTake(s, p.agents->agents[2].id, nav::LinkKind::climb, false);
    });
    write("ruled.dunestep", project::toJson(p));
    for (const char* ending : {".dsmesh", ".json"}) {
      const QString mesh = QStringLiteral("@ruled") + ending;
      QCOMPARE(run({"build", "@ruled.dunestep", "--agent", "Porter", "-o", mesh}).code, 0);
      const auto cost = [&](const QString& rules) {
        QStringList all{"path", mesh, "--from", "29,0,26", "--to", "29,0,31", "--json"};
        if (!rules.isEmpty()) all << "--rules" << rules;
        return Json::parse(run(all).out)["cost"].get<double>();
      };
      QCOMPARE(cost("Porter"), cost({}));
      QVERIFY2(cost("Hopper") > cost({}) + 1, qPrintable(QString::number(cost("Hopper"))));
      const Answer wrong = run({"path", mesh, "--from", "29,0,26", "--to", "29,0,31", "--rules", "nobody"});
      QCOMPARE(wrong.code, 2);
      QVERIFY(wrong.err.find("'Hopper'") != std::string::npos);
      // Two bodies, two minds, one mesh.
      write("minds.csv", "id,x,y,z,goal_x,goal_y,goal_z,rules\n1,29,0,26,29,0,31,Porter\n2,29,0,26.9,29,0,31,Hopper\n");
      QCOMPARE(run({"crowd", mesh, "--agents", "@minds.csv", "--seconds", "2", "-o", "@minds_trace.csv"}).code, 0);
      write("mindless.csv", "id,x,y,z,goal_x,goal_y,goal_z,rules\n1,29,0,26,29,0,31,nobody\n");
      QCOMPARE(run({"crowd", mesh, "--agents", "@mindless.csv", "--seconds", "2", "-o", "@minds_trace.csv"}).code, 3);
    }
  }
  void waysAreAsNearToTheBestAsAsked() {
    write("dear.dunestep", project::toJson(demo::depotProject()));
    QCOMPARE(run({"build", "@dear.dunestep", "--agent", "Porter", "-o", "@dear.dsmesh"}).code, 0);
    const auto ask = [&](const QString& spacing) {
      return run({"path", "@dear.dsmesh", "--from", "45,0,30", "--to", "58,0,42", "--json", "--bend-spacing", spacing});
    };
    const Json coarse = Json::parse(ask("0.5").out), fine = Json::parse(ask("0.02").out);
    const double best = fine["cost"].get<double>(), stated = fine["optimalityBound"].get<double>();
    QVERIFY2(stated < coarse["optimalityBound"].get<double>() && stated < 1.03, qPrintable(QString::number(stated)));
    QVERIFY(coarse["cost"].get<double>() <= best * coarse["optimalityBound"].get<double>());
    QCOMPARE(ask("0").code, 2);
    QCOMPARE(ask("-1").code, 2);
  }
  void limitsOfMemoryAreKept() {
    // A triangle of 20 km is too much ground for a gigabyte, which is found out before it is taken; bounds make it small.
    write("wide.obj", "o plain\nv 0 0 0\nv 0 0 20000\nv 20000 0 20000\nf 1 2 3\n");
    const Answer refused = run(words("build @wide.obj -o @wide.dsmesh --max-memory 1g"));
    QCOMPARE(refused.code, 5);
    QVERIFY2(refused.err.find("plain") != std::string::npos && refused.err.find("1024 MiB") != std::string::npos, refused.err.c_str());
    QVERIFY(!QFile::exists(path("wide.dsmesh")));
    QCOMPARE(run(words("build @wide.obj -o @wide.dsmesh --max-memory 1g --bounds 0,-1,0,40,3,60")).code, 0);
    QCOMPARE(run(words("build @room.obj -o @x.dsmesh --max-memory 512m")).code, 0);
    QCOMPARE(run(words("build @room.obj -o @x.dsmesh --max-memory much")).code, 2);
  }
  void filesThatEndEarlyAreCode3() {
    write("early.obj", "v 0 0 0\nv 0 0 4\nv 4 0 4\nf 1 2 3\nf 1 2");
    const Answer a = run(words("build @early.obj -o @x2.dsmesh"));
    QCOMPARE(a.code, 3);
    QVERIFY(a.err.find("early.obj, line 5") != std::string::npos && a.err.find("ends early") != std::string::npos);
  }
  void failedBuildLeavesTheOldFile() {
    write("old.dsmesh", "old");
    QCOMPARE(run(words("build @missing.obj -o @old.dsmesh")).code, 3);
    QCOMPARE(*readFile(path("old.dsmesh").toStdString()), std::string("old"));
    QVERIFY(QDir(folder_.path()).entryList({"*.part*"}).isEmpty());
  }
};

QTEST_GUILESS_MAIN(TestBatch)
#include "commands.moc"
