#include "window/stops/level/bounds_page.h"

#include "window/scene/handle_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

constexpr double kLeastSide = 0.5;  // m of the playable bounds

void setBounds(Workspace& workspace, const std::optional<Box3>& bounds, const QString& label) {
  workspace.change(label, [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.bounds = bounds; }); });
}

/// Drags the sides of the bounds.
class BoundsTool : public HandleTool {
 public:
  explicit BoundsTool(Workspace& workspace) : workspace_(workspace) {}

  QString hint() const override {
    if (bounds()) return QObject::tr("Drag the dots on the sides of the bounds. There is no ground outside them.");
    return QObject::tr("Set bounds on the left to keep agents inside a part of the level.");
  }

 protected:
  std::vector<Handle> handles() const override {
    std::vector<Handle> handles;
    for (int side = 0; bounds() && side < 6; ++side) handles.push_back({side, sideMiddle(*bounds(), side), {}});
    return handles;
  }
  void begin(int, const Pointer&) override { before_ = *bounds(); }
  void dragHandle(int side, const Pointer& p) override {
    const int axis = side / 2;
    const bool high = side % 2;
    Vec3 out{0};
    out[axis] = high ? 1 : -1;
    const double by = alongLine(p.ray, sideMiddle(before_, side), out);
    Box3 box = before_;
    if (high)
      box.max[axis] = std::max(box.min[axis] + kLeastSide, before_.max[axis] + by);
    else
      box.min[axis] = std::min(box.max[axis] - kLeastSide, before_.min[axis] - by);
    setBounds(workspace_, box, QObject::tr("Change bounds"));
  }

 private:
  const std::optional<Box3>& bounds() const { return workspace_.project().level->bounds; }
  static Vec3 sideMiddle(const Box3& box, int side) {
    Vec3 at = box.centre();
    at[side / 2] = side % 2 ? box.max[side / 2] : box.min[side / 2];
    return at;
  }

  Workspace& workspace_;
  Box3 before_;
};

/// Places seeds.
class SeedTool : public Tool {
 public:
  explicit SeedTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override {
    return QObject::tr("Click the ground from which everything that is kept can be reached. Esc leaves the tool.");
  }
  bool press(const Pointer& p) override {
    if (p.hit) addSeed(workspace_, p.hit->at);
    return true;
  }
  bool holding() const override { return true; }

 private:
  Workspace& workspace_;
};

}  // namespace

BoundsPage::BoundsPage(Workspace& workspace) : Sheet({}, workspace) {
  section(tr("Playable bounds"));
  set_ = button(tr("Set bounds"), tr("Start with a box around the whole level"));
  unset_ = button(tr("Remove bounds"), tr("Ground may be anywhere again"));
  row({set_, unset_});
  size_ = quiet({});
  const QString names[] = {tr("x from"), tr("x to"), tr("y from, up"), tr("y to, up"), tr("z from"), tr("z to")};
  constexpr double kFar = 1e5;
  for (int side = 0; side < 6; ++side) {
    sideFields_[side] = number(names[side], tr("m"), -kFar, kFar, 0.5, 2);
    sideFields_[side]->setToolTip(tr("No ground lies beyond this side of the bounds"));
    connect(sideFields_[side], &NumberField::edited, this, [this, side](double v) { moveSide(side, v); });
  }
  connect(set_, &QPushButton::clicked, this, [this] {
    if (workspace_.level()) setBounds(workspace_, workspace_.worldBounds(), tr("Set bounds"));
  });
  connect(unset_, &QPushButton::clicked, this, [this] { setBounds(workspace_, std::nullopt, tr("Remove bounds")); });
  section(tr("Seeds"));
  quiet(tr("With seeds, only ground that can be reached from one of them is kept; tops of walls and crates go."));
  seed_ = button(tr("Add seed"), tr("Click the ground to place a seed"), true);
  removeSeed_ = button(tr("Remove seed"), tr("Remove the chosen seed"));
  row({seed_, removeSeed_});
  connect(seed_, &QPushButton::toggled, this, [this] { toolChanged(); });
  connect(removeSeed_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::seed); });
  seeds_ = list(tr("Seeds"), ThingKind::seed);
  seeds_->fitRows(120);
  section(tr("Joining"));
  join_ = number(tr("Gaps up to"), tr("m"), 0, 2, 0.01, 2);
  join_->setToolTip(tr("The wider, the more cracks and gaps between floors are closed in the mesh"));
  quiet(tr("Ground parted by a gap that is no wider counts as one: floors that were modelled side by side and almost touch."));
  connect(join_, &NumberField::edited, this, [this](double v) {
    workspace_.change(
        tr("Change joining distance"),
        [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.joinDistance = v; }); },
        QStringLiteral("join"));
  });
  addIslands();
  addPlaces();
  sides_ = std::make_unique<BoundsTool>(workspace_);
  seeder_ = std::make_unique<SeedTool>(workspace_);
}

BoundsPage::~BoundsPage() = default;

void BoundsPage::addIslands() {
  section(tr("Islands"));
  leastArea_ = number(tr("Least area"), tr("m²"), 0, level::kMostIsland, 0.5, 1);
  leastArea_->setToolTip(
      tr("Ground that hangs together and has less area goes; 0 keeps all. The more, the fewer tops of crates and walls"));
  leastWidth_ = number(tr("Least width"), tr("m"), 0, 100, 0.1, 2);
  leastWidth_->setToolTip(tr("Ground that is narrower all along goes; 0 keeps all. The more, the fewer tops of walls and beams"));
  quiet(tr("Smaller islands are left out, unless a seed, a link, a route or a group of the crowd needs them."));
  const auto change = [this](NumberField* field, double level::LeastIsland::*what) {
    connect(field, &NumberField::edited, this, [this, what](double v) {
      workspace_.change(
          tr("Change least island"),
          [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.leastIsland.*what = v; }); },
          QStringLiteral("least island"));
    });
  };
  change(leastArea_, &level::LeastIsland::area), change(leastWidth_, &level::LeastIsland::width);
}

void BoundsPage::addPlaces() {
  section(tr("Names of places"));
  quiet(tr("Shown in the world at every step, so that one can speak of them. Right-click a place to name it."));
  places_ = list(tr("Names of places"), ThingKind::place);
  places_->fitRows(120);
  name_ = new QLineEdit;
  name_->setAccessibleName(tr("Name of the chosen place"));
  removePlace_ = button(tr("Remove name"), tr("Remove the name of the chosen place (Delete)"));
  row({name_, removePlace_});
  connect(places_, &ItemList::chosen, this, [this](const std::string&) {
    if (const project::NamedPlace* p = chosenPlace(workspace_)) emit showPlace(p->at);
  });
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const project::NamedPlace* chosen = chosenPlace(workspace_);
    const std::string name = name_->text().trimmed().toStdString();
    if (!chosen || name.empty() || name == chosen->name) return;
    project::NamedPlace p = *chosen;
    p.name = name;
    replace(workspace_, p, tr("Rename place"));
  });
  connect(removePlace_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::place); });
}

void BoundsPage::typeName() {
  refreshPlaces();
  name_->setFocus();
  name_->selectAll();
}

void BoundsPage::refreshPlaces() {
  std::vector<ItemRow> rows;
  for (const project::NamedPlace& p : workspace_.project().places->places)
    rows.push_back({std::to_string(p.id), QString::fromStdString(p.name)});
  const bool any = !rows.empty();
  places_->setRows(std::move(rows));
  const project::NamedPlace* chosen = chosenPlace(workspace_);
  places_->setVisible(any), name_->parentWidget()->setVisible(any);
  name_->setEnabled(chosen), removePlace_->setEnabled(chosen);
  if (!name_->hasFocus() || !name_->isModified()) name_->setText(chosen ? QString::fromStdString(chosen->name) : QString());
}

/// A side never comes nearer to the one across than the least.
void BoundsPage::moveSide(int side, double to) {
  const auto& bounds = workspace_.project().level->bounds;
  if (!bounds) return;
  const int axis = side / 2;
  Box3 box = *bounds;
  if (side % 2)
    box.max[axis] = std::max(to, box.min[axis] + kLeastSide);
  else
    box.min[axis] = std::min(to, box.max[axis] - kLeastSide);
  workspace_.change(
      tr("Change bounds"), [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.bounds = box; }); },
      QStringLiteral("bounds %1").arg(side));
}

Tool* BoundsPage::tool() { return seeding() ? seeder_.get() : sides_.get(); }
void BoundsPage::leaveTool() { seed_->setChecked(false); }

void BoundsPage::refresh(Topics) {
  const project::LevelSection& section = *workspace_.project().level;
  set_->setEnabled(workspace_.level() && !section.bounds);
  unset_->setEnabled(section.bounds.has_value());
  seed_->setEnabled(workspace_.level() != nullptr);
  for (int side = 0; side < 6; ++side) {
    sideFields_[side]->setVisible(section.bounds.has_value());
    if (section.bounds) sideFields_[side]->setValue((side % 2 ? section.bounds->max : section.bounds->min)[side / 2]);
  }
  if (section.bounds) {
    const Vec3 size = section.bounds->size();
    size_->setText(
        tr("%1 × %2 m, %3 m high. Drag the dots in the world.").arg(size.x, 0, 'f', 1).arg(size.z, 0, 'f', 1).arg(size.y, 0, 'f', 1));
  } else {
    size_->setText(tr("None: there may be ground anywhere in the level."));
  }
  std::vector<ItemRow> rows;
  for (const Vec3& s : section.seeds)
    rows.push_back({std::to_string(rows.size()), tr("at %1, %2, %3").arg(s.x, 0, 'f', 2).arg(s.y, 0, 'f', 2).arg(s.z, 0, 'f', 2)});
  seeds_->setRows(std::move(rows));
  removeSeed_->setEnabled(seeds_->currentRow() >= 0);
  join_->setValue(section.joinDistance);
  leastArea_->setValue(section.leastIsland.area), leastWidth_->setValue(section.leastIsland.width);
  refreshPlaces();
}

}  // namespace dune::window
