#include "window/stops/areas/areas_sheet.h"

namespace dune::window {

AreasSheet::AreasSheet(Workspace& workspace) : PagedSheet(tr("Areas"), workspace) {
  rules_ = new RulesPage(workspace);
  addPage(new KindsPage(workspace), tr("Kinds"));
  addPage(rules_, tr("Rules"));
}

}  // namespace dune::window
