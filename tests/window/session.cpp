// The parts of a session, each by itself and without a window: what changed, files, levels, grounds, comparison, runs, findings, what is
// chosen, gestures.

#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"
#include "core/project/file.h"
#include "window/session/gestures.h"
#include "window/session/hand_made.h"
#include "window/session/latest_question.h"
#include "window/session/playback.h"

using namespace dune;
using namespace dune::window;

namespace {

constexpr int kPatience = 60000;

template <class Condition>
bool becomes(Condition&& condition) {
  return QTest::qWaitFor(condition, kPatience);
}

/// A project of one floor drawn by hand, twelve metres square, and two kinds of agent.
project::Project yard() {
  project::Project p;
  project::edit(p.level, [](project::LevelSection& s) {
    level::Blocker floor;
    floor.id = 1, floor.shape = level::BlockerShape::floor, floor.role = level::Role::ground;
    const Vec3 corners[] = {{0, 0, 0}, {12, 0, 0}, {12, 0, -12}, {0, 0, -12}};
    s.blockers.push_back(level::withCorners(floor, corners));
  });
  project::edit(p.agents, [](project::AgentsSection& s) {
    nav::Agent wide = s.agents[0];
    wide.name = "wide", wide.radius = 1;
    s.agents.push_back(wide);
  });
  return p;
}

/// Everything that makes grounds, put together as a session does.
struct Workshop {
  project::Document document{yard()};
  Bulletin bulletin;
  ProjectFile file{document, bulletin};
  Background work;
  LevelSource source{file, work, bulletin};
  Grounds grounds{work, bulletin};

  const project::Project& project() const { return document.project(); }
  int kind(std::size_t agent) const { return project().agents->agents[agent].id; }
  bool read() {
    source.read(project(), 0);
    return becomes([&] { return source.level() && !work.busy(); });
  }
  bool build() {
    grounds.build(project(), source.level(), 0);
    return becomes([&] { return !work.busy(); });
  }
  void setRadius(std::size_t agent, double radius) {
    document.change("Change agent", [&](project::Project& p) {
      project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[agent].radius = radius; });
    });
  }
};

/// A tool that moves the first link's begin to wherever the mouse is, and counts what it hears.
class Mover : public Tool {
 public:
  explicit Mover(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override { return QStringLiteral("move"); }
  bool press(const Pointer& p) override { return p.pixel.x() >= 0; }
  void drag(const Pointer& p) override {
    links::HandLink link = workspace_.project().links->links[0];
    link.from.x = p.pixel.x();
    replace(workspace_, link, QStringLiteral("Move link"));
  }
  void drop(const Pointer&) override { ++dropped; }
  bool finish() override { return ++finished > 0; }
  bool giveUp() override { return ++givenUp, std::exchange(begun, false); }

  int dropped = 0, finished = 0, givenUp = 0;
  bool begun = false;

 private:
  Workspace& workspace_;
};

Pointer at(double x) {
  Pointer p{};
  p.pixel = {x, 0};
  return p;
}

}  // namespace

class TestSession : public QObject {
  Q_OBJECT

 private slots:
  void initTestCase() {
    QApplication::setOrganizationName(QStringLiteral("dune-step-tests"));
    QSettings().clear();
  }

  void whatChangedIsToldOnceATurn() {
    Bulletin bulletin;
    std::vector<Topics> issued;
    connect(&bulletin, &Bulletin::issued, this, [&](Topics t) { issued.push_back(t); });
    bulletin.add(Topic::links), bulletin.add(Topic::links), bulletin.add({Topic::ground, Topic::work});
    QVERIFY(issued.empty());
    QTest::qWait(1);
    QCOMPARE(issued.size(), std::size_t{1});
    QCOMPARE(issued[0], (Topics{Topic::links, Topic::ground, Topic::work}));
    bulletin.add(Topic::run);
    QTest::qWait(1);
    QCOMPARE(issued.size(), std::size_t{2});
    QCOMPARE(issued[1], Topics(Topic::run));
  }
  void sectionsAreToldApartByTheirPointers() {
    const project::Project a = yard();
    QCOMPARE(differences(a, a), Topics());
    project::Project b = a;
    project::edit(b.crowd, [](project::CrowdSection& s) { s.seconds = 5; });
    QCOMPARE(differences(a, b), Topics(Topic::crowd));
    project::edit(b.level, [](project::LevelSection&) {});
    QCOMPARE(differences(a, b), (Topics{Topic::crowd, Topic::levelSection}));
  }
  void theSessionTellsWhatAnEditChanged() {
    Workspace workspace;
    QTest::qWait(1);
    std::vector<Topics> issued;
    connect(&workspace.bulletin(), &Bulletin::issued, this, [&](Topics t) { issued.push_back(t); });
    for (int i = 1; i <= 3; ++i)
      workspace.change("s", [&](project::Project& p) { project::edit(p.crowd, [&](project::CrowdSection& s) { s.seconds = i; }); });
    QTest::qWait(1);
    QCOMPARE(issued.size(), std::size_t{1});
    QCOMPARE(issued[0] & kDocument, Topics(Topic::crowd));
  }

  void aFileIsOpenedSavedAndMoved() {
    QTemporaryDir folder;
    const QString first = folder.filePath("a.dunestep"), second = folder.filePath("deeper/b.dunestep");
    QVERIFY(QDir(folder.path()).mkdir("deeper"));
    Bulletin bulletin;
    project::Document document;
    ProjectFile file(document, bulletin);
    QVERIFY(file.path().isEmpty());
    QCOMPARE(file.storedPath(folder.filePath("l.obj")), folder.filePath("l.obj").toStdString());
    document.change("o", [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) { s.files = {{folder.filePath("l.obj").toStdString(), {}}}; });
    });
    QVERIFY(!file.save(first));
    QVERIFY(!document.modified());
    QCOMPARE(document.project().level->files[0].path, std::string("l.obj"));
    QCOMPARE(file.fullPath(document.project().level->files[0]), folder.filePath("l.obj").toStdString());
    QVERIFY(!file.save(second));
    QCOMPARE(document.project().level->files[0].path, std::string("../l.obj"));
    QVERIFY(file.save("/nowhere/at/all.dunestep"));
    QCOMPARE(file.path(), second);
    file.take(second, *project::load(second.toStdString()));
    QVERIFY(!document.canUndo() && document.project().level->files[0].path == "../l.obj");
    // Another program writes the file: that is said, once; what is written here is not.
    QSignalSpy said(&bulletin, &Bulletin::said);
    QVERIFY(!file.save(second));
    QTest::qWait(700);
    QCOMPARE(said.count(), 0);
    for (int round = 1; round <= 2; ++round) {
      QVERIFY(writeFile(second.toStdString(), *readFile(second.toStdString()) + "\n"));
      QVERIFY(becomes([&] { return said.count() == round; }));
      QVERIFY(said.last()[0].toString().startsWith(QStringLiteral("Another program")));
    }
    file.startNew();
    QVERIFY(file.path().isEmpty() && document.project().level->files.empty() && !document.canUndo());
  }

  void aProjectThatCannotBeReadChangesNothing() {
    QTemporaryDir folder;
    const QString path = folder.filePath("broken.dunestep");
    QVERIFY(writeFile(path.toStdString(), std::string("nonsense")));
    Workspace workspace;
    add(workspace, project::Card{0, {1, 0, 1}});
    const std::string before = project::toJson(workspace.project());
    QVERIFY(workspace.open(path));
    QCOMPARE(project::toJson(workspace.project()), before);
    QVERIFY(workspace.file().path().isEmpty() && workspace.document().canUndo());
  }
  void aProjectThatIsSavedElsewhereIsNotReadAgain() {
    QTemporaryDir folder;
    QVERIFY(QDir(folder.path()).mkdir("deeper"));
    const std::string level = folder.filePath("l.obj").toStdString();
    QVERIFY(writeFile(level, std::string("o floor\nv 0 0 0\nv 8 0 0\nv 8 0 -8\nv 0 0 -8\nf 1 2 3 4\n")));
    Workspace workspace;
    QVERIFY(!workspace.save(folder.filePath("a.dunestep")));
    workspace.openLevel(QString::fromStdString(level));
    QVERIFY(becomes([&] { return workspace.groundFresh() && !workspace.building(); }));
    const auto read = workspace.level();
    QVERIFY(!workspace.save(folder.filePath("deeper/b.dunestep")));
    QCOMPARE(workspace.project().level->files[0].path, std::string("../l.obj"));
    QVERIFY(!workspace.building());
    QCOMPARE(workspace.level(), read);
  }

  void aLevelIsReadKeptAndLeft() {
    QTemporaryDir folder;
    const std::string path = folder.filePath("l.obj").toStdString();
    const std::string floor = "o floor\nv 0 0 0\nv 8 0 0\nv 8 0 -8\nv 0 0 -8\nf 1 2 3 4\n";
    QVERIFY(writeFile(path, floor));
    Workshop w;
    const auto use = [&](std::vector<project::LevelFile> files) {
      w.document.change("files", [&](project::Project& p) {
        project::edit(p.level, [&](project::LevelSection& s) { s.files = files, s.blockers.clear(); });
      });
    };
    use({{path, {}}});
    QVERIFY(w.source.wants(w.project()));
    QVERIFY(w.read());
    QVERIFY(!w.source.wants(w.project()));
    QCOMPARE(w.source.level()->level->triangleCount(), std::size_t{2});
    QVERIFY(w.source.tree() && w.source.picture() && w.source.bytes() > 0 && w.source.news().empty());
    // Written anew by another program: that is noticed, and what is new is told.
    QSignalSpy changed(&w.source, &LevelSource::changedOnDisk);
    QVERIFY(writeFile(path, floor + "o crate\nv 1 1 -1\nv 2 1 -1\nv 2 1 -2\nf 5 6 7\n"));
    QVERIFY(becomes([&] { return changed.count() > 0; }));
    QVERIFY(w.read());
    QCOMPARE(w.source.news().fresh, std::vector<std::string>{"crate"});
    // Damaged: the last one stays, and the reason is known.
    const auto before = w.source.level();
    QVERIFY(writeFile(path, std::string("v 0 0\nf 1 2 3\n")));
    w.source.read(w.project(), 0);
    QVERIFY(becomes([&] { return w.source.problem() && !w.work.busy(); }));
    QCOMPARE(w.source.level(), before);
    // But not where other files were asked for.
    use({{folder.filePath("other.obj").toStdString(), {}}});
    w.source.read(w.project(), 0);
    QVERIFY(becomes([&] { return w.source.problem() && !w.work.busy(); }));
    QVERIFY(!w.source.level());
    use({});
    w.source.read(w.project(), 0);
    QVERIFY(!w.source.level() && !w.source.problem() && !w.work.busy());
  }

  void groundsGoByALastingId() {
    Workshop w;
    QVERIFY(w.read() && w.build());
    const int narrow = w.kind(0), wide = w.kind(1);
    QVERIFY(narrow != wide);
    QVERIFY(w.grounds.allFresh(w.project(), w.source.level()));
    QVERIFY(w.grounds.of(narrow)->area > w.grounds.of(wide)->area + 10);
    const auto kept = w.grounds.of(wide);
    w.document.change("Rename", [](project::Project& p) {
      project::edit(p.agents, [](project::AgentsSection& s) { s.agents[1].name = "broad", std::swap(s.agents[0], s.agents[1]); });
    });
    QCOMPARE(w.kind(0), wide);
    QCOMPARE(w.grounds.of(w.kind(0)), kept);
    QCOMPARE(w.project().agents->agents[0].name, std::string("broad"));
    w.document.undo();
    QVERIFY(w.grounds.fresh(w.project(), 0, w.source.level()) && w.grounds.fresh(w.project(), 1, w.source.level()));
    // One limit of one kind: that kind alone is out of date.
    w.setRadius(0, 0.7);
    QVERIFY(!w.grounds.fresh(w.project(), 0, w.source.level()) && w.grounds.fresh(w.project(), 1, w.source.level()));
    QVERIFY(w.build());
    QVERIFY(w.grounds.allFresh(w.project(), w.source.level()));
    QCOMPARE(w.grounds.of(wide), kept);
    // A kind that goes takes its ground along, and its id is not that of another one.
    w.document.change("Remove", [](project::Project& p) {
      project::edit(p.agents, [](project::AgentsSection& s) { s.agents.erase(s.agents.begin()); });
    });
    w.grounds.keepOnly(*w.project().agents);
    QVERIFY(!w.grounds.of(narrow) && w.grounds.of(wide));
  }
  void whatIsAskedOfAGroundIsFreshOrAskedAgain() {
    Workshop w;
    QVERIFY(w.read() && w.build());
    const int kind = w.kind(0);
    QVERIFY(w.grounds.answers(kind).routes.empty());
    w.document.change("Keep", [](project::Project& p) {
      project::edit(p.routes, [](project::RoutesSection& s) { s.routes.push_back({1, "r", {1, 0, -1}, {9, 0, -9}}); });
    });
    w.grounds.askAgain(w.project());
    QCOMPARE(w.grounds.answers(kind).routes.size(), std::size_t{1});
    QVERIFY(std::abs(w.grounds.answers(kind).routes[0].answer.length - std::sqrt(128.0)) < 1e-9);
    w.document.change("Move", [](project::Project& p) {
      project::edit(p.routes, [](project::RoutesSection& s) { s.routes[0].to = {1, 0, -5}; });
    });
    w.grounds.askAgain(w.project());
    QVERIFY(std::abs(w.grounds.answers(kind).routes[0].answer.length - 4) < 1e-9);
  }

  void whatWouldOpenAWayComesLater() {
    Workshop w;
    QVERIFY(w.read() && w.build());
    const int kind = w.kind(0);
    w.document.change("Keep", [](project::Project& p) {
      project::edit(p.routes, [](project::RoutesSection& s) { s.routes.push_back({1, "r", {1, 0, -1}, {90, 0, -9}}); });
    });
    int told = 0;
    connect(&w.grounds, &Grounds::explained, this, [&] { ++told; });
    w.grounds.askAgain(w.project());
    QVERIFY(w.grounds.answers(kind).routes[0].answer.status == route::PathStatus::partial);
    QVERIFY(!w.grounds.answers(kind).routes[0].explained);
    QVERIFY(becomes([&] { return told == 1; }));
    QVERIFY(w.grounds.answers(kind).routes[0].explained);
    w.grounds.askAgain(w.project());  // nothing is new
    QTest::qWait(50);
    QCOMPARE(told, 1);
  }
  void onlyTheLastQuestionWaits() {
    LatestQuestion question;
    std::vector<int> answered;
    const auto ask = [&](int i) {
      question.ask([&answered, i](Job&) -> LatestQuestion::Answer { return [&answered, i] { answered.push_back(i); }; });
    };
    for (int i = 0; i < 6; ++i) ask(i);
    QVERIFY(becomes([&] { return answered.size() == 2; }));
    QTest::qWait(50);
    QCOMPARE(answered, (std::vector{0, 5}));
    ask(6), ask(7);
    question.drop();
    QTest::qWait(50);
    QCOMPARE(answered.size(), std::size_t{2});
    ask(8);
    QVERIFY(becomes([&] { return answered.size() == 3 && answered.back() == 8; }));
  }

  void buildsAreComparedWithTheStepBeforeOrAKeptOne() {
    Workshop w;
    Comparison comparison(w.bulletin);
    QVERIFY(w.read());
    comparison.beginStep(w.document.stepCount(), w.grounds);
    QVERIFY(w.build());
    comparison.update(w.grounds, w.kind(0), w.project());
    QVERIFY(!comparison.change());  // there was nothing before
    const double first = w.grounds.of(w.kind(0))->area;
    comparison.keep(w.grounds);
    for (const double radius : {0.6, 0.8}) {
      w.setRadius(0, radius);
      comparison.beginStep(w.document.stepCount(), w.grounds);
      QVERIFY(w.build());
    }
    const double last = w.grounds.of(w.kind(0))->area;
    comparison.update(w.grounds, w.kind(0), w.project());
    QVERIFY(becomes([&] { return comparison.change() != nullptr; }));
    QVERIFY(std::abs(comparison.change()->lost - (first - last)) < 0.01);
    comparison.forgetKept();
    comparison.update(w.grounds, w.kind(0), w.project());
    QVERIFY(becomes([&] { return comparison.change() != nullptr; }));
    QVERIFY(comparison.change()->lost < first - last - 1 && comparison.change()->lost > 1);
    comparison.setOther(w.kind(1));
    comparison.update(w.grounds, w.kind(0), w.project());
    QVERIFY(becomes([&] { return comparison.change() != nullptr; }));
    QVERIFY(std::abs(comparison.change()->gained - (last - w.grounds.of(w.kind(1))->area)) < 0.01);
    comparison.drop();
    QVERIFY(!comparison.change() && !comparison.other());
  }

  void aRunIsFreshUntilWhatItCameFromChanges() {
    Workshop w;
    CrowdRuns runs(w.work, w.bulletin);
    w.document.change("Group", [](project::Project& p) {
      project::edit(p.crowd, [](project::CrowdSection& s) { s.groups.push_back({1, {2, 0, -2}, {10, 0, -10}, 3, 0}), s.seconds = 2; });
    });
    QVERIFY(w.read() && w.build());
    const auto now = [&] { return Now{w.project(), 0, w.grounds.scope(), w.source.level()->level, w.grounds.of(w.kind(0))}; };
    QVERIFY(!runs.last().fresh(now()));
    runs.start(w.project(), {w.grounds.of(w.kind(0))}, 0, {});
    QVERIFY(runs.running());
    QVERIFY(becomes([&] { return !w.work.busy(); }));
    QVERIFY(runs.last() && runs.last()->trace.bodies().size() == 3 && runs.last().fresh(now()));
    // Its playback stays within it, and follows a body that it has.
    Selection selection(w.bulletin);
    Playback playback(selection, w.bulletin);
    playback.setTime(1);
    QCOMPARE(playback.time(), 0.0);
    playback.follow(77);
    playback.setRun(runs.last().value(), nullptr);
    QCOMPARE(playback.body(), runs.last()->trace.bodies()[0].id);
    playback.setTime(100);
    QCOMPARE(playback.time(), runs.last()->trace.duration());
    QCOMPARE(playback.frame(), runs.last()->trace.frameCount() - 1);
    playback.setTime(-3);
    QCOMPARE(playback.frame(), std::size_t{0});
    w.document.change("Count",
                      [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.groups[0].count = 4; }); });
    QVERIFY(!runs.last().fresh(now()));
    w.document.undo();
    QVERIFY(runs.last().fresh(now()));
    w.setRadius(0, 0.6);
    QVERIFY(!runs.last().fresh(now()));
  }
  void findingsKeepTheirIdsOverBuilds() {
    Bulletin bulletin;
    FindingList list(bulletin);
    const auto finding = [](const char* code, review::Severity severity, Vec3 at, double measured) {
      review::Finding f;
      f.code = code, f.severity = severity, f.at = at, f.measured = measured, f.sentence = code + std::to_string(measured);
      return f;
    };
    const std::vector<review::Finding> level{finding("units", review::Severity::hint, {}, 1)};
    std::vector<review::Finding> mesh{finding("island", review::Severity::warning, {3, 0, 3}, 4),
                                      finding("island", review::Severity::warning, {3, 0, 3}, 5),
                                      finding("broken-link", review::Severity::error, {1, 0, 1}, 0)};
    list.gather({&level, &mesh}, {});
    QCOMPARE(list.all().size(), std::size_t{4});
    QCOMPARE(list.all()[0].finding.code, std::string("broken-link"));
    QCOMPARE(list.count(review::Severity::warning), std::size_t{2});
    std::set<std::string> ids;
    for (const KeptFinding& f : list.all()) ids.insert(f.id);
    QCOMPARE(ids.size(), std::size_t{4});
    const std::string island = list.all()[1].id, link = list.all()[0].id;
    // The next build measures a little other numbers, a little beside, and the link is mended.
    mesh = {finding("island", review::Severity::warning, {3.1, 0, 3.1}, 4.2)};
    list.gather({&level, &mesh}, {});
    QVERIFY(list.withId(island) && list.withId(island)->measured == 4.2);
    QVERIFY(!list.withId(link));
  }

  void whatIsChosenIsKeptByKind() {
    Bulletin bulletin;
    Selection selection(bulletin);
    QCOMPARE(selection.id(ThingKind::link), -1);
    selection.choose(ThingKind::link, 3);
    selection.choose({ThingKind::object, "crate"});
    selection.toggle({ThingKind::object, "rock"});
    QCOMPARE(selection.id(ThingKind::link), 3);
    QCOMPARE(selection.all(ThingKind::object), (std::set<std::string>{"crate", "rock"}));
    QVERIFY(selection.one(ThingKind::object).empty() && selection.last() == ThingKind::object);
    selection.toggle({ThingKind::object, "crate"});
    QCOMPARE(selection.one(ThingKind::object), std::string("rock"));
    QCOMPARE(selection.id(ThingKind::object), -1);  // not a number
    selection.clear(ThingKind::object);
    QVERIFY(!selection.last() && selection.has(thing(ThingKind::link, 3)));
  }

  void aDragIsOneStepOrNone() {
    Workspace workspace;
    add(workspace, links::HandLink{0, nav::LinkKind::jump, {0, 0, 0}, {3, 0, 0}, false, 0});
    const std::size_t steps = workspace.document().stepCount();
    const auto begin = [&] { return workspace.project().links->links[0].from.x; };
    Gestures gestures(workspace);
    Mover mover(workspace);
    gestures.setTool(&mover);
    const auto dragTo = [&](std::initializer_list<double> places) {
      QVERIFY(gestures.press(at(0), Qt::LeftButton));
      for (const double x : places) gestures.drag(at(x));
    };
    dragTo({1, 2, 5});
    gestures.drop(at(5));
    QCOMPARE(begin(), 5.0);
    QCOMPARE(workspace.document().stepCount(), steps + 1);
    workspace.document().undo();
    QCOMPARE(begin(), 0.0);
    // Given up by the second button or by Esc: as if nothing had been, what can be redone included.
    for (const bool byKey : {false, true}) {
      dragTo({4, 8});
      QCOMPARE(begin(), 8.0);
      QVERIFY(byKey ? gestures.key(Qt::Key_Escape) : gestures.press(at(8), Qt::RightButton));
      QCOMPARE(begin(), 0.0);
      gestures.drag(at(9)), gestures.drop(at(9));
      QCOMPARE(begin(), 0.0);
      QCOMPARE(workspace.document().stepCount(), steps);
      QVERIFY(workspace.document().canRedo());
    }
    dragTo({4, 0});  // back to where it began
    gestures.drop(at(0));
    QCOMPARE(workspace.document().stepCount(), steps);
    QCOMPARE(mover.dropped, 2);
  }
  void keysMeanOneThing() {
    Workspace workspace;
    add(workspace, links::HandLink{0, nav::LinkKind::jump, {0, 0, 0}, {3, 0, 0}, false, 0});
    add(workspace, project::Card{0, {1, 0, 1}});
    Gestures gestures(workspace);
    QVERIFY(!gestures.key(Qt::Key_Escape) && !gestures.key(Qt::Key_Return) && !gestures.key(Qt::Key_Delete) && !gestures.key(Qt::Key_A));
    Mover mover(workspace);
    gestures.setTool(&mover);
    QSignalSpy left(&gestures, &Gestures::toolLeft);
    mover.begun = true;
    QVERIFY(gestures.key(Qt::Key_Escape) && left.isEmpty());  // what was begun goes first
    QVERIFY(gestures.key(Qt::Key_Escape) && left.count() == 1);
    QVERIFY(gestures.key(Qt::Key_Enter) && gestures.doubleClick(at(0)));
    QCOMPARE(mover.finished, 2);
    // Delete takes what was chosen last of what the stop shows, and never anything else.
    gestures.setRemovable({ThingKind::route});
    QVERIFY(!gestures.key(Qt::Key_Delete));
    gestures.setRemovable({ThingKind::link});
    QVERIFY(gestures.key(Qt::Key_Delete));
    QVERIFY(workspace.project().links->links.empty() && workspace.project().cards->cards.size() == 1);
    workspace.document().undo();
    QCOMPARE(workspace.project().links->links.size(), std::size_t{1});
  }
  void aClickBesideTheToolChoosesWhatIsDrawn() {
    Workspace workspace;
    Gestures gestures(workspace);
    Mover mover(workspace);
    gestures.setTool(&mover);
    Pointer p = at(-1);  // the tool does not take it
    p.thing = thing(ThingKind::volume, 4);
    QVERIFY(!gestures.press(p, Qt::LeftButton));
    gestures.click(p, Qt::LeftButton);
    QCOMPARE(workspace.selection().id(ThingKind::volume), 4);
    QCOMPARE(mover.dropped, 0);
  }
  void everythingMadeByHandIsAddedChosenAndRemoved() {
    Workspace workspace;
    const std::string empty = project::toJson(workspace.project());
    add(workspace, level::Blocker{});
    add(workspace, level::AreaVolume{0, "ground", {{0, 0}, {1, 0}, {1, 1}}, 0, 1});
    add(workspace, links::HandLink{});
    add(workspace, project::CrowdGroup{});
    add(workspace, project::Card{});
    add(workspace, project::KeptRoute{});
    addSeed(workspace, {1, 0, 1});
    const std::size_t steps = workspace.document().stepCount();
    QCOMPARE(steps, std::size_t{7});
    QVERIFY(chosenBlocker(workspace) && chosenVolume(workspace) && chosenLink(workspace) && chosenGroup(workspace) &&
            chosenCard(workspace) && chosenRoute(workspace));
    for (const ThingKind kind :
         {ThingKind::blocker, ThingKind::volume, ThingKind::link, ThingKind::group, ThingKind::card, ThingKind::route, ThingKind::seed}) {
      QVERIFY(removeChosen(workspace, kind));
      QVERIFY(!removeChosen(workspace, kind));
    }
    QCOMPARE(project::toJson(workspace.project()), empty);
    while (workspace.document().canUndo()) workspace.document().undo();
    QCOMPARE(project::toJson(workspace.project()), empty);
  }
};

QTEST_GUILESS_MAIN(TestSession)
#include "session.moc"
