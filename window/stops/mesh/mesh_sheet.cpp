#include "window/stops/mesh/mesh_sheet.h"

namespace dune::window {

MeshSheet::MeshSheet(Workspace& workspace)
    : PagedSheet(tr("Mesh"), workspace),
      build_(new BuildPage(workspace)),
      hand_(new HandPage(workspace)),
      cards_(new CardsPage(workspace)),
      try_(new TryPage(workspace)) {
  addPage(build_, tr("Build"));
  addPage(hand_, tr("By hand"));
  addPage(cards_, tr("Why"));
  addPage(try_, tr("Try out"));
}

}  // namespace dune::window
