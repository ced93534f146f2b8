#include "window/stops/routes/routes_sheet.h"

namespace dune::window {

RoutesSheet::RoutesSheet(Workspace& workspace) : PagedSheet(tr("Routes"), workspace) {
  path_ = new PathPage(workspace);
  kept_ = new KeptPage(workspace);
  addPage(path_, tr("Path"));
  addPage(kept_, tr("Kept routes"));
  connect(path_, &PathPage::showKept, this, [this] { pages()->setCurrentWidget(kept_); });
}

}  // namespace dune::window
