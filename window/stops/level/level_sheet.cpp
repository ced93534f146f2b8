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
  connect(objects_, &ObjectsPage::openAsked, this, &LevelSheet::openAsked);
}

std::set<std::string> LevelSheet::chosen() const { return page() == objects_ ? objects_->chosen() : std::set<std::string>{}; }

}  // namespace dune::window
