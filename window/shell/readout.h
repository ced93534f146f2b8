#pragma once
// The line below the world: what is under the mouse and why one can, or cannot, walk there; or what was just said.

#include <QLabel>

#include "core/pipeline/explainer.h"
#include "window/scene/world_view.h"
#include "window/session/workspace.h"

namespace dune::window {

class Readout : public QLabel {
  Q_OBJECT

 public:
  Readout(Workspace& workspace, WorldView& view);
  /// A sentence, until the mouse points at something else.
  void say(const QString& sentence);
  /// The sentence about a place; draws the agent's footprint there. `names`: the name of what is pointed at is always told. `own`: what is
  /// said in place of all that.
  void point(const Pointer& pointer, bool names, bool holding, const std::optional<QString>& own);
  /// Something that the last sentence depends on may be another.
  void pointAgain() {
    if (pointing_) view_.pointAgain();
  }
  /// Takes the footprint away.
  void clear() { cursor_.clear(); }

 private:
  QString explained(const Pointer& pointer, bool names, bool holding);
  void write(const QString& sentence);
  QString placeText(const Vec3& at) const;
  QString kindText(const pipeline::Ground& ground, const Vec3& at) const;
  std::string nameOf(const Picked& hit) const;

  Workspace& workspace_;
  WorldView& view_;
  pipeline::Explainer explainer_;
  Layer cursor_;
  bool pointing_ = false;  // it is about what is under the mouse
};

}  // namespace dune::window
