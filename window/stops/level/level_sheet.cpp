#include "window/stops/level/level_sheet.h"

namespace dune::window {

LevelSheet::LevelSheet(Workspace& workspace)
    : PagedSheet(tr("Level"), workspace),
      objects_(new ObjectsPage(workspace)),
      blockers_(new BlockersPage(workspace)),
      bounds_(new BoundsPage(workspace)) {
  addPage(objects_, tr("Objects"));
  addPage(blockers_, tr("Blockers"));
  addPage(bounds_, tr("Bounds"));
}

}  // namespace dune::window
