#pragma once
// What was copied: one hand-made thing, whole, that can be put in again and again.

#include <variant>

#include "window/session/workspace.h"

namespace dune::window {

class Clipping {
 public:
  /// Takes what is chosen of a kind; false, and nothing changes, when nothing is or it is no thing that people make in the world.
  bool copy(Workspace& workspace, ThingKind kind);
  bool empty() const { return std::holds_alternative<std::monostate>(thing_); }
  /// Puts one more in, with its anchor at a place, or a step beside the last one. One undo step.
  void paste(Workspace& workspace, const std::optional<Vec3>& at);

 private:
  std::variant<std::monostate, level::Blocker, level::AreaVolume, links::HandLink, project::KeptRoute, project::Card, project::CrowdGroup,
               project::CrowdObstacle, project::NamedPlace>
      thing_;
};

}  // namespace dune::window
