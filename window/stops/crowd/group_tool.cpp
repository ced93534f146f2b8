#include "window/stops/crowd/group_tool.h"

#include "window/session/hand_made.h"

namespace dune::window {

using project::CrowdGroup;
using project::GoalKind;
using project::StartForm;

QString GroupTool::hint() const {
  if (const QString tip = this->tip(); !tip.isEmpty()) return QObject::tr("Drag to change %1.").arg(tip);
  if (chosenGroup(workspace_)) return QObject::tr("Drag the ends of the group's way to move them. Delete takes the group away.");
  return QObject::tr("Click a group to change it, or draw one with the button on the left.");
}

std::vector<Handle> GroupTool::handles() const {
  const CrowdGroup* g = chosenGroup(workspace_);
  if (!g || g->scene != workspace_.scene()) return {};
  std::vector<Handle> handles{{start, g->start, QObject::tr("where the group starts")}};
  if (g->startForm == StartForm::line) handles.push_back({lineEnd, g->startEnd, QObject::tr("where the line ends")});
  if (g->startForm == StartForm::ring)
    handles.push_back({ringSize, g->start + Vec3{g->startRadius, 0, 0}, QObject::tr("how large the ring is")});
  if (g->goalKind == GoalKind::place || g->goalKind == GoalKind::around || g->goalKind == GoalKind::round)
    handles.push_back({goal, g->goal, QObject::tr("where the group goes")});
  if (g->goalKind == GoalKind::round)
    for (std::size_t i = 0; i < g->round.size(); ++i)
      handles.push_back({firstPlace + static_cast<int>(i), g->round[i], QObject::tr("a place of the round")});
  return handles;
}

void GroupTool::begin(int, const Pointer&) { before_ = *chosenGroup(workspace_); }

void GroupTool::dragHandle(int handle, const Pointer& p) {
  if (!p.hit) return;
  CrowdGroup g = before_;
  const Vec3& at = p.hit->at;
  switch (handle) {
    case start:
      g.startEnd += at - g.start, g.start = at;
      break;
    case goal:
      g.goal = at;
      break;
    case lineEnd:
      g.startEnd = at;
      break;
    case ringSize:
      g.startRadius = std::max(0.5, glm::distance(plan(at), plan(g.start)));
      break;
    default:
      g.round[static_cast<std::size_t>(handle - firstPlace)] = at;
  }
  replace(workspace_, g, QObject::tr("Move group"));
}

}  // namespace dune::window
