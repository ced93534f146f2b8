#include "window/stops/areas/areas_sheet.h"

namespace dune::window {

AreasSheet::AreasSheet(Workspace& workspace) : PagedSheet(tr("Areas"), workspace) {
  addPage(new KindsPage(workspace), tr("Kinds"));
  rules_ = new RulesPage(workspace);
  addPage(rules_, tr("Rules"));
}

}  // namespace dune::window
