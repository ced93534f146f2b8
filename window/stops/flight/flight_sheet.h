#pragma once
// The sheet of the Flight stop, in three pages.

#include "window/stops/flight/fly_page.h"
#include "window/stops/flight/kind_page.h"
#include "window/stops/flight/space_page.h"
#include "window/stops/paged_sheet.h"

namespace dune::window {

class FlightSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit FlightSheet(Workspace& workspace) : PagedSheet(tr("Flight"), workspace) {
    addPage(fly_ = new FlyPage(workspace), tr("Fly"));
    addPage(kind_ = new KindPage(workspace), tr("Kind"));
    addPage(space_ = new SpacePage(workspace), tr("Space"));
  }
  Topics concerns() const override { return PagedSheet::concerns() | Topic::air | Topic::work; }
  FlyPage& fly() const { return *fly_; }
  SpacePage& space() const { return *space_; }

 private:
  FlyPage* fly_;
  KindPage* kind_;
  SpacePage* space_;
};

}  // namespace dune::window
