#include "window/stops/mesh/mesh_sheet.h"

namespace dune::window {

MeshSheet::MeshSheet(Workspace& workspace)
    : PagedSheet(tr("Mesh"), workspace), build_(new BuildPage(workspace)), cards_(new CardsPage(workspace)), try_(new TryPage(workspace)) {
  addPage(build_, tr("Build"));
  addPage(cards_, tr("Why"));
  addPage(try_, tr("Try out"));
}

}  // namespace dune::window
