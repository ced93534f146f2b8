#include "window/stops/crowd/groups_page.h"

#include <QMenu>

#include "core/project/ready_scenes.h"
#include "window/scene/from_to_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/crowd/crowd_picture.h"
#include "window/stops/crowd/group_tool.h"
#include "window/widgets/swatch.h"

namespace dune::window {

namespace {

using project::CrowdGroup;
using project::GoalKind;
using project::StartForm;

constexpr int kNewGroup = 8;  // bodies in a newly drawn group
constexpr double kSame = 1e-9;

QString titleOf(const CrowdGroup& g) { return g.name.empty() ? QObject::tr("Group %1").arg(g.id) : QString::fromStdString(g.name); }

/// A click in the world.
class ClickTool : public Tool {
 public:
  ClickTool(QString hint, std::function<void(const Vec3&)> click) : hint_(std::move(hint)), click_(std::move(click)) {}
  QString hint() const override { return hint_; }
  bool press(const Pointer& p) override {
    if (p.hit) click_(p.hit->at);
    return true;
  }

 private:
  QString hint_;
  std::function<void(const Vec3&)> click_;
};

}  // namespace

GroupsPage::GroupsPage(Workspace& workspace) : Sheet({}, workspace) {
  addButtons();
  list_ = list(tr("Groups"), ThingKind::group);
  column_->addWidget(remove_);
  addNumbers();
  addStart();
  addGoal();
  makeTools();
}

void GroupsPage::addButtons() {
  draw_ = button(tr("Draw group"), tr("Drag from the start to the goal in the world"), true);
  add_ = button(tr("Ready-made"), tr("Add a scene that crowds are usually tried with: choose one, then click where it goes"));
  remove_ = button(tr("Remove group"), tr("Remove the chosen group (Delete)"));
  row({draw_, add_});
  auto* menu = new QMenu(add_);
  for (std::size_t i = 0; i < project::kReadyScenes; ++i)
    connect(menu->addAction(tr(project::readySceneName(static_cast<project::ReadyScene>(i)))), &QAction::triggered, this, [this, i] {
      draw_->setChecked(false);
      ready_ = static_cast<int>(i);
      toolChanged();
    });
  add_->setMenu(menu);
  connect(draw_, &QPushButton::toggled, this, [this](bool on) {
    if (on) ready_ = -1, place_->setChecked(false);
    toolChanged();
  });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::group); });
}

NumberField* GroupsPage::groupNumber(const QString& name, const QString& unit, double least, double most, double step, int decimals,
                                     const QString& key, std::function<void(CrowdGroup&, double)> set) {
  NumberField* field = number(name, unit, least, most, step, decimals);
  connect(field, &NumberField::edited, this, [this, key, set = std::move(set)](double v) {
    editChosen(
        tr("Change group"), [&](CrowdGroup& g) { set(g, v); }, key);
  });
  return field;
}

QComboBox* GroupsPage::choice(const QString& name, const QStringList& items) {
  auto* holder = new QWidget;
  auto* line = new QHBoxLayout(holder);
  line->setContentsMargins(0, 0, 0, 0);
  auto* label = new QLabel(name);
  auto* box = new QComboBox;
  box->setAccessibleName(name);
  box->addItems(items);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(9);
  line->addWidget(label, 1);
  line->addWidget(box);
  column_->addWidget(holder);
  return box;
}

void GroupsPage::addNumbers() {
  count_ = groupNumber(tr("Agents in the group"), {}, 1, 10000, 1, 0, QStringLiteral("count"),
                       [](CrowdGroup& g, double v) { g.count = static_cast<int>(v); });
  count_->setToolTip(tr("As many bodies walk at once; where there is no room for all, some start later"));
  kind_ = choice(tr("Kind of agent"), {});
  radius_ = groupNumber(tr("Radius of the bodies"), tr("m"), 0.05, 5, 0.01, 2, QStringLiteral("radius"),
                        [this](CrowdGroup& g, double v) { g.radius = std::abs(v - kindOf(workspace_, g).radius) < kSame ? 0 : v; });
  speed_ = groupNumber(tr("Speed"), tr("m/s"), 0.1, 30, 0.1, 1, QStringLiteral("speed"),
                       [this](CrowdGroup& g, double v) { g.speed = std::abs(v - kindOf(workspace_, g).speed) < kSame ? 0 : v; });
  priority_ = groupNumber(tr("Priority"), {}, -100, 100, 1, 0, QStringLiteral("priority"),
                          [](CrowdGroup& g, double v) { g.priority = static_cast<int>(v); });
  radius_->setToolTip(tr("Of the bodies that walk; more than the mesh was built for scrapes walls"));
  speed_->setToolTip(tr("The fastest that they walk"));
  priority_->setToolTip(tr("Bodies of a group with more make others give way"));
  connect(kind_, &QComboBox::activated, this, [this](int i) {
    editChosen(tr("Change kind"),
               [&](CrowdGroup& g) { g.agent = i == 0 ? 0 : workspace_.project().agents->agents[static_cast<std::size_t>(i - 1)].id; });
  });
}

void GroupsPage::addStart() {
  startForm_ = choice(tr("They start"), {tr("close together"), tr("on a line"), tr("on a ring")});
  connect(startForm_, &QComboBox::activated, this, [this](int i) {
    editChosen(tr("Change start"), [&](CrowdGroup& g) {
      g.startForm = static_cast<StartForm>(i);
      // A line begins with a length that one can take hold of.
      if (g.startForm == StartForm::line && glm::distance(g.startEnd, g.start) < kSame) g.startEnd = g.start + Vec3{4, 0, 0};
    });
  });
  startRadius_ = groupNumber(tr("Radius of the ring"), tr("m"), 0.5, 500, 0.5, 1, QStringLiteral("ring"),
                             [](CrowdGroup& g, double v) { g.startRadius = v; });
  startRadius_->setToolTip(tr("How far from the start they stand when they begin"));
  every_ = groupNumber(tr("One every"), tr("s"), 0, 600, 0.5, 1, QStringLiteral("every"), [](CrowdGroup& g, double v) { g.every = v; });
  every_->setToolTip(tr("Seconds from one body's beginning to the next one's; 0: all at once"));
}

void GroupsPage::addGoal() {
  goalKind_ = choice(tr("They go"), {tr("to a place"), tr("to an object"), tr("after a group"), tr("a round of places"),
                                     tr("to places around"), tr("across the start")});
  connect(goalKind_, &QComboBox::activated, this, [this](int i) {
    editChosen(tr("Change goal"), [&](CrowdGroup& g) {
      g.goalKind = static_cast<GoalKind>(i);
      if (g.goalKind == GoalKind::object && g.object.empty() && object_->count() > 0) g.object = object_->itemText(0).toStdString();
      if (g.goalKind == GoalKind::group && g.quarry == 0 && quarry_->count() > 0) g.quarry = quarry_->itemData(0).toInt();
    });
  });
  object_ = choice(tr("Object"), {});
  connect(object_, &QComboBox::activated, this,
          [this](int i) { editChosen(tr("Change goal"), [&](CrowdGroup& g) { g.object = object_->itemText(i).toStdString(); }); });
  quarry_ = choice(tr("Group"), {});
  connect(quarry_, &QComboBox::activated, this,
          [this](int i) { editChosen(tr("Change goal"), [&](CrowdGroup& g) { g.quarry = quarry_->itemData(i).toInt(); }); });
  around_ = groupNumber(tr("Distance around it"), tr("m"), 0, 500, 0.5, 1, QStringLiteral("around"),
                        [](CrowdGroup& g, double v) { g.around = v; });
  around_->setToolTip(tr("How far from the goal their places are"));
  place_ = button(tr("Add places to the round"), tr("Click the places in the world, one after the other"), true);
  column_->addWidget(place_);
  connect(place_, &QPushButton::toggled, this, [this](bool on) {
    if (on) draw_->setChecked(false), ready_ = -1;
    toolChanged();
  });
}

void GroupsPage::makeTools() {
  const auto drawGroup = [](DrawList& list, const Vec3& from, const Vec3& to) {
    const Vec3 up{0, 0.1, 0};
    const std::uint32_t ink = packed(theme().accent, 1);
    list.circle(from + up, 0.7, 3, ink);
    list.line(from + up, to + up, 3, ink);
    list.circle(to + up, 0.3, 3, ink);
  };
  draws_ =
      std::make_unique<FromToTool>(FromToTool::Words{tr("Press where the group starts and drag to where it goes. Esc leaves the tool."),
                                                     tr("Let go at the group's goal.")},
                                   0.5, drawGroup, [this](const Vec3& from, const Vec3& to) {
                                     add(workspace_, CrowdGroup{0, from, to, kNewGroup, 0});
                                   });
  ends_ = std::make_unique<GroupTool>(workspace_);
  puts_ = std::make_unique<ClickTool>(tr("Click where the middle of the scene is to be. Esc leaves the tool."), [this](const Vec3& at) {
    workspace_.change(tr("Add scene"), [&](project::Project& p) {
      project::addReadyScene(p, static_cast<project::ReadyScene>(ready_), at, workspace_.agentKind().radius, workspace_.scene());
    });
    ready_ = -1;
    toolChanged();
    workspace_.selection().choose(ThingKind::group, workspace_.project().crowd->groups.back().id);
  });
  places_ = std::make_unique<ClickTool>(tr("Click the next place of the round. Esc ends it."), [this](const Vec3& at) {
    editChosen(tr("Add place"), [&](CrowdGroup& g) { g.round.push_back(at); });
  });
}

Tool* GroupsPage::tool() {
  if (draw_->isChecked()) return draws_.get();
  if (ready_ >= 0) return puts_.get();
  if (place_->isChecked()) return places_.get();
  return ends_.get();
}

void GroupsPage::leaveTool() {
  ready_ = -1;
  draw_->setChecked(false), place_->setChecked(false);
}

void GroupsPage::editChosen(const QString& label, const Change& change, const QString& key) {
  const CrowdGroup* chosen = chosenGroup(workspace_);
  if (!chosen) return;
  CrowdGroup group = *chosen;
  change(group);
  replace(workspace_, group, label, key.isEmpty() ? key : key + QString::number(group.id));
}

void GroupsPage::fillList() {
  const std::vector<const CrowdGroup*> groups = groupsOf(workspace_);
  if (!groups.empty() && std::ranges::find(groups, chosenGroup(workspace_)) == groups.end())
    workspace_.selection().choose(ThingKind::group, groups[0]->id);
  std::vector<ItemRow> rows;
  for (const CrowdGroup* g : groups) {
    ItemRow row{std::to_string(g->id),
                tr("%1: %2 agents").arg(titleOf(*g)).arg(g->count) +
                    (g->radius > 0 ? tr(", radius %1 m").arg(g->radius, 0, 'f', 2) : QString()) +
                    (g->agent != 0 ? tr(", %1").arg(QString::fromStdString(kindOf(workspace_, *g).name)) : QString())};
    row.icon = swatch(theme().agent[static_cast<std::size_t>(g->id - 1) % 6]);
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
}

/// Levels have thousands: only when the level is another.
void GroupsPage::fillObjects() {
  const auto level = workspace_.level() ? workspace_.level()->level : nullptr;
  if (level == objectsOf_) return;
  objectsOf_ = level;
  object_->clear();
  QStringList names;
  if (level)
    for (const level::Object& o : level->objects) names << QString::fromStdString(o.name);
  object_->addItems(names);
}

void GroupsPage::showGoal(const CrowdGroup& g) {
  goalKind_->setCurrentIndex(static_cast<int>(g.goalKind));
  fillObjects();
  object_->setCurrentText(QString::fromStdString(g.object));
  quarry_->clear();
  for (const CrowdGroup* other : groupsOf(workspace_))
    if (other->id != g.id) quarry_->addItem(titleOf(*other), other->id);
  quarry_->setCurrentIndex(quarry_->findData(g.quarry));
  object_->parentWidget()->setVisible(g.goalKind == GoalKind::object);
  quarry_->parentWidget()->setVisible(g.goalKind == GoalKind::group);
  around_->setVisible(g.goalKind == GoalKind::around || g.goalKind == GoalKind::group);
  around_->setValue(g.around);
  place_->setVisible(g.goalKind == GoalKind::round);
  if (g.goalKind != GoalKind::round) place_->setChecked(false);
}

void GroupsPage::showChosen() {
  const CrowdGroup* g = chosenGroup(workspace_);
  for (QWidget* w : std::initializer_list<QWidget*>{count_, radius_, speed_, priority_, every_, kind_, startForm_, goalKind_, remove_})
    w->setEnabled(g);
  kind_->clear();
  kind_->addItem(tr("as shown"));
  for (const project::AgentKind& a : workspace_.project().agents->agents) kind_->addItem(QString::fromStdString(a.name));
  const CrowdGroup usual;
  const CrowdGroup& shown = g ? *g : usual;
  const nav::Agent& kind = kindOf(workspace_, shown);
  const auto& agents = workspace_.project().agents->agents;
  const auto own = std::ranges::find(agents, shown.agent, &project::AgentKind::id);
  kind_->setCurrentIndex(own == agents.end() ? 0 : static_cast<int>(own - agents.begin()) + 1);
  count_->setValue(shown.count), priority_->setValue(shown.priority), every_->setValue(shown.every);
  radius_->setValue(shown.radius > 0 ? shown.radius : kind.radius), speed_->setValue(shown.speed > 0 ? shown.speed : kind.speed);
  startForm_->setCurrentIndex(static_cast<int>(shown.startForm));
  startRadius_->setValue(shown.startRadius), startRadius_->setVisible(shown.startForm == StartForm::ring);
  showGoal(shown);
}

void GroupsPage::refresh(Topics changed) {
  if (!(changed & (Topics{Topic::crowd} | Topic::agents | Topic::agent | Topic::level | Topic::selection | Topic::stop | Topic::theme)))
    return;
  fillList();
  showChosen();
}

}  // namespace dune::window
