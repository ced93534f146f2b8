// Changes of the ground by hand: picked and dragged with the mouse, by the buttons and by numbers, undone, saved and opened again.

#include <QComboBox>

#include "core/base/plan_geometry.h"
#include "core/hand/pick.h"
#include "core/nav/structure.h"
#include "tests/window/demo_window.h"
#include "window/session/hand_picks.h"
#include "window/stops/mesh/mesh_sheet.h"

using namespace dune;
using namespace dune::window;

class TestHandWindow : public DemoWindow {
  Q_OBJECT

  HandPage& page() { return *sheet<MeshSheet>(Stop::mesh).byHand(); }
  void show() {
    drive_->goTo(Stop::mesh);
    sheet<MeshSheet>(Stop::mesh).show(MeshSheet::Page::byHand);
    QTest::qWait(1);
  }
  /// The depot without what is made by hand in it.
  void open() {
    nothingByHand();
    show();
  }
  QPushButton* button(const char* text) {
    for (QPushButton* b : page().findChildren<QPushButton*>())
      if (b->text() == QString::fromUtf8(text) && b->isVisible()) return b;
    return nullptr;
  }
  void press(const char* text) {
    QVERIFY2(becomes([&] { return button(text) && button(text)->isEnabled(); }), text);
    QPushButton* b = button(text);
    QTest::mouseClick(b, Qt::LeftButton);
    QTest::qWait(1);
    QVERIFY(drive_->waitForGround());
    QTest::qWait(1);
  }
  const nav::NavMesh& mesh() { return work().ground()->mesh; }
  Picks picks() { return picksOf(work()); }
  double fromBorder(const Vec3& at) {
    double least = INFINITY;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      for (std::uint32_t i = 0; i < mesh().cornerCount(nav::FaceId{f}); ++i)
        if (mesh().acrossOf(nav::FaceId{f})[i] == nav::kNoFace)
          least = std::min(
              least, distanceToSegment(plan(mesh().cornerAt(nav::FaceId{f}, i)),
                                       plan(mesh().cornerAt(nav::FaceId{f}, (i + 1) % mesh().cornerCount(nav::FaceId{f}))), plan(at)));
    return least;
  }
  /// The face in whose middle there is most room: nothing stands before it.
  nav::FaceId largeFace() {
    nav::FaceId best{0};
    double most = 0;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      if (const double room = std::min(fromBorder(nav::middleOf(mesh(), nav::FaceId{f})), nav::faceArea(mesh(), nav::FaceId{f}) / 4);
          room > most)
        most = room, best = nav::FaceId{f};
    return best;
  }
  std::vector<nav::FaceId> drawnFaces() {
    std::vector<nav::FaceId> drawn;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      if (work().ground()->origin[f].patch != 0) drawn.push_back(nav::FaceId{f});
    return drawn;
  }
  void pickFace(const Vec3& at, Qt::KeyboardModifiers modifiers = {}) {
    drive_->lookAt(at, 14);
    drive_->clickPixel(drive_->pixelOf(at), modifiers);
  }

  /// Picks a corner of a large face and drags it by a part of its way to the face's middle; where that is.
  Vec3 dragCorner(double part) {
    press("Corners");
    const nav::FaceId face = largeFace();
    const Vec3 corner = mesh().cornerAt(face, 0);
    drive_->lookAt(corner, 10);
    drive_->clickPixel(drive_->pixelOf(corner));
    [&] {
      QCOMPARE(picks().corners.size(), std::size_t{1});
      QVERIFY(glm::distance(mesh().vertices[picks().corners[0]], corner) < 0.3);
    }();
    const Vec3 at = picks().corners.empty() ? corner : mesh().vertices[picks().corners[0]];
    const Vec3 to = at + (nav::middleOf(mesh(), face) - corner) * part;
    drive_->drag(at, to);
    [&] {
      QVERIFY(drive_->waitForGround());
      QCOMPARE(project().hand->patches.size(), std::size_t{1});
    }();
    return to;
  }

 private slots:
  void aPickedFaceIsDeletedAndComesBack() {
    open();
    const Vec3 middle = nav::middleOf(mesh(), largeFace());
    const double before = work().ground()->area, own = nav::faceArea(mesh(), largeFace());
    pickFace(middle);
    QCOMPARE(picks().faces.size(), std::size_t{1});
    QCOMPARE(picks().faces[0], largeFace());
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QVERIFY(drive_->waitForGround());
    QVERIFY(std::abs(work().ground()->area - (before - own)) < 0.05);
    QVERIFY(!ground(middle));
    QVERIFY(nav::checkStructure(mesh()).empty());
    undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->area, before);
    QVERIFY(ground(middle));
    // Esc picks nothing.
    pickFace(middle);
    QVERIFY(picks().any());
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QVERIFY(!picks().any());
  }

  /// All faces of the depot at once: made beside the window, told how far, one step of undo; cancelled, nothing is done.
  void veryManyFacesAreChangedInTheBackground() {
    open();
    QVERIFY(page().chooseAll());
    QCOMPARE(picks().faces.size(), mesh().faceCount());
    QVERIFY(picks().faces.size() > 300);
    const double area = work().ground()->area;
    // One that ends when it is cancelled, and not before.
    work().changeInBackground(QStringLiteral("Drape faces"), [](Job& job) -> Result<project::Project> {
      while (!job.cancelled()) QThread::msleep(1);
      return Job::cancelledProblem();
    });
    QVERIFY(work().changing());
    auto* told = page().findChild<QLabel*>(QStringLiteral("changing"));
    QVERIFY(becomes([&] { return told->isVisible() && told->text().contains(QStringLiteral("drape faces")); }));
    QVERIFY(button("Drape") && !button("Drape")->isEnabled());
    QTest::keyClick(window_.get(), Qt::Key_Period, Qt::ControlModifier);
    QVERIFY(!work().changing());
    QTest::qWait(300);
    QVERIFY(project().hand->patches.empty());
    QVERIFY(becomes([&] { return button("Delete") && button("Delete")->isEnabled(); }));
    QTest::mouseClick(button("Delete"), Qt::LeftButton);
    QVERIFY(work().changing() && project().hand->patches.empty());
    QVERIFY(becomes([&] { return !project().hand->patches.empty(); }));
    QVERIFY(!work().changing() && drive_->waitForGround());
    QCOMPARE(mesh().faceCount(), std::size_t{0});
    undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(work().ground()->area, area);
    QVERIFY(project().hand->patches.empty());
  }

  void aCornerIsDraggedAndEveryFaceAroundItGoesAlong() {
    open();
    const Vec3 there = dragCorner(0.08);
    QCOMPARE(picks().corners.size(), std::size_t{1});  // still picked, where it is now
    QVERIFY(glm::distance(plan(mesh().vertices[picks().corners[0]]), plan(there)) < 0.15);
    QVERIFY(nav::checkStructure(mesh()).empty());
    undo();
    QVERIFY(project().hand->patches.empty());
  }

  void facesArePaintedSplitGrownAndJoined() {
    open();
    pickFace(nav::middleOf(mesh(), largeFace()));
    const auto all = [&] { return work().ground()->area + work().ground()->forbidden; };
    const double before = all(), own = nav::faceArea(mesh(), picks().faces.at(0));
    auto* kinds = page().findChild<QComboBox*>();
    kinds->setFocus();
    QTest::keyClick(kinds, Qt::Key_End);
    press("Paint");
    QCOMPARE(project().hand->patches.size(), std::size_t{1});
    // Split across its middle by a line that is dragged.
    const nav::FaceId drawn = drawnFaces().at(0);
    const Vec3 middle = nav::middleOf(mesh(), drawn);
    pickFace(middle);  // on the dot that moves it: a click moves nothing
    QVERIFY(work().groundFresh());
    press("Split…");
    drive_->drag(middle - Vec3{0.5, 0, 0}, middle + Vec3{0.5, 0, 0});
    QVERIFY(drive_->waitForGround());
    QCOMPARE(drawnFaces().size(), std::size_t{2});
    // One half and what lies around it; then both halves alone.
    pickFace(nav::middleOf(mesh(), drawnFaces()[0]));
    QCOMPARE(picks().faces.size(), std::size_t{1});
    press("Neighbours too");
    QVERIFY(picks().faces.size() > 2);
    pickFace(nav::middleOf(mesh(), drawnFaces()[0]));
    pickFace(nav::middleOf(mesh(), drawnFaces()[1]), Qt::ControlModifier);
    QCOMPARE(picks().faces.size(), std::size_t{2});
    press("Join");
    QCOMPARE(drawnFaces().size(), std::size_t{1});
    QVERIFY(std::abs(nav::faceArea(mesh(), drawnFaces()[0]) - own) < 0.1);
    // Split and joined, it is still of the kind that it was painted with.
    QCOMPARE(mesh().kindOf(drawnFaces().at(0)).name, project().areas->kinds.back().name);
    QVERIFY(std::abs(all() - before) < 0.1);
    QVERIFY(nav::checkStructure(mesh()).empty());
  }

  void pickedFacesAreTagged() {
    open();
    const Vec3 middle = nav::middleOf(mesh(), largeFace());
    pickFace(middle);
    const double own = nav::faceArea(mesh(), picks().faces.at(0));
    auto* tag = page().findChild<QLineEdit*>(QStringLiteral("faceTag"));
    QVERIFY(tag && tag->isVisible());
    tag->setFocus();
    QTest::keyClicks(tag, QStringLiteral("no spawning"));
    QTest::keyClick(tag, Qt::Key_Return);
    QVERIFY(drive_->waitForGround());
    double tagged = 0;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      if (mesh().tagsOf(nav::FaceId{f}) != 0) tagged += nav::faceArea(mesh(), nav::FaceId{f});
    QVERIFY2(std::abs(tagged - own) < 0.05, qPrintable(QString::number(tagged)));
    QCOMPARE(nav::tagNamesOf(mesh(), work().ground()->locator().under(middle, 0.5).face), std::vector<std::string>{"no spawning"});
    undo();
    QVERIFY(drive_->waitForGround());
    QCOMPARE(mesh().tagged.size(), std::size_t{0});
  }

  /// Shift and a drag picks all corners in a rectangle; what the level hides only when that is wanted.
  void aRectanglePicksAllInIt() {
    open();
    press("Corners");
    drive_->lookAt({30, 0, 22}, 62);  // all of the yard: much stands before other things
    const QRect in = window_->world().rect().adjusted(60, 60, -60, -60);
    const auto rectangle = [&] {
      QTest::mousePress(&window_->world(), Qt::LeftButton, Qt::ShiftModifier, in.topLeft());
      for (const QPoint& to : {in.center(), in.bottomRight()}) {
        QMouseEvent event(QEvent::MouseMove, to, window_->world().mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::ShiftModifier);
        QApplication::sendEvent(&window_->world(), &event);
      }
      QTest::mouseRelease(&window_->world(), Qt::LeftButton, Qt::ShiftModifier, in.bottomRight());
      QTest::qWait(1);
    };
    rectangle();
    const std::size_t seen = picks().corners.size();
    QVERIFY(seen > 3);
    for (const std::uint32_t v : picks().corners) QVERIFY(in.adjusted(-2, -2, 2, 2).contains(drive_->pixelOf(mesh().vertices[v])));
    for (QCheckBox* b : page().findChildren<QCheckBox*>())
      if (b->text() == QStringLiteral("Through the level")) b->click();
    dropPicks(work());
    rectangle();
    QVERIFY(picks().corners.size() > seen);
  }

  /// With Ctrl besides, what lies in a drawn outline is picked: a triangle has half of what its rectangle has.
  void anOutlinePicksAllInIt() {
    open();
    press("Corners");
    drive_->lookAt({30, 0, 22}, 62);
    for (QCheckBox* box : page().findChildren<QCheckBox*>())
      if (box->text() == QStringLiteral("Through the level")) box->click();
    const QRect in = window_->world().rect().adjusted(60, 60, -60, -60);
    const auto drawn = [&](Qt::KeyboardModifiers keys, const std::vector<QPoint>& ways) {
      dropPicks(work());
      QTest::mousePress(&window_->world(), Qt::LeftButton, keys, ways.front());
      for (const QPoint& to : ways) {
        QMouseEvent event(QEvent::MouseMove, to, window_->world().mapToGlobal(to), Qt::NoButton, Qt::LeftButton, keys);
        QApplication::sendEvent(&window_->world(), &event);
      }
      QTest::mouseRelease(&window_->world(), Qt::LeftButton, keys, ways.back());
      QTest::qWait(1);
      return picks().corners;
    };
    const auto all = drawn(Qt::ShiftModifier, {in.topLeft(), in.bottomRight()});
    const auto keys = Qt::ShiftModifier | Qt::ControlModifier;
    const auto upper = drawn(keys, {in.topLeft(), in.topRight(), in.bottomRight()}),
               lower = drawn(keys, {in.topLeft(), in.bottomLeft(), in.bottomRight()});
    QVERIFY(!upper.empty() && !lower.empty() && upper.size() < all.size() && lower.size() < all.size());
    std::vector<std::uint32_t> both(upper);
    both.insert(both.end(), lower.begin(), lower.end());
    std::ranges::sort(both);
    both.erase(std::ranges::unique(both).begin(), both.end());
    const QPointF down = in.bottomRight() - in.topLeft(), middle = QRectF(in).center();
    for (const std::uint32_t v : all) {  // but for corners on the line between
      const QPointF off = QPointF(drive_->pixelOf(mesh().vertices[v])) - middle;
      const double beside = std::abs(down.x() * off.y() - down.y() * off.x()) / std::hypot(down.x(), down.y());
      QVERIFY(beside < 1.5 || std::ranges::binary_search(both, v));
    }
    for (const std::uint32_t v : both) QVERIFY(in.adjusted(-2, -2, 2, 2).contains(drive_->pixelOf(mesh().vertices[v])));
  }

  /// What is dragged comes to lie on the lines of a grid.
  void movesComeToLieOnAGrid() {
    open();
    type(field(Stop::mesh, QStringLiteral("Grid")), QStringLiteral("0.5"));
    (void)dragCorner(0.15);
    const Vec3 now = mesh().vertices[picks().corners.at(0)];
    for (const double c : {now.x, now.z}) QVERIFY2(std::abs(c * 2 - std::round(c * 2)) < 0.005, qPrintable(QString::number(c)));
  }

  /// A corner that is dragged over the far side of its face: that is said before it is let go, and nothing comes of it.
  void whatWouldBeRefusedIsSaidWhileItIsDragged() {
    open();
    press("Corners");
    const nav::FaceId face = largeFace();
    const Vec3 middle = nav::middleOf(mesh(), face), corner = mesh().cornerAt(face, 0), far = corner + (middle - corner) * 2.6;
    drive_->lookAt(middle, 30);
    drive_->clickPixel(drive_->pixelOf(corner));
    QCOMPARE(picks().corners.size(), std::size_t{1});
    const Vec3 at = mesh().vertices[picks().corners[0]];
    const auto event = [&](QEvent::Type type, const Vec3& place) {
      const QPointF pixel = drive_->pixelOf(place);
      QMouseEvent e(type, pixel, window_->world().mapToGlobal(pixel), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                    type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, Qt::NoModifier);
      QApplication::sendEvent(&window_->world(), &e);
      QTest::qWait(1);
    };
    event(QEvent::MouseButtonPress, at);
    event(QEvent::MouseMove, glm::mix(at, far, 0.5));
    event(QEvent::MouseMove, far);
    const QString hint = page().tool()->hint();
    QVERIFY2(!hint.startsWith(QStringLiteral("Drag")) && !hint.startsWith(QStringLiteral("Click")), qPrintable(hint));
    event(QEvent::MouseButtonRelease, far);
    QVERIFY(project().hand->patches.empty());
    QVERIFY(page().tool()->hint() != hint);
  }

  /// A patch is drawn with clicks, is in the list, and is given up there.
  void aPatchIsDrawnListedAndGivenUp() {
    open();
    const Vec3 at = nav::middleOf(mesh(), largeFace());
    drive_->lookAt(at, 12);
    press("Draw a patch");
    for (const Vec3& by : {Vec3{-1, 0, -1}, Vec3{1, 0, -1}, Vec3{1, 0, 1}, Vec3{-1, 0, 1}}) drive_->click(at + by);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(project().hand->patches.size(), std::size_t{1});
    const auto drawn = std::ranges::count_if(work().ground()->origin, [](const hand::Origin& o) { return o.patch == 1; });
    QCOMPARE(drawn, 1);
    // Saved and opened again it is there.
    const QString path = folder_.filePath(QStringLiteral("by-hand.dunestep"));
    const auto wanted = *project().hand;
    QVERIFY(!work().save(path));
    QVERIFY(window_->openProject(path));
    QVERIFY(drive_->waitForGround());
    QVERIFY(*project().hand == wanted);
    QCOMPARE(std::ranges::count_if(work().ground()->origin, [](const hand::Origin& o) { return o.patch == 1; }), drawn);
    show();
    auto* list = page().findChild<ItemList*>();
    QVERIFY(list && list->isVisible());
    QCOMPARE(list->count(), 1);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(list->model()->index(0, 0)).center());
    press("Give up");
    QVERIFY(project().hand->patches.empty());
    QVERIFY(std::ranges::none_of(work().ground()->origin, [](const hand::Origin& o) { return o.patch != 0; }));
  }

  /// The finding about a patch whose level is another has a button for each of what can be done.
  void aPatchOnMovedGroundHasThreeRemedies() {
    open();
    drive_->lookAt(nav::middleOf(mesh(), largeFace()), 12);
    press("Draw a patch");
    for (const Vec3& by : {Vec3{-1, 0, -1}, Vec3{1, 0, -1}, Vec3{0, 0, 1}}) drive_->click(nav::middleOf(mesh(), largeFace()) + by);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!project().hand->patches.empty());
    // As if the level had been 30 cm higher when it was drawn.
    work().change(QStringLiteral("Level"), [](project::Project& p) {
      project::edit(p.hand, [](hand::Work& w) {
        for (hand::Face& face : w.patches[0].faces)
          if (face.ground) face.ground = *face.ground + 0.3;
      });
    });
    QVERIFY(drive_->waitForGround());
    window_->ledger().setOpen(true);
    const auto press = [&](std::size_t which, const char* label) {
      chooseFinding("patch-moved");
      const auto buttons = window_->ledger().insteadButtons();
      QCOMPARE(buttons.size(), std::size_t{2});
      QCOMPARE(window_->ledger().remedy()->text(), QStringLiteral("Drape again"));
      QCOMPARE(buttons[which]->text(), QString::fromUtf8(label));
      QTest::mouseClick(buttons[which], Qt::LeftButton);
      QVERIFY(drive_->waitForGround());
      QVERIFY(becomes([&] { return findingCount("patch-moved") == 0; }));
    };
    const auto corners = project().hand->patches[0].faces[0].corners;
    press(0, "Keep as is");
    QCOMPARE(project().hand->patches[0].faces[0].corners, corners);
    QVERIFY(window_->ledger().insteadButtons().empty());
    undo();
    QVERIFY(becomes([&] { return findingCount("patch-moved") == 1; }));
    press(1, "Give up");
    QVERIFY(project().hand->patches.empty());
  }

  /// With another radius the ground is another, and the patch is still there.
  void aPatchOutlivesARebuild() {
    open();
    const Vec3 at = nav::middleOf(mesh(), largeFace());
    drive_->lookAt(at, 12);
    press("Draw a patch");
    for (const Vec3& by : {Vec3{-1, 0, -1}, Vec3{1, 0, -1}, Vec3{0, 0, 1}}) drive_->click(at + by);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QVERIFY(drive_->waitForGround());
    work().change(QStringLiteral("Radius"),
                  [](project::Project& p) { project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].radius += 0.1; }); });
    QVERIFY(drive_->waitForGround());
    double area = 0;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      if (work().ground()->origin[f].patch == 1) area += nav::faceArea(mesh(), nav::FaceId{f});
    QVERIFY(std::abs(area - 2) < 0.3);
    QVERIFY(nav::checkStructure(mesh()).empty());
  }

  /// The longest side of its kind that lies on the ground and has room before it.
  hand::Edge longestEdge(bool border) {
    hand::Edge best;
    double most = 0;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      for (std::uint32_t i = 0; i < mesh().cornerCount(nav::FaceId{f}); ++i) {
        const hand::Edge e{nav::FaceId{f}, i};
        const auto [a, b] = hand::endsOf(mesh(), e);
        const bool ends = mesh().acrossOf(e.face)[i] == nav::kNoFace;
        if (ends == border && glm::distance(a, b) > most && std::abs(a.y) < 0.3 && std::abs(b.y) < 0.3)
          most = glm::distance(a, b), best = e;
      }
    return best;
  }

  /// The side from one place to the other.
  hand::Edge edgeOf(const Vec3& a, const Vec3& b) {
    hand::Edge best;
    double least = INFINITY;
    for (std::uint32_t f = 0; f < mesh().faceCount(); ++f)
      for (std::uint32_t i = 0; i < mesh().cornerCount(nav::FaceId{f}); ++i) {
        const auto [c, d] = hand::endsOf(mesh(), {nav::FaceId{f}, i});
        if (const double off = glm::distance(a, c) + glm::distance(b, d); off < least) least = off, best = {nav::FaceId{f}, i};
      }
    return best;
  }

  void anEdgeIsPulledOut() {
    open();
    press("Edges");
    const hand::Edge edge = longestEdge(true);
    const auto [a, b] = hand::endsOf(mesh(), edge);
    const Vec3 out = lift(-leftOf(plan(b - a)) / glm::distance(a, b), 0);
    pick(work(), mesh(), std::vector{edge});
    press("Border around");
    QVERIFY(picks().edges.size() > 3);
    pick(work(), mesh(), std::vector{edge});
    drive_->lookAt((a + b) * 0.5, 8);
    for (QCheckBox* box : page().findChildren<QCheckBox*>())
      if (box->text() == QStringLiteral("Corners follow the level")) box->click();
    const double before = nav::totalArea(mesh());
    const Vec3 dot = (a + b) * 0.5 + out * 0.5;
    drive_->drag(dot, dot + out);
    QVERIFY(drive_->waitForGround());
    QCOMPARE(project().hand->patches.size(), std::size_t{1});
    QVERIFY(std::abs(nav::totalArea(mesh()) - before - glm::distance(a, b)) < 0.15 * glm::distance(a, b));
    QVERIFY(nav::checkStructure(mesh()).empty());
  }

  void anInnerEdgeIsPartedAndABorderIsNot() {
    open();
    press("Edges");
    const auto neighbours = [&] { return std::ranges::count_if(mesh().across, [](nav::FaceId f) { return f != nav::kNoFace; }); };
    const auto before = neighbours();
    pick(work(), mesh(), std::vector{longestEdge(false)});
    press("Part");
    QCOMPARE(project().hand->parts.size(), std::size_t{1});
    QCOMPARE(neighbours(), before - 2);
    press("Unpart");
    QCOMPARE(neighbours(), before);
    pick(work(), mesh(), std::vector{longestEdge(true)});
    press("Part");
    QVERIFY(project().hand->parts.empty());
    bool said = false;
    for (QLabel* l : page().findChildren<QLabel*>()) said |= l->isVisible() && l->text().contains(QStringLiteral("part it from"));
    QVERIFY(said);
  }

  /// Pressed again it goes the other way; ways lead over it in one direction only.
  void anInnerEdgeIsCrossedOneWay() {
    open();
    press("Edges");
    const hand::Edge edge = longestEdge(false);
    const auto [a, b] = hand::endsOf(mesh(), edge);
    pick(work(), mesh(), std::vector{edge});
    press("One way");
    QCOMPARE(project().hand->parts.size(), std::size_t{1});
    QVERIFY(project().hand->parts[0].oneWay);
    const auto borders = [&] { return std::ranges::count_if(mesh().links, nav::isOneWayBorder); };
    QVERIFY(borders() >= 1);
    const Vec2 line = glm::normalize(plan(b) - plan(a));
    const auto out = [&] {
      const nav::Link& link = *std::ranges::find_if(mesh().links, nav::isOneWayBorder);
      return cross(line, plan(link.to) - plan(link.from)) < 0;  // to the right of the edge, out of the face that was picked
    };
    QVERIFY(out());
    bool counted = false;
    for (QLabel* l : page().findChildren<QLabel*>()) counted |= l->isVisible() && l->text().contains(QStringLiteral("crossed one way"));
    QVERIFY(counted);
    pick(work(), mesh(), std::vector{edgeOf(a, b)});
    press("One way");
    QVERIFY(borders() >= 1 && !out());
    undo();
    QVERIFY(Driver::shown([&] { return borders() >= 1 && out(); }));
    pick(work(), mesh(), std::vector{edgeOf(a, b)});
    press("Unpart");
    QCOMPARE(borders(), 0);
  }

  /// With building switched off, what is made by hand, undone and given up shows at once; what needs a build does not, and is asked for.
  void handWorkIsLaidWithoutABuild() {
    open();
    const Vec3 at = nav::middleOf(mesh(), largeFace());
    work().setAutoBuild(false);
    const auto built = work().ground()->built;
    const auto draw = [&] {
      return changeByHand(work(), QStringLiteral("Draw"), [&](const hand::Editor& e, const Picks&) {
        return e.draw({at + Vec3{-1, 0, -1}, at + Vec3{-1, 0, 1}, at + Vec3{1, 0, 1}});
      });
    };
    QVERIFY(!draw());
    QVERIFY(drive_->waitForGround());
    QCOMPARE(drawnFaces().size(), std::size_t{1});
    QVERIFY(work().ground()->built == built);
    undo();
    QVERIFY(drive_->waitForGround());
    QVERIFY(drawnFaces().empty());
    QVERIFY(!draw());
    QVERIFY(drive_->waitForGround());
    work().selection().choose(ThingKind::patch, 1);
    press("Give up");
    QVERIFY(drawnFaces().empty());
    work().change(QStringLiteral("Radius"),
                  [](project::Project& p) { project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].radius += 0.1; }); });
    QTest::qWait(50);
    QVERIFY(!work().groundFresh() && !work().building());
    const auto refused = draw();
    QVERIFY(refused && refused->what.find("out of date") != std::string::npos);
    QVERIFY(project().hand->patches.empty());
  }
};

QTEST_MAIN(TestHandWindow)
#include "hand.moc"
