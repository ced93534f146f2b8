#include "window/stops/agents/agents_stop.h"

#include <QMenu>

#include "window/stops/agents/agents_sheet.h"

namespace dune::window {

AgentsStop::AgentsStop(Workspace& workspace, WorldView& view) : AgentsStop(workspace, view, new AgentsSheet(workspace)) {}

AgentsStop::AgentsStop(Workspace& workspace, WorldView& view, AgentsSheet* sheet)
    : TrailStop(workspace, tr("Agents"), sheet),
      own_(*sheet),
      figures_(view, LayerOrder::solids),
      other_(view, LayerOrder::overGround),
      difference_(view, LayerOrder::overGround) {}

StopState AgentsStop::state() const {
  const auto& agents = workspace_.project().agents->agents;
  const nav::Agent& kind = workspace_.agentKind();
  const QString name = QString::fromStdString(kind.name);
  StopState s;
  s.words = agents.size() > 1 ? tr("%1 kinds, %2 shown").arg(agents.size()).arg(name)
                              : tr("%1, %2 m wide").arg(name).arg(kind.radius * 2, 0, 'f', 2);
  return s;
}

void AgentsStop::draw(const Shown& shown, Topics changed) {
  figuresShown_ = shown.backdrop.figures && workspace_.level() && !workspace_.level()->level->objects.empty();
  if (changed & (Topic::level | Topic::levelSection | Topic::agents | Topic::agent | Topic::stop | Topic::theme)) drawFigures();
  if (changed & (Topic::ground | Topic::compared | Topic::agent | Topic::stop | Topic::theme)) drawComparison(shown.here);
}

void AgentsStop::drawFigures() {
  if (!figuresShown_) return figures_.clear();
  std::vector<WorldLabel> labels;
  DrawList list = figureLayer(*workspace_.source().picture()->level, workspace_.worldBounds(), workspace_.agentKind(), own_.put(), labels);
  figures_.set(std::move(list), std::move(labels));
}

void AgentsStop::drawComparison(bool here) {
  const auto kind = workspace_.comparison().other();
  const auto other = here && kind ? workspace_.grounds().of(*kind) : nullptr;
  other_.set(other ? comparedLayer(other->mesh, workspace_.grounds().standIn(*kind).get()) : DrawList{});
  const auto& change = workspace_.comparison().change();
  std::vector<WorldLabel> labels;
  DrawList list = other && change ? changeLayer(*change, -1, labels) : DrawList{};
  difference_.set(std::move(list), std::move(labels));
}

void AgentsStop::addToMenu(QMenu& menu, const Pointer& p) {
  const Standing there{p.hit->at, p.hit->normal};
  menu.addAction(tr("Stand the %1 here").arg(QString::fromStdString(workspace_.agentKind().name)), this, [this, there] {
    if (!figuresShown_) emit openAsked();
    own_.putInLevel(there);
  });
}

}  // namespace dune::window
