#pragma once
// Picks faces, edges or corners of the ground, one by one or all in a rectangle or in an outline drawn around them, and moves what is
// picked by two dots: along the ground, and up and down; a side where the ground ends is pulled out by a third. A corner that comes near to
// another one, or to an edge, goes on to it; all else on to a grid, where there is one. What would be refused is shown and said while it is
// dragged.

#include <QPolygonF>

#include "window/scene/handle_tool.h"
#include "window/session/hand_picks.h"

namespace dune::window {

class PickTool : public HandleTool {
 public:
  using Say = std::function<void(const std::optional<Problem>&)>;
  /// `say`: what came of a change.
  PickTool(Workspace& workspace, Say say) : workspace_(workspace), say_(std::move(say)) {}

  const Picks& picks() const { return now_.of(workspace_); }
  /// What a click picks.
  ThingKind kind() const { return kind_; }
  void setKind(ThingKind kind);
  /// Whether what moves comes to lie on the level.
  bool follows() const { return follows_; }
  void setFollows(bool on) { follows_ = on; }
  /// Metres between the lines of a grid on which what is moved comes to lie; 0: none.
  void setGrid(double step) { grid_ = step; }
  /// Whether a rectangle picks what the level hides too.
  void setThrough(bool on) { through_ = on; }

  QString hint() const override;
  bool press(const Pointer& p) override;
  void drag(const Pointer& p) override;
  void click(const Pointer& p) override;
  void drop(const Pointer& p) override;
  bool giveUp() override;
  void draw(DrawList& list, const Camera& camera) const override;
  void drawOver(DrawList& list, const Camera& camera) const override;

 protected:
  std::vector<Handle> handles() const override;
  void begin(int handle, const Pointer& p) override;
  void dragHandle(int handle, const Pointer& p) override;

 private:
  std::optional<Vec3> middle() const;
  /// Where one corner that is moved comes to lie by itself: on another corner or an edge that is near.
  Vec3 caught(const Vec3& by) const;
  Vec3 onGrid(const Vec3& by) const;
  void pickIn(const QPolygonF& region, const Pointer& p);
  HandChange changeHeld() const;
  void letGo();
  void lookAhead();
  std::optional<hand::Edge> pulled() const;
  void drawMoved(DrawList& list, const nav::NavMesh& mesh) const;

  Workspace& workspace_;
  Say say_;
  mutable PicksNow now_;
  ThingKind kind_ = ThingKind::face;
  bool follows_ = true;
  int held_ = kNone;
  Vec3 from_{}, by_{};
  bool through_ = false;
  double grid_ = 0;
  QPolygonF region_;                // pixels in which all is picked; the corners of a rectangle from where it began, or a drawn outline
  bool free_ = false;               // it is such an outline
  std::optional<Problem> refused_;  // why what is dragged cannot be
  std::shared_ptr<const generate::Built> lookedAt_;  // what levelAt_ is of
  hand::LevelAt levelAt_;
};

/// The place of the mesh that a ray meets first, below the cut-away height and nearer than `far` metres.
std::optional<nav::Place> meetMesh(const nav::NavMesh& mesh, const nav::Locator& locator, const Ray& ray, double cutAway, double far);

}  // namespace dune::window
