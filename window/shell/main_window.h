#pragma once
// The main window: puts the parts together and passes their signals on. Nothing is worked out here.

#include <QMainWindow>
#include <array>

#include "window/findings/ledger.h"
#include "window/shell/trail.h"
#include "window/shell/world_presenter.h"
#include "window/stops/sheet.h"

class QLabel;
class QSlider;
class QStackedWidget;

namespace dune::window {

class AgentsSheet;
class CrowdSheet;
class MeshSheet;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  MainWindow();
  ~MainWindow() override;

  Workspace& workspace() { return workspace_; }
  WorldView& world() { return *view_; }
  Trail& trail() { return *trail_; }
  Ledger& ledger() { return *ledger_; }
  Reel& reel() { return *reel_; }
  QString readoutText() const;
  QString hintText() const;
  Sheet* sheet(Stop stop) const { return sheets_[static_cast<std::size_t>(stop)]; }
  Stop stop() const { return static_cast<Stop>(trail_->current()); }
  void goTo(Stop stop);
  bool openProject(const QString& path);
  QSlider* cutAwaySlider() const { return cutAway_; }
  /// Takes off what stands over an agent at a place.
  void cutAwayAbove(const Vec3& place);

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void makeParts();
  void layOut();
  void connectWorkspace();
  void connectWorld();
  void makeMenus();
  void makeFileMenu();
  void fillRecent();
  void refreshTrail();
  void pointAgain();
  void write(const QString& text);
  void refreshSheets();
  void refreshTitle();
  void refreshTool();
  void showFinding(const review::Finding& finding);
  void showPlace(const Vec3& place);
  void setCutAwayRange();
  void setTheme(const QString& name);
  void say(const QString& text);
  // File actions (file_actions.cpp)
  bool maySetAside();
  bool save(bool elsewhere);
  void openProjectAsked();
  void openLevelAsked(bool beside);
  void exportMesh();
  void saveTrace();
  void remember(const QString& path);

  Workspace workspace_;
  Trail* trail_;
  WorldView* view_;
  Ledger* ledger_;
  Reel* reel_;
  QStackedWidget* stack_;
  QLabel *hint_, *readout_;
  bool pointing_ = false;  // the readout is about what is under the mouse
  QSlider* cutAway_;
  QLabel* cutAwayLabel_;
  QMenu* recent_ = nullptr;
  QAction *plan_, *undo_ = nullptr, *redo_ = nullptr;
  std::array<Sheet*, static_cast<std::size_t>(Stop::count)> sheets_{};
  std::unique_ptr<WorldPresenter> presenter_;
  std::vector<project::LevelFile> framed_;  // the files that the eye was last turned to
  bool framedOnce_ = false;
};

}  // namespace dune::window
