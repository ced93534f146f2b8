#include "window/shell/world_presenter.h"

#include "window/scene/coarse.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/areas/areas_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/links/links_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/stops/review/review_sheet.h"
#include "window/stops/routes/routes_sheet.h"
#include "window/timeline/reel.h"

namespace dune::window {

namespace {

constexpr std::size_t kMostDetail = 70'000, kMostGroundDetail = 40'000;  // triangles; corners of faces

/// What is found in as wide a box as the picture, or in as much of its middle as can be drawn. `guess`: how much that may be, metres,
/// where looking for far more takes long.
template <class Within>
auto aroundTarget(const Camera& camera, Box2& box, double guess, Within&& within) {
  constexpr double kLess = 0.7, kLeast = 0.5;
  const Vec2 middle = plan(camera.target());
  const auto square = [&](double reach) { return Box2{middle - reach, middle + reach}; };
  double reach = std::min(guess, camera.distance());
  auto found = within(square(reach));
  while (!found && reach >= kLeast) found = within(square(reach *= kLess));
  while (found && reach < camera.distance()) {
    const double wider = std::min(reach / kLess, camera.distance());
    auto more = within(square(wider));
    if (!more) break;
    found = std::move(more), reach = wider;
  }
  box = square(reach);
  return found;
}

/// They overlap a little, so that no seam is seen between a stand-in and what it stands for.
Box2 withoutSeam(const Box2& box) {
  const Vec2 overlap = (box.max - box.min) * 0.01;
  return {box.min + overlap, box.max - overlap};
}

}  // namespace

WorldPresenter::WorldPresenter(Workspace& workspace, WorldView& view, const Sources& sources)
    : workspace_(workspace), view_(view), from_(sources) {
  connect(&view_, &WorldView::cameraRested, this, &WorldPresenter::showDetail);
}

void WorldPresenter::setStop(Stop stop) {
  stop_ = stop;
  showAll();
}

void WorldPresenter::showAll() {
  showLevel();
  showGround();
  showChange();
  showOverlays();
  showCrowd();
}

void WorldPresenter::showLevel() {
  const auto level = workspace_.level();
  const project::LevelSection& section = *workspace_.project().level;
  blockers_ = std::make_shared<level::Level>(level::solidsOf(section.blockers));
  view_.setLevel(workspace_.pickTree(), blockers_);
  std::vector<WorldLabel> labels;
  const bool drawing = stop_ == Stop::level && from_.level->blockers()->placing();
  if (!level) {
    view_.setLayer(Layer::level, drawing ? sketchGrid(workspace_.worldBounds()) : DrawList{});
    view_.setLayer(Layer::blockers, {});
    drawn_.reset();
    view_.setLayer(Layer::figure, {});
    view_.setLayer(Layer::cursor, {});
  } else {
    const bool byRole = stop_ == Stop::level;
    DrawnLevel now{level->level, {}, byRole ? from_.level->chosen() : std::set<std::string>{}, byRole, theme().dark};
    for (const level::Object& o : now.level->objects) now.roles.push_back(level::roleOf(o, section.roles, section.rules));
    if (now.level->objects.empty())
      view_.setLayer(Layer::level, sketchGrid(workspace_.worldBounds()));
    else if (drawn_ != now)
      view_.setLayer(Layer::level, levelLayer(*workspace_.levelPicture(), now.roles, now.chosen, now.byRole));
    if (std::exchange(drawn_, std::move(now)) != drawn_) showLevelDetail();
    std::vector<level::Role> roles;
    for (const level::Blocker& b : section.blockers) roles.push_back(b.role);
    view_.setLayer(Layer::blockers, levelLayer(*pictureOf(blockers_, Job()), roles, {}, byRole));
    const bool figures = stop_ == Stop::level || stop_ == Stop::agents;
    view_.setLayer(Layer::figure, figures ? figureLayer(*workspace_.levelPicture()->level, workspace_.worldBounds(), workspace_.agentKind(),
                                                        from_.agents->put(), labels)
                                          : DrawList{});
  }
  view_.setLabels(Layer::figure, std::move(labels));
  const bool empty = !level && !drawing && !pipeline::hasLevel(workspace_.project());
  view_.setInvitation(empty ? tr("Open a level to begin: .obj, .gltf, .glb, .ply, .stl, .dae, a tile map (.tmx, .tmj), or a height map "
                                 "(.png).\nThe button is on the left, under Level. Or draw floors by hand: Level, Blockers, Floor.")
                      : !level && workspace_.levelProblem() ? tr("The level cannot be read.\nWhat to try is said on the left, under Level.")
                                                            : QString());
}

void WorldPresenter::showDetail() {
  showLevelDetail();
  showGroundDetail();
}

void WorldPresenter::showLevelDetail() {
  const bool wanted = drawn_ && workspace_.level() && workspace_.levelPicture()->level != drawn_->level;
  if (!wanted) return drawNear(Layer::level, Layer::detail, {}, std::nullopt);
  Box2 box;
  const auto items = aroundTarget(view_.camera(), box, view_.camera().distance(),
                                  [&](const Box2& within) { return workspace_.pickTree()->within(within, kMostDetail); });
  std::optional<DrawList> list;
  if (items) list = detailLayer(*drawn_->level, *items, drawn_->roles, drawn_->chosen, drawn_->byRole);
  drawNear(Layer::level, Layer::detail, box, std::move(list));
}

void WorldPresenter::drawNear(Layer whole, Layer near, const Box2& box, std::optional<DrawList> list) {
  if (!list && !drawnNear_.contains(near)) return;
  if (list)
    drawnNear_.insert(near);
  else
    drawnNear_.erase(near);
  view_.setClip(whole, list ? Clip::outside : Clip::none, list ? withoutSeam(box) : Box2{});
  view_.setLayer(near, std::move(list).value_or(DrawList{}));
  view_.setClip(near, Clip::inside, box);
}

void WorldPresenter::showGround() {
  const auto ground = workspace_.ground();
  const bool shown = ground && stop_ != Stop::level;
  const auto standIn = shown ? workspace_.groundStandIn(workspace_.agent()) : nullptr,
             sketch = shown ? workspace_.groundSketch(workspace_.agent()) : nullptr;
  view_.setLayer(Layer::ground, !shown    ? DrawList{}
                                : standIn ? coarseGroundLayer(*standIn, sketch.get(), ground->mesh, workspace_.groundFresh())
                                          : groundLayer(ground->mesh, ground->rules, workspace_.groundFresh()));
  showGroundDetail();
}

void WorldPresenter::showGroundDetail() {
  const auto ground = workspace_.ground();
  const bool wanted = ground && stop_ != Stop::level && workspace_.groundStandIn(workspace_.agent());
  if (!wanted) return drawNear(Layer::ground, Layer::groundDetail, {}, std::nullopt);
  Box2 box;
  const double cornersPerMetre2 = static_cast<double>(ground->mesh.corners.size()) / std::max(1.0, ground->area);
  const auto faces = aroundTarget(view_.camera(), box, std::sqrt(kMostGroundDetail / cornersPerMetre2) / 2, [&](const Box2& within) {
    return facesWithin(ground->mesh, ground->locator(), within, kMostGroundDetail);
  });
  // From afar the edges in the middle would only look like a mark on the ground.
  const bool far = box.max.x - box.min.x < view_.camera().distance();
  std::optional<DrawList> list;
  if (faces) list = groundLayer(ground->mesh, ground->rules, workspace_.groundFresh(), faces, !far);
  drawNear(Layer::ground, Layer::groundDetail, box, std::move(list));
}

void WorldPresenter::showChange() {
  std::vector<WorldLabel> changeLabels, cardLabels;
  const auto change = workspace_.change();
  const bool ofBuild = stop_ == Stop::mesh && from_.mesh->build()->showsChange() && !workspace_.compared();
  const auto other = stop_ == Stop::agents && workspace_.compared() ? workspace_.groundOf(*workspace_.compared()) : nullptr;
  view_.setLayer(Layer::compared, other ? comparedLayer(other->mesh, workspace_.groundStandIn(*workspace_.compared()).get()) : DrawList{});
  const bool shown = change && (ofBuild || (stop_ == Stop::agents && workspace_.compared()));
  view_.setLayer(Layer::change,
                 shown ? changeLayer(*change, stop_ == Stop::mesh ? from_.mesh->build()->chosenPlace() : -1, changeLabels) : DrawList{});
  view_.setLabels(Layer::change, std::move(changeLabels));
  const bool cards = stop_ == Stop::mesh && workspace_.level();
  view_.setLayer(Layer::cards,
                 cards ? cardsLayer(*workspace_.project().cards, workspace_.answers().cards, from_.mesh->cards()->chosenCard(), cardLabels)
                       : DrawList{});
  view_.setLabels(Layer::cards, std::move(cardLabels));
}

void WorldPresenter::showOverlays() {
  std::vector<WorldLabel> areaLabels, linkLabels, routeLabels;
  const project::Project& p = workspace_.project();
  view_.setLayer(Layer::areas, stop_ == Stop::areas ? areasLayer(*p.areas, from_.areas->chosenVolume(), areaLabels) : DrawList{});
  const bool links = stop_ >= Stop::links && workspace_.level();
  view_.setLayer(Layer::links,
                 links ? linksLayer(workspace_.ground().get(), *p.links, stop_ == Stop::links ? from_.links->chosenLink() : -1, linkLabels)
                       : DrawList{});
  view_.setLayer(Layer::routes,
                 stop_ == Stop::routes && workspace_.ground() ? routeLayer(from_.routes->answer(), routeLabels) : DrawList{});
  view_.setLabels(Layer::areas, std::move(areaLabels));
  view_.setLabels(Layer::links, stop_ == Stop::links ? std::move(linkLabels) : std::vector<WorldLabel>{});
  view_.setLabels(Layer::routes, std::move(routeLabels));
}

void WorldPresenter::showCrowd() {
  const bool shown = stop_ == Stop::crowd || stop_ == Stop::review;
  if (!shown || !workspace_.level()) return view_.setLayer(Layer::crowd, {});
  const auto run = workspace_.run();
  view_.setLayer(Layer::crowd, crowdLayer(run ? *run->from.crowd : *workspace_.project().crowd, run.get(),
                                          static_cast<double>(from_.reel->frame()), stop_ == Stop::review ? from_.reel->agent() : -1,
                                          stop_ == Stop::crowd, stop_ == Stop::review && from_.review->showWanted()));
  if (stop_ == Stop::review) from_.review->showAgent(from_.reel->agent(), from_.reel->frame());
}

void WorldPresenter::frameAll() {
  constexpr double kFigures = 3;  // metres beside the level, where the figures stand
  Box3 box = workspace_.worldBounds();
  box.max.x += kFigures;
  if (workspace_.level()) view_.camera().frame(box);
  view_.update();
}

const std::string& WorldPresenter::nameOf(std::size_t object) const {
  const auto& own = workspace_.level()->level->objects;
  return object < own.size() ? own[object].name : blockers_->objects[object - own.size()].name;
}

QString WorldPresenter::explain(const Pointer& pointer) {
  const auto ground = workspace_.ground();
  // Where things are placed, the tools show what they would do.
  const bool placing = view_.tool() && view_.tool()->holding();
  if (!pointer.hit || !workspace_.level() || !ground || placing || ground->source != workspace_.level()->level) {
    view_.setLayer(Layer::cursor, {});
    if (!workspace_.level()) return {};
    if (!pointer.hit) return tr("Nothing to stand on here: no part of the level is under the mouse.");
    return QString::fromStdString(nameOf(pointer.hit->object)) + QStringLiteral("  ") + placeText(pointer.hit->at);
  }
  const ground::Explanation e = explainer_.at(*ground, pointer.hit->at);
  view_.setLayer(Layer::cursor, cursorLayer(e, e.upright ? ground->built->agent : ground->mesh.agent));
  const QString stale = workspace_.groundFresh() ? QString() : tr("As last built: ");
  const std::string& name = nameOf(pointer.hit->object);
  const bool named = stop_ != Stop::level || e.sentence.find(name) != std::string::npos;
  return (named ? QString() : QString::fromStdString(name) + QStringLiteral(":  ")) + stale + QString::fromStdString(e.sentence) +
         QStringLiteral("  ") + placeText(e.at);
}

QString WorldPresenter::placeText(const Vec3& at) const {
  const QString metres = tr("At %1, %2, %3").arg(at.x, 0, 'f', 2).arg(at.y, 0, 'f', 2).arg(at.z, 0, 'f', 2);
  const auto& files = workspace_.level()->files;
  if (files.size() != 1 || !level::isTileMap(files[0].path)) return metres + QStringLiteral(".");
  const double spacing = files[0].import.spacing;
  return metres + tr(" (pixel %1, %2).").arg(std::floor(at.x / spacing), 0, 'f', 0).arg(std::floor(at.z / spacing), 0, 'f', 0);
}

int WorldPresenter::bodyAt(const Pointer& pointer) const {
  const auto run = workspace_.run();
  if (!run || run->trace.frameCount() == 0) return -1;
  constexpr double kNear = 18;  // pixels
  double least = kNear;
  int best = -1;
  const double middle = workspace_.agentKind().height / 2;
  for (std::size_t b = 0; b < run->trace.bodies().size(); ++b) {
    QPointF at;
    if (!view_.camera().project(run->trace.at(from_.reel->frame(), b).at + Vec3{0, middle, 0}, at)) continue;
    if (const double d = QLineF(at, pointer.pixel).length(); d < least) least = d, best = run->trace.bodies()[b].id;
  }
  return best;
}

}  // namespace dune::window
