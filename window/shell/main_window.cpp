#include "window/shell/main_window.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QLabel>
#include <QMenuBar>
#include <QMimeData>
#include <QScrollArea>
#include <QSettings>
#include <QSlider>
#include <QSplitter>
#include <QStackedWidget>
#include <QStyleHints>

#include "core/pipeline/remedy.h"
#include "window/scene/theme.h"
#include "window/shell/world_menu.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/areas/areas_sheet.h"
#include "window/stops/crowd/crowd_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/links/links_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/stops/review/review_sheet.h"
#include "window/stops/routes/routes_sheet.h"
#include "window/timeline/reel.h"

namespace dune::window {

namespace {
constexpr int kSheetWidth = 292;
constexpr double kCutSteps = 20;  // slider steps a metre
const QString kStopNames[] = {QObject::tr("Level"), QObject::tr("Agents"), QObject::tr("Mesh"),  QObject::tr("Areas"),
                              QObject::tr("Links"), QObject::tr("Routes"), QObject::tr("Crowd"), QObject::tr("Review")};
}  // namespace

MainWindow::MainWindow() {
  makeParts();
  layOut();
  makeMenus();
  connectWorkspace();
  connectWorld();
  setAcceptDrops(true);
  resize(1280, 800);
  const QSettings settings;
  if (settings.contains(QStringLiteral("geometry"))) restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
  goTo(Stop::level);
  refreshTitle();
  cutAway_->setEnabled(false);
}

/// A field that has the focus says so when it loses it, and the sheets speak to the workspace to their end: they go before it does.
MainWindow::~MainWindow() {
  hide();
  delete takeCentralWidget();
}

void MainWindow::makeParts() {
  trail_ = new Trail;
  view_ = new WorldView;
  ledger_ = new Ledger;
  reel_ = new Reel;
  auto* level = new LevelSheet(workspace_);
  auto* agents = new AgentsSheet(workspace_);
  auto* mesh = new MeshSheet(workspace_);
  auto* areas = new AreasSheet(workspace_);
  auto* links = new LinksSheet(workspace_);
  auto* routes = new RoutesSheet(workspace_);
  auto* crowd = new CrowdSheet(workspace_);
  auto* review = new ReviewSheet(workspace_);
  sheets_ = {level, agents, mesh, areas, links, routes, crowd, review};
  presenter_ = std::make_unique<WorldPresenter>(workspace_, *view_,
                                                WorldPresenter::Sources{level, agents, mesh, areas, links, routes, review, reel_});
  connect(level, &LevelSheet::openAsked, this, &MainWindow::openLevelAsked);
  connect(mesh, &MeshSheet::exportAsked, this, &MainWindow::exportMesh);
  connect(review, &ReviewSheet::reportAsked, this, &MainWindow::saveTrace);
  connect(review, &ReviewSheet::agentPicked, this, [this](const Pointer& p) {
    if (const int id = presenter_->bodyAt(p); id >= 0) reel_->setAgent(id);
  });
  for (Sheet* s : sheets_) {
    connect(s, &Sheet::toolChanged, this, &MainWindow::refreshTool);
    connect(s, &Sheet::showPlace, this, &MainWindow::showPlace);
    connect(s, &Sheet::showBox, this, [this](const Box3& box) {
      constexpr double kAround = 4;  // metres: what lies about a thing is seen too
      view_->camera().frame({box.min - Vec3(kAround), box.max + Vec3(kAround)});
      view_->redrawTool();
      view_->update();
    });
    connect(s, &Sheet::worldChanged, this, [this] {
      if (stop() == Stop::level || stop() == Stop::agents) presenter_->showLevel();
      presenter_->showChange();
      presenter_->showOverlays();
      presenter_->showCrowd();
    });
  }
}

void MainWindow::layOut() {
  stack_ = new QStackedWidget;
  for (Sheet* s : sheets_) {
    auto* scroll = new QScrollArea;
    scroll->setWidget(s);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    stack_->addWidget(scroll);
  }
  stack_->setObjectName(QStringLiteral("sheet"));
  stack_->setFixedWidth(kSheetWidth);
  hint_ = new QLabel;
  hint_->setObjectName(QStringLiteral("toolStrip"));
  hint_->setContentsMargins(10, 5, 10, 5);
  hint_->setAttribute(Qt::WA_StyledBackground);
  hint_->setWordWrap(true);  // or a long one would make the window wider
  readout_ = new QLabel;
  readout_->setObjectName(QStringLiteral("readout"));
  readout_->setMinimumHeight(30);
  readout_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  readout_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  cutAway_ = new QSlider(Qt::Vertical);
  cutAway_->setAccessibleName(tr("Cut-away height"));
  cutAway_->setToolTip(tr("Cut-away: takes off everything above a height"));
  cutAwayLabel_ = new QLabel;
  cutAwayLabel_->setAlignment(Qt::AlignCenter);
  auto* cutColumn = new QVBoxLayout;
  cutColumn->setContentsMargins(2, 6, 2, 6);
  cutColumn->addWidget(cutAway_, 1, Qt::AlignHCenter);
  cutColumn->addWidget(cutAwayLabel_);
  auto* worldRow = new QHBoxLayout;
  worldRow->setSpacing(0);
  worldRow->addWidget(view_, 1);
  worldRow->addLayout(cutColumn);
  auto* worldColumn = new QVBoxLayout;
  worldColumn->setSpacing(0);
  worldColumn->addWidget(hint_);
  worldColumn->addLayout(worldRow, 1);
  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  middle->addWidget(stack_);
  middle->addLayout(worldColumn, 1);
  middle->addWidget(ledger_);
  auto* central = new QWidget;
  auto* column = new QVBoxLayout(central);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(trail_);
  column->addLayout(middle, 1);
  column->addWidget(readout_);
  column->addWidget(reel_);
  reel_->hide();
  setCentralWidget(central);
}

void MainWindow::connectWorkspace() {
  const auto showAnew = [this] {
    refreshSheets();
    refreshTrail();
    presenter_->showAll();
    pointAgain();
  };
  connect(&workspace_, &Workspace::documentChanged, this, &MainWindow::refreshTitle);
  connect(&workspace_, &Workspace::documentChanged, this, showAnew);
  connect(&workspace_, &Workspace::levelChanged, this, [this] {
    refreshSheets();
    refreshTrail();
    setCutAwayRange();
    presenter_->showAll();
    const bool first = workspace_.level() && (framed_ != workspace_.project().level->files || !framedOnce_);
    // A flat level is looked at from above until somebody turns the view.
    if (first && workspace_.level()->flat() != plan_->isChecked()) plan_->setChecked(workspace_.level()->flat());
    if (first) presenter_->frameAll();
    framed_ = workspace_.project().level->files;
    framedOnce_ = workspace_.level() != nullptr;
    pointAgain();
  });
  connect(&workspace_, &Workspace::groundChanged, this, showAnew);
  connect(&workspace_, &Workspace::runChanged, this, [this] {
    reel_->setRun(workspace_.run());
    reel_->setVisible(workspace_.run() && stop() >= Stop::crowd);
    refreshSheets();
    refreshTrail();
    presenter_->showCrowd();
  });
  connect(&workspace_, &Workspace::findingsChanged, this, [this] {
    ledger_->setFindings(workspace_.findings());
    refreshSheets();
    refreshTrail();
  });
  connect(&workspace_, &Workspace::agentChanged, this, showAnew);
  connect(&workspace_, &Workspace::changeChanged, this, [this] {
    if (stop() == Stop::mesh || stop() == Stop::agents) sheet(stop())->refresh();
    presenter_->showChange();
  });
  connect(&workspace_, &Workspace::answersChanged, this, [this] {
    if (stop() == Stop::mesh) sheet(stop())->refresh();
    presenter_->showChange();
  });
  connect(&workspace_.trials(), &Trials::changed, this, [this] {
    if (stop() == Stop::mesh) sheet(stop())->refresh();
  });
  connect(&workspace_, &Workspace::workChanged, this, [this] {
    refreshTrail();
    if (stop() == Stop::mesh || stop() == Stop::crowd) sheet(stop())->refresh();
  });
  connect(&workspace_, &Workspace::fileChanged, this, &MainWindow::refreshTitle);
  connect(&workspace_, &Workspace::said, this, &MainWindow::say);
}

void MainWindow::connectWorld() {
  connect(trail_, &Trail::chosen, this, [this](int i) { goTo(static_cast<Stop>(i)); });
  connect(trail_, &Trail::cancelAsked, this, [this] { workspace_.cancel(); });
  connect(view_, &WorldView::pointed, this, [this](const Pointer& p) {
    write(presenter_->explain(p));
    pointing_ = true;
  });
  connect(view_, &WorldView::toolMoved, this, [this] {
    hint_->setText(view_->tool() ? view_->tool()->hint()
                                 : tr("Drag to turn the view, with Shift and the right button to move it; the wheel zooms. Double-click a "
                                      "place to cut away what is above it."));
  });
  connect(view_, &WorldView::toolLeft, this, [this] { sheet(stop())->leaveTool(); });
  connect(view_, &WorldView::doubleClicked, this, [this](const Pointer& p) {
    if (p.hit) cutAwayAbove(p.hit->at);
  });
  connect(view_, &WorldView::menuAsked, this, [this](const Pointer& p, const QPoint& at) {
    QMenu* menu = worldMenu(*this, p);
    if (!menu) return;
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->popup(at);
  });
  connect(cutAway_, &QSlider::valueChanged, this, [this](int v) {
    const bool off = v >= cutAway_->maximum();
    view_->setCutAway(off ? 1e9 : v / kCutSteps);
    cutAwayLabel_->setText(off ? tr("all") : tr("%1 m").arg(v / kCutSteps, 0, 'f', 1));
  });
  connect(ledger_, &Ledger::chosen, this, &MainWindow::showFinding);
  connect(ledger_, &Ledger::remedyAsked, this, [this](const review::Remedy& r) {
    workspace_.change(QString::fromStdString(r.label), [&](project::Project& p) { pipeline::apply(r, p); });
  });
  connect(reel_, &Reel::timeChanged, this, [this] { presenter_->showCrowd(); });
  connect(reel_, &Reel::agentChanged, this, [this] { presenter_->showCrowd(); });
}

void MainWindow::makeMenus() {
  makeFileMenu();
  QMenu* edit = menuBar()->addMenu(tr("&Edit"));
  undo_ = edit->addAction(tr("Undo"), QKeySequence::Undo, this, [this] { workspace_.document().undo(); });
  redo_ = edit->addAction(tr("Redo"), QKeySequence::Redo, this, [this] { workspace_.document().redo(); });
  QMenu* work = menuBar()->addMenu(tr("&Work"));
  work->addAction(tr("Build mesh"), QKeySequence(tr("Ctrl+B")), this, [this] { workspace_.build(); });
  work->addAction(tr("Run crowd"), QKeySequence(tr("Ctrl+R")), this, [this] { workspace_.runCrowd(); });
  work->addAction(tr("Cancel work"), QKeySequence(tr("Ctrl+.")), this, [this] { workspace_.cancel(); });
  QMenu* view = menuBar()->addMenu(tr("&View"));
  view->addAction(tr("Show the whole level"), QKeySequence(tr("Home")), this, [this] { presenter_->frameAll(); });
  plan_ = view->addAction(tr("Look straight down"));
  plan_->setCheckable(true);
  plan_->setShortcut(QKeySequence(tr("Ctrl+D")));
  connect(plan_, &QAction::toggled, this, [this](bool on) { view_->camera().setPlan(on), view_->update(); });
  view->addAction(tr("Remove the cut-away"), this, [this] { cutAway_->setValue(cutAway_->maximum()); });
  view->addSeparator();
  view->addAction(tr("Next finding"), QKeySequence(Qt::Key_F4), this, [this] { ledger_->step(1); });
  view->addAction(tr("Previous finding"), QKeySequence(Qt::SHIFT | Qt::Key_F4), this, [this] { ledger_->step(-1); });
  view->addSeparator();
  view->addAction(tr("Noon (light)"), this, [this] { setTheme(QStringLiteral("noon")); });
  view->addAction(tr("Dusk (dark)"), this, [this] { setTheme(QStringLiteral("dusk")); });
  QMenu* go = menuBar()->addMenu(tr("&Go"));
  for (int i = 0; i < static_cast<int>(Stop::count); ++i)
    go->addAction(kStopNames[i], QKeySequence(tr("Ctrl+%1").arg(i + 1)), this, [this, i] { goTo(static_cast<Stop>(i)); });
  go->addSeparator();
  go->addAction(tr("Play or pause"), QKeySequence(Qt::Key_Space), this, [this] {
    if (reel_->isVisible()) reel_->setPlaying(!reel_->playing());
  });
}

void MainWindow::goTo(Stop stop) {
  sheet(this->stop())->leaveTool();
  trail_->setCurrent(static_cast<int>(stop));
  stack_->setCurrentIndex(static_cast<int>(stop));
  reel_->setVisible(workspace_.run() && stop >= Stop::crowd);
  sheet(stop)->refresh();
  presenter_->setStop(stop);
  refreshTool();
  refreshTrail();
  presenter_->explain({});
  say({});
}

void MainWindow::refreshSheets() { sheet(stop())->refresh(); }

void MainWindow::refreshTool() {
  view_->setTool(sheet(stop())->tool());
  // Where there is no level yet, something to draw on comes with the tool that draws.
  if (!workspace_.level() && stop() == Stop::level) presenter_->showLevel();
}

void MainWindow::refreshTitle() {
  const QString name = workspace_.filePath().isEmpty() ? tr("Untitled") : QFileInfo(workspace_.filePath()).completeBaseName();
  setWindowTitle(tr("%1%2 – Dune Step").arg(name, workspace_.document().modified() ? QStringLiteral(" *") : QString()));
  const project::Document& d = workspace_.document();
  undo_->setEnabled(d.canUndo());
  undo_->setText(d.canUndo() ? tr("Undo %1").arg(QString::fromStdString(d.undoLabel())) : tr("Undo"));
  redo_->setEnabled(d.canRedo());
  redo_->setText(d.canRedo() ? tr("Redo %1").arg(QString::fromStdString(d.redoLabel())) : tr("Redo"));
}

void MainWindow::refreshTrail() {
  const project::Project& p = workspace_.project();
  const auto level = workspace_.level();
  const auto ground = workspace_.ground();
  const bool fresh = workspace_.groundFresh();
  std::vector<StopState> stops(static_cast<std::size_t>(Stop::count));
  for (std::size_t i = 0; i < stops.size(); ++i) stops[i].name = kStopNames[i];
  auto at = [&](Stop s) -> StopState& { return stops[static_cast<std::size_t>(s)]; };
  const std::size_t objects = level ? level->level->objects.size() : 0;
  at(Stop::level).state = level                       ? (objects == 1 ? tr("1 object") : tr("%1 objects").arg(objects))
                          : workspace_.levelProblem() ? tr("cannot be read")
                                                      : tr("none yet");
  at(Stop::level).trouble = workspace_.levelProblem().has_value();
  at(Stop::agents).state =
      p.agents->agents.size() > 1
          ? tr("%1 kinds, %2 shown").arg(p.agents->agents.size()).arg(QString::fromStdString(workspace_.agentKind().name))
          : tr("%1, %2 m wide").arg(QString::fromStdString(workspace_.agentKind().name)).arg(workspace_.agentKind().radius * 2, 0, 'f', 2);
  at(Stop::mesh).state = !ground                                  ? tr("not built")
                         : fresh && ground->built->chunksLeft > 0 ? tr("%1 m², partly old").arg(ground->area, 0, 'f', 0)
                         : fresh                                  ? tr("%1 m²").arg(ground->area, 0, 'f', 0)
                                                                  : tr("out of date: rebuild");
  at(Stop::mesh).fresh = !level || fresh;
  at(Stop::areas).state =
      p.areas->volumes.empty() ? tr("none drawn") : tr("%1 kinds, %2 drawn").arg(p.areas->kinds.size()).arg(p.areas->volumes.size());
  const std::size_t broken = ground ? ground->broken.size() : 0;
  at(Stop::links).state = p.links->links.empty() ? tr("none")
                          : broken               ? tr("%1, %2 broken").arg(p.links->links.size()).arg(broken)
                                                 : tr("%1 drawn").arg(p.links->links.size());
  at(Stop::links).trouble = broken > 0;
  std::size_t complete = 0;
  for (const pipeline::KeptAnswer& k : workspace_.answers().routes) complete += k.answer.status == route::PathStatus::complete;
  at(Stop::routes).state = p.routes->routes.empty() ? tr("none kept") : tr("%1 of %2 complete").arg(complete).arg(p.routes->routes.size());
  at(Stop::routes).trouble = ground && complete < workspace_.answers().routes.size();
  int bodies = 0;
  for (const project::CrowdGroup& g : p.crowd->groups) bodies += g.count;
  const auto run = workspace_.run();
  at(Stop::crowd).state = bodies == 0 && !run ? tr("nobody yet")
                          : !run              ? tr("%1 agents, not run").arg(bodies)
                          : workspace_.runFresh()
                              ? tr("%1 agents, %2 s").arg(run->trace.bodies().size()).arg(run->trace.duration(), 0, 'f', 0)
                              : tr("out of date: run again");
  at(Stop::crowd).fresh = !run || workspace_.runFresh();
  std::size_t errors = 0;
  for (const review::Finding& f : workspace_.findings()) errors += f.severity == review::Severity::error;
  at(Stop::review).state = workspace_.findings().empty() ? tr("nothing found")
                           : errors == 1                 ? tr("%1 found, 1 error").arg(workspace_.findings().size())
                                                         : tr("%1 found, %2 errors").arg(workspace_.findings().size()).arg(errors);
  at(Stop::review).fresh = at(Stop::crowd).fresh;
  at(Stop::review).trouble = errors > 0;
  if (workspace_.building()) at(Stop::mesh).work = workspace_.progress();
  if (workspace_.running()) at(Stop::crowd).work = workspace_.progress();
  trail_->setStops(std::move(stops));
}

void MainWindow::setCutAwayRange() {
  const auto level = workspace_.level();
  if (!level) return;
  // A level that is read again keeps its cut-away.
  const bool kept =
      cutAway_->isEnabled() && cutAway_->value() < cutAway_->maximum() && framedOnce_ && framed_ == workspace_.project().level->files;
  const int cut = cutAway_->value();
  cutAway_->setEnabled(true);
  const Box3 box = workspace_.worldBounds();
  cutAway_->setRange(static_cast<int>(std::floor(box.min.y * kCutSteps)), static_cast<int>(std::ceil(box.max.y * kCutSteps)) + 1);
  cutAway_->setValue(kept ? cut : cutAway_->maximum());
  if (cutAway_->value() == cutAway_->maximum()) cutAwayLabel_->setText(tr("all"));
}

void MainWindow::cutAwayAbove(const Vec3& place) {
  constexpr double kRoom = 0.2;  // metres over the agent
  cutAway_->setValue(static_cast<int>(std::ceil((place.y + workspace_.agentKind().height + kRoom) * kCutSteps)));
}

void MainWindow::showPlace(const Vec3& place) {
  view_->camera().lookAt(place, std::min(view_->camera().distance(), 16.0));
  view_->redrawTool();
  if (view_->cutAway() < place.y) cutAway_->setValue(cutAway_->maximum());
  view_->update();
}

void MainWindow::showFinding(const review::Finding& f) {
  if (f.agent >= 0 || f.time >= 0) {
    if (stop() != Stop::review) goTo(Stop::review);
    reel_->setPlaying(false);
    if (f.agent >= 0) reel_->setAgent(f.agent);
    if (f.time >= 0) reel_->setTime(f.time);
  } else if (stop() < Stop::links && (f.code == "broken-link" || f.code == "link-beyond")) {
    goTo(Stop::links);
  } else if (stop() == Stop::level && !f.remedy && isFinite(f.at)) {
    goTo(Stop::mesh);
  }
  if (isFinite(f.at)) showPlace(f.at);
  say(QString::fromStdString(f.sentence));
}

void MainWindow::setTheme(const QString& name) {
  QSettings().setValue(QStringLiteral("theme"), name);
  applyTheme(name == QStringLiteral("dusk"));
  reel_->applyTheme();
  ledger_->setFindings(workspace_.findings());
  refreshSheets();
  trail_->update();
  presenter_->showAll();
}

void MainWindow::say(const QString& text) {
  write(text);
  pointing_ = false;
}

/// In the readout; what is too long for it can be read as its tip.
void MainWindow::write(const QString& text) {
  readout_->setText(text);
  const bool whole = readout_->fontMetrics().horizontalAdvance(text) < readout_->contentsRect().width();
  readout_->setToolTip(whole ? QString() : text);
}

void MainWindow::pointAgain() {
  if (pointing_) view_->pointAgain();
}

QString MainWindow::readoutText() const { return readout_->text(); }
QString MainWindow::hintText() const { return hint_->text(); }

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!maySetAside()) return event->ignore();
  QSettings().setValue(QStringLiteral("geometry"), saveGeometry());
  event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const QString path = event->mimeData()->urls().value(0).toLocalFile();
  if (path.endsWith(QStringLiteral(".dunestep"))) {
    if (maySetAside()) openProject(path);
  } else if (!path.isEmpty()) {
    workspace_.openLevel(path);
  }
}

}  // namespace dune::window
