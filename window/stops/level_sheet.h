#pragma once
// The Level stop: what is in the world, in three pages.

#include <QTabWidget>

#include "window/stops/level/blockers_page.h"
#include "window/stops/level/bounds_page.h"
#include "window/stops/level/objects_page.h"

namespace dune::window {

class LevelSheet : public Sheet {
  Q_OBJECT

 public:
  explicit LevelSheet(Workspace& workspace);
  void refresh() override;
  Tool* tool() override;
  void leaveTool() override;

  enum class Page { objects, blockers, bounds };
  void show(Page page) { pages_->setCurrentIndex(static_cast<int>(page)); }
  QTabWidget* pages() const { return pages_; }
  BlockersPage* blockers() const { return blockers_; }
  BoundsPage* bounds() const { return bounds_; }
  ObjectsPage* objects() const { return objects_; }
  /// The names of the chosen objects; none while another page is open.
  std::set<std::string> chosen() const;

 signals:
  void openAsked(bool beside);

 private:
  Sheet* page() const { return static_cast<Sheet*>(pages_->currentWidget()); }

  QTabWidget* pages_;
  ObjectsPage* objects_;
  BlockersPage* blockers_;
  BoundsPage* bounds_;
};

}  // namespace dune::window
