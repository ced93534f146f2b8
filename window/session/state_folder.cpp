#include "window/session/state_folder.h"

#include <QDir>
#include <QFileInfo>

namespace dune::window {

QString stateFolder(const QString& name) {
  const QString state = qEnvironmentVariable("XDG_STATE_HOME");
  return (state.isEmpty() ? QDir::homePath() + QStringLiteral("/.local/state") : state) + QStringLiteral("/dune-step/") + name;
}

std::unique_ptr<QLockFile> processLock(const QString& path) {
  QDir().mkpath(QFileInfo(path).path());
  auto lock = std::make_unique<QLockFile>(path);
  lock->setStaleLockTime(0);  // it ends with its process, and not by growing old
  return lock;
}

}  // namespace dune::window
