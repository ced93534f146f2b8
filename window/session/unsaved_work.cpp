#include "window/session/unsaved_work.h"

#include <QDir>
#include <QFileInfo>
#include <QUuid>
#include <algorithm>

#include "core/base/file.h"
#include "window/session/state_folder.h"

namespace dune::window {

namespace {

const auto kEnding = QStringLiteral(".unsaved");

std::unique_ptr<QLockFile> lockOf(const QString& path) { return processLock(path + QStringLiteral(".lock")); }

}  // namespace

QString UnsavedWork::folder() { return stateFolder(QStringLiteral("unsaved")); }

UnsavedWork::UnsavedWork(project::Document& document, const ProjectFile& file, Bulletin& bulletin)
    : document_(document), file_(file), bulletin_(bulletin) {
  writer_.setMaxThreadCount(1);
  soon_.setSingleShot(true);
  soon_.setInterval(kDelayMs);
  connect(&soon_, &QTimer::timeout, this, &UnsavedWork::write);
}

UnsavedWork::~UnsavedWork() {
  writer_.waitForDone();
  if (!path_.isEmpty()) QFile::remove(path_);
}

void UnsavedWork::look() {
  if (document_.modified()) {
    if (!soon_.isActive() && !(kept_ && written_.same(document_.project()))) soon_.start();
  } else {
    soon_.stop();
    removeLater();
  }
}

/// A name and a lock of its own; false where that cannot be.
bool UnsavedWork::begin() {
  if (!path_.isEmpty()) return true;
  const QString path = folder() + QLatin1Char('/') + QUuid::createUuid().toString(QUuid::WithoutBraces) + kEnding;
  lock_ = lockOf(path);
  if (!lock_->tryLock(0)) return lock_.reset(), false;
  path_ = path;
  return true;
}

void UnsavedWork::write() {
  const auto sayOnce = [this](const QString& why) {
    if (!std::exchange(failed_, true))
      bulletin_.say(tr("What is not saved cannot be kept aside in %1 (%2): save often.").arg(folder(), why));
  };
  if (!document_.modified()) return;
  if (!begin()) return sayOnce(tr("the folder cannot be written"));
  // A document is immutable sections: the writer has its own pointers to them.
  written_ = document_.project(), kept_ = true;
  project::Unsaved unsaved{file_.path().isEmpty() ? std::string() : QFileInfo(file_.path()).absoluteFilePath().toStdString(),
                           file_.path().isEmpty() ? std::string() : file_.stamp(), QDateTime::currentMSecsSinceEpoch(), written_};
  writer_.start([this, path = path_.toStdString(), unsaved = std::move(unsaved), takenOver = std::exchange(takenOver_, {}), sayOnce] {
    const auto done = writeFile(path, project::unsavedToJson(unsaved));
    if (done && !takenOver.isEmpty()) QFile::remove(takenOver);
    if (done) return;
    QMetaObject::invokeMethod(
        this, [sayOnce, why = QString::fromStdString(done.problem().what)] { sayOnce(why); }, Qt::QueuedConnection);
  });
}

void UnsavedWork::takeOver(const QString& left) {
  takenOver_ = left;
  soon_.stop();
  write();
}

void UnsavedWork::removeLater() {
  if (!std::exchange(kept_, false)) return;
  writer_.start([path = path_] { QFile::remove(path); });
}

std::vector<UnsavedWork::Left> UnsavedWork::left() {
  std::vector<Left> all;
  for (const QFileInfo& info : QDir(folder()).entryInfoList({QLatin1Char('*') + kEnding}, QDir::Files)) {
    const auto lock = lockOf(info.absoluteFilePath());
    if (!lock->tryLock(0)) continue;  // its window is still open
    const auto unsaved = read(info.absoluteFilePath());
    if (!unsaved) continue;
    const QString project = QString::fromStdString(unsaved->file);
    const QFileInfo file(project);
    all.push_back({info.absoluteFilePath(), project, QDateTime::fromMSecsSinceEpoch(unsaved->when),
                   project.isEmpty() || !file.exists() ? QDateTime() : file.lastModified(),
                   !project.isEmpty() && file.exists() && fileStamp(unsaved->file) != unsaved->stamp});
  }
  std::ranges::sort(all, std::ranges::greater{}, &Left::when);
  return all;
}

Result<project::Unsaved> UnsavedWork::read(const QString& id) {
  const auto text = readFile(id.toStdString());
  if (!text) return text.problem();
  return project::unsavedFromJson(*text);
}

void UnsavedWork::forget(const QString& id) { QFile::remove(id); }

}  // namespace dune::window
