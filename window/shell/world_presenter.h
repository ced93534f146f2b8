#pragma once
// Keeps what the world shows in step with the document, the results and the stop that is open.

#include <QObject>
#include <set>

#include "core/pipeline/explainer.h"
#include "window/scene/world_view.h"
#include "window/session/workspace.h"

namespace dune::window {

class AreasSheet;
class LevelSheet;
class LinksSheet;
class AgentsSheet;
class MeshSheet;
class Reel;
class ReviewSheet;
class RoutesSheet;

enum class Stop { level, agents, mesh, areas, links, routes, crowd, review, count };

class WorldPresenter : public QObject {
  Q_OBJECT

 public:
  struct Sources {
    LevelSheet* level;
    AgentsSheet* agents;
    MeshSheet* mesh;
    AreasSheet* areas;
    LinksSheet* links;
    RoutesSheet* routes;
    ReviewSheet* review;
    Reel* reel;
  };
  WorldPresenter(Workspace& workspace, WorldView& view, const Sources& sources);

  void setStop(Stop stop);
  void showLevel();
  /// Where the level or the ground is drawn by a stand-in: what it truly is around the place that is looked at.
  void showDetail();
  void showGround();
  void showChange();    ///< ground gained and lost, and cards
  void showOverlays();  ///< areas, links, routes
  void showCrowd();
  void showAll();
  void frameAll();
  /// The sentence about the place under the mouse; draws the footprint there.
  QString explain(const Pointer& pointer);
  /// The id of the body that a ray comes nearest to, or -1.
  int bodyAt(const Pointer& pointer) const;

 private:
  void showLevelDetail();
  void showGroundDetail();
  /// Draws a list within a box of the plan, and the stand-in in `whole` around it; without a list the stand-in everywhere.
  void drawNear(Layer whole, Layer near, const Box2& box, std::optional<DrawList> list);
  /// "At 1.00, 0.00, 2.00": in pixels too where the level is one tile map.
  QString placeText(const Vec3& at) const;
  /// Of what is pointed at: an object of the level, or a blocker behind them.
  const std::string& nameOf(std::size_t object) const;

  Workspace& workspace_;
  WorldView& view_;
  pipeline::Explainer explainer_;
  Sources from_;
  /// What the level layer was last drawn from; it is large, and most changes do not touch it.
  struct DrawnLevel {
    std::shared_ptr<const level::Level> level;
    std::vector<level::Role> roles;
    std::set<std::string> chosen;
    bool byRole = false, dark = false;
    bool operator==(const DrawnLevel&) const = default;
  };
  std::optional<DrawnLevel> drawn_;
  std::shared_ptr<const level::Level> blockers_;
  Stop stop_ = Stop::level;
  std::set<Layer> drawnNear_;  // layers that show what a stand-in stands for
};

}  // namespace dune::window
