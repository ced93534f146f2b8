#pragma once
// The Level stop: what is in the world, in three pages.

#include "window/stops/level/blockers_page.h"
#include "window/stops/level/bounds_page.h"
#include "window/stops/level/objects_page.h"
#include "window/stops/paged_sheet.h"

namespace dune::window {

class LevelSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit LevelSheet(Workspace& workspace);

  enum class Page { objects, blockers, bounds };
  Page shown() const { return static_cast<Page>(pages()->currentIndex()); }
  void show(Page page) { pages()->setCurrentIndex(static_cast<int>(page)); }
  BlockersPage* blockers() const { return blockers_; }
  BoundsPage* bounds() const { return bounds_; }
  ObjectsPage* objects() const { return objects_; }

 private:
  ObjectsPage* objects_;
  BlockersPage* blockers_;
  BoundsPage* bounds_;
};

}  // namespace dune::window
