#pragma once
// What is within a distance of a place, or how everything gets to it: rings on the ground, and arrows.

#include <QCheckBox>
#include <QComboBox>

#include "core/route/distances.h"
#include "window/session/latest_question.h"
#include "window/stops/sheet.h"

namespace dune::window {

class DistancesPage : public Sheet {
  Q_OBJECT

 public:
  explicit DistancesPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override { return tool_.get(); }
  void ask(const Vec3& at);

  struct Arrow {
    Vec3 at{};
    Vec2 direction{};
  };
  /// None before a place was asked for.
  const std::optional<Vec3>& place() const { return place_; }
  const std::vector<route::Ring>& rings() const { return rings_; }
  const std::vector<Arrow>& arrows() const { return arrows_; }

 private:
  void askAgain();
  struct Shape;
  static Shape shapeOf(const route::Field& field, const nav::Place& at, route::Heading heading, double within, double every, bool arrows,
                       Job& job);
  void show();

  NumberField *within_, *every_;
  QComboBox* heading_;
  QCheckBox* withArrows_;
  QLabel *headline_, *table_;
  std::optional<Vec3> asked_, place_;
  std::shared_ptr<const pipeline::Ground> askedOf_;
  std::vector<route::Ring> rings_;
  std::vector<Arrow> arrows_;
  LatestQuestion question_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
