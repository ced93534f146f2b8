#pragma once
// The Mesh stop: build and judge the walkable ground, in pages.

#include "window/stops/mesh/build_page.h"
#include "window/stops/mesh/cards_page.h"
#include "window/stops/mesh/hand_page.h"
#include "window/stops/mesh/try_page.h"
#include "window/stops/paged_sheet.h"

namespace dune::window {

class MeshSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit MeshSheet(Workspace& workspace);

  enum class Page { build, byHand, cards, tryOut };
  void show(Page page) { pages()->setCurrentIndex(static_cast<int>(page)); }
  BuildPage* build() const { return build_; }
  CardsPage* cards() const { return cards_; }
  TryPage* tryOut() const { return try_; }
  HandPage* byHand() const { return hand_; }

 private:
  BuildPage* build_;
  HandPage* hand_;
  CardsPage* cards_;
  TryPage* try_;
};

}  // namespace dune::window
