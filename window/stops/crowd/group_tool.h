#pragma once
// Moves the chosen group: its start with what belongs to it, the end of a line or the size of a ring, its goal and the places of its round.

#include "window/scene/handle_tool.h"
#include "window/session/workspace.h"

namespace dune::window {

class GroupTool : public HandleTool {
 public:
  explicit GroupTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override;

 protected:
  std::vector<Handle> handles() const override;
  void begin(int handle, const Pointer& p) override;
  void dragHandle(int handle, const Pointer& p) override;

 private:
  enum HandleId { start, goal, lineEnd, ringSize, firstPlace };
  Workspace& workspace_;
  project::CrowdGroup before_;
};

}  // namespace dune::window
