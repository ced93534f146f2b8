#include "window/stops/mesh_sheet.h"

namespace dune::window {

MeshSheet::MeshSheet(Workspace& workspace) : Sheet(tr("Mesh"), workspace) {
  pages_ = new QTabWidget;
  pages_->setDocumentMode(true);
  pages_->setAccessibleName(tr("Parts of the mesh stop"));
  build_ = new BuildPage(workspace);
  cards_ = new CardsPage(workspace);
  try_ = new TryPage(workspace);
  pages_->addTab(build_, tr("Build"));
  pages_->addTab(cards_, tr("Why"));
  pages_->addTab(try_, tr("Try out"));
  column_->addWidget(pages_, 1);
  for (Sheet* s : {static_cast<Sheet*>(build_), static_cast<Sheet*>(cards_), static_cast<Sheet*>(try_)}) {
    connect(s, &Sheet::toolChanged, this, &Sheet::toolChanged);
    connect(s, &Sheet::worldChanged, this, &Sheet::worldChanged);
    connect(s, &Sheet::showPlace, this, &Sheet::showPlace);
  }
  connect(build_, &BuildPage::exportAsked, this, &MeshSheet::exportAsked);
  connect(pages_, &QTabWidget::currentChanged, this, [this] {
    try_->leaveTool();
    page()->refresh();
    emit toolChanged();
    emit worldChanged();
  });
}

void MeshSheet::refresh() { page()->refresh(); }
Tool* MeshSheet::tool() { return page()->tool(); }
void MeshSheet::leaveTool() { try_->leaveTool(); }

}  // namespace dune::window
