#include "window/shell/main_window.h"

#include <QAction>
#include <QActionGroup>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QMenuBar>
#include <QMimeData>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>
#include <QStackedWidget>
#include <QToolButton>

#include "core/pipeline/mend.h"
#include "core/pipeline/remedy.h"
#include "window/scene/theme.h"
#include "window/session/hand_picks.h"
#include "window/shell/input_precedence.h"
#include "window/shell/stop_table.h"
#include "window/start/start_page.h"
#include "window/timeline/reel.h"

namespace dune::window {

namespace {

constexpr int kSheetWidth = 292;

/// With the frame that a window manager puts around it, it stays on the screen.
QSize firstSize(const QSize& available) {
  constexpr QSize kWanted{1280, 800}, kFrame{16, 48};  // pixels; of the frame about
  return kWanted.boundedTo(available - kFrame);
}

/// Whether a stop that is open shows what findings of a part of the job are about.
bool shows(const TrailStop& stop, review::Part part) {
  switch (part) {
    case review::Part::level:
      return true;
    case review::Part::mesh:
      return stop.backdrop().ground;
    case review::Part::links:
      return stop.backdrop().links;
    case review::Part::routes:
    case review::Part::flight:
    case review::Part::movement:
      return stop.looksAt(part);
  }
  return true;
}

}  // namespace

MainWindow::MainWindow() {
  makeParts();
  layOut();
  makeMenus();
  connectParts();
  qApp->installEventFilter(new InputPrecedence(this));
  setAcceptDrops(true);
  resize(firstSize(screen()->availableSize()));
  const QSettings settings;
  if (settings.contains(QStringLiteral("geometry"))) restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
  refresh(kEverything);
}

/// A field that has the focus says so when it loses it, and the sheets speak to the workspace to their end: they go before it does.
MainWindow::~MainWindow() {
  hide();
  delete takeCentralWidget();
}

void MainWindow::makeParts() {
  trail_ = new Trail;
  view_ = new WorldView;
  view_->setHand(&gestures_);
  makeStartPage();
  ledger_ = new Ledger(workspace_.findings(), workspace_.selection());
  reel_ = new Reel(workspace_.playback(), workspace_.findings(), workspace_.selection());
  readout_ = new Readout(workspace_, *view_);
  cutAway_ = new CutAway;
  hint_ = new QLabel;
  hint_->setContentsMargins(10, 5, 10, 5);
  hint_->setWordWrap(true);  // or a long one would make the window wider
  stops_ = makeStops(workspace_, *view_);
  for (int i = 0; i < stopCount(); ++i) {
    connect(stops_[static_cast<std::size_t>(i)].get(), &TrailStop::openAsked, this, [this, i] {
      if (stop() != i) goTo(i);
    });
    connectSheet(sheet(i));
  }
}

void MainWindow::connectSheet(Sheet* sheet) {
  connect(sheet, &Sheet::asked, this, &MainWindow::answer);
  connect(sheet, &Sheet::showPlace, this, &MainWindow::showPlace);
  connect(sheet, &Sheet::showBox, this, &MainWindow::showBox);
}

QWidget* MainWindow::makeSheets() {
  stack_ = new QStackedWidget;
  for (int i = 0; i < stopCount(); ++i) {
    auto* scroll = new QScrollArea;
    scroll->setWidget(sheet(i));
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    stack_->addWidget(scroll);
  }
  stack_->setObjectName(QStringLiteral("sheet"));
  stack_->setFixedWidth(kSheetWidth);
  return stack_;
}

/// What to do next, and the one way of looking that is a switch.
QWidget* MainWindow::makeStrip() {
  auto* strip = new QWidget;
  strip->setObjectName(QStringLiteral("toolStrip"));
  strip->setAttribute(Qt::WA_StyledBackground);
  fromAbove_ = new QToolButton;
  fromAbove_->setObjectName(QStringLiteral("fromAbove"));
  auto* row = new QHBoxLayout(strip);
  row->setContentsMargins(0, 0, 6, 0);
  row->addWidget(hint_, 1);
  row->addWidget(fromAbove_);
  return strip;
}

void MainWindow::layOut() {
  auto* worldRow = new QHBoxLayout;
  worldRow->setSpacing(0);
  worldRow->addWidget(view_, 1);
  worldRow->addWidget(cutAway_);
  auto* worldColumn = new QVBoxLayout;
  worldColumn->setSpacing(0);
  worldColumn->addWidget(makeStrip());
  worldColumn->addLayout(worldRow, 1);
  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  middle->addWidget(makeSheets());
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

void MainWindow::connectParts() {
  connect(&workspace_.bulletin(), &Bulletin::issued, this, &MainWindow::refresh);
  connect(&workspace_.bulletin(), &Bulletin::said, readout_, &Readout::say);
  connect(&gestures_, &Gestures::toolLeft, this, [this] { open().sheet()->leaveTool(); });
  connect(trail_, &Trail::chosen, this, &MainWindow::goTo);
  connect(trail_, &Trail::cancelAsked, this, [this] { workspace_.cancel(); });
  connect(view_, &WorldView::pointed, this, [this](const Pointer& p) {
    readout_->point(p, open().backdrop().names, gestures_.holding(), open().pointAt(p, gestures_.holding()));
  });
  connect(view_, &WorldView::tilted, this, [this] { plan_->setChecked(false); });
  connect(view_, &WorldView::cameraRested, this, [this] { workspace_.bulletin().add(Topic::camera); });
  connect(view_, &WorldView::doubleClicked, this, [this](const Pointer& p) {
    if (p.hit) cutAwayAbove(p.hit->at);
  });
  connect(view_, &WorldView::menuAsked, this, &MainWindow::showMenu);
  connect(cutAway_, &CutAway::changed, view_, &WorldView::setCutAway);
  connect(ledger_, &Ledger::chosen, this, &MainWindow::showFinding);
  connect(ledger_, &Ledger::muteAsked, this, &MainWindow::muteFinding);
  connect(ledger_, &Ledger::remedyAsked, this, &MainWindow::remedy);
  connect(ledger_, &Ledger::remedyForAllAsked, this, &MainWindow::remedyAll);
}

void MainWindow::remedy(const review::Remedy& r) {
  if (const auto* read = std::get_if<review::ReadRecording>(&r.change)) return readAs(read->read);
  const QString label = QString::fromStdString(r.label);
  const auto* byHand = std::get_if<review::MendByHand>(&r.change);
  if (!byHand) return workspace_.change(label, [&](project::Project& p) { pipeline::apply(r, p); });
  const auto& kinds = workspace_.project().agents->agents;
  workspace_.setAgent(static_cast<std::size_t>(std::ranges::find(kinds, byHand->agent, &project::AgentKind::id) - kinds.begin()));
  const auto problem =
      changeByHand(workspace_, label, [what = *byHand, ground = workspace_.ground()](const hand::Editor& editor, const Picks&) {
        return pipeline::mended(what, editor, ground->mesh, ground->locator());
      });
  if (problem) readout_->say(QString::fromStdString(problem->text()));
}

/// What is done to the document alone is one step; what takes the ground each time goes on in the background.
void MainWindow::remedyAll(const std::string& code) {
  std::vector<review::Remedy> all;
  for (const KeptFinding& kept : workspace_.findings().all())
    if (kept.finding.code == code && kept.finding.remedy) all.push_back(*kept.finding.remedy);
  if (all.empty()) return;
  const QString label = QString::fromStdString(all.front().label);
  const bool given = std::ranges::all_of(all, [](const review::Remedy& r) {
    return std::holds_alternative<review::MendByHand>(r.change) || std::holds_alternative<review::MendGiven>(r.change);
  });
  if (given) return workspace_.mendAll(code, label);
  workspace_.change(label, [&](project::Project& p) {
    for (const review::Remedy& r : all) pipeline::apply(r, p);
  });
}

void MainWindow::makeMenus() {
  makeFileMenu();
  makeEditMenu();
  QMenu* work = menuBar()->addMenu(tr("&Work"));
  work->addAction(tr("Build mesh"), QKeySequence(tr("Ctrl+B")), this, [this] { workspace_.build(); });
  work->addAction(tr("Run crowd"), QKeySequence(tr("Ctrl+R")), this, [this] { workspace_.runCrowd(); });
  work->addAction(tr("Cancel work"), QKeySequence(tr("Ctrl+.")), this, [this] { workspace_.cancel(); });
  makeViewMenu();
  QMenu* go = menuBar()->addMenu(tr("&Go"));
  for (int i = 0; i < stopCount(); ++i)
    go->addAction(stops_[static_cast<std::size_t>(i)]->name(), QKeySequence(tr("Ctrl+%1").arg(i + 1)), this, [this, i] { goTo(i); });
  go->addSeparator();
  go->addAction(tr("Play or pause"), QKeySequence(Qt::Key_Space), this, [this] {
    if (reel_->isVisible()) reel_->setPlaying(!reel_->playing());
  });
  makeHelpMenu();
}

void MainWindow::makeViewMenu() {
  QMenu* view = menuBar()->addMenu(tr("&View"));
  view->addAction(tr("Show the whole level"), QKeySequence(tr("Home")), this, &MainWindow::frameAll);
  plan_ = view->addAction(tr("Look straight down"));
  plan_->setCheckable(true);
  plan_->setShortcut(QKeySequence(tr("Ctrl+D")));
  plan_->setIconText(tr("From above"));
  fromAbove_->setDefaultAction(plan_);
  fromAbove_->setToolTip(tr("Look straight down (Ctrl+D); any tilt ends it"));
  fromAbove_->setAccessibleName(tr("Look straight down"));
  connect(plan_, &QAction::toggled, this, [this](bool on) { view_->camera().setPlan(on), view_->redraw(); });
  QAction* names = view->addAction(tr("Names of places"));
  names->setCheckable(true);
  names->setChecked(QSettings().value(QStringLiteral("names"), true).toBool());
  view_->setNamesShown(names->isChecked());
  connect(names, &QAction::toggled, this, [this](bool on) {
    QSettings().setValue(QStringLiteral("names"), on);
    view_->setNamesShown(on);
  });
  view->addAction(tr("Remove the cut-away"), this, [this] { cutAway_->remove(); });
  view->addSeparator();
  view->addAction(tr("Next finding"), QKeySequence(Qt::Key_F4), this, [this] { ledger_->step(1); });
  view->addAction(tr("Previous finding"), QKeySequence(Qt::SHIFT | Qt::Key_F4), this, [this] { ledger_->step(-1); });
  view->addSeparator();
  auto* themes = new QActionGroup(this);
  for (const auto& [text, name] :
       {std::pair(tr("Noon (light)"), QStringLiteral("noon")), std::pair(tr("Dusk (dark)"), QStringLiteral("dusk"))}) {
    QAction* action = view->addAction(text, this, [this, name = name] { setTheme(name); });
    action->setCheckable(true);
    action->setChecked(theme().dark == (name == QStringLiteral("dusk")));
    themes->addAction(action);
  }
}

void MainWindow::goTo(int stop) {
  gestures_.giveUpDrag();
  open().sheet()->leaveTool();
  trail_->setCurrent(stop);
  stack_->setCurrentIndex(stop);
  readout_->clear();
  readout_->say({});
  refresh({Topic::stop, Topic::tool});
}

/// To where findings of a part of the job are looked at.
void MainWindow::goToPart(review::Part part) {
  const auto there = std::ranges::find_if(stops_, [&](const auto& s) { return s->looksAt(part); });
  if (there != stops_.end()) goTo(static_cast<int>(there - stops_.begin()));
}

/// Once a turn of the event loop, for all that happened in it.
void MainWindow::refresh(Topics changed) {
  if (changed & Topic::level) frameNewLevel();
  refreshStops(changed);
  const Topics handled = kDocument | Topic::stop | Topic::selection | Topic::ground | Topic::level | Topic::theme;
  if (changed & (Topic::tool | handled)) refreshTool();
  if (changed & handled) view_->redrawHand();  // what the mouse does itself redraws it
  if (changed & ~(Topic::playback | Topic::tool | Topic::camera | Topic::selection | Topic::trials | Topic::insight)) refreshTrail();
  if (changed & (kDocument | Topic::file)) refreshTitle();
  if (changed & (Topic::findings | Topic::selection | Topic::theme)) ledger_->refresh();
  if (changed & (Topic::run | Topic::stop)) reel_->setVisible(workspace_.run() && open().backdrop().bodies);
  if (changed & Topic::theme) reel_->applyTheme();
  if (changed & (Topic::run | Topic::playback | Topic::selection | Topic::theme)) reel_->refresh();
  if (changed & (Topic::findings | Topic::selection)) reel_->refreshMarks();
  if (changed & (Topic::playback | Topic::selection)) followBody();
  if (changed & (kDocument | Topic::level | Topic::ground | Topic::agent | Topic::air)) readout_->pointAgain();
}

void MainWindow::refreshStops(Topics changed) {
  Sheet* sheet = open().sheet();
  if (sheet->concerns() & changed) sheet->refresh(changed);
  const Backdrop backdrop = open().backdrop();
  for (const auto& stop : stops_) stop->draw({stop.get() == &open(), backdrop}, changed);
}

void MainWindow::refreshTool() {
  Sheet* sheet = open().sheet();
  Tool* tool = sheet->tool();
  // A tool that has done its work may go while its button is still down; what it did stays.
  if (tool != gestures_.tool() && !gestures_.dragging()) {
    gestures_.setTool(tool);
    view_->setCursor(tool && tool->aims() ? Qt::CrossCursor : Qt::ArrowCursor);
    view_->redrawHand();
  }
  gestures_.setRemovable(sheet->removable());
  hint_->setText(start_->isVisibleTo(view_) ? tr("Nothing is here yet: open a level, draw one, or try an example.")
                 : tool                     ? tool->hint()
                        : tr("Drag to turn the view, with Shift and the right button to move it; the wheel zooms. Double-click a place to "
                             "cut away what is above it."));
}

void MainWindow::followBody() {
  const Playback& playback = workspace_.playback();
  if (!playback.eyeFollows() || !reel_->isVisible()) return;
  if (const auto at = playback.bodyAt()) view_->camera().lookAt(*at, view_->camera().distance()), view_->redraw();
}

void MainWindow::refreshTrail() {
  std::vector<TrailEntry> entries;
  for (const auto& stop : stops_) entries.push_back({stop->name(), stop->state()});
  trail_->setStops(std::move(entries));
}

void MainWindow::refreshTitle() {
  const QString& path = workspace_.file().path();
  const QString name = path.isEmpty() ? tr("Untitled") : QFileInfo(path).completeBaseName();
  const project::Document& d = workspace_.document();
  setWindowTitle(tr("%1%2 – Dune Step").arg(name, d.modified() ? QStringLiteral(" *") : QString()));
  undo_->setEnabled(d.canUndo());
  undo_->setText(d.canUndo() ? tr("Undo %1").arg(QString::fromStdString(d.undoLabel())) : tr("Undo"));
  redo_->setEnabled(d.canRedo());
  redo_->setText(d.canRedo() ? tr("Redo %1").arg(QString::fromStdString(d.redoLabel())) : tr("Redo"));
}

/// A level that is read again keeps the eye and the cut-away; a flat one is looked at from above until somebody turns the view.
void MainWindow::frameNewLevel() {
  const auto level = workspace_.level();
  const auto& files = workspace_.project().level->files;
  std::vector<std::string> meshes;
  if (files.empty())
    for (const project::GivenMesh& g : workspace_.project().level->given) meshes.push_back(g.path);
  const bool known = framedOnce_ && framed_ == files && framedMeshes_ == meshes;
  framed_ = files, framedMeshes_ = std::move(meshes), framedOnce_ = level != nullptr;
  if (!level) return;
  cutAway_->setRange(workspace_.worldBounds(), known);
  if (known) return;
  if (level->flat() != plan_->isChecked()) plan_->setChecked(level->flat());
  frameAll();
}

void MainWindow::frameAll() {
  constexpr double kFigures = 3;  // metres beside the level, where the figures stand
  Box3 box = workspace_.worldBounds();
  box.max.x += kFigures;
  if (workspace_.level()) view_->camera().frame(box);
  view_->redraw();
}

void MainWindow::showMenu(const Pointer& pointer, const QPoint& at) {
  if (!pointer.hit) return;
  auto* menu = new QMenu(this);
  for (const auto& stop : stops_) stop->addToMenu(*menu, pointer);
  menu->addAction(tr("Cut away what is above"), this, [this, place = pointer.hit->at] { cutAwayAbove(place); });
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->popup(at);
}

void MainWindow::cutAwayAbove(const Vec3& place) {
  constexpr double kRoom = 0.2;  // metres over the agent
  cutAway_->setHeight(place.y + workspace_.agentKind().height + kRoom);
}

void MainWindow::showPlace(const Vec3& place) {
  constexpr double kNear = 16;  // metres from the eye
  view_->camera().lookAt(place, std::min(view_->camera().distance(), kNear));
  view_->redrawHand();
  if (view_->cutAway() < place.y) cutAway_->remove();
  view_->redraw();
}

void MainWindow::showBox(const Box3& box) {
  constexpr double kAround = 4;  // metres: what lies about a thing is seen too
  view_->camera().frame({box.min - Vec3(kAround), box.max + Vec3(kAround)});
  view_->redrawHand();
  view_->redraw();
}

void MainWindow::showFinding(const review::Finding& f) {
  const review::FindingKind* kind = review::kindOf(f.code);
  const review::Part part = f.flies ? review::Part::flight : kind ? kind->part : review::Part::mesh;
  if ((kind || f.flies) && !shows(open(), part)) goToPart(part);
  reel_->setPlaying(false);
  open().showFinding(f);
  if (isFinite(f.at)) showPlace(f.at);
  readout_->say(QString::fromStdString(f.sentence));
}

void MainWindow::setTheme(const QString& name) {
  QSettings().setValue(QStringLiteral("theme"), name);
  applyTheme(name == QStringLiteral("dusk"));
  trail_->update();
  workspace_.bulletin().add(Topic::theme);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!maySetAside()) return event->ignore();
  keepPictureOfWorld();
  QSettings().setValue(QStringLiteral("geometry"), saveGeometry());
  event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

namespace {
bool isRecording(const QString& path) {
  const QStringList endings{QStringLiteral("csv"), QStringLiteral("tsv"), QStringLiteral("jsonl"), QStringLiteral("dstrace")};
  return endings.contains(QFileInfo(path).suffix().toLower());
}
}  // namespace

void MainWindow::dropEvent(QDropEvent* event) {
  const QString path = event->mimeData()->urls().value(0).toLocalFile();
  if (path.endsWith(QStringLiteral(".dunestep"))) {
    if (maySetAside()) openProject(path);
  } else if (isRecording(path)) {
    openTrace(path);
  } else if (path.endsWith(QStringLiteral(".dsmesh"))) {
    openMesh(path);
  } else if (!path.isEmpty()) {
    openLevel(path, false);
  }
}

}  // namespace dune::window
