#include "window/stops/level_sheet.h"

namespace dune::window {

LevelSheet::LevelSheet(Workspace& workspace) : Sheet(tr("Level"), workspace) {
  pages_ = new QTabWidget;
  pages_->setDocumentMode(true);
  pages_->setAccessibleName(tr("Parts of the level"));
  objects_ = new ObjectsPage(workspace);
  blockers_ = new BlockersPage(workspace);
  bounds_ = new BoundsPage(workspace);
  pages_->addTab(objects_, tr("Objects"));
  pages_->addTab(blockers_, tr("Blockers"));
  pages_->addTab(bounds_, tr("Bounds"));
  column_->addWidget(pages_, 1);
  for (Sheet* s : {static_cast<Sheet*>(objects_), static_cast<Sheet*>(blockers_), static_cast<Sheet*>(bounds_)}) {
    connect(s, &Sheet::toolChanged, this, &Sheet::toolChanged);
    connect(s, &Sheet::worldChanged, this, &Sheet::worldChanged);
    connect(s, &Sheet::showPlace, this, &Sheet::showPlace);
  }
  connect(objects_, &ObjectsPage::openAsked, this, &LevelSheet::openAsked);
  connect(pages_, &QTabWidget::currentChanged, this, [this] {
    for (Sheet* s : {static_cast<Sheet*>(objects_), static_cast<Sheet*>(blockers_), static_cast<Sheet*>(bounds_)}) s->leaveTool();
    page()->refresh();
    emit toolChanged();
    emit worldChanged();
  });
}

void LevelSheet::refresh() { page()->refresh(); }
Tool* LevelSheet::tool() { return page()->tool(); }
void LevelSheet::leaveTool() { page()->leaveTool(); }

std::set<std::string> LevelSheet::chosen() const { return page() == objects_ ? objects_->chosen() : std::set<std::string>{}; }

}  // namespace dune::window
