#pragma once
// A part of what the world shows. Whoever draws has layers of its own; they go when it does.

#include <QPointer>
#include <memory>

#include "window/scene/draw_list.h"

namespace dune::window {

class WorldView;

/// Which layers are drawn over which, the lowest first.
enum class LayerOrder : std::uint8_t {
  level,
  levelDetail,  ///< of what is drawn by a stand-in; left out while the view moves
  solids,
  ground,
  groundDetail,  ///< likewise
  overGround,
  marks,
  moving,  ///< from here on what changes with every movement of the mouse, or of time
  cursor,
  tool,
  over,
};

/// A short text at a place of the world.
struct WorldLabel {
  Vec3 at;
  QString text;
  QColor colour;
  bool name = false;  ///< of a place: plain, gives way to all others, and can be switched off
};

/// Where a layer is drawn while two worlds are shown side by side; only those that change with time are told apart.
enum class Side : std::uint8_t { both, left, right };

class Layer {
 public:
  Layer(WorldView& view, LayerOrder order, Side side = Side::both);
  ~Layer();
  Layer(const Layer&) = delete;
  Layer& operator=(const Layer&) = delete;

  void set(DrawList list, std::vector<WorldLabel> labels = {});
  void clear() { set({}); }
  /// Changes what of the layer is drawn, and nothing else about it.
  void setClip(Clip clip, const Box2& box = {});

 private:
  QPointer<WorldView> view_;
  int handle_;
};

}  // namespace dune::window
