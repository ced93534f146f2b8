// The real executable with bodies that fly: free space built, asked, flown through and inspected.

#include <nlohmann/json.hpp>

#include "core/base/plan_geometry.h"
#include "core/project/file.h"
#include "core/trace/file.h"
#include "demo/depot.h"
#include "tests/batch/runner.h"

using namespace dune;
using Json = nlohmann::json;

class TestBatchFlight : public BatchTest {
  Q_OBJECT

  static Json jsonOf(const Answer& answer) { return Json::parse(answer.out); }

 private slots:
  void initTestCase() {
    // A floor of 10 × 10 m with a wall across it that has an opening of 1 × 1 m, 1 to 2 m up.
    std::string obj;
    int n = 0;
    const auto box = [&](const char* name, double x0, double y0, double z0, double x1, double y1, double z1) {
      obj += std::string("o ") + name + "\n";
      for (int i = 0; i < 8; ++i)
        obj +=
            "v " + std::to_string(i & 1 ? x1 : x0) + " " + std::to_string(i & 2 ? y1 : y0) + " " + std::to_string(i & 4 ? z1 : z0) + "\n";
      for (const auto& f : {std::array{1, 3, 4, 2}, std::array{5, 6, 8, 7}, std::array{1, 2, 6, 5}, std::array{3, 7, 8, 4},
                            std::array{1, 5, 7, 3}, std::array{2, 4, 8, 6}}) {
        obj += "f";
        for (const int c : f) obj += " " + std::to_string(n + c);
        obj += "\n";
      }
      n += 8;
    };
    box("floor", 0, -0.2, 0, 10, 0, 10);
    box("wall_low", 4.9, 0, 0, 5.1, 1, 10), box("wall_high", 4.9, 2, 0, 5.1, 5, 10);
    box("wall_left", 4.9, 1, 0, 5.1, 2, 4.5), box("wall_right", 4.9, 1, 5.5, 5.1, 2, 10);
    write("wall.obj", obj);
    write("saltwind-depot.glb", demo::depotLevel().bytes());
    write("depot.dunestep", project::toJson(demo::depotProject()));
    const Answer a = run("build @wall.obj --fly --body-radius 0.45 --half-height 0.45 --volume 0,0,0,10,5,10 -o @wall.dsfly --json");
    QVERIFY2(a.code == 0, a.err.c_str());
    QCOMPARE(jsonOf(a)["parts"].get<int>(), 1);
    QCOMPARE(jsonOf(a)["triangles"].get<int>(), 60);
  }

  void pathsLeadThroughTheOpening() {
    const Answer a = run("path @wall.dsfly --from 2,1.5,2 --to 8,1.5,2 --json");
    QVERIFY2(a.code == 0, a.err.c_str());
    const Json j = jsonOf(a);
    QCOMPARE(j["status"], "complete");
    QVERIFY(j["length"].get<double>() > 8 && j["length"].get<double>() < 9);
    QCOMPARE(run("build @wall.obj --fly --body-radius 0.52 --volume 0,0,0,10,5,10 -o @wide.dsfly").code, 0);
    // Through the opening it costs more to come in, or is forbidden.
    QCOMPARE(
        run("build @wall.obj --fly --body-radius 0.45 --half-height 0.45 --volume 0,0,0,10,5,10 --air 4,-1,-1,6,9,11=3:2 -o @dear.dsfly")
            .code,
        0);
    const Json dear = jsonOf(run("path @dear.dsfly --from 2,1.5,2 --to 8,1.5,2 --json"));
    QVERIFY(dear["status"] == "complete" && std::abs(dear["cost"].get<double>() - dear["length"].get<double>() - 2 * 2 - 2) < 0.5);
    QCOMPARE(run("build @wall.obj --fly --volume 0,0,0,10,5,10 --air 4,-1,-1,6,9,11=forbidden -o @none.dsfly").code, 0);
    QCOMPARE(jsonOf(run("path @none.dsfly --from 2,1.5,2 --to 8,1.5,2 --json"))["status"], "partial");
    // Of what overlaps the last one counts.
    QCOMPARE(run("build @wall.obj --fly --body-radius 0.45 --half-height 0.45 --volume 0,0,0,10,5,10 --air 4,-1,-1,6,9,11=forbidden "
                 "--air 3,-1,-1,7,9,11=2 -o @again.dsfly")
                 .code,
             0);
    const Json again = jsonOf(run("path @again.dsfly --from 2,1.5,2 --to 8,1.5,2 --json"));
    QVERIFY(again["status"] == "complete" && again["cost"].get<double>() > again["length"].get<double>() + 3.9);
    const Answer none = run("path @wide.dsfly --from 2,1.5,2 --to 8,1.5,2 --json");
    QCOMPARE(none.code, 1);
    QCOMPARE(jsonOf(none)["status"], "partial");
    QVERIFY(!jsonOf(none)["note"].get<std::string>().empty());
    write("pairs.csv", "2,1.5,2,8,1.5,2\n8,3,8,1,1,9\n");
    const Answer pairs = run("path @wall.dsfly --pairs @pairs.csv");
    QCOMPARE(pairs.code, 0);
    QVERIFY2(pairs.out.starts_with("complete 8.") && std::ranges::count(pairs.out, '\n') == 2, pairs.out.c_str());
  }

  void placesAreExplained() {
    QCOMPARE(run("explain @wall.dsfly --at 2,1.5,2").code, 0);
    const Answer a = run("explain @wall.dsfly --at 4.8,3,2 --json");
    QCOMPARE(a.code, 1);
    QCOMPARE(jsonOf(a)["reason"], "touches");
    QCOMPARE(jsonOf(a)["object"], "wall_high");
    QVERIFY(std::abs(jsonOf(a)["missing"].get<double>() - 0.35) < 1e-6);
    QCOMPARE(jsonOf(run("explain @wall.dsfly --at 2,9,2 --json"))["reason"], "outside");
  }

  void crowdsFlyAndAreInspected() {
    write("agents.csv", "id,x,y,z,goal_x,goal_y,goal_z\n1,2,1.5,2,8,1.5,2\n2,8,3,8,2,3,8\n3,2,3,5,8,2,5\n");
    const Answer a = run("crowd @wall.dsfly --agents @agents.csv --seconds 20 -o @flown.csv --json");
    QVERIFY2(a.code == 0, a.err.c_str());
    QCOMPARE(jsonOf(a)["arrived"].get<int>(), 3);
    const Answer good = run("inspect @wall.dsfly --trace @flown.csv --json");
    QVERIFY2(good.code == 0, good.out.c_str());
    write("bad.csv", "t,id,x,y,z\n0,1,2,1.5,2\n0.5,1,4,1.5,2\n1,1,6,1.5,2\n1.5,1,8,1.5,2\n");
    const Answer bad = run("inspect @wall.dsfly --trace @bad.csv --json");
    QCOMPARE(bad.code, 1);
    QVERIFY(bad.out.find("through-wall") != std::string::npos && bad.out.find("wall_left") != std::string::npos);
  }

  void whoFliesMakesWayForRecordedPeople() {
    // One person stands in the straight way, and walks on later.
    write("person.csv", "t,id,x,y,z,radius\n0,1,3.5,0,3.5,0.5\n8,1,3.5,0,3.5,0.5\n9,1,3.5,0,9,0.5\n");
    write("one.csv", "id,x,y,z,goal_x,goal_y,goal_z\n1,2,1,2,8,1,2\n");
    const auto nearest = [&](const char* extra) {
      const Answer a = run(words("crowd @wall.dsfly --agents @one.csv --seconds 20 -o @among.csv --json") + words(extra));
      if (a.code != 0 || jsonOf(a)["arrived"] != 1) return -1.0;
      Job job;
      const auto trace = trace::readTrace(path("among.csv").toStdString(), 0, job);
      double least = INFINITY;
      for (std::size_t f = 0; trace && f < trace->frameCount() && trace->timeOf(f) < 8; ++f)
        least = std::min(least, glm::distance(plan(trace->at(f, 0).at), plan({3.5, 0, 3.5})));
      return least;
    };
    const double alone = nearest(""), among = nearest(" --among @person.csv");
    QVERIFY2(alone >= 0 && alone < 0.5, qPrintable(QString::number(alone)));
    QVERIFY2(among > 0.9, qPrintable(QString::number(among)));
    QCOMPARE(run("crowd @depot.dunestep --among @person.csv -o @x.csv").code, 2);
    QCOMPARE(run("crowd @wall.dsfly --agents @one.csv --among @nowhere.csv -o @x.csv").code, 3);
  }

  void projectsAreBuiltAndFlown() {
    const Answer a = run("build @depot.dunestep --fly --flyer Glider -o @depot.dsfly --json");
    QVERIFY2(a.code == 0, a.err.c_str());
    QCOMPARE(run("path @depot.dsfly --from 46.3,1.3,16 --to 46.3,1.3,7.6").code, 0);
    const Answer crowd = run("crowd @depot.dunestep --fly --seconds 10 -o @patrol.dstrace --json");
    QVERIFY2(crowd.code == 0, crowd.err.c_str());
    QCOMPARE(jsonOf(crowd)["agents"].get<int>(), 3);
    // Only the store, whose door is too narrow for it.
    const Answer found = run("inspect @depot.dsfly --trace @patrol.dstrace");
    QVERIFY2(found.out.find("air-cut-off at 10.") != std::string::npos && found.out.find("1 findings") != std::string::npos,
             found.out.c_str());
  }

  void theWidestBodyIsSaid() {
    const Answer a = run("fits @wall.dsfly --from 2,1.5,2 --to 8,1.5,2 --json");
    QVERIFY2(a.code == 0, a.err.c_str());
    const double radius = jsonOf(a)["radius"].get<double>();
    QVERIFY2(radius > 0.49 && radius <= 0.5, a.out.c_str());
    QVERIFY(std::abs(jsonOf(a)["at"][0].get<double>() - 5) < 0.6 && jsonOf(a)["object"].get<std::string>().starts_with("wall_"));
  }

  void mistakesAreSaid() {
    QCOMPARE(run("build @wall.obj --fly -o @wall.dsmesh").code, 2);
    QCOMPARE(run("build @wall.obj --fly --body-radius -1 -o @x.dsfly").code, 2);
    QCOMPARE(run("build @wall.obj --fly --least-height 5 --greatest-height 4 -o @x.dsfly").code, 2);
    for (const char* air :
         {"0,0,0,1,1,1", "0,0,0,1,1,1=0", "0,0,0,1,1,1=2:-1", "0,0,0,1,1=2", "0,0,0,1,1,1=dear", "-9,-9,-9,99,99,99=forbidden"})
      QCOMPARE(run(words("build @wall.obj --fly --volume 0,0,0,10,5,10 -o @x.dsfly --air") + words(air)).code, 2);
    QCOMPARE(run("build @wall.obj --fly --volume 0,0,0,0,5,10 -o @x.dsfly").code, 2);
    QCOMPARE(run("build @depot.dunestep --fly --flyer Nobody -o @x.dsfly").code, 2);
    QCOMPARE(run("path @wall.dsfly --from 2,1.5,2 --to 8,1.5,2 --via 3,3,3").code, 2);
    QCOMPARE(run("path @wall.dsfly --from 2,1.5,2 --to 8,1.5,2 --bend-spacing 0.05").code, 2);
    QCOMPARE(run("crowd @wall.dsfly --seconds 5 -o @x.csv").code, 2);
    // What would do nothing is refused.
    QCOMPARE(run("build @wall.obj --fly --agent-radius 0.4 -o @x.dsfly").code, 2);
    QCOMPARE(run("build @wall.obj --fly --box 0,0,5,5 -o @x.dsfly").code, 2);
    QCOMPARE(run("build @wall.obj --body-radius 0.4 -o @x.dsmesh").code, 2);
    QCOMPARE(run("path @wall.dsfly --from 2,1.5,2 --to 8,1.5,2 --faces").code, 2);
    QCOMPARE(run("crowd @depot.dunestep --fly --steering feelers -o @x.csv").code, 2);
    QCOMPARE(run("build @depot.dunestep --fly --max-memory 1m -o @x.dsfly").code, 5);
    QVERIFY(!exists("x.dsfly") && !exists("x.csv"));
    std::string bytes = *readFile(path("wall.dsfly").toStdString());
    bytes.resize(bytes.size() / 2);
    write("cut.dsfly", bytes);
    QCOMPARE(run("path @cut.dsfly --from 2,1.5,2 --to 8,1.5,2").code, 3);
    QCOMPARE(run("inspect @cut.dsfly").code, 3);
  }
};

QTEST_GUILESS_MAIN(TestBatchFlight)
#include "flight.moc"
