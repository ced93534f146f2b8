#pragma once
// The main window: puts the parts together and passes on what changed. Nothing is worked out here, and no stop is known by name.

#include <QMainWindow>

#include "core/trace/table_head.h"
#include "window/findings/ledger.h"
#include "window/session/clipping.h"
#include "window/session/gestures.h"
#include "window/shell/cut_away.h"
#include "window/shell/readout.h"
#include "window/shell/trail.h"

class QStackedWidget;
class QToolButton;

namespace dune::demo {
struct Example;
}

namespace dune::window {

class Reel;
class StartPage;
struct Command;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  MainWindow();
  ~MainWindow() override;

  Workspace& workspace() { return workspace_; }
  Gestures& gestures() { return gestures_; }
  WorldView& world() { return *view_; }
  Trail& trail() { return *trail_; }
  Ledger& ledger() { return *ledger_; }
  Reel& reel() { return *reel_; }
  CutAway& cutAway() { return *cutAway_; }
  QString readoutText() const { return readout_->text(); }
  QString hintText() const { return hint_->text(); }
  int stopCount() const { return static_cast<int>(stops_.size()); }
  /// The number of the stop that is open.
  int stop() const { return trail_->current(); }
  Sheet* sheet(int stop) const { return stops_[static_cast<std::size_t>(stop)]->sheet(); }
  void goTo(int stop);
  bool openProject(const QString& path);
  /// Looks at recorded movement, on the ground that is there.
  void openTrace(const QString& path);
  void openMesh(const QString& path);
  StartPage& startPage() const { return *start_; }
  /// Everything that can be done now, by name.
  std::vector<Command> commands();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void makeParts();
  void connectSheet(Sheet* sheet);
  QWidget* makeSheets();
  QWidget* makeStrip();
  void layOut();
  void connectParts();
  void makeMenus();
  void makeFileMenu();
  void makeEditMenu();
  void makeViewMenu();
  void makeHelpMenu();
  void fillRecent();
  void goToPart(review::Part part);
  void refresh(Topics changed);
  void refreshStops(Topics changed);
  void refreshTool();
  /// The eye goes with the body that is followed, where that is asked for.
  void followBody();
  void refreshTrail();
  void refreshTitle();
  void frameNewLevel();
  void frameAll();
  void showMenu(const Pointer& pointer, const QPoint& at);
  void showFinding(const review::Finding& finding);
  /// Asks how much of it is passed over from now on and why, or tells again what was.
  void muteFinding(const review::Finding& finding);
  void showPlace(const Vec3& place);
  void showBox(const Box3& box);
  /// Takes off what stands over an agent at a place.
  void cutAwayAbove(const Vec3& place);
  void setTheme(const QString& name);
  // Of the Edit menu (edit_actions.cpp).
  void undo();
  void copyChosen();
  void cutChosen();
  void pasteCopied();
  // Of the Help menu (help_actions.cpp).
  void findCommand();
  void listKeys();
  void startTour();
  void showGuide();
  void showAbout();
  TrailStop& open() const { return *stops_[static_cast<std::size_t>(stop())]; }
  // What the window as a whole does with files (file_actions.cpp).
  void answer(Request request);
  /// Takes a level file in, and goes to where it is seen what came of it.
  void openLevel(const QString& path, bool beside);
  void makeStartPage();
  void openExample(const demo::Example& example);
  /// The picture by which an open project is known again.
  void keepPictureOfWorld();
  bool maySetAside();
  bool save(bool elsewhere);
  /// What is being typed counts: a field takes it as when it is left.
  void takeTyped();
  bool mayReplace();
  void openProjectAsked();
  void openLevelAsked(bool beside);
  /// Work that a program left behind: shown where nothing is open yet, gone on with, offered where its project is opened.
  void showUnsaved();
  bool goOnWith(const QString& id);
  bool offerUnsaved(const QString& path);
  void openTraceAsked();
  void openMeshAsked();
  void remedy(const review::Remedy& remedy);
  void remedyAll(const std::string& code);
  /// Asks how the recording that is looked at is to be read, and reads it again.
  void readTraceAsked();
  /// The same without asking.
  void readAs(const trace::Reading& reading);
  void readTrace(const QString& path, const trace::TableHead& head, const trace::Reading& now);
  void exportMesh();
  void saveTrace();
  void saveFlight();
  void saveMovement(const trace::Trace& trace, const QString& name);
  void remember(const QString& path);

  Workspace workspace_;
  Gestures gestures_{workspace_};
  Trail* trail_;
  WorldView* view_;
  Ledger* ledger_;
  Reel* reel_;
  QStackedWidget* stack_;
  QLabel* hint_;
  QToolButton* fromAbove_;
  Readout* readout_;
  CutAway* cutAway_;
  StartPage* start_;
  Clipping copied_;
  QMenu* recent_ = nullptr;
  QAction *plan_ = nullptr, *undo_ = nullptr, *redo_ = nullptr;
  std::vector<std::unique_ptr<TrailStop>> stops_;
  std::vector<project::LevelFile> framed_;  // the files that the eye was last turned to
  std::vector<std::string> framedMeshes_;   // where there are none, the meshes from elsewhere
  bool framedOnce_ = false;
};

}  // namespace dune::window
