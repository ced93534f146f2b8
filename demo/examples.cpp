#include "demo/examples.h"

#include "core/base/file.h"
#include "demo/barchan.h"
#include "demo/date_garden.h"
#include "demo/depot.h"
#include "demo/shift.h"

namespace dune::demo {

namespace {

Outcome writeDepot(const std::string& folder) {
  if (auto level = writeFile(folder + "/saltwind-depot.glb", depotLevel().bytes()); !level) return level;
  return writeFile(folder + "/" + kShiftFile, depotShift());
}
Outcome writeBarchan(const std::string& folder) { return writeFile(folder + "/barchan-field.png", barchanImage()); }
Outcome writeGarden(const std::string& folder) {
  if (auto map = writeFile(folder + "/" + kGardenMapFile, gardenMap()); !map) return map;
  return writeFile(folder + "/" + kGardenTilesFile, gardenTiles());
}

constexpr Example kExamples[] = {
    {"saltwind-depot", "Saltwind Depot", "A yard: storeys, links, a crowd", depotProject, writeDepot},
    {"date-garden", "Date Garden", "Flat, from a tile map", gardenProject, writeGarden},
    {"barchan-field", "Barchan Field", "Terrain from a height map", barchanProject, writeBarchan},
};

}  // namespace

std::span<const Example> examples() { return kExamples; }

}  // namespace dune::demo
