// Writes the demo levels and projects into a folder.

#include <cstdio>
#include <filesystem>

#include "core/base/file.h"
#include "core/project/file.h"
#include "demo/barchan.h"
#include "demo/date_garden.h"
#include "demo/depot.h"

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make-demo FOLDER\n");
    return 2;
  }
  std::error_code error;
  const std::filesystem::path folder(argv[1]);
  std::filesystem::create_directories(folder, error);
  for (const auto& outcome : {dune::writeFile((folder / "saltwind-depot.glb").string(), dune::demo::depotLevel().bytes()),
                              dune::project::save((folder / "saltwind-depot.dunestep").string(), dune::demo::depotProject()),
                              dune::writeFile((folder / "barchan-field.png").string(), dune::demo::barchanImage()),
                              dune::project::save((folder / "barchan-field.dunestep").string(), dune::demo::barchanProject()),
                              dune::writeFile((folder / dune::demo::kGardenMapFile).string(), dune::demo::gardenMap()),
                              dune::writeFile((folder / dune::demo::kGardenTilesFile).string(), dune::demo::gardenTiles()),
                              dune::project::save((folder / "date-garden.dunestep").string(), dune::demo::gardenProject())})
    if (!outcome) {
      std::fprintf(stderr, "%s\n", outcome.problem().text().c_str());
      return dune::exitCode(outcome.problem().code);
    }
}
