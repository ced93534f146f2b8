#pragma once
// The Areas stop: kinds of ground and where they lie; what they are to each kind of agent.

#include <QCheckBox>

#include "window/stops/areas/kinds_page.h"
#include "window/stops/areas/names_page.h"
#include "window/stops/areas/rules_page.h"
#include "window/stops/paged_sheet.h"

namespace dune::window {

class AreasSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit AreasSheet(Workspace& workspace);
  RulesPage& rules() const { return *rules_; }
  /// Whether the ground is coloured by what it costs the kind of agent that is worked on.
  bool showsCosts() const { return costs_->isChecked(); }
  QCheckBox* costs() const { return costs_; }

 private:
  RulesPage* rules_;
  QCheckBox* costs_;
};

}  // namespace dune::window
