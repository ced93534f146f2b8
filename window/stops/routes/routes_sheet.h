#pragma once
// The Routes stop: ask for a path by dragging, see what it costs and why, keep it.

#include <QLineEdit>

#include "window/stops/sheet.h"

namespace dune::window {

class RoutesSheet : public Sheet {
  Q_OBJECT

 public:
  explicit RoutesSheet(Workspace& workspace);
  void refresh(Topics changed) override;
  std::vector<ThingKind> removable() const override { return {ThingKind::route}; }
  Tool* tool() override { return tool_.get(); }
  /// Asks for the path between two places; `whole` also works out widths and the bound.
  void ask(const Vec3& from, const Vec3& to, bool whole);
  const route::PathAnswer& answer() const { return answer_; }

 private:
  void show();
  void keep();

  QLabel *headline_, *table_, *note_;
  QPushButton *keep_, *remove_;
  ItemList* list_;
  std::optional<std::pair<Vec3, Vec3>> asked_;
  route::PathAnswer answer_;
  std::shared_ptr<const pipeline::Ground> askedOf_;  // the ground that gave the answer
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
