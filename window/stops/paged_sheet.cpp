#include "window/stops/paged_sheet.h"

namespace dune::window {

PagedSheet::PagedSheet(const QString& title, Workspace& workspace) : Sheet(title, workspace) {
  pages_ = new QTabWidget;
  pages_->setDocumentMode(true);
  pages_->setAccessibleName(tr("Pages of %1").arg(title));
  column_->addWidget(pages_, 1);
  connect(pages_, &QTabWidget::currentChanged, this, [this] {
    if (open_) open_->leaveTool();
    open_ = page();
    for (int i = 0; i < pages_->count(); ++i) pages_->widget(i)->updateGeometry();  // only the page that is open asks for room
    open_->refresh(kEverything);
    workspace_.bulletin().add({Topic::tool, Topic::stop});
  });
}

void PagedSheet::addPage(Sheet* page, const QString& name) {
  page->endColumn();
  connect(page, &Sheet::asked, this, &Sheet::asked);
  connect(page, &Sheet::showPlace, this, &Sheet::showPlace);
  connect(page, &Sheet::showBox, this, &Sheet::showBox);
  const QSignalBlocker blocker(pages_);  // the first page opens itself
  pages_->addTab(page, name);
  open_ = this->page();
}

}  // namespace dune::window
