#pragma once
// The Areas stop: kinds of ground and where they lie; what they are to each kind of agent.

#include "window/stops/areas/kinds_page.h"
#include "window/stops/areas/rules_page.h"
#include "window/stops/paged_sheet.h"

namespace dune::window {

class AreasSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit AreasSheet(Workspace& workspace);
  RulesPage& rules() const { return *rules_; }

 private:
  RulesPage* rules_;
};

}  // namespace dune::window
