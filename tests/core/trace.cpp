// Recorded movement: there and back in every form, goals and radii with it, damage found, small, and never all of it in memory.

#include <QTemporaryDir>
#include <QtTest>
#include <set>

#include "core/trace/csv.h"
#include "core/trace/file.h"
#include "core/trace/table_head.h"
#include "tests/core/scenes.h"
#include "tests/core/traces.h"

using namespace dune;
using test::samplesOf;
using trace::Trace;

class TestTrace : public QObject {
  Q_OBJECT

  Job reading_;

  QTemporaryDir folder_;
  std::string path(const char* name) const { return folder_.filePath(QString::fromLatin1(name)).toStdString(); }

  static Trace made(std::size_t bodies, std::size_t times, std::uint64_t seed = 1, double originHeight = 0) {
    test::Random random(seed);
    std::vector<trace::Body> who;
    for (std::size_t b = 0; b < bodies; ++b)
      who.push_back({static_cast<int>(b) * 3 - 4, b % 2 ? 0.35 : 0.0,
                     b % 3 ? std::optional<Vec3>({1.5, 0.25, static_cast<double>(b)}) : std::nullopt, static_cast<int>(b % 4),
                     originHeight});
    Trace trace;
    trace::Writer writer(trace, who);
    (void)writer.begin();
    for (std::size_t f = 0; f < times; ++f) {
      std::vector<trace::Sample> samples(bodies);
      for (trace::Sample& s : samples)
        s = {0,
             0,
             {random.in(-90, 90), random.in(0, 9), random.in(-90, 90)},
             {random.in(-2, 2), 0, random.in(-2, 2)},
             {random.in(-2, 2), 0, 0},
             static_cast<trace::State>(random.upTo(6)),
             nav::FaceId{static_cast<std::uint32_t>(random.upTo(1000))}};
      (void)writer.frame(0.1 * static_cast<double>(f), samples);
    }
    (void)writer.end();
    return trace;
  }
  static bool same(const Trace& a, const Trace& b, double places, bool faces) {
    if (a.bodies().size() != b.bodies().size() || a.frameCount() != b.frameCount()) return false;
    for (std::size_t i = 0; i < a.bodies().size(); ++i) {
      const trace::Body &x = a.bodies()[i], &y = b.bodies()[i];
      if (x.id != y.id || std::abs(x.radius - y.radius) > 1e-5 || x.goal.has_value() != y.goal.has_value() || x.group != y.group)
        return false;
      if (x.goal && glm::distance(*x.goal, *y.goal) > 1e-5) return false;
    }
    const auto s = samplesOf(a), t = samplesOf(b);
    for (std::size_t i = 0; i < s.size(); ++i)
      if (std::abs(s[i].t - t[i].t) > 1e-5 || glm::distance(s[i].at, t[i].at) > places || s[i].state != t[i].state ||
          glm::distance(s[i].velocity, t[i].velocity) > 2e-3 || glm::distance(s[i].wanted, t[i].wanted) > 2e-3 ||
          (faces && s[i].face != t[i].face))
        return false;
    return true;
  }
  static bool write(const Trace& trace, trace::Sink& sink) {
    if (!sink.begin(trace.bodies())) return false;
    for (const auto& block : trace.blocks())
      if (!sink.add(block)) return false;
    return sink.end().ok();
  }

 private slots:
  void everyFormKeepsAllOfIt() {
    const Trace trace = made(7, 40, 1, 0.75);
    for (const char* name : {"t.dstrace", "t.csv"}) {
      auto sink = trace::createTrace(path(name));
      QVERIFY(sink.ok() && write(trace, **sink));
      const auto back = trace::readTrace(path(name), 0.75, reading_);
      QVERIFY2(back.ok(), name);
      QVERIFY2(same(trace, *back, 2e-5, std::string(name) == "t.dstrace"), name);
    }
  }
  void tablesNameEachBodyByItsOwnOrigin() {
    // Two kinds in one run: one is placed by its feet, one by its middle.
    Trace t;
    trace::Writer writer(t, {{1, 0.4, Vec3{0, 2, 0}, 0, 0}, {2, 0.4, Vec3{0, 2, 0}, 0, 0.9}});
    QVERIFY(writer.begin() && writer.frame(0, std::vector<trace::Sample>{{0, 1, {5, 1, 5}}, {0, 2, {7, 1, 7}}}) && writer.end());
    const QStringList lines = QString::fromStdString(trace::toCsv(t)).split('\n');
    const QStringList feet = lines[1].split(','), middle = lines[2].split(',');
    QCOMPARE(feet[3].toDouble(), 1.0);
    QCOMPARE(middle[3].toDouble(), 1.9);
    QCOMPARE(middle[15].toDouble() - feet[15].toDouble(), 0.9);
  }
  void oneSampleTakesAboutThirtyBytes() {
    const Trace trace = made(100, 5000);  // several blocks
    QVERIFY(trace.blocks().size() > 2);
    auto sink = trace::createTrace(path("large.dstrace"));
    QVERIFY(sink.ok() && write(trace, **sink));
    const auto size = QFileInfo(folder_.filePath(QStringLiteral("large.dstrace"))).size();
    QVERIFY2(static_cast<double>(size) / static_cast<double>(trace.sampleCount()) < 30, qPrintable(QString::number(size)));
    QVERIFY(same(trace, *trace::readTrace(path("large.dstrace"), 0, reading_), 0, true));
  }
  void blocksComeOneByOne() {
    // A sink that keeps nothing sees all of a file.
    struct Counting : trace::Sink {
      std::size_t bodies = 0, samples = 0, most = 0;
      bool ended = false;
      Outcome begin(const std::vector<trace::Body>& who) override { return bodies = who.size(), Nothing{}; }
      Outcome add(std::shared_ptr<const trace::Block> block) override {
        samples += block->at.size(), most = std::max(most, block->at.size());
        return block.use_count() == 1 ? Outcome(Nothing{}) : Outcome(Problem{});
      }
      Outcome end() override { return ended = true, Nothing{}; }
    } sink;
    QVERIFY(trace::readFileInto(path("large.dstrace"), sink, reading_).ok());
    QVERIFY(sink.ended && sink.bodies == 100 && sink.samples == 500'000 && sink.most <= 1 << 17);
  }
  void largeFilesSayHowFarTheyAreAndCanBeStopped() {
    // The same movement as a compact file, a table and JSON lines, each of several pieces.
    const Trace trace = made(100, 5000);
    auto sink = trace::createTrace(path("far.dstrace"));
    QVERIFY(sink.ok() && write(trace, **sink));
    const std::string table = trace::toCsv(trace);
    QVERIFY(writeFile(path("far.csv"), table).ok());
    std::string lines;
    for (std::size_t f = 0; f < trace.frameCount(); f += 10)
      for (std::size_t b = 0; b < trace.bodies().size(); ++b) {
        const trace::Sample s = trace.at(f, b);
        lines += "{\"t\": " + std::to_string(s.t) + ", \"id\": " + std::to_string(s.id) + ", \"pos\": [" + std::to_string(s.at.x) + ", " +
                 std::to_string(s.at.y) + ", " + std::to_string(s.at.z) + "]}\n";
      }
    QVERIFY(writeFile(path("far.jsonl"), lines).ok());
    for (const char* name : {"far.dstrace", "far.csv", "far.jsonl"}) {
      std::set<double> shares;
      Job job({}, [&](const std::string&, double share) { shares.insert(share); });
      job.step("reading", 1);
      const auto read = trace::readTrace(path(name), 0, job);
      QVERIFY2(read.ok() && shares.size() > 3, name);
      const std::size_t every = std::string_view(name) == "far.jsonl" ? 10 : 1;
      QCOMPARE(read->frameCount() * every, trace.frameCount());
      for (std::size_t f = 0; f < read->frameCount(); f += 50)
        for (std::size_t b = 0; b < trace.bodies().size(); ++b)
          QVERIFY2(glm::distance(read->at(f, b).at, trace.at(f * every, b).at) < 1e-4, name);
      Job stopped;
      stopped.cancelAtCheck(3);
      const auto none = trace::readTrace(path(name), 0, stopped);
      QVERIFY2(!none && none.problem().code == ProblemCode::cancelled, name);
    }
  }
  void cutAndChangedFilesAreDamaged() {
    const Trace trace = made(3, 6);
    auto sink = trace::createTrace(path("small.dstrace"));
    QVERIFY(sink.ok() && write(trace, **sink));
    const std::string bytes = *readFile(path("small.dstrace"));
    for (std::size_t n = 8; n < bytes.size(); ++n) {
      QVERIFY(writeFile(path("cut.dstrace"), bytes.substr(0, n)).ok());
      const auto read = trace::readTrace(path("cut.dstrace"), 0, reading_);
      QVERIFY2(!read && read.problem().code == ProblemCode::damaged, qPrintable(QString::number(n)));
      std::string changed = bytes;
      changed[n] = static_cast<char>(changed[n] ^ 0x55);
      QVERIFY(writeFile(path("cut.dstrace"), changed).ok());
      const auto other = trace::readTrace(path("cut.dstrace"), 0, reading_);
      // Four bytes after each count mean nothing yet.
      if (other) QVERIFY2(same(trace, *other, 0, true), qPrintable(QString::number(n)));
    }
  }
  void whatIsNotWholeIsNotThere() {
    {
      auto sink = trace::createTrace(path("never.dstrace"));
      QVERIFY(sink.ok() && (*sink)->begin({{1, 0, std::nullopt, 0}}).ok());
    }
    QVERIFY(!QFileInfo::exists(folder_.filePath(QStringLiteral("never.dstrace"))));
    for (const QString& name : QDir(folder_.path()).entryList(QDir::Files))
      QVERIFY2(!name.contains(QStringLiteral(".part")), qPrintable(name));
  }
  void gamesNeedOnlyFiveColumns() {
    const auto t = trace::fromCsv("t,id,x,y,z\n0,1,0,0,0\n0,2,5,0,0\n0.1,1,0.1,0,0\n0.1,2,5,0,0.2\n");
    QVERIFY(t.ok());
    QCOMPARE(t->frameCount(), std::size_t{2});
    QVERIFY(t->derived && std::abs(t->at(1, 1).velocity.z - 2) < 2e-3);
    QCOMPARE(trace::toCsv(*trace::fromCsv(trace::toCsv(*t))), trace::toCsv(*t));
  }
  void bodiesWithTimesOfTheirOwnGetCommonOnes() {
    // Twenty bodies, each a little later than the one before, walk along x with 1 m/s; the last one is gone for three seconds.
    std::string table = "t,id,x,y,z\n";
    for (int step = 0; step < 60; ++step)
      for (int id = 1; id <= 20; ++id) {
        const double t = step * 0.1 + id * 0.0037;
        if (id < 20 || step < 20 || step > 50) table += std::to_string(t) + "," + std::to_string(id) + "," + std::to_string(t) + ",0,0\n";
      }
    const auto read = trace::fromCsv(table);
    QVERIFY(read.ok());
    QVERIFY2(read->frameCount() > 50 && read->frameCount() < 70, qPrintable(QString::number(read->frameCount())));
    int there = 0, gone = 0;
    for (std::size_t f = 0; f < read->frameCount(); ++f)
      for (std::size_t b = 0; b < 20; ++b) {
        const trace::Sample s = read->at(f, b);
        ++(s.state == trace::State::waiting ? gone : there);
        if (s.state != trace::State::waiting) QVERIFY(std::abs(s.at.x - s.t) < 1e-5);
      }
    QVERIFY2(there > 1100 && gone > 25 && gone < 60, qPrintable(QString("%1 %2").arg(there).arg(gone)));
  }
  void gamesNameThingsInTheirOwnWay() {
    const auto same = [](const trace::Trace& t) {
      return t.frameCount() == 2 && t.bodies().size() == 1 && t.bodies()[0].id == 7 && t.at(1, 0).at == Vec3(2.5, 0, -1) &&
             t.timeOf(1) == 0.5;
    };
    for (const char* table :
         {"t,id,x,y,z\n0,7,1,0,-1\n0.5,7,2.5,0,-1\n", "\"Time\";\"Agent_ID\";\"Pos_X\";\"Pos_Y\";\"Pos_Z\"\n0;7;1;0;-1\n0,5;7;2,5;0;-1\n",
          "timestamp\tentity\tposition.x\tposition.y\tposition.z\tname\n0\t7\t1\t0\t-1\tbob\n0.5\t7\t2.5\t0\t-1\tbob\n",
          "seconds|npc|px|py|pz\r\n0|7|1|0|-1\r\n0.5|7|2.5|0|-1\r\n",
          "{\"t\":0,\"id\":7,\"x\":1,\"y\":0,\"z\":-1}\n{\"t\":0.5,\"id\":7,\"x\":2.5,\"y\":0,\"z\":-1}\n",
          "{\"time\":0,\"agent\":7,\"pos\":[1,0,-1]}\n\n{\"time\":0.5,\"agent\":7,\"pos\":{\"x\":2.5,\"y\":0,\"z\":-1}}\n"}) {
      const auto read = trace::fromCsv(table);
      QVERIFY2(read.ok(), table);
      QVERIFY2(same(*read), table);
    }
    const auto bad = trace::fromCsv("{\"t\":0,\"id\":7,\"x\":1,\"y\":0,\"z\":-1}\n{broken\n");
    QVERIFY(!bad.ok() && bad.problem().where == "line 2");
  }
  void columnsUnitsAndAxesAreAsAPersonSays() {
    trace::Reading reading;
    reading.columns = {{trace::kT, "frame"}, {trace::kId, "who"}, {trace::kX, "a"}, {trace::kY, "b"}, {trace::kZ, "c"}};
    reading.scale = 0.01, reading.zUp = true, reading.seconds = 0.001;
    // Places of origins 90 cm over the feet; "x" is something else here.
    const char* table = "x,frame,who,a,b,c,vx,vy,vz,radius\n9,1000,4,250,300,90,100,0,0,40\n9,1500,4,300,300,90,100,0,50,40\n";
    const char* lines =
        "{\"x\":9,\"frame\":1000,\"who\":4,\"a\":250,\"b\":300,\"c\":90,\"v\":1}\n"
        "{\"x\":9,\"frame\":1500,\"who\":4,\"a\":300,\"b\":300,\"c\":90}\n";
    for (const char* text : {table, lines}) {
      const auto read = trace::fromCsv(text, 0.9, reading);
      QVERIFY2(read.ok() && read->frameCount() == 2, read.ok() ? "" : read.problem().text().c_str());
      QCOMPARE(read->bodies()[0].id, 4);
      QCOMPARE(read->timeOf(0), 1.0);
      QVERIFY(glm::distance(read->at(0, 0).at, Vec3{2.5, 0, -3}) < 1e-6 && glm::distance(read->at(1, 0).at, Vec3{3, 0, -3}) < 1e-6);
    }
    const auto read = trace::fromCsv(table, 0.9, reading);
    // Centimetres a millisecond.
    QVERIFY(std::abs(read->at(1, 0).velocity.x - 1000) < 1 && std::abs(read->at(1, 0).velocity.y - 500) < 1);
    QVERIFY(std::abs(read->bodies()[0].radius - 0.4) < 1e-9);
    const trace::TableHead head = trace::headOfText(table), ofLines = trace::headOfText(lines);
    QCOMPARE(head.names, (std::vector<std::string>{"x", "frame", "who", "a", "b", "c", "vx", "vy", "vz", "radius"}));
    QCOMPARE(head.rows.size(), std::size_t{2});
    QCOMPARE(head.rows[1][3], std::string("300"));
    QCOMPARE(head.missing({}), (std::vector<std::string>{"t", "id", "y", "z"}));
    QVERIFY(head.missing(reading).empty() && ofLines.missing(reading).empty());
    QVERIFY(ofLines.names.size() == 7 && ofLines.rows[1].size() == 7);
    QCOMPARE(trace::wordsOf(reading), std::string("as centimetres, Z up, times in milliseconds"));
    QCOMPARE(trace::wordsOf({}), std::string("as it is"));
  }
  void rowsMayComeInAnyOrder() {
    const auto t = trace::fromCsv("id,z,y,x,t\n2,0,0,5,0.1\n1,0,0,0.1,0.1\n2,0,0,5,0\n1,0,0,0,0\n");
    QVERIFY(t.ok() && t->frameCount() == 2);
    QVERIFY(std::abs(t->at(1, 0).at.x - 0.1) < 1e-6 && std::abs(t->at(1, 0).velocity.x - 1) < 2e-3);
  }
  void wrongTablesNameTheirLine() {
    for (const auto& [text, where] : {std::pair{"", "line 1"},
                                      {"t,id,x,y\n", "line 1"},
                                      {"t,id,x,y,z\n0,1,2,3\n", "line 2"},
                                      {"t,id,x,y,z\n\n0,1,0,0,0\n0,1,0,0,0\n", "line 4"},
                                      {"t,id,x,y,z\n0,1,0,nan,0\n", "line 2"},
                                      {"t,id,x,y,z\n0,1.5,0,0,0\n", "line 2"},
                                      {"t,id,x,y,z\n0,1,0,zero,0\n", "line 2"}}) {
      const auto t = trace::fromCsv(text);
      QVERIFY2(!t && t.problem().where == where, text);
    }
  }
  void timesAreFoundByHalving() {
    const Trace t = made(2, 50);
    QCOMPARE(t.frameAt(-1), std::size_t{0});
    QCOMPARE(t.frameAt(100), std::size_t{49});
    for (std::size_t f = 0; f < 50; ++f) QCOMPARE(t.frameAt(t.timeOf(f) + 0.04), f);
  }
  void fullDiskIsSaid() {
    auto sink = trace::createTrace("/dev/full/x.dstrace");
    QVERIFY(!sink && sink.problem().code == ProblemCode::unwritable);
  }
};

QTEST_APPLESS_MAIN(TestTrace)
#include "trace.moc"
