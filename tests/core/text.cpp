// Text that leaves us: UTF-8 whatever came in, and numbers with a point whatever the desktop's language.

#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <clocale>
#include <nlohmann/json.hpp>

#include "core/base/number_text.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/meshes/mesh_files.h"
#include "core/project/file.h"
#include "core/trace/csv.h"
#include "tests/core/scenes.h"
#include "tests/core/traces.h"

using namespace dune;

class TestText : public QObject {
  Q_OBJECT

 private slots:
  void whatIsUtf8StaysAsItIs() {
    for (const char* text : {"", "crate", "Kühlhaus", "砂丘", "a\xf0\x9f\x8f\x9c z"}) {
      QVERIFY(isUtf8(text));
      QCOMPARE(asUtf8(text), std::string(text));
    }
  }
  void whatALibrarySaysIsASentence() {
    QCOMPARE(sentenceOf("[label.error.101] parse error at line 1, column 3"), std::string("Parse error at line 1, column 3."));
    QCOMPARE(sentenceOf("nothing."), std::string("Nothing."));
    QCOMPARE(sentenceOf(""), std::string());
    QCOMPARE(sentenceOf("[open"), std::string("[open."));
    const auto broken = project::fromJson("{\"dune step\": [}");
    QVERIFY(!broken.ok());
    QVERIFY2(broken.problem().text().find("exception") == std::string::npos, broken.problem().text().c_str());
    QVERIFY2(broken.problem().text().find("line 1") != std::string::npos, broken.problem().text().c_str());
  }
  void bytesThatAreNoneAreReadAsLatin1() {
    QCOMPARE(asUtf8("caf\xe9"), std::string("café"));
    QVERIFY(asUtf8("caf\xe9") != asUtf8("caf\xe8"));
    for (const char* text : {"\xc0\x80", "\xed\xa0\x80", "\xf5\x80\x80\x80", "\x80", "\xe2\x82", "a\xff b"}) {
      QVERIFY2(!isUtf8(text), text);
      QVERIFY(isUtf8(asUtf8(text)));
    }
    test::Random random(5);
    for (int i = 0; i < 2000; ++i) {
      std::string text;
      for (int k = random.upTo(9); k >= 0; --k) text += static_cast<char>(random.upTo(256));
      QVERIFY(isUtf8(asUtf8(text)) && asUtf8(asUtf8(text)) == asUtf8(text));
      QVERIFY(!isUtf8(text) || QString::fromStdString(text).toStdString() == text);
    }
  }
  void noNameStopsAWriter() {
    project::Project p;
    project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].name = "caf\xe9 \xff"; });
    project::edit(p.level, [](project::LevelSection& s) { s.rules.push_back({"\xe9*", level::Role::ignored}); });
    QVERIFY(project::fromJson(project::toJson(p)).ok());
    meshes::Content c{test::built(test::Scene().floor(0, 0, 5, 5).world())->mesh, {}};
    c.mesh.agent.name = "\xff", c.mesh.kinds[0].name = "\xe9";
    QVERIFY(meshes::meshFromJson(meshes::meshToJson(c)).ok());
  }
  void numbersHaveAPointInAnyLanguage() {
    // A language whose numbers have a comma, made here, for few machines have one.
    const QTemporaryDir folder;
    QProcess make;
    make.start(QStringLiteral("localedef"), {"-i", "de_DE", "-f", "UTF-8", folder.filePath(QStringLiteral("de_DE.UTF-8"))});
    QVERIFY2(make.waitForFinished(600000) && QFileInfo::exists(folder.filePath(QStringLiteral("de_DE.UTF-8"))), "localedef is needed");
    qputenv("LOCPATH", folder.path().toLocal8Bit());
    QVERIFY(std::setlocale(LC_ALL, "de_DE.UTF-8"));
    char comma[8];
    std::snprintf(comma, sizeof comma, "%.1f", 1.5);
    QCOMPARE(std::string(comma), std::string("1,5"));  // so that the rest can fail

    QCOMPARE(text("%.2f m", 1.25), std::string("1.25 m"));
    std::string fixed;
    appendFixed(fixed, -0.000001, 5), fixed += ' ', appendFixed(fixed, 1234.5, 2), fixed += ' ', appendNumber(fixed, 0.1, 10);
    QCOMPARE(fixed, std::string("0.00000 1234.50 0.1"));
    QVERIFY(numberFrom("1.5") == 1.5 && !numberFrom("1,5") && !numberFrom("nan"));
    const auto b = test::built(test::Scene().floor(0, 0, 9.5, 5.25).world());
    const std::string obj = meshes::meshToObj(b->mesh), json = meshes::meshToJson({b->mesh, b->rules()});
    QVERIFY(obj.find(',', obj.find('\n')) == std::string::npos && obj.find("9.09") != std::string::npos);
    QVERIFY(json.find("0.4") != std::string::npos && meshes::meshFromJson(json).ok());
    crowd::Walker w;
    w.id = 1, w.start = {1, 0, 1}, w.goal = {8, 0, 4};
    const std::string csv = trace::toCsv(test::walked(route::Field(b->mesh, {}), {w}, 2));
    const auto back = trace::fromCsv(csv);
    QVERIFY(back.ok() && back->frameCount() == 61 && std::abs(back->duration() - 2) < 1e-9);
    QVERIFY(project::fromJson(project::toJson({})).ok());
    nav::Agent thin;
    thin.radius = 0.001;
    QVERIFY(nav::checkAgent(thin)->what.find("0.001 m") != std::string::npos);
    std::setlocale(LC_ALL, "C");
  }
};

QTEST_APPLESS_MAIN(TestText)
#include "text.moc"
