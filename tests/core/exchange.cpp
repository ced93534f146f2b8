// Mesh files and tables: there and back without loss, every cut and changed byte a Problem and never a crash.

#include <QTemporaryDir>
#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/exchange/csv.h"
#include "core/links/attach.h"
#include "core/meshes/mesh_files.h"
#include "core/nav/structure.h"
#include "core/trace/csv.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

class TestExchange : public QObject {
  Q_OBJECT

  static meshes::Content sample() {
    level::World world = Scene().floor(0, 0, 8, 8).floor(11, 0, 19, 8, 0.25, "far").box({2, -1, 2}, {3, 2, 3}).world();
    world.kinds.push_back({"mud \"deep\"", "#333333", 3.5, 2, false});
    world.volumes.push_back({1, "mud \"deep\"", {{5, -6}, {7, -6}, {6, -3}}, -1, 1});
    const auto made = built(world);
    nav::NavMesh m = made->mesh;
    m.agent.maxJump = 3, m.agent.passWithin = 0.2, m.agent.originHeight = 0.9, m.agent.tilts = true;
    m.links = links::attach(m, nav::Locator(m), {{3, nav::LinkKind::jump, {7.6, 0, 4}, {11.4, 0.25, 4}, true, 2}}).links;
    return {m, made->rules()};
  }

 private slots:
  void jsonAndBinaryLoseNothing() {
    const meshes::Content m = sample();
    const std::string binary = meshfile::toBytes(m), json = meshes::meshToJson(m);
    const auto fromBinary = meshfile::fromBytes(binary);
    const auto fromJson = meshes::meshFromJson(json);
    QVERIFY(fromBinary.ok() && fromJson.ok());
    QCOMPARE(meshes::meshToJson(*fromBinary), json);
    QCOMPARE(meshfile::toBytes(*fromJson), binary);
  }
  void jsonHasTheShapeOfTheContract() {
    const auto j = nlohmann::json::parse(meshes::meshToJson(sample()));
    QCOMPARE(j["format"].get<std::string>(), std::string("dune-step navmesh"));
    QCOMPARE(j["version"].get<int>(), 1);
    for (const char* key : {"name", "radius", "height", "stepHeight", "maxSlope", "maxDrop", "maxJump"}) QVERIFY(j["agent"].contains(key));
    for (const char* key : {"id", "name", "cost", "entryCost", "colour"}) QVERIFY(j["areas"][0].contains(key));
    for (const char* key : {"v", "n", "area", "island"}) QVERIFY(j["faces"][0].contains(key));
    for (const char* key : {"id", "kind", "from", "to", "fromFace", "toFace", "oneWay", "area", "radius"})
      QVERIFY(j["links"][0].contains(key));
  }
  void everythingAboutTheAgentGoesOut() {
    const meshes::Content m = sample();
    QVERIFY(meshfile::fromBytes(meshfile::toBytes(m))->mesh.agent == m.mesh.agent);
    QVERIFY(meshes::meshFromJson(meshes::meshToJson(m))->mesh.agent == m.mesh.agent);
  }
  void tracesHaveThePlacesOfTheOrigin() {
    trace::Trace trace;
    trace::Writer writer(trace, {{1, 0.4, Vec3{9, 8, 7}, 2, 0.75}});
    QVERIFY(writer.begin().ok());
    QVERIFY(writer.frame(0, std::vector<trace::Sample>{{0, 1, {1, 2, 3}}}).ok());
    QVERIFY(writer.frame(0.5, std::vector<trace::Sample>{{0.5, 1, {2, 2.5, 3}}}).ok());
    QVERIFY(writer.end().ok());
    const std::string text = trace::toCsv(trace);
    QVERIFY(text.find("\n0.00000,1,1.00000,2.75000,3.00000,") != std::string::npos);
    const auto back = trace::fromCsv(text, 0.75), asItStands = trace::fromCsv(text);
    QCOMPARE(back->at(1, 0).at, Vec3(2, 2.5, 3));
    QCOMPARE(asItStands->at(1, 0).at, Vec3(2, 3.25, 3));
  }
  void cutBinaryFilesAreDamaged() {
    const std::string bytes = meshfile::toBytes(sample());
    for (std::size_t n = 0; n < bytes.size(); ++n) QVERIFY(!meshfile::fromBytes(bytes.substr(0, n)));
  }
  void everyChangedByteIsNoticed() {
    const std::string bytes = meshfile::toBytes(sample());
    for (std::size_t n = 0; n < bytes.size(); n += 3) {
      std::string broken = bytes;
      broken[n] = static_cast<char>(broken[n] ^ 0x41);
      if (n >= 12 && n < 16) continue;  // four bytes that mean nothing yet
      QVERIFY2(!meshfile::fromBytes(broken), qPrintable(QString::number(n)));
    }
  }
  void cutAndChangedJsonNeverCrashes() {
    const std::string text = meshes::meshToJson(sample());
    for (std::size_t n = 0; n + 3 < text.size(); n += 11) QVERIFY(!meshes::meshFromJson(text.substr(0, n)));
    for (std::uint64_t seed = 0; seed < 300; ++seed) {
      test::Random random(seed);
      std::string broken = text;
      for (int i = 0; i < 2; ++i)
        broken[static_cast<std::size_t>(random.upTo(static_cast<int>(broken.size())))] = "0123456789-,[]{}\"x"[random.upTo(18)];
      const auto m = meshes::meshFromJson(broken);
      if (m) QVERIFY(nav::checkStructure(m->mesh).empty());
    }
  }
  void contradictionsInAWholeFileAreFound() {
    const QTemporaryDir folder;
    const std::string path = folder.filePath("m.json").toStdString();
    meshes::Content m = sample();
    m.mesh.across[0] = nav::FaceId{0};  // a face is never its own neighbour
    QVERIFY(writeFile(path, meshes::meshToJson(m)).ok());
    const auto read = meshes::readMesh(path);
    QVERIFY(!read && read.problem().code == ProblemCode::damaged);
  }
  void unknownEndingIsUsage() { QVERIFY(meshes::writeMesh("x.xyz", sample()).problem().code == ProblemCode::usage); }
  void objAndGlbHaveAllFaces() {
    const meshes::Content m = sample();
    const std::string obj = meshes::meshToObj(m.mesh);
    QCOMPARE(static_cast<std::size_t>(QByteArray::fromStdString(obj).count("\nf ")), m.mesh.faceCount());
    QVERIFY(meshes::meshToGlb(m.mesh).starts_with("glTF"));
  }
  void pairsAndTheirMistakes() {
    const auto pairs = exchange::pairsFromCsv("1,2,3,4,5,6\n\n-1,0,1e2,0,0,.5\r\n");
    QVERIFY(pairs.ok());
    QCOMPARE(pairs->size(), std::size_t{2});
    QCOMPARE((*pairs)[1].from.z, 100.0);
    const auto bad = exchange::pairsFromCsv("1,2,3,4,5,6\n1,2,x,4,5,6\n");
    QVERIFY(!bad && bad.problem().where == "line 2");
    QVERIFY(!exchange::pairsFromCsv("1,2,3\n"));
    QVERIFY(!exchange::pairsFromCsv("1,2,3,4,5,nan\n"));
  }
  void walkersTakeWhatIsThere() {
    const std::vector<exchange::CrowdKind> kinds{{"Porter", {}, 0.9}, {"Sledge", {.radius = 0.8}, 0}};
    const auto w = exchange::crowdFromCsv("id,x,y,z,goal_x,goal_y,goal_z,radius,speed,start_time\n7,1,0.9,2,3,0.9,4,0.3,2,1.5\n", kinds);
    QVERIFY(w.ok());
    QCOMPARE(w->walkers[0].id, 7);
    QCOMPARE(w->walkers[0].radius, 0.3);
    QCOMPARE(w->walkers[0].startTime, 1.5);
    QVERIFY(std::abs(w->walkers[0].start.y) < 1e-12);
    QVERIFY(!exchange::crowdFromCsv("id,x\n1,2\n", kinds));
    QVERIFY(!exchange::crowdFromCsv("", kinds));
    const auto more = exchange::crowdFromCsv(
        "id,x,y,z,goal_x,goal_y,goal_z,kind,model,goal_agent,priority\n1,0,0,0,1,0,0,Sledge,feelers,,3\n2,0,0,0,1,0,0,,,1,0\n", kinds);
    QVERIFY(more.ok());
    QCOMPARE(more->walkers[0].mesh, std::size_t{1});
    QCOMPARE(more->walkers[0].radius, 0.8);
    QCOMPARE(more->walkers[0].priority, 3);
    QVERIFY(more->steerings[more->walkers[0].steering].model == crowd::Steering::feelers && !more->walkers[0].chase);
    QVERIFY(more->steerings[more->walkers[1].steering].model == crowd::Steering::reciprocal && more->walkers[1].chase->agent == 1);
    const auto unknown = exchange::crowdFromCsv("id,x,y,z,goal_x,goal_y,goal_z,kind\n1,0,0,0,1,0,0,Cart\n", kinds);
    QVERIFY(!unknown && unknown.problem().where == "line 2");
    QVERIFY(!exchange::crowdFromCsv("id,x,y,z,goal_x,goal_y,goal_z,model\n1,0,0,0,1,0,0,magic\n", kinds));
  }
  void tracesComeBack() {
    const auto t = trace::fromCsv("t,id,x,y,z\n0,1,0,0,0\n0,2,5,0,0\n0.1,1,0.1,0,0\n0.1,2,5,0,0.2\n");
    QVERIFY(t.ok());
    QCOMPARE(t->frameCount(), std::size_t{2});
    QVERIFY(std::abs(t->at(1, 1).velocity.z - 2) < 1e-9);  // derived
    const std::string text = trace::toCsv(*t);
    QCOMPARE(trace::toCsv(*trace::fromCsv(text)), text);
    QVERIFY(!trace::fromCsv("t,id,x,y,z\n0,1,0,0,0\n0,1,0,0,0\n"));
  }
};

QTEST_APPLESS_MAIN(TestExchange)
#include "exchange.moc"
