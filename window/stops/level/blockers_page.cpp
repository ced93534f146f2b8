#include "window/stops/level/blockers_page.h"

#include "window/scene/outline_tool.h"
#include "window/session/hand_made.h"
#include "window/stops/level/blocker_tool.h"

namespace dune::window {

namespace {

using level::Blocker;
using level::BlockerShape;

struct Choice {
  const char *name, *tip;
  BlockerShape shape;
  level::Role role;
};
constexpr std::array<Choice, 6> kChoices{{
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Box"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click the ground to place a box"), BlockerShape::box, level::Role::obstacle},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Ramp"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click the ground to place a ramp"), BlockerShape::ramp, level::Role::ground},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Cylinder"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click the ground to place a cylinder"), BlockerShape::cylinder,
     level::Role::obstacle},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Prism"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click an outline to place an obstacle over it"), BlockerShape::prism,
     level::Role::obstacle},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Floor"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click an outline to lay flat ground in it"), BlockerShape::floor,
     level::Role::ground},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Hole"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click an outline to take the ground in it away"), BlockerShape::floor,
     level::Role::cuts},
}};

QString nameOf(const Blocker& b) {
  return b.shape == BlockerShape::floor && b.role == level::Role::cuts ? QObject::tr("hole")
                                                                       : QString::fromLatin1(level::shapeName(b.shape));
}

constexpr level::Role kBlockerRoles[] = {level::Role::obstacle, level::Role::ground, level::Role::cuts};

}  // namespace

BlockersPage::BlockersPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(
      tr("What if there were a crate here? Choose a shape, click the ground, and see what the mesh does. Floors and holes are drawn corner "
         "by corner."));
  for (std::size_t i = 0; i < kChoices.size(); ++i) {
    shapes_[i] = button(tr(kChoices[i].name), tr(kChoices[i].tip), true);
    shapes_[i]->setObjectName(QStringLiteral("narrow"));
    connect(shapes_[i], &QPushButton::toggled, this, [this, i](bool on) {
      for (std::size_t k = 0; on && k < kChoices.size(); ++k)
        if (k != i) shapes_[k]->setChecked(false);
      workspace_.bulletin().add({Topic::tool, Topic::stop});
    });
  }
  row({shapes_[0], shapes_[1], shapes_[2]});
  row({shapes_[3], shapes_[4], shapes_[5]});
  list_ = list(tr("Blockers"), ThingKind::blocker);
  addFields();
  place_ = std::make_unique<PlaceTool>(
      workspace_, [this] { return placing(); }, [this](const Blocker& b) { place(b); });
  outline_ = std::make_unique<OutlineTool>(
      [this](const Pointer& p, const std::vector<Vec3>& corners) { return groundAt(workspace_, p, corners.empty() ? 0 : corners[0].y); },
      [this](const std::vector<Vec3>& corners) {
        if (const auto shape = placing()) place(level::withCorners(*shape, corners));
      });
  handles_ = std::make_unique<BlockerTool>(workspace_);
}

BlockersPage::~BlockersPage() = default;

void BlockersPage::addFields() {
  copy_ = button(tr("Copy"), tr("One more like the chosen blocker, beside it"));
  remove_ = button(tr("Remove"), tr("Remove the chosen blocker (Delete)"));
  row({copy_, remove_});
  connect(copy_, &QPushButton::clicked, this, [this] { copy(); });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::blocker); });
  role_ = new QComboBox;
  role_->setAccessibleName(tr("Counts as"));
  for (const level::Role r : kBlockerRoles) role_->addItem(tr("Counts as %1").arg(QString::fromLatin1(level::roleName(r))));
  row({role_});
  connect(role_, &QComboBox::activated, this, [this](int i) { edit(tr("Change role"), [&](Blocker& b) { b.role = kBlockerRoles[i]; }); });
  auto size = [&](const QString& name, double Vec3::*extent) {
    NumberField* field = number(name, tr("m"), level::kLeastBlocker, level::kMostBlocker, 0.1, 2);
    field->setToolTip(tr("Its middle stays where it is; the mesh follows"));
    connect(field, &NumberField::edited, this, [this, extent, name](double v) {
      edit(
          tr("Resize blocker"), [&](Blocker& b) { b.size.*extent = v; }, name);
    });
    return field;
  };
  auto place = [&](const QString& name, double Vec3::*axis, const QString& tip) {
    constexpr double kFar = 1e5;
    NumberField* field = number(name, tr("m"), -kFar, kFar, 0.1, 2);
    field->setToolTip(tip);
    connect(field, &NumberField::edited, this, [this, axis, name](double v) {
      edit(
          tr("Move blocker"), [&](Blocker& b) { b.at.*axis = v; }, name);
    });
    return field;
  };
  x_ = place(tr("Place x"), &Vec3::x, tr("The middle of its base"));
  y_ = place(tr("Place y, up"), &Vec3::y, tr("What it stands on"));
  z_ = place(tr("Place z"), &Vec3::z, tr("The middle of its base"));
  width_ = size(tr("Width"), &Vec3::x);
  depth_ = size(tr("Depth"), &Vec3::z);
  height_ = size(tr("Height"), &Vec3::y);
  turn_ = number(tr("Turned"), tr("°"), -360, 360, 15, 0);
  turn_->setToolTip(tr("About the upright, to the left seen from above"));
  connect(turn_, &NumberField::edited, this, [this](double v) {
    edit(
        tr("Turn blocker"), [&](Blocker& b) { b.turn = v; }, tr("turn"));
  });
  agentsTitle_ = section(tr("There for"));
  agents_ = new QListView;
  agents_->setModel(&agentRows_);
  agents_->setAccessibleName(tr("Agents it is there for"));
  agents_->setMaximumHeight(74);
  column_->addWidget(agents_);
  connect(&agentRows_, &ItemModel::checkAsked, this, [this](const std::string& agent, bool on) {
    std::vector<std::string> names;
    for (const ItemRow& row : agentRows_.rows())
      if (row.key == agent ? on : *row.checked) names.push_back(row.key);
    if (names.empty()) return;  // a blocker for nobody is removed, not kept
    if (names.size() == agentRows_.rows().size()) names.clear();
    edit(tr("Change agents of blocker"), [&](Blocker& b) { b.agents = names; });
  });
}

std::optional<Blocker> BlockersPage::placing() const {
  for (std::size_t i = 0; i < kChoices.size(); ++i)
    if (shapes_[i]->isChecked()) {
      Blocker b;
      b.shape = kChoices[i].shape, b.role = kChoices[i].role;
      if (b.shape == BlockerShape::ramp) b.size = {2, 0.6, 1.2};
      return b;
    }
  return std::nullopt;
}

void BlockersPage::place(Blocker blocker) {
  add(workspace_, std::move(blocker));
  for (QPushButton* b : shapes_) b->setChecked(false);
}

void BlockersPage::edit(const QString& label, const std::function<void(Blocker&)>& change, const QString& key) {
  const Blocker* chosen = chosenBlocker(workspace_);
  if (!chosen) return;
  Blocker b = *chosen;
  change(b);
  replace(workspace_, b, label, key.isEmpty() ? key : QStringLiteral("blocker %1 %2").arg(b.id).arg(key));
}

void BlockersPage::copy() {
  const Blocker* chosen = chosenBlocker(workspace_);
  if (!chosen) return;
  Blocker b = *chosen;
  const double angle = radians(b.turn), by = b.size.x + 0.2;
  b.at += Vec3{std::cos(angle) * by, 0, -std::sin(angle) * by};
  place(b);
}

Tool* BlockersPage::tool() {
  const auto shape = placing();
  return !shape ? handles_.get() : level::hasOutline(*shape) ? outline_.get() : place_.get();
}

void BlockersPage::leaveTool() {
  for (QPushButton* b : shapes_) b->setChecked(false);
}

void BlockersPage::beginFloor() {
  const auto isFloor = [](const Choice& c) { return c.shape == BlockerShape::floor && c.role == level::Role::ground; };
  shapes_[static_cast<std::size_t>(std::ranges::find_if(kChoices, isFloor) - kChoices.begin())]->setChecked(true);
}

void BlockersPage::refreshAgents() {
  const auto& kinds = workspace_.project().agents->agents;
  const Blocker* b = chosenBlocker(workspace_);
  const bool shown = b && kinds.size() > 1;
  agents_->setVisible(shown), agentsTitle_->setVisible(shown);
  std::vector<ItemRow> rows;
  for (const nav::Agent& a : kinds) {
    ItemRow row{a.name, QString::fromStdString(a.name)};
    row.checked = b && b->holds(a.name);
    rows.push_back(std::move(row));
  }
  agentRows_.setRows(std::move(rows));
}

void BlockersPage::refresh(Topics) {
  std::vector<ItemRow> rows;
  for (const Blocker& b : workspace_.project().level->blockers)
    rows.push_back({std::to_string(b.id), tr("%1 %2, %3").arg(nameOf(b)).arg(b.id).arg(QString::fromLatin1(level::roleName(b.role)))});
  list_->setRows(std::move(rows));
  const Blocker* b = chosenBlocker(workspace_);
  for (QWidget* w : std::initializer_list<QWidget*>{x_, y_, z_, width_, depth_, height_, turn_, role_, copy_, remove_})
    w->setVisible(b != nullptr);
  height_->setVisible(b && b->shape != BlockerShape::floor);  // a sheet has none
  refreshAgents();
  if (!b) return;
  x_->setValue(b->at.x), y_->setValue(b->at.y), z_->setValue(b->at.z);
  width_->setValue(b->size.x), depth_->setValue(b->size.z), height_->setValue(b->size.y), turn_->setValue(b->turn);
  role_->setCurrentIndex(static_cast<int>(std::ranges::find(kBlockerRoles, b->role) - std::begin(kBlockerRoles)));
}

}  // namespace dune::window
