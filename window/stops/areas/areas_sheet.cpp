#include "window/stops/areas/areas_sheet.h"

namespace dune::window {

AreasSheet::AreasSheet(Workspace& workspace) : PagedSheet(tr("Areas"), workspace) {
  costs_ = new QCheckBox(tr("Colour the ground by cost"));
  costs_->setToolTip(tr("Shows what each piece of ground costs the kind of agent that is worked on, by its own rules"));
  column_->insertWidget(column_->indexOf(pages()), costs_);
  connect(costs_, &QCheckBox::toggled, this, [this] { workspace_.bulletin().add(Topic::stop); });
  addPage(new KindsPage(workspace), tr("Kinds"));
  rules_ = new RulesPage(workspace);
  addPage(rules_, tr("Rules"));
  addPage(new NamesPage(workspace), tr("By name"));
}

}  // namespace dune::window
