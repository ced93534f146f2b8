// The window under load: the footprint cursor over the demo, and terrain of five million triangles: reading, turning, picking, memory.
// Prints a table; needs a display.

#include <QApplication>
#include <QElapsedTimer>
#include <QImage>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <ctime>
#include <fstream>

#include "core/hand/pick.h"
#include "tests/window/driver.h"
#include "window/scene/world_view.h"
#include "window/session/hand_picks.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"

using namespace dune;
using namespace dune::window;

namespace {

double residentMiB() {
  std::ifstream statm("/proc/self/statm");
  double pages = 0, resident = 0;
  statm >> pages >> resident;
  return resident * 4096 / 1024 / 1024;
}

/// Hills as those that the generator is measured with, 20 m from black to white.
QString writeTerrain(const QTemporaryDir& folder, int side) {
  QImage image(side, side, QImage::Format_Grayscale16);
  for (int z = 0; z < side; ++z) {
    auto* row = reinterpret_cast<quint16*>(image.scanLine(z));
    for (int x = 0; x < side; ++x)
      row[x] = static_cast<quint16>((10 + 3 * std::sin(x / 11.0) * std::cos(z / 13.0) + 0.4 * std::sin(x / 2.3 + z / 3.1)) / 20 * 65535);
  }
  const QString path = folder.filePath(QStringLiteral("terrain.png"));
  return image.save(path) ? path : QString();
}

double processorMs() {
  timespec t{};
  clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &t);
  return static_cast<double>(t.tv_sec) * 1000 + static_cast<double>(t.tv_nsec) / 1e6;
}

/// Times of pictures, with the event loop emptied after each: what half, 19 of 20, and all of them stay below; and what all threads
/// together take of the processor for one, which tells more on a machine that others use too.
template <class Each>
void frames(const char* what, int count, Each&& each) {
  std::vector<double> times;
  const double before = processorMs();
  for (int i = 0; i < count; ++i) {
    QElapsedTimer timer;
    timer.start();
    each(i);
    QApplication::processEvents();
    times.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  std::ranges::sort(times);
  const auto below = [&](double share) { return times[std::min(times.size() - 1, static_cast<std::size_t>(share * count))]; };
  std::printf("%-58s half within %6.2f ms, 19 of 20 within %6.2f ms, all within %6.2f ms, processor %6.2f ms\n", what, below(0.5),
              below(0.95), below(1), (processorMs() - before) / count);
  std::fflush(stdout);
}

/// How long the thread that asks has worked, and has waited for a core that other threads had; how long all cores together were kept by
/// other machines where this one is a virtual one, in steps of 10; ms.
struct OnCore {
  double worked = 0, waited = 0, stolen = 0;
};
OnCore onCore() {
  std::ifstream stat("/proc/thread-self/schedstat"), machine("/proc/stat");
  OnCore t;
  stat >> t.worked >> t.waited;
  std::string cpu;
  machine >> cpu;
  for (int field = 1; field <= 8; ++field) machine >> t.stolen;
  return {t.worked / 1e6, t.waited / 1e6, t.stolen * 10};
}

/// The longest time for which a person's input would have waited, ms: that between two beats of a clock of the event loop.
class Blocked {
 public:
  Blocked() { restart(); }
  void restart() { beat_.restart(), last_ = onCore(); }
  void take() {
    const double ms = static_cast<double>(beat_.nsecsElapsed()) / 1e6 - kBeat;
    const OnCore now = onCore();
    if (ms > most_) most_ = ms, then_ = {now.worked - last_.worked, now.waited - last_.waited, now.stolen - last_.stolen};
    if (ms > kLong) ++long_;
    restart();
  }
  QString words() const {
    return QStringLiteral(
               "window blocked for %1 ms at the most (%2 of work, %3 waiting for a core, %4 with other machines; %5 times over 50)")
        .arg(most_, 0, 'f', 0)
        .arg(then_.worked, 0, 'f', 0)
        .arg(then_.waited, 0, 'f', 0)
        .arg(then_.stolen, 0, 'f', 0)
        .arg(long_);
  }
  static constexpr int kBeat = 2;  // ms

 private:
  static constexpr double kLong = 50;  // ms
  QElapsedTimer beat_;
  OnCore last_, then_;
  double most_ = 0;
  int long_ = 0;
};

/// Seconds until what is waited for holds, or -1 after five minutes.
template <class Until>
double waitBlocked(Until&& until, Blocked& blocked) {
  QElapsedTimer timer;
  timer.start(), blocked.restart();
  QTimer heart;
  heart.setTimerType(Qt::PreciseTimer);
  QObject::connect(&heart, &QTimer::timeout, [&] { blocked.take(); });
  heart.start(Blocked::kBeat);
  while (!until()) {
    QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    if (timer.elapsed() > 300'000) return -1;
  }
  blocked.take();
  return static_cast<double>(timer.elapsed()) / 1000;
}

/// Ten thousand agents that walk over a field, recorded by a game, and the timeline dragged over them.
bool scrubTenThousand(MainWindow& window, Driver& drive, const QTemporaryDir& files) {
  constexpr int kSide = 100, kTimes = 61;
  std::string table = "t,id,x,y,z\n";
  for (int step = 0; step < kTimes; ++step)
    for (int i = 0; i < kSide * kSide; ++i)
      table += std::to_string(step * 0.2) + ',' + std::to_string(i) + ',' + std::to_string(5 + 2 * (i % kSide) + 0.25 * step) + ",0," +
               std::to_string(5 + 2 * (i / kSide)) + '\n';
  const QString path = files.filePath(QStringLiteral("many.csv"));
  if (!writeFile(path.toStdString(), table)) return false;
  project::Project field;
  project::edit(field.level, [](project::LevelSection& s) {
    level::Blocker floor;
    floor.id = 1, floor.shape = level::BlockerShape::floor, floor.role = level::Role::ground;
    floor.outline = {plan({0, 0, 0}), plan({0, 0, 220}), plan({230, 0, 220}), plan({230, 0, 0})};
    s.blockers = {floor};
  });
  window.workspace().take(field);
  if (!drive.waitForGround()) return false;
  QElapsedTimer timer;
  timer.start();
  window.openTrace(path);
  Blocked blocked;
  if (waitBlocked([&] { return window.workspace().run() && !window.workspace().crowd().running(); }, blocked) < 0) return false;
  std::printf("recording of %d agents, %d samples: read and reviewed in %.1f s, %zu findings, %s\n", kSide * kSide, kSide * kSide * kTimes,
              static_cast<double>(timer.elapsed()) / 1000, window.workspace().run()->findings.size(), qPrintable(blocked.words()));
  drive.lookAt({115, 0, 105}, 220);
  QTest::qWait(300);
  auto& playback = window.workspace().playback();
  frames("ten thousand agents: dragging the timeline", 60, [&](int i) { playback.setTime(0.2 * (i * 7 % kTimes)); });
  window.world().hide();
  frames("ten thousand agents: the same but for drawing the world", 60, [&](int i) { playback.setTime(0.2 * (i * 11 % kTimes)); });
  window.world().show();
  window.workspace().document().markSaved();
  return true;
}

/// Three hundred agents on wide ground, while they are worked out.
bool runThreeHundred(MainWindow& window, const Vec3& around) {
  Workspace& w = window.workspace();
  w.change(QStringLiteral("Add group"), [&](project::Project& p) {
    project::edit(p.crowd, [&](project::CrowdSection& s) {
      project::CrowdGroup group;
      group.id = 1, group.start = around, group.goal = around + Vec3{60, 0, 20}, group.count = 300;
      s.groups = {group}, s.seconds = 30;
    });
  });
  Blocked running;
  w.runCrowd();
  const double ran = waitBlocked([&] { return !w.crowd().running(); }, running);
  std::printf("three hundred agents on that ground, 30 s of them in %.1f s, %s\n", ran, qPrintable(running.words()));
  return ran >= 0;
}

/// A change by hand of very many faces, from picking them to the ground with it.
bool changeTenThousandFaces(MainWindow& window, Driver& drive, const Vec3& around) {
  Workspace& w = window.workspace();
  static_cast<MeshSheet*>(window.sheet(static_cast<int>(Stop::mesh)))->show(MeshSheet::Page::byHand);
  const auto ground = w.ground();
  std::vector<nav::FaceId> faces{ground->locator().nearest(around, 20).face};
  for (std::size_t before = 0; faces.size() < 10'000 && faces.size() > before;)
    before = faces.size(), faces = hand::grown(ground->mesh, faces);
  QElapsedTimer timer;
  timer.start();
  Blocked picking;
  pick(w, ground->mesh, faces);
  waitBlocked([&] { return timer.elapsed() > 1000; }, picking);
  std::printf("by hand: %zu faces picked, %s\n", faces.size(), qPrintable(picking.words()));
  Blocked changing;
  timer.restart();
  (void)changeByHand(w, QStringLiteral("Paint"), [](const hand::Editor& e, const Picks& p) { return e.paint(p.faces, {}); });
  const double made = waitBlocked([&] { return !w.changing(); }, changing), laid = waitBlocked([&] { return w.groundFresh(); }, changing);
  std::printf("by hand: painted in %.1f s, laid after %.1f s more, %s\n", made, laid, qPrintable(changing.words()));
  return drive.waitForGround();
}

}  // namespace

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("dune-step-bench"));
  QSettings().clear();
  applyTheme(false);
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  QTemporaryDir files;
  Driver drive(window);
  if (!window.openProject(writeDemo(files)) || !drive.waitForGround()) return 1;
  drive.goTo(Stop::mesh);
  QTest::qWait(300);
  std::size_t pictures = 0;
  QObject::connect(&window.world(), &WorldView::drawn, [&] { ++pictures; });
  auto moveTo = [&](const Vec3& at) {
    const QPointF pixel = drive.pixelOf(at);
    QMouseEvent event(QEvent::MouseMove, pixel, window.world().mapToGlobal(pixel), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(&window.world(), &event);  // the window asks for a picture itself, one for all that changed
  };
  frames("depot: footprint cursor, answered and drawn", 200, [&](int i) { moveTo({10.0 + i * 0.2, 0, 10 + 8 * std::sin(i / 9.0)}); });
  std::printf("  (%zu pictures for 200 movements)\n", pictures);
  auto turn = [&](int i) {
    window.world().camera().orbit(6, i % 20 < 10 ? 1 : -1);
    window.world().redraw();
  };
  frames("depot: turning the view", 60, turn);

  if (!scrubTenThousand(window, drive, files)) return 1;
  const double before = residentMiB();
  const QString terrain = writeTerrain(files, 1582);
  window.workspace().setAutoBuild(false);
  QElapsedTimer timer;
  Blocked reading;
  window.workspace().startNew();
  window.workspace().openLevel(terrain);
  const double read =
      waitBlocked([&] { return window.workspace().level() && window.workspace().level()->level->triangleCount() > 4'000'000; }, reading);
  if (read < 0) return 1;
  std::printf("terrain of %zu triangles: read and ready in %.1f s, %s\n", window.workspace().level()->level->triangleCount(), read,
              qPrintable(reading.words()));
  window.workspace().cancel();
  QApplication::processEvents();
  std::printf("memory: level and picking %.0f MiB, whole program %.0f MiB (%.0f before)\n",
              static_cast<double>(window.workspace().source().bytes()) / 1024 / 1024, residentMiB(), before);
  std::printf("drawn: %zu triangles\n", window.workspace().source().picture()->level->triangleCount());
  drive.goTo(Stop::level);
  QTest::qWait(400);
  frames("terrain: turning the view", 60, turn);
  QTest::qWait(400);
  frames("terrain: what is under the mouse, asked and drawn", 60, [&](int i) { moveTo({700.0 + i, 0, 700}); });
  drive.lookAt({790, 10, 790}, 40);
  QTest::qWait(600);
  frames("terrain, near: turning the view", 60, turn);
  frames("terrain: picking alone", 1000, [&](int i) { (void)window.world().pointerAt(QPointF(100 + i * 0.7, 100 + i * 0.4)); });

  Blocked building;
  window.workspace().build();
  const double ready = waitBlocked([&] { return !window.workspace().building() && window.workspace().ground(); }, building);
  if (ready < 0) return 1;
  std::printf("terrain: ground of %zu faces built and shown in %.1f s, %s\n", window.workspace().ground()->mesh.faceCount(), ready,
              qPrintable(building.words()));
  std::printf("memory: whole program %.0f MiB\n", residentMiB());
  Blocked going;
  timer.restart();
  drive.goTo(Stop::mesh);
  waitBlocked([&] { return timer.elapsed() > 1500; }, going);
  std::printf("terrain: to the Mesh stop, %s\n", qPrintable(going.words()));
  drive.lookAt({790, 10, 790}, 900);
  QTest::qWait(600);
  frames("terrain with its ground: turning the view", 60, turn);
  drive.lookAt({790, 10, 790}, 40);
  QTest::qWait(600);
  frames("terrain with its ground, near: turning the view", 60, turn);
  QTest::qWait(600);
  frames("terrain with its ground: footprint cursor, answered and drawn", 60, [&](int i) { moveTo({780.0 + i * 0.3, 0, 790}); });
  if (!runThreeHundred(window, window.workspace().ground()->locator().nearest({790, 10, 790}, 20).position)) return 1;
  if (!changeTenThousandFaces(window, drive, {790, 10, 790})) return 1;
  if (argc > 1) {
    drive.lookAt({790, 10, 790}, 900);
    QTest::qWait(600);
    window.grab().save(QString::fromLocal8Bit(argv[1]) + QStringLiteral("/large-far.png"));
    drive.lookAt({790, 10, 790}, 60);
    QTest::qWait(600);
    window.grab().save(QString::fromLocal8Bit(argv[1]) + QStringLiteral("/large-near.png"));
  }
  std::fflush(stdout);
  std::_Exit(0);
}
