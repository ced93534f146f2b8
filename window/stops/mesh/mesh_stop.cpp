#include "window/stops/mesh/mesh_stop.h"

#include <QMenu>

#include "window/scene/coarse.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/mesh/cards_picture.h"
#include "window/stops/mesh/cost_labels.h"
#include "window/stops/mesh/hand_picture.h"
#include "window/stops/mesh/mesh_sheet.h"

namespace dune::window {

namespace {
constexpr std::size_t kMostDetail = 40'000;  // corners of faces
}

MeshStop::MeshStop(Workspace& workspace, WorldView& view) : MeshStop(workspace, view, new MeshSheet(workspace)) {}

MeshStop::MeshStop(Workspace& workspace, WorldView& view, MeshSheet* sheet)
    : TrailStop(workspace, tr("Mesh"), sheet),
      view_(view),
      own_(*sheet),
      ground_(view, LayerOrder::ground),
      change_(view, LayerOrder::overGround),
      cards_(view, LayerOrder::marks),
      byHand_(view, LayerOrder::overGround),
      detail_(view, ground_, LayerOrder::groundDetail) {}

StopState MeshStop::state() const {
  const auto ground = workspace_.ground();
  const bool fresh = workspace_.groundFresh();
  StopState s;
  s.words = !ground                                  ? tr("not built")
            : fresh && ground->built->chunksLeft > 0 ? tr("%1 m², partly old").arg(ground->area, 0, 'f', 0)
            : fresh                                  ? tr("%1 m²").arg(ground->area, 0, 'f', 0)
                                                     : tr("out of date: rebuild");
  s.fresh = !workspace_.level() || fresh;
  if (workspace_.building() || workspace_.changing()) s.work = workspace_.work().fraction();
  return s;
}

void MeshStop::draw(const Shown& shown, Topics changed) {
  const Topics freshness = kDocument | Topic::level | Topic::agent | Topic::stop | Topic::theme;
  if (changed & (freshness | Topic::ground))
    drawGround(shown.backdrop.ground, shown.backdrop.costs);
  else if (changed & Topic::camera)
    drawDetail();
  if (changed & (Topic::compared | Topic::agent | Topic::selection | Topic::stop | Topic::theme))
    drawChange((shown.here && own_.build()->showsChange()) || shown.backdrop.changes);
  if (changed & (Topic::cards | Topic::answers | Topic::agent | Topic::level | Topic::selection | Topic::stop | Topic::theme))
    drawCards(shown.here);
  if (changed & (Topic::ground | Topic::agent | Topic::selection | Topic::stop | Topic::theme)) drawByHand(shown.here);
}

void MeshStop::drawGround(bool shown, bool costs) {
  const auto ground = shown ? workspace_.ground() : nullptr;
  const Drawn now{ground, ground && workspace_.groundFresh(), theme().dark, costs};
  if (now == drawn_) return;
  drawn_ = now;
  const int kind = workspace_.agentKind().id;
  const auto standIn = workspace_.grounds().standIn(kind), sketch = workspace_.grounds().sketch(kind);
  std::vector<WorldLabel> labels;
  if (ground && costs) labels = costLabels(ground->mesh, ground->rules);
  const GroundColours colours = ground ? GroundColours(ground->mesh, ground->rules, now.fresh, costs) : GroundColours();
  ground_.set(!ground   ? DrawList{}
              : standIn ? coarseGroundLayer(*standIn, sketch.get(), colours)
                        : groundLayer(ground->mesh, ground->rules, colours),
              std::move(labels));
  drawDetail();
}

/// Where the ground is drawn by a stand-in: what it truly is around the place that is looked at.
void MeshStop::drawDetail() {
  const auto& ground = drawn_.ground;
  if (!ground || !workspace_.grounds().standIn(workspace_.agentKind().id)) return detail_.clear();
  Box2 box;
  const Camera& camera = view_.camera();
  const double cornersPerMetre2 = static_cast<double>(ground->mesh.corners.size()) / std::max(1.0, ground->area);
  const auto faces = aroundTarget(camera, box, std::sqrt(kMostDetail / cornersPerMetre2) / 2,
                                  [&](const Box2& within) { return facesWithin(ground->mesh, ground->locator(), within, kMostDetail); });
  if (!faces) return detail_.clear();
  // From afar the edges in the middle would only look like a mark on the ground.
  const bool far = box.max.x - box.min.x < camera.distance();
  detail_.set(
      box, groundLayer(ground->mesh, ground->rules, GroundColours(ground->mesh, ground->rules, drawn_.fresh, drawn_.costs), faces, !far));
}

void MeshStop::drawChange(bool wanted) {
  const auto& change = workspace_.comparison().change();
  const bool shown = wanted && change && !workspace_.comparison().other();
  std::vector<WorldLabel> labels;
  DrawList list = shown ? changeLayer(*change, workspace_.selection().id(ThingKind::change), labels) : DrawList{};
  change_.set(std::move(list), std::move(labels));
}

void MeshStop::drawByHand(bool here) {
  const auto ground = here ? workspace_.ground() : nullptr;
  std::vector<WorldLabel> labels;
  DrawList list = ground ? handLayer(*ground, workspace_.agentKind().id, workspace_.selection().id(ThingKind::patch), labels) : DrawList{};
  byHand_.set(std::move(list), std::move(labels));
}

void MeshStop::drawCards(bool here) {
  std::vector<WorldLabel> labels;
  const bool shown = here && workspace_.level();
  DrawList list =
      shown ? cardsLayer(*workspace_.project().cards, workspace_.answers().cards, workspace_.selection().id(ThingKind::card), labels)
            : DrawList{};
  cards_.set(std::move(list), std::move(labels));
}

void MeshStop::addToMenu(QMenu& menu, const Pointer& p) {
  menu.addAction(tr("Pin a card: why is there (no) ground?"), this, [this, at = p.hit->at] {
    emit openAsked();
    own_.show(MeshSheet::Page::cards);
    add(workspace_, project::Card{0, at});
  });
}

}  // namespace dune::window
