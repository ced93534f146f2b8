// What the File menu does: opening, saving, exporting, recent files.

#include <QApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QStandardPaths>

#include "core/base/file.h"
#include "core/meshes/mesh_files.h"
#include "core/pipeline/content.h"
#include "core/trace/file.h"
#include "window/session/kept_reading.h"
#include "window/shell/main_window.h"
#include "window/start/start_page.h"
#include "window/widgets/reading_dialog.h"

namespace dune::window {

namespace {
constexpr int kMostRecent = 8;
const QString kRecent = QStringLiteral("recent");
}  // namespace

void MainWindow::makeFileMenu() {
  QMenu* file = menuBar()->addMenu(tr("&File"));
  file->addAction(tr("New project"), QKeySequence::New, this, [this] {
    if (maySetAside()) keepPictureOfWorld(), workspace_.startNew();
  });
  file->addAction(tr("Open project…"), QKeySequence::Open, this, &MainWindow::openProjectAsked);
  recent_ = file->addMenu(tr("Recent projects"));
  connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
  file->addAction(tr("Save"), QKeySequence::Save, this, [this] { save(false); });
  file->addAction(tr("Save as…"), QKeySequence(tr("Ctrl+Shift+S")), this, [this] { save(true); });
  file->addSeparator();
  file->addAction(tr("Open level…"), QKeySequence(tr("Ctrl+L")), this, [this] { openLevelAsked(false); });
  file->addAction(tr("Add level file…"), this, [this] { openLevelAsked(true); });
  file->addAction(tr("Read the level again"), QKeySequence(Qt::Key_F5), this, [this] { workspace_.readAgain(); });
  file->addAction(tr("Open mesh…"), this, &MainWindow::openMeshAsked);
  file->addAction(tr("Open recording…"), this, &MainWindow::openTraceAsked);
  file->addAction(tr("Export mesh…"), QKeySequence(tr("Ctrl+E")), this, &MainWindow::exportMesh);
  file->addSeparator();
  file->addAction(tr("Quit"), QKeySequence::Quit, this, &QWidget::close);
}

void MainWindow::fillRecent() {
  recent_->clear();
  const QStringList paths = QSettings().value(kRecent).toStringList();
  for (const QString& path : paths)
    recent_->addAction(QFileInfo(path).completeBaseName() + QStringLiteral("  –  ") + QFileInfo(path).path(), this, [this, path] {
      if (maySetAside()) openProject(path);
    });
  if (paths.isEmpty()) recent_->addAction(tr("None yet"))->setEnabled(false);
}

void MainWindow::remember(const QString& path) {
  QSettings settings;
  QStringList paths = settings.value(kRecent).toStringList();
  const QString full = QFileInfo(path).absoluteFilePath();
  paths.removeAll(full);
  paths.prepend(full);
  settings.setValue(kRecent, QStringList(paths.mid(0, kMostRecent)));
}

void MainWindow::answer(Request request) {
  switch (request) {
    case Request::openLevel:
      return openLevelAsked(false);
    case Request::addLevelFile:
      return openLevelAsked(true);
    case Request::exportMesh:
      return exportMesh();
    case Request::saveTrace:
      return saveTrace();
    case Request::saveFlight:
      return saveFlight();
    case Request::openTrace:
      return openTraceAsked();
    case Request::readTrace:
      return readTraceAsked();
  }
}

/// It lies over the world while there is nothing in it.
void MainWindow::makeStartPage() {
  start_ = new StartPage(view_);
  connect(view_, &WorldView::vacancyChanged, this, [this](bool vacant) {
    if (vacant) start_->setRecent(QSettings().value(kRecent).toStringList()), showUnsaved();
    start_->setVisible(vacant);
    cutAway_->setVisible(!vacant);
  });
  connect(start_, &StartPage::openLevelAsked, this, [this] { openLevelAsked(false); });
  connect(start_, &StartPage::openProjectAsked, this, &MainWindow::openProjectAsked);
  connect(start_, &StartPage::projectChosen, this, [this](const QString& path) {
    if (maySetAside()) openProject(path);
  });
  connect(start_, &StartPage::unsavedChosen, this, [this](const QString& id) {
    if (maySetAside()) goOnWith(id);
  });
  connect(start_, &StartPage::unsavedThrownAway, this, [this](const QString& id) {
    UnsavedWork::forget(id);
    showUnsaved();
  });
  showUnsaved();
  connect(start_, &StartPage::exampleChosen, this, &MainWindow::openExample);
  connect(start_, &StartPage::drawAsked, this, [this] { std::ranges::any_of(stops_, [](const auto& s) { return s->beginByHand(); }); });
}

/// An example is a project like any other that nobody has saved yet; its level lies where the program keeps its own files.
void MainWindow::openExample(const demo::Example& example) {
  if (!maySetAside()) return;
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/examples");
  QDir().mkpath(folder);
  if (const auto written = example.writeLevel(folder.toStdString()); !written) {
    QMessageBox::warning(this, tr("Open example"), QString::fromStdString(written.problem().text()));
    return;
  }
  project::Project project = example.project();
  project::edit(project.level, [&](project::LevelSection& s) {
    for (project::LevelFile& file : s.files) file.path = QDir(folder).filePath(QString::fromStdString(file.path)).toStdString();
  });
  workspace_.take(std::move(project));
  readout_->say(tr("%1 is an example; what you change in it is yours once you save it.").arg(tr(example.name)));
}

namespace {

/// "28 Nov 14:31, 12 minutes after it was saved last".
QString whenOf(const UnsavedWork::Left& left) {
  const QString when = QLocale().toString(left.when, QStringLiteral("d MMM HH:mm"));
  if (left.project.isEmpty()) return QObject::tr("%1, never saved").arg(when);
  if (!left.saved.isValid()) return QObject::tr("%1; its file is gone").arg(when);
  if (left.savedSince)
    return QObject::tr("%1; its file was saved at %2 by another window").arg(when, QLocale().toString(left.saved, QStringLiteral("HH:mm")));
  const qint64 minutes = left.saved.secsTo(left.when) / 60;
  return minutes < 1 ? QObject::tr("%1, within a minute after it was saved last").arg(when)
                     : QObject::tr("%1, %2 minutes newer than its file").arg(when).arg(minutes);
}

QString nameOf(const UnsavedWork::Left& left) {
  return left.project.isEmpty() ? QObject::tr("Untitled") : QFileInfo(left.project).completeBaseName();
}

}  // namespace

void MainWindow::showUnsaved() {
  std::vector<StartPage::Unsaved> rows;
  for (const UnsavedWork::Left& left : UnsavedWork::left()) rows.push_back({left.id, nameOf(left), whenOf(left)});
  start_->setUnsaved(rows);
}

bool MainWindow::goOnWith(const QString& id) {
  if (const auto problem = workspace_.goOnWith(id)) {
    readout_->say(QString::fromStdString(problem->text()));
    return false;
  }
  readout_->say(tr("This is the work that was not saved. Undo leads back to what the file has."));
  return true;
}

/// Work on it that was left behind; true where that is what is open now.
bool MainWindow::offerUnsaved(const QString& path) {
  const QString full = QFileInfo(path).absoluteFilePath();
  for (const UnsavedWork::Left& left : UnsavedWork::left()) {
    if (left.project != full) continue;
    QMessageBox box(QMessageBox::Question, tr("Open project"),
                    tr("There is work on %1 that was not saved when the program ended: %2.").arg(nameOf(left), whenOf(left)),
                    QMessageBox::NoButton, this);
    QPushButton* on = box.addButton(tr("Go on with it"), QMessageBox::AcceptRole);
    box.addButton(tr("Open the file as it is"), QMessageBox::RejectRole);
    box.exec();
    return box.clickedButton() == on && goOnWith(left.id);
  }
  return false;
}

void MainWindow::keepPictureOfWorld() {
  if (workspace_.level() && view_->isVisible()) keepPicture(workspace_.file().path(), view_->picture());
}

bool MainWindow::openProject(const QString& path) {
  keepPictureOfWorld();
  if (offerUnsaved(path)) return remember(path), true;
  if (const auto problem = workspace_.open(path)) {
    readout_->say(QString::fromStdString(problem->text()));
    QMessageBox::warning(this, tr("Open project"), QString::fromStdString(problem->text()));
    return false;
  }
  remember(path);
  return true;
}

void MainWindow::openProjectAsked() {
  if (!maySetAside()) return;
  const QString path = QFileDialog::getOpenFileName(this, tr("Open project"), QFileInfo(workspace_.file().path()).path(),
                                                    tr("Dune Step projects (*.dunestep)"));
  if (!path.isEmpty()) openProject(path);
}

void MainWindow::openTraceAsked() {
  // What was recorded of a level lies beside it as a rule, and that of an example does.
  const auto level = workspace_.level();
  const QString beside = level && !level->files.empty() ? QString::fromStdString(level->files[0].path) : workspace_.file().path();
  const QString path = QFileDialog::getOpenFileName(this, tr("Open recording"), QFileInfo(beside).path(),
                                                    tr("Recorded movement (*.csv *.tsv *.txt *.jsonl *.dstrace)"));
  if (!path.isEmpty()) openTrace(path);
}

void MainWindow::openTrace(const QString& path) {
  goToPart(review::Part::movement);
  const auto head = trace::headOf(path.toStdString());
  if (!head) return readout_->say(QString::fromStdString(head.problem().text()));
  if (!head->has_value()) return workspace_.openRecording(path);
  const trace::Reading reading = keptReading(**head);
  // Where its columns say nothing, a person does; with fewer columns than are needed there is nothing to ask.
  if (!(*head)->missing(reading).empty() && (*head)->names.size() >= trace::kNeeded.size()) return readTrace(path, **head, reading);
  workspace_.openRecording(path, reading);
}

void MainWindow::readTraceAsked() {
  const auto run = workspace_.run();
  if (!run || run->recording.empty()) return;
  const auto head = trace::headOf(run->recording);
  if (!head) return readout_->say(QString::fromStdString(head.problem().text()));
  if (head->has_value()) readTrace(QString::fromStdString(run->recording), **head, run->reading);
}

void MainWindow::readAs(const trace::Reading& reading) {
  const auto run = workspace_.run();
  if (!run || run->recording.empty()) return;
  const std::string path = run->recording;
  if (const auto head = trace::headOf(path); head && head->has_value()) keepReading(**head, reading);
  workspace_.openRecording(QString::fromStdString(path), reading);
}

void MainWindow::readTrace(const QString& path, const trace::TableHead& head, const trace::Reading& now) {
  ReadingDialog dialog(head, now, QFileInfo(path).fileName(), this);
  if (dialog.exec() != QDialog::Accepted) return;
  keepReading(head, dialog.answer());
  workspace_.openRecording(path, dialog.answer());
}

void MainWindow::openLevelAsked(bool beside) {
  const QString path = QFileDialog::getOpenFileName(this, tr("Open level"), QFileInfo(workspace_.file().path()).path(),
                                                    tr("Levels (*.obj *.gltf *.glb *.ply *.stl *.dae *.png *.tmx *.tmj *.json)"));
  if (!path.isEmpty()) openLevel(path, beside);
}

void MainWindow::openLevel(const QString& path, bool beside) {
  goToPart(review::Part::level);
  workspace_.openLevel(path, beside);
}

void MainWindow::openMeshAsked() {
  const QString path = QFileDialog::getOpenFileName(this, tr("Open mesh"), QFileInfo(workspace_.file().path()).path(),
                                                    tr("Meshes (*.obj *.glb *.gltf *.ply *.stl *.dsmesh *.json)"));
  if (!path.isEmpty()) openMesh(path);
}

/// In the project that is open: its level, where it has one, is what the mesh is judged by.
void MainWindow::openMesh(const QString& path) {
  goToPart(review::Part::mesh);
  workspace_.openMesh(path);
}

void MainWindow::takeTyped() {
  QWidget* field = QApplication::focusWidget();
  if (!field || !isAncestorOf(field)) return;
  field->clearFocus();
  field->setFocus();
}

/// Whether the file of the project may be written over, where somebody else has written it since.
bool MainWindow::mayReplace() {
  if (!workspace_.file().changedElsewhere()) return true;
  return QMessageBox::question(this, tr("Save project"),
                               tr("Another program has changed %1 since it was opened. Saving puts this project in its place.")
                                   .arg(QFileInfo(workspace_.file().path()).fileName()),
                               QMessageBox::Save | QMessageBox::Cancel, QMessageBox::Cancel) == QMessageBox::Save;
}

bool MainWindow::save(bool elsewhere) {
  takeTyped();
  QString path = workspace_.file().path();
  if (elsewhere || path.isEmpty()) {
    path = QFileDialog::getSaveFileName(this, tr("Save project"), path.isEmpty() ? tr("untitled.dunestep") : path,
                                        tr("Dune Step projects (*.dunestep)"));
    if (path.isEmpty()) return false;
    if (QFileInfo(path).suffix().isEmpty()) path += QStringLiteral(".dunestep");
  } else if (!mayReplace()) {
    return false;
  }
  if (const auto problem = workspace_.save(path)) {
    QMessageBox::warning(this, tr("Save project"), QString::fromStdString(problem->text()));
    return false;
  }
  remember(path);
  keepPictureOfWorld();
  refreshTitle();
  readout_->say(tr("Saved: %1").arg(path));
  return true;
}

/// Whether the open project may be left: saved, or not worth saving, or given up by the person.
bool MainWindow::maySetAside() {
  takeTyped();
  if (!workspace_.document().modified()) return true;
  const auto answer = QMessageBox::question(this, tr("Unsaved changes"), tr("The project has changes that are not saved."),
                                            QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
  if (answer == QMessageBox::Save) return save(false);
  return answer == QMessageBox::Discard;
}

void MainWindow::exportMesh() {
  const auto ground = workspace_.ground();
  if (!ground) return readout_->say(tr("There is no mesh to export yet."));
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Export mesh"), tr("level.dsmesh"), tr("Meshes (*.dsmesh *.json *.obj *.glb)"));
  if (path.isEmpty()) return;
  const auto written = meshes::writeMesh(path.toStdString(), pipeline::contentOf(*ground));
  readout_->say(written ? tr("Exported: %1").arg(path) : QString::fromStdString(written.problem().text()));
}

void MainWindow::saveTrace() {
  if (const auto run = workspace_.run()) saveMovement(run->trace, tr("run.csv"));
}

void MainWindow::saveFlight() {
  if (const auto flown = workspace_.airs().flown()) saveMovement(flown->trace, tr("flight.csv"));
}

void MainWindow::saveMovement(const trace::Trace& trace, const QString& name) {
  const QString path = QFileDialog::getSaveFileName(this, tr("Save recorded movement"), name, tr("Traces (*.csv *.dstrace)"));
  if (path.isEmpty()) return;
  const auto written = trace::writeTrace(path.toStdString(), trace);
  readout_->say(written ? tr("Saved: %1").arg(path) : QString::fromStdString(written.problem().text()));
}

}  // namespace dune::window
