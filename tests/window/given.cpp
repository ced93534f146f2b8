// A mesh from elsewhere, opened in the window, judged, mended one by one and all at once, changed by hand, saved, and left again.

#include <QCheckBox>

#include "core/nav/structure.h"
#include "tests/window/demo_window.h"
#include "window/session/hand_picks.h"
#include "window/stops/mesh/mesh_sheet.h"

using namespace dune;
using namespace dune::window;

class TestGivenWindow : public DemoWindow {
  Q_OBJECT

  /// Squares of 2 m, each of two triangles; every fourth has its corners a little aside, and two triangles look down.
  QString faulty(double unit = 1) {
    std::string text = "# made elsewhere\n";
    int corners = 0;
    for (int i = 0; i < 6; ++i)
      for (int k = 0; k < 4; ++k) {
        const double off = (i + k) % 4 == 0 ? 0.02 : 0, x = 2 * i + off, z = 2 * k + off;
        for (const Vec2& p : {Vec2{x, z}, Vec2{x, z + 2 - 2 * off}, Vec2{x + 2 - 2 * off, z + 2 - 2 * off}, Vec2{x + 2 - 2 * off, z}})
          text += "v " + std::to_string(p.x * unit) + " 0 " + std::to_string(p.y * unit) + "\n";
        const auto face = [&](int a, int b, int c) {
          text += "f " + std::to_string(corners + a) + " " + std::to_string(corners + b) + " " + std::to_string(corners + c) + "\n";
        };
        (i == 2 && k == 1) || (i == 4 && k == 2) ? face(3, 2, 1) : face(1, 2, 3);
        face(1, 3, 4);
        corners += 4;
      }
    const QString path = folder_.filePath("elsewhere.obj");
    (void)writeFile(path.toStdString(), text);
    return path;
  }
  /// As a new project, by the menu.
  void openMesh(const QString& path) {
    work().startNew();
    answerNext<QFileDialog>([path](QFileDialog& dialog) { chooseFile(dialog, path); });
    for (QAction* action : window_->findChildren<QAction*>())
      if (action->text() == QStringLiteral("Open mesh…")) action->trigger();
    QVERIFY(becomes([&] { return work().ground() && work().groundFresh() && !work().building(); }));
  }
  QPushButton* pageButton(const QString& text) { return drive_->button(Stop::mesh, text); }

 private slots:
  void itIsJudgedAndMended() {
    openMesh(faulty());
    QVERIFY(work().ground()->given);
    QVERIFY(std::abs(work().ground()->area - 92) < 1.5);
    QCOMPARE(findingCount("inverted-face"), 2);
    QVERIFY(findingCount("open-seam") > 3);
    window_->ledger().setOpen(true);
    chooseFinding("inverted-face");
    const double before = work().ground()->area;
    QVERIFY(window_->ledger().remedy()->isVisible() && window_->ledger().remedyForAll()->isVisible());
    QTest::mouseClick(window_->ledger().remedy(), Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(findingCount("inverted-face"), 1);
    QVERIFY(std::abs(work().ground()->area - before - 2) < 0.1);
    QVERIFY(becomes([&] { return findingCount("inverted-face") == 1; }));
    chooseFinding("inverted-face");
    QVERIFY(!window_->ledger().remedyForAll()->isVisible());  // it is the only one
    QTest::mouseClick(window_->ledger().remedy(), Qt::LeftButton);
    QVERIFY(drive_->waitForGround());
    chooseFinding("open-seam");
    QVERIFY(window_->ledger().remedyForAll()->isVisible());
    QTest::mouseClick(window_->ledger().remedyForAll(), Qt::LeftButton);
    QVERIFY(becomes(
        [&] { return !work().project().level->given.at(0).mends.empty() && !work().work().busy() && findingCount("open-seam") == 0; }));
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->islands, std::size_t{1});
    QVERIFY(std::abs(work().ground()->area - 96) < 0.5);
    QVERIFY(nav::checkStructure(work().ground()->mesh).empty());
    for (int i = 0; i < 3; ++i) undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(findingCount("inverted-face"), 2);
  }

  /// A finding chosen, all faces are picked that have one of its kind.
  void allLikeAFindingArePicked() {
    openMesh(faulty());
    sheet<MeshSheet>(Stop::mesh).show(MeshSheet::Page::byHand);
    QPushButton* like = pageButton(QStringLiteral("All like the finding"));
    QVERIFY(like && like->isVisible() && !like->isEnabled());
    chooseFinding("open-seam");
    QVERIFY(becomes([&] { return like->isEnabled(); }));
    QTest::mouseClick(like, Qt::LeftButton);
    QTest::qWait(1);
    QVERIFY(picksOf(work()).faces.size() > 5);
    QVERIFY(picksOf(work()).faces.size() < work().ground()->mesh.faceCount());
  }

  void handWorkLiesOverItAndIsSaved() {
    openMesh(faulty());
    sheet<MeshSheet>(Stop::mesh).show(MeshSheet::Page::byHand);
    const Vec3 at = nav::middleOf(work().ground()->mesh, nav::FaceId{1});
    drive_->lookAt(at, 14);
    drive_->clickPixel(drive_->pixelOf(at));
    QCOMPARE(picksOf(work()).faces.size(), std::size_t{1});
    const double before = work().ground()->area;
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QVERIFY(drive_->waitForGround());
    QVERIFY(std::abs(before - work().ground()->area - 2) < 0.1);
    const QString path = folder_.filePath("mended.dunestep");
    QVERIFY(!work().save(path));
    QVERIFY(window_->openProject(path));
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->given);
    QVERIFY(std::abs(before - work().ground()->area - 2) < 0.1);
    QCOMPARE(project().level->given.at(0).path, std::string("elsewhere.obj"));
  }

  /// Read in another unit; read anew when its file changes.
  void unitsAndChangesOfTheFile() {
    openMesh(faulty(100));
    QVERIFY(work().ground()->area > 100000);
    type(field(Stop::mesh, QStringLiteral("Metres a unit")), QStringLiteral("0.01"));
    QVERIFY(becomes([&] { return work().groundFresh() && !work().building() && work().ground()->area < 200; }));
    QVERIFY(std::abs(work().ground()->area - 92) < 1.5);
    faulty(50);
    QVERIFY(becomes([&] { return work().groundFresh() && !work().building() && work().ground()->area < 60; }));
  }

  /// In a project with a level it stands in place of the built mesh, and is left again by a button.
  void aLevelIsBuiltFromAgain() {
    const double built = work().ground()->area;
    window_->openMesh(faulty());
    QVERIFY(becomes([&] { return work().ground() && work().ground()->given && !work().building(); }));
    QVERIFY(work().ground()->area < 120);
    drive_->goTo(Stop::mesh);
    sheet<MeshSheet>(Stop::mesh).show(MeshSheet::Page::build);
    QPushButton* back = pageButton(QStringLiteral("Build from the level"));
    QVERIFY(becomes([&] { return back && back->isVisible(); }));
    QTest::mouseClick(back, Qt::LeftButton);
    QVERIFY(becomes([&] { return work().ground() && !work().ground()->given && work().groundFresh() && !work().building(); }));
    QVERIFY(std::abs(work().ground()->area - built) < 1e-9);
    QVERIFY(!back->isVisible());
  }

  /// Another mesh in its place is looked at as a whole.
  void theEyeTurnsToAnotherMesh() {
    openMesh(faulty());
    const QString far = folder_.filePath("far.obj");
    QVERIFY(writeFile(far.toStdString(), "v 500 0 500\nv 500 0 504\nv 504 0 504\nf 1 2 3\n").ok());
    window_->openMesh(far);
    QVERIFY(becomes([&] { return work().ground() && work().groundFresh() && std::abs(work().ground()->area - 8) < 0.1; }));
    QVERIFY(becomes([&] { return window_->world().rect().contains(drive_->pixelOf({502, 0, 503})); }));
  }

  void whatIsNoMeshIsSaidAndChangesNothing() {
    const std::string before = project::toJson(project());
    const QString path = folder_.filePath("broken.obj");
    for (const char* text : {"", "v 0 0\nf 1 2 3\n", "f 1 2 3\n"}) {
      QVERIFY(writeFile(path.toStdString(), text).ok());
      work().bulletin().say({});
      window_->openMesh(path);
      QVERIFY(becomes([&] { return !work().work().busy() && window_->readoutText().contains(QStringLiteral("broken.obj")); }));
      QCOMPARE(project::toJson(project()), before);
      QVERIFY(work().groundFresh());
    }
  }
};

QTEST_MAIN(TestGivenWindow)
#include "given.moc"
