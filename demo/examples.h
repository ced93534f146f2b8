#pragma once
// The examples that come with the program, as one table: for the window's first page and the program that writes them out.

#include <span>
#include <string>

#include "core/project/project.h"

namespace dune::demo {

struct Example {
  const char* file;   ///< name of the project's file, without suffix; its pictures are named so too
  const char* name;   ///< as people call it
  const char* about;  ///< what it is good for, in one line
  project::Project (*project)();
  Outcome (*writeLevel)(const std::string& folder);  ///< the files that the project names
};

std::span<const Example> examples();

}  // namespace dune::demo
