#include "window/stops/level/level_stop.h"

#include <QMenu>

#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/level/role_text.h"

namespace dune::window {

namespace {

constexpr std::size_t kMostDetail = 70'000;  // triangles
constexpr std::array kRoles{level::Role::ground, level::Role::obstacle, level::Role::cuts, level::Role::ignored};

DrawList seedsAndBounds(const project::LevelSection& section, const Selection& selection) {
  DrawList list;
  list.lift = 2e-4;
  for (std::size_t i = 0; i < section.seeds.size(); ++i) {
    const Thing seed = thing(ThingKind::seed, static_cast<int>(i));
    const std::uint32_t ink = packed(selection.has(seed) ? theme().accent : theme().good, 1);
    const Vec3 at = section.seeds[i] + Vec3{0, 0.05, 0}, top = at + Vec3{0, 1, 0};
    list.disc(at, 0.18, ink);
    list.circle(at, 0.4, 3, ink);
    list.line(at, top, 2.5, ink);
    list.picks.push_back({seed, {at, top}});
  }
  if (!section.bounds) return list;
  const Box3& b = *section.bounds;
  const auto corner = [&](int n) { return Vec3{n & 1 ? b.max.x : b.min.x, n & 2 ? b.max.y : b.min.y, n & 4 ? b.max.z : b.min.z}; };
  for (int i = 0; i < 8; ++i)
    for (int axis = 0; axis < 3; ++axis)
      if (!(i >> axis & 1)) list.line(corner(i), corner(i | 1 << axis), 2.5, packed(theme().accent, 1));
  return list;
}

/// Whether a file is read in a way that does not look like metres with Y up, and nobody has said that it is right so.
bool looksWrong(const pipeline::LoadedLevel& level, const project::LevelSection& section) {
  for (std::size_t i = 0; i < level.files.size(); ++i)
    if (pipeline::guessOf(level, section, i)) return true;
  return false;
}

}  // namespace

LevelStop::LevelStop(Workspace& workspace, WorldView& view) : LevelStop(workspace, view, new LevelSheet(workspace)) {}

LevelStop::LevelStop(Workspace& workspace, WorldView& view, LevelSheet* sheet)
    : TrailStop(workspace, tr("Level"), sheet),
      view_(view),
      own_(*sheet),
      level_(view, LayerOrder::level),
      blockerLayer_(view, LayerOrder::solids),
      marks_(view, LayerOrder::marks),
      names_(view, LayerOrder::marks),
      detail_(view, level_, LayerOrder::levelDetail) {}

StopState LevelStop::state() const {
  const auto& level = workspace_.source().level();
  const std::size_t objects = level ? level->level->objects.size() : 0;
  StopState s;
  s.trouble = workspace_.source().problem().has_value();
  s.words = level ? (objects == 1 ? tr("1 object") : tr("%1 objects").arg(objects)) : s.trouble ? tr("cannot be read") : tr("none yet");
  if (level && looksWrong(*level, *workspace_.project().level)) s.words = tr("units or axis look wrong"), s.trouble = true;
  return s;
}

/// What a blocker does to the ground is seen while it is placed.
Backdrop LevelStop::backdrop() const {
  const bool blockers = own_.shown() == LevelSheet::Page::blockers;
  return {.ground = blockers, .changes = blockers, .figures = true, .names = true};
}

void LevelStop::draw(const Shown& shown, Topics changed) {
  const bool chosen = shown.here && (changed & Topic::selection);
  if (chosen || (changed & (Topic::level | Topic::levelSection | Topic::stop | Topic::theme))) {
    drawLevel(shown.here);
    drawMarks(shown.here);
  }
  if (changed & (Topic::level | Topic::places | Topic::theme)) drawNames();
  if (changed & Topic::camera) drawDetail();
}

/// The names of places, at every stop.
void LevelStop::drawNames() {
  constexpr double kOver = 0.3;  // metres
  std::vector<WorldLabel> labels;
  if (workspace_.level())
    for (const project::NamedPlace& p : workspace_.project().places->places)
      labels.push_back({p.at + Vec3{0, kOver, 0}, QString::fromStdString(p.name), theme().text, true});
  names_.set({}, std::move(labels));
}

void LevelStop::drawLevel(bool here) {
  const auto& level = workspace_.source().level();
  const project::LevelSection& section = *workspace_.project().level;
  const auto blockers = std::make_shared<level::Level>(level::solidsOf(section.blockers));
  view_.setLevel(workspace_.source().tree(), blockers);
  const bool drawing = here && own_.blockers()->placing();
  invite(drawing);
  std::vector<level::Role> roles;
  for (const level::Blocker& b : section.blockers) roles.push_back(b.role);
  blockerLayer_.set(level ? levelLayer(*pictureOf(blockers, Job()), roles, {}, here) : DrawList{});
  // Where there is nothing yet, something to draw on comes with the tool that draws.
  if (!level || level->level->objects.empty()) {
    drawn_.reset();
    level_.set(level || drawing ? sketchGrid(workspace_.worldBounds()) : DrawList{});
    return drawDetail();
  }
  const LevelPicture& picture = *workspace_.source().picture();
  Drawn now{picture.level, {}, {}, here, theme().dark};
  if (here && own_.shown() == LevelSheet::Page::objects) now.chosen = workspace_.selection().all(ThingKind::object);
  for (const level::Object& o : level->level->objects) now.roles.push_back(level::roleOf(o, section.roles, section.rules));
  if (drawn_ == now) return;
  level_.set(levelLayer(picture, now.roles, now.chosen, now.byRole));
  drawn_ = std::move(now);
  drawDetail();
}

/// Where the level is drawn by a stand-in: what it truly is around the place that is looked at.
void LevelStop::drawDetail() {
  const auto& level = workspace_.source().level();
  if (!drawn_ || !level || drawn_->level == level->level) return detail_.clear();
  Box2 box;
  const Camera& camera = view_.camera();
  const auto items = aroundTarget(camera, box, camera.distance(),
                                  [&](const Box2& within) { return workspace_.source().tree()->within(within, kMostDetail); });
  if (items)
    detail_.set(box, detailLayer(*level->level, *items, drawn_->roles, drawn_->chosen, drawn_->byRole));
  else
    detail_.clear();
}

void LevelStop::drawMarks(bool here) {
  const bool shown = here && own_.shown() == LevelSheet::Page::bounds;
  marks_.set(shown ? seedsAndBounds(*workspace_.project().level, workspace_.selection()) : DrawList{});
}

void LevelStop::invite(bool drawing) {
  const bool level = workspace_.level() != nullptr;
  const bool empty = !level && !drawing && !pipeline::hasLevel(workspace_.project());
  view_.setVacant(empty);
  view_.setInvitation(!level && !empty && workspace_.source().problem()
                          ? tr("The level cannot be read.\nWhat to try is said on the left, under Level.")
                          : QString());
}

bool LevelStop::beginByHand() {
  emit openAsked();
  own_.show(LevelSheet::Page::blockers);
  own_.blockers()->beginFloor();
  return true;
}

void LevelStop::addToMenu(QMenu& menu, const Pointer& p) {
  const auto& level = workspace_.source().level();
  const std::size_t own = level ? level->level->objects.size() : 0;
  if (p.hit->object < own)
    addObjectTo(menu, level->level->objects[p.hit->object]);
  else if (const level::Blocker* blocker = blockerAt(workspace_, *p.hit))
    addBlockerTo(menu, *blocker);
  menu.addSeparator();
  menu.addAction(tr("Put a box here"), this, [this, at = p.hit->at] {
    emit openAsked();
    own_.show(LevelSheet::Page::blockers);
    level::Blocker box;
    box.at = at;
    add(workspace_, box);
  });
  menu.addAction(tr("Add a seed here"), this, [this, at = p.hit->at] {
    emit openAsked();
    own_.show(LevelSheet::Page::bounds);
    addSeed(workspace_, at);
  });
  menu.addAction(tr("Name this place…"), this, [this, at = p.hit->at] {
    emit openAsked();
    own_.show(LevelSheet::Page::bounds);
    add(workspace_, project::NamedPlace{0, "place " + std::to_string(project::nextId(workspace_.project().places->places)), at});
    own_.bounds()->typeName();
  });
}

void LevelStop::addObjectTo(QMenu& menu, const level::Object& object) {
  const project::LevelSection& section = *workspace_.project().level;
  const level::Role now = level::roleOf(object, section.roles, section.rules);
  const std::string name = object.name;
  menu.addAction(QStringLiteral("%1: %2").arg(QString::fromStdString(name), roleText(now)))->setEnabled(false);
  QMenu* counts = menu.addMenu(tr("Counts as"));
  for (const level::Role role : kRoles) {
    QAction* action = counts->addAction(roleText(role), this, [this, name, role] { own_.objects()->giveRole({name}, role); });
    action->setCheckable(true), action->setChecked(role == now);
  }
  menu.addAction(tr("Choose in the list"), this, [this, name] {
    emit openAsked();
    own_.show(LevelSheet::Page::objects);
    workspace_.selection().choose({ThingKind::object, name});
  });
}

void LevelStop::addBlockerTo(QMenu& menu, const level::Blocker& blocker) {
  menu.addAction(QStringLiteral("%1: %2").arg(QString::fromStdString(blocker.name()), roleText(blocker.role)))->setEnabled(false);
  const auto chosen = [this, id = blocker.id] {
    emit openAsked();
    own_.show(LevelSheet::Page::blockers);
    workspace_.selection().choose(ThingKind::blocker, id);
  };
  menu.addAction(tr("Change it"), this, chosen);
  menu.addAction(tr("Copy it"), this, [this, chosen] { chosen(), own_.blockers()->copy(); });
  menu.addAction(tr("Remove it"), this, [this, chosen] { chosen(), removeChosen(workspace_, ThingKind::blocker); });
}

}  // namespace dune::window
