#pragma once
// The Mesh stop: build and judge the walkable ground, in three pages.

#include <QTabWidget>

#include "window/stops/mesh/build_page.h"
#include "window/stops/mesh/cards_page.h"
#include "window/stops/mesh/try_page.h"

namespace dune::window {

class MeshSheet : public Sheet {
  Q_OBJECT

 public:
  explicit MeshSheet(Workspace& workspace);
  void refresh() override;
  Tool* tool() override;
  void leaveTool() override;

  enum class Page { build, cards, tryOut };
  void show(Page page) { pages_->setCurrentIndex(static_cast<int>(page)); }
  BuildPage* build() const { return build_; }
  CardsPage* cards() const { return cards_; }
  TryPage* tryOut() const { return try_; }

 signals:
  void exportAsked();

 private:
  Sheet* page() const { return static_cast<Sheet*>(pages_->currentWidget()); }

  QTabWidget* pages_;
  BuildPage* build_;
  CardsPage* cards_;
  TryPage* try_;
};

}  // namespace dune::window
