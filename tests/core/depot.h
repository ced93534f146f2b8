#pragma once
// Saltwind Depot, read from a file as its level is.

#include <QTemporaryDir>

#include "core/base/file.h"
#include "core/level/import.h"
#include "demo/depot.h"

namespace dune::test {

inline Result<std::shared_ptr<const level::Level>> depotLevel(Job& job) {
  const QTemporaryDir folder;
  const std::string path = folder.filePath(QStringLiteral("depot.glb")).toStdString();
  if (const Outcome written = writeFile(path, demo::depotLevel().bytes()); !written.ok()) return written.problem();
  return level::importLevel(path, {}, job);
}

}  // namespace dune::test
