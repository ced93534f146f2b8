// glTF files whose numbers lie about themselves are refused by name and place, at once and without memory.

#include <QtTest>
#include <nlohmann/json.hpp>

#include "import/gltf_check.h"

using namespace dune;
using nlohmann::json;

class TestGltf : public QObject {
  Q_OBJECT

  static json sample() {
    return {{"buffers", {{{"byteLength", 96}}}},
            {"bufferViews", {{{"buffer", 0}, {"byteLength", 48}}, {{"buffer", 0}, {"byteOffset", 48}, {"byteLength", 48}}}},
            {"accessors",
             {{{"bufferView", 0}, {"componentType", 5126}, {"count", 4}, {"type", "VEC3"}},
              {{"bufferView", 1}, {"componentType", 5125}, {"count", 12}, {"type", "SCALAR"}}}}};
  }
  static std::string glb(const json& j, std::int64_t chunk = -1, std::size_t binary = 96) {
    std::string text = j.dump();
    text.resize((text.size() + 3) / 4 * 4, ' ');
    std::string bytes = "glTF";
    const auto append = [&](std::size_t x) {
      const auto value = static_cast<std::uint32_t>(x);
      bytes.append(reinterpret_cast<const char*>(&value), 4);
    };
    append(2), append(12 + 8 + text.size() + 8 + binary);
    append(chunk < 0 ? text.size() : static_cast<std::size_t>(chunk));
    bytes += "JSON" + text;
    append(binary);
    return bytes + std::string("BIN\0", 4) + std::string(binary, '\0');
  }

 private slots:
  void soundFilesPass() {
    QVERIFY(!import::checkGltf("x.gltf", sample().dump()));
    QVERIFY(!import::checkGlb("x.glb", glb(sample())));
    json rows = sample();  // rows of one table: places and normals by turns
    rows["bufferViews"] = {{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", 84}, {"byteStride", 24}},
                           {{"buffer", 0}, {"byteOffset", 12}, {"byteLength", 84}, {"byteStride", 24}}};
    rows["accessors"] = {{{"bufferView", 0}, {"componentType", 5126}, {"count", 4}, {"type", "VEC3"}},
                         {{"bufferView", 1}, {"componentType", 5126}, {"count", 4}, {"type", "VEC3"}}};
    QVERIFY(!import::checkGltf("x.gltf", rows.dump()));
  }
  void liesAreNamed_data() {
    QTest::addColumn<QString>("pointer");
    QTest::addColumn<QString>("value");
    QTest::newRow("negative offset") << "/bufferViews/1/byteOffset"
                                     << "-48";
    QTest::newRow("negative length") << "/bufferViews/1/byteLength"
                                     << "-1";
    QTest::newRow("beyond the buffer") << "/bufferViews/1/byteLength"
                                       << "49";
    QTest::newRow("far beyond") << "/bufferViews/1/byteOffset"
                                << "9223372036854775807";
    QTest::newRow("no number") << "/bufferViews/1/byteOffset"
                               << "1.5";
    QTest::newRow("over another view") << "/bufferViews/1/byteOffset"
                                       << "40";
    QTest::newRow("buffer that is not there") << "/bufferViews/0/buffer"
                                              << "3";
    QTest::newRow("huge count") << "/accessors/0/count"
                                << "2000000000";
    QTest::newRow("count beyond the view") << "/accessors/0/count"
                                           << "5";
    QTest::newRow("negative count") << "/accessors/0/count"
                                    << "-4";
    QTest::newRow("view that is not there") << "/accessors/1/bufferView"
                                            << "7";
    QTest::newRow("type") << "/accessors/0/type"
                          << "\"VEC9\"";
    QTest::newRow("buffer's length") << "/buffers/0/byteLength"
                                     << "-96";
  }
  void liesAreNamed() {
    QFETCH(QString, pointer);
    QFETCH(QString, value);
    json j = sample();
    j[json::json_pointer(pointer.toStdString())] = json::parse(value.toStdString());
    const auto problem = import::checkGltf("x.gltf", j.dump());
    QVERIFY(problem && problem->code == ProblemCode::damaged);
    QVERIFY2(problem->where.starts_with("x.gltf, /"), problem->where.c_str());
  }
  void chunksLieWithinTheFile() {
    QVERIFY(import::checkGlb("x.glb", glb(sample(), 0x7fffffff)));
    QVERIFY(import::checkGlb("x.glb", glb(sample(), -1, 32)));
    const std::string whole = glb(sample());
    for (std::size_t n = 12; n < whole.size(); ++n) QVERIFY2(import::checkGlb("x.glb", whole.substr(0, n)), qPrintable(QString::number(n)));
  }
};

QTEST_APPLESS_MAIN(TestGltf)
#include "gltf.moc"
