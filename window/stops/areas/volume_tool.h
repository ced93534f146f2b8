#pragma once
// Changes the chosen area volume by its corners, its middle, its top and its bottom.

#include "window/scene/handle_tool.h"
#include "window/session/workspace.h"

namespace dune::window {

class VolumeTool : public HandleTool {
 public:
  explicit VolumeTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override;

 protected:
  std::vector<Handle> handles() const override;
  void begin(int handle, const Pointer& p) override;
  void dragHandle(int handle, const Pointer& p) override;

 private:
  Workspace& workspace_;
  level::AreaVolume before_;
};

}  // namespace dune::window
