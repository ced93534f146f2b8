#pragma once
// Asks for a path by dragging: what it costs and why; keeps it.

#include "window/stops/sheet.h"

namespace dune::window {

class PathPage : public Sheet {
  Q_OBJECT

 public:
  struct Ends {
    Vec3 from, to;
  };

  explicit PathPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override { return tool_.get(); }
  /// Asks for the path between two places; `whole` also works out widths and the bound.
  void ask(const Vec3& from, const Vec3& to, bool whole);
  const route::PathAnswer& answer() const { return answer_; }
  const std::optional<Ends>& asked() const { return asked_; }
  /// Another path is asked for from now on by a drag from here.
  void forget();

 signals:
  void showKept();

 private:
  void show();
  void keep();

  QLabel *headline_, *table_, *note_, *kept_;
  QPushButton* keep_;
  std::optional<Ends> asked_;
  route::PathAnswer answer_;
  std::shared_ptr<const pipeline::Ground> askedOf_;  // the ground that gave the answer
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
