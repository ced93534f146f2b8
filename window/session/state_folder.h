#pragma once
// What the program keeps between its runs and is no setting: folders of it, and locks that end with their process.

#include <QLockFile>
#include <QString>
#include <memory>

namespace dune::window {

/// A folder of that name below the program's own in the user's state folder; it need not be there.
QString stateFolder(const QString& name);
/// A lock at a path whose folder is made if need be; it is not held yet. One that a process left that has ended is taken over.
std::unique_ptr<QLockFile> processLock(const QString& path);

}  // namespace dune::window
