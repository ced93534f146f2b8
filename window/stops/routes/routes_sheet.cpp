#include "window/stops/routes/routes_sheet.h"

namespace dune::window {

RoutesSheet::RoutesSheet(Workspace& workspace) : PagedSheet(tr("Routes"), workspace) {
  path_ = new PathPage(workspace);
  kept_ = new KeptPage(workspace);
  distances_ = new DistancesPage(workspace);
  matrix_ = new MatrixPage(workspace);
  addPage(path_, tr("Path"));
  addPage(kept_, tr("Kept"));
  addPage(distances_, tr("Distances"));
  addPage(matrix_, tr("Matrix"));
  connect(path_, &PathPage::showKept, this, [this] { pages()->setCurrentWidget(kept_); });
}

}  // namespace dune::window
