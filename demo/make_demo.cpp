// Writes the demo levels and projects into a folder.

#include <cstdio>
#include <filesystem>

#include "core/project/file.h"
#include "demo/examples.h"

namespace {

dune::Outcome write(const dune::demo::Example& example, const std::string& folder) {
  if (auto level = example.writeLevel(folder); !level) return level;
  return dune::project::save(folder + "/" + example.file + ".dunestep", example.project());
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make-demo FOLDER\n");
    return 2;
  }
  std::error_code error;
  std::filesystem::create_directories(argv[1], error);
  for (const dune::demo::Example& example : dune::demo::examples())
    if (const auto outcome = write(example, argv[1]); !outcome) {
      std::fprintf(stderr, "%s\n", outcome.problem().text().c_str());
      return dune::exitCode(outcome.problem().code);
    }
}
