#pragma once
// Project files: .dunestep, JSON, versioned, sorted, made to be read and compared by people.

#include "core/project/project.h"

namespace dune::project {

constexpr int kProjectVersion = 5;

/// Reads a project; nothing of the caller's is touched when it fails. Names both versions when the file is too new, and the
/// line or the JSON path when it is damaged.
Result<Project> load(const std::string& path);
/// Writes a project atomically.
Outcome save(const std::string& path, const Project& project);

Result<Project> fromJson(const std::string& text);
std::string toJson(const Project& project);

/// A level file's path for opening: relative ones start at the project's folder.
std::string levelPath(const std::string& level, const std::string& projectFile);
inline std::string levelPath(const LevelFile& level, const std::string& projectFile) { return levelPath(level.path, projectFile); }
/// Gives every file that a level is read from another path.
template <class Change>
void changePaths(LevelSection& section, Change&& change) {
  for (LevelFile& f : section.files) f.path = change(f.path);
  for (GivenMesh& g : section.given) g.path = change(g.path);
}
/// The path to store for a level: relative to the project's folder when it lies below or beside it.
std::string storedPath(const std::string& level, const std::string& projectFile);

}  // namespace dune::project
