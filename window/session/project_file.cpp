#include "window/session/project_file.h"

#include <QCoreApplication>

namespace dune::window {

std::optional<Problem> ProjectFile::open(const QString& path) {
  auto project = project::load(path.toStdString());
  if (!project) return project.problem();
  path_ = path;
  document_.reset(*std::move(project));
  bulletin_.add(Topic::file);
  return std::nullopt;
}

std::optional<Problem> ProjectFile::save(const QString& path) {
  project::Project saved = document_.project();
  project::edit(saved.level, [&](project::LevelSection& s) {
    for (project::LevelFile& f : s.files) f.path = project::storedPath(fullPath(f), path.toStdString());
  });
  if (const auto written = project::save(path.toStdString(), saved); !written) return written.problem();
  const bool moved = path != path_;
  path_ = path;
  if (moved && !(*saved.level == *document_.project().level)) {
    movedOnly_ = true;
    document_.change(QCoreApplication::translate("ProjectFile", "Save as").toStdString(),
                     [&](project::Project& p) { p.level = saved.level; });
    movedOnly_ = false;
  }
  document_.markSaved();
  bulletin_.add(Topic::file);
  return std::nullopt;
}

void ProjectFile::startNew() {
  path_.clear();
  document_.reset({});
  bulletin_.add(Topic::file);
}

std::string ProjectFile::storedPath(const QString& file) const {
  return path_.isEmpty() ? file.toStdString() : project::storedPath(file.toStdString(), path_.toStdString());
}

}  // namespace dune::window
