// Programs with limits, and what comes back from the reading process: whatever happens there is an answer here.

#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <thread>

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/level/import.h"
#include "core/level/wire.h"
#include "core/system/process.h"
#include "core/system/threads.h"
#include "demo/depot.h"
#include "tests/core/scenes.h"

using namespace dune;

class TestProcess : public QObject {
  Q_OBJECT

  static Result<ProcessEnd> shell(const std::string& script, const ProcessLimits& limits = {}) {
    ThreadedJob job;
    return runProcess({"/bin/sh", "-c", script}, limits, job);
  }

  /// Gentle hills of two triangles a square metre.
  static level::World grid(std::uint32_t side) {
    level::Object o;
    o.name = "hills";
    for (std::uint32_t z = 0; z <= side; ++z)
      for (std::uint32_t x = 0; x <= side; ++x) o.vertices.edit().push_back({x, std::sin(x / 7.0) * std::cos(z / 5.0), z});
    for (std::uint32_t z = 0; z < side; ++z)
      for (std::uint32_t x = 0; x < side; ++x) {
        const std::uint32_t i = z * (side + 1) + x;
        o.triangles.edit().push_back({i, i + side + 1, i + side + 2}), o.triangles.edit().push_back({i, i + side + 2, i + 1});
      }
    auto level = std::make_shared<level::Level>();
    level->objects.push_back(std::move(o));
    return level::plainWorld(level);
  }

 private slots:
  void outputAndExitCodeComeBack() {
    const auto end = shell("printf hello; exit 3");
    QVERIFY(end.ok());
    QCOMPARE(end->output, std::string("hello"));
    QVERIFY(end->how == ProcessEnd::How::exited && end->number == 3);
  }
  void crashesAreTold() {
    const auto end = shell("kill -SEGV $$");
    QVERIFY(end->how == ProcessEnd::How::killedBySignal);
    QCOMPARE(end->number, SIGSEGV);
  }
  void endlessProgramsAreKilled() { QVERIFY(shell("while :; do :; done", {0.3, 1000})->how == ProcessEnd::How::tookTooLong); }
  void endlessOutputIsCutOff() {
    QVERIFY(shell("while :; do echo aaaaaaaaaaaaaaaa; done", {60, 100'000})->how == ProcessEnd::How::saidTooMuch);
  }
  void progressGoesBesideTheOutput() {
    std::vector<double> heard;
    ThreadedJob job;
    // Each answer is waited for, so that nothing is lost between two.
    const auto end = runProcess(
        {"/bin/sh", "-c", "printf '\\000' >&3; printf a; printf '\\100\\200' >&3; printf b; printf '\\377' >&3; exec 3>&-; printf c"}, {},
        job, [&](double fraction) { heard.push_back(fraction); });
    QVERIFY(end.ok());
    QCOMPARE(end->output, std::string("abc"));
    QVERIFY(!heard.empty() && std::ranges::is_sorted(heard));
    QCOMPARE(heard.back(), 1.0);
  }
  void readingSaysHowFarItIs() {
    const QTemporaryDir folder;
    for (const char* name : {"hills.obj", "hills.stl"}) {
      const level::World hills = grid(150);
      std::string content;
      const level::Object& o = hills.level->objects[0];
      if (std::string_view(name).ends_with(".obj")) {
        for (const Vec3& v : o.vertices) content += text("v %f %f %f\n", v.x, v.y, v.z);
        for (const auto& t : o.triangles) content += text("f %u %u %u\n", t[0] + 1, t[1] + 1, t[2] + 1);
      } else {
        content = "solid s\n";
        for (const auto& t : o.triangles) {
          content += "facet normal 0 1 0\nouter loop\n";
          for (const std::uint32_t v : t) content += text("vertex %f %f %f\n", o.vertices[v].x, o.vertices[v].y, o.vertices[v].z);
          content += "endloop\nendfacet\n";
        }
        content += "endsolid s\n";
      }
      const std::string path = folder.filePath(QString::fromLatin1(name)).toStdString();
      QVERIFY(writeFile(path, content).ok());
      std::vector<double> heard;
      ThreadedJob job({}, [&](const std::string&, double fraction) { heard.push_back(fraction); });
      job.step("reading", 1);
      const auto level = level::importLevel(path, {}, job, 0.25, 0.75);
      QVERIFY2(level.ok(), level ? "" : level.problem().text().c_str());
      QCOMPARE((*level)->triangleCount(), std::size_t{45000});
      QVERIFY(std::ranges::is_sorted(heard));
      QVERIFY(std::ranges::count_if(heard, [](double f) { return f > 0.25 && f < 0.75; }) > 0);
      QVERIFY(heard.back() <= 0.75);
    }
  }
  void missingProgramsAreProblems() {
    ThreadedJob job;
    QVERIFY(!runProcess({"/no/such/program"}, {}, job));
  }
  void cancelKillsTheProgram() {
    std::stop_source stop;
    ThreadedJob job(stop.get_token());
    std::jthread later([&] { std::this_thread::sleep_for(std::chrono::milliseconds(50)), stop.request_stop(); });
    const auto end = runProcess({"/bin/sh", "-c", "sleep 1000"}, {}, job);
    QVERIFY(!end && end.problem().code == ProblemCode::cancelled);
  }
  void levelsGoThroughTheWireUnchanged() {
    const level::World world = test::Scene().floor(0, 0, 3, 4).box({1, 0, 1}, {2, 2, 2}).world();
    level::Level sent = *world.level;
    sent.objects[1].counts = level::Role::obstacle;
    sent.besides = {"set.tsx", ""};
    const auto back = level::fromWire(level::toWire(sent));
    QVERIFY(back && back->ok());
    QVERIFY((*back)->besides == sent.besides);
    QVERIFY((*back)->objects[0].counts == level::Role::ground && (*back)->objects[1].counts == level::Role::obstacle);
    QCOMPARE((*back)->objects.size(), world.level->objects.size());
    for (std::size_t i = 0; i < world.level->objects.size(); ++i) {
      QCOMPARE((*back)->objects[i].name, world.level->objects[i].name);
      QVERIFY((*back)->objects[i].vertices == world.level->objects[i].vertices &&
              (*back)->objects[i].triangles == world.level->objects[i].triangles);
    }
    const auto problem = level::fromWire(level::toWire(Problem{ProblemCode::damaged, "what", "where", "advice"}));
    QVERIFY(problem && !problem->ok());
    QCOMPARE(problem->problem().text(), Problem({ProblemCode::damaged, "what", "where", "advice"}).text());
  }
  void cutOrChangedWireIsNoLevel() {
    const level::World world = test::Scene().floor(0, 0, 3, 4).world();
    const std::string whole = level::toWire(*world.level);
    for (std::size_t n = 0; n < whole.size(); ++n) QVERIFY(!level::fromWire(whole.substr(0, n)));
    for (std::uint64_t seed = 0; seed < 500; ++seed) {
      test::Random random(seed);
      std::string broken = whole;
      broken[static_cast<std::size_t>(random.upTo(static_cast<int>(broken.size())))] = static_cast<char>(random.upTo(256));
      const auto level = level::fromWire(broken);
      if (!level || !level->ok()) continue;
      for (const level::Object& o : (*level)->objects)
        for (const auto& t : o.triangles)
          for (const std::uint32_t v : t) QVERIFY(v < o.vertices.size());
    }
  }
  void filesThatEndEarlySaySo_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QByteArray>("content");
    const std::string glb = demo::depotLevel().bytes();
    for (const std::size_t part : {10u, 30u, 60u, 90u, 99u})
      QTest::addRow("glb cut at %d %%", static_cast<int>(part))
          << "cut.glb" << QByteArray(glb.data(), static_cast<qsizetype>(glb.size() * part / 100));
    QTest::newRow("obj cut in a face") << "face.obj" << QByteArray("v 0 0 0\nv 0 0 4\nv 4 0 4\nf 1 2 3\nf 1 2");
    QTest::newRow("obj cut in a vertex") << "vertex.obj" << QByteArray("v 0 0 0\nv 0 0 4\nv 4 0 4\nf 1 2 3\nv 1 2");
    QTest::newRow("obj cut in a number") << "number.obj" << QByteArray("v 0 0 0\nv 0 0 4\nv 4 0 4\nf 1 2 3\nv 1 2 3.");
    QTest::newRow("gltf with a short buffer")
        << "short.gltf" << QByteArray(R"({"asset": {"version": "2.0"}, "buffers": [{"uri": "short.bin", "byteLength": 1000}]})");
  }
  void filesThatEndEarlySaySo() {
    QFETCH(QString, name);
    QFETCH(QByteArray, content);
    const QTemporaryDir folder;
    const std::string path = folder.filePath(name).toStdString();
    QVERIFY(writeFile(path, content.toStdString()).ok());
    QVERIFY(writeFile(folder.filePath("short.bin").toStdString(), "only this").ok());
    ThreadedJob job;
    const auto level = level::importLevel(path, {}, job);
    QVERIFY(!level);
    QCOMPARE(level.problem().code, ProblemCode::damaged);
    QVERIFY2(level.problem().what.find("ends early") != std::string::npos, level.problem().text().c_str());
  }
  void cornersThatAreNotThereAreNamed() {
    const QTemporaryDir folder;
    const std::string path = folder.filePath("a.obj").toStdString();
    QVERIFY(writeFile(path, "v 0 0 0\nv 0 0 4\nv 4 0 4\nf 1 2 9\n").ok());
    ThreadedJob job;
    const auto level = level::importLevel(path, {}, job);
    QVERIFY(!level && level.problem().where.find("line 4") != std::string::npos);
  }
  void commentsAndLinesThatGoOnAreFine() {
    const QTemporaryDir folder;
    const std::string path = folder.filePath("a.obj").toStdString();
    QVERIFY(writeFile(path, "v 0 0 0 # corner\nv 0 0 4\nv 4 0 4\nv 4 0 0\nf 1 2 3\n# half\nf 1 3 \\\n4\n# end").ok());
    ThreadedJob job;
    const auto level = level::importLevel(path, {}, job);
    QVERIFY2(level.ok(), level ? "" : level.problem().text().c_str());
    QCOMPARE((*level)->triangleCount(), std::size_t{2});
  }
  void programsThatGoOnWithoutOutputAreKilled() {
    QVERIFY(shell("exec >&-; while :; do :; done", {0.3, 1000})->how == ProcessEnd::How::tookTooLong);
  }
  void readingIsCancelled() {
    const QTemporaryDir folder;
    const std::string path = folder.filePath("a.glb").toStdString();
    QVERIFY(writeFile(path, demo::depotLevel().bytes()).ok());
    ThreadedJob job;
    job.cancelAtCheck(1);
    const auto level = level::importLevel(path, {}, job);
    QVERIFY(!level && level.problem().code == ProblemCode::cancelled);
  }
  void memoryThatIsNotAllowedIsSaid() {
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    QSKIP("sanitizers reserve more addresses than any limit");
#endif
    const QTemporaryDir folder;
    const std::string path = folder.filePath("a.glb").toStdString();
    QVERIFY(writeFile(path, demo::depotLevel().bytes()).ok());
    ThreadedJob job;
    job.setMemoryLimit(std::size_t{12} << 20);
    const auto level = level::importLevel(path, {}, job);
    QVERIFY(!level);
    QCOMPARE(level.problem().code, ProblemCode::overLimit);
    QVERIFY(level.problem().where.find("a.glb") != std::string::npos);
  }
};

QTEST_APPLESS_MAIN(TestProcess)
#include "process.moc"
