#pragma once
// Work on a project that was not saved yet, as it is kept aside until it is.

#include <cstdint>

#include "core/base/result.h"
#include "core/project/project.h"

namespace dune::project {

struct Unsaved {
  std::string file;       ///< of the project, whole; empty where it was never saved
  std::string stamp;      ///< of that file when it was opened or saved last
  std::int64_t when = 0;  ///< milliseconds since 1970
  Project project;
};

std::string unsavedToJson(const Unsaved& unsaved);
/// Fails on text that is nothing such.
Result<Unsaved> unsavedFromJson(const std::string& text);

}  // namespace dune::project
