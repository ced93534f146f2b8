#include "window/stops/crowd/crowd_sheet.h"

#include "window/scene/theme.h"
#include "window/stops/from_to_tool.h"

namespace dune::window {

namespace {

constexpr int kNewGroup = 8;  // bodies in a newly drawn group

}  // namespace

CrowdSheet::CrowdSheet(Workspace& workspace) : Sheet(tr("Crowd"), workspace) {
  quiet(tr("Groups of agents walk at once, avoid each other and the walls, and are recorded."));
  run_ = button(tr("Run"), tr("Let all groups walk and record it (Ctrl+R)"));
  run_->setObjectName(QStringLiteral("primary"));
  draw_ = button(tr("Draw group"), tr("Drag from the start to the goal in the world"), true);
  row({run_, draw_});
  connect(run_, &QPushButton::clicked, this, [this] {
    if (workspace_.running())
      workspace_.cancel();
    else
      workspace_.runCrowd();
  });
  connect(draw_, &QPushButton::toggled, this, &Sheet::toolChanged);
  state_ = new QLabel;
  state_->setWordWrap(true);
  column_->addWidget(state_);
  seconds_ = number(tr("Duration"), tr("s"), 1, 3600, 5, 0);
  connect(seconds_, &NumberField::edited, this, [this](double v) {
    workspace_.change(
        tr("Change duration"), [&](project::Project& p) { project::edit(p.crowd, [&](project::CrowdSection& s) { s.seconds = v; }); },
        QStringLiteral("seconds"));
  });
  section(tr("Groups"));
  list_ = new QListWidget;
  list_->setAccessibleName(tr("Groups"));
  column_->addWidget(list_, 1);
  connect(list_, &QListWidget::currentRowChanged, this, [this] { showChosen(); });
  count_ = number(tr("Agents in the group"), {}, 1, 2000, 1, 0);
  radius_ = number(tr("Radius of the bodies"), tr("m"), 0.05, 5, 0.01, 2);
  connect(count_, &NumberField::edited, this, [this](double v) {
    editChosen(
        tr("Change group"), [v](project::CrowdGroup& g) { g.count = static_cast<int>(v); }, QStringLiteral("count"));
  });
  connect(radius_, &NumberField::edited, this, [this](double v) {
    editChosen(
        tr("Change group"), [&](project::CrowdGroup& g) { g.radius = std::abs(v - workspace_.agentKind().radius) < 1e-9 ? 0 : v; },
        QStringLiteral("radius"));
  });
  remove_ = button(tr("Remove group"), tr("Remove the chosen group"));
  row({remove_});
  connect(remove_, &QPushButton::clicked, this, [this] {
    const int id = chosen();
    workspace_.change(tr("Remove group"), [&](project::Project& p) {
      project::edit(p.crowd,
                    [&](project::CrowdSection& s) { std::erase_if(s.groups, [&](const project::CrowdGroup& g) { return g.id == id; }); });
    });
  });
  auto drawGroup = [](DrawList& list, const Vec3& from, const Vec3& to) {
    const Vec3 up{0, 0.1, 0};
    const std::uint32_t ink = packed(theme().accent, 1);
    list.circle(from + up, 0.7, 3, ink);
    list.line(from + up, to + up, 3, ink);
    list.circle(to + up, 0.3, 3, ink);
  };
  tool_ = std::make_unique<FromToTool>(FromToTool::Words{tr("Press where the group starts and drag to where it goes. Esc leaves the tool."),
                                                         tr("Let go at the group's goal.")},
                                       0.5, drawGroup, [this](const Vec3& from, const Vec3& to) { addGroup(from, to); });
}

void CrowdSheet::addGroup(const Vec3& start, const Vec3& goal) {
  workspace_.change(tr("Draw group"), [&](project::Project& p) {
    project::edit(p.crowd, [&](project::CrowdSection& s) { s.groups.push_back({project::nextId(s.groups), start, goal, kNewGroup, 0}); });
  });
  list_->setCurrentRow(list_->count() - 1);
}

void CrowdSheet::editChosen(const QString& label, const std::function<void(project::CrowdGroup&)>& change, const QString& key) {
  const int id = chosen();
  if (id < 0) return;
  workspace_.change(
      label,
      [&](project::Project& p) {
        project::edit(p.crowd, [&](project::CrowdSection& s) {
          for (project::CrowdGroup& g : s.groups)
            if (g.id == id) change(g);
        });
      },
      key + QString::number(id));
}

void CrowdSheet::showChosen() {
  const int id = chosen();
  for (QWidget* w : std::initializer_list<QWidget*>{count_, radius_, remove_}) w->setEnabled(id >= 0);
  for (const project::CrowdGroup& g : workspace_.project().crowd->groups)
    if (g.id == id) count_->setValue(g.count), radius_->setValue(g.radius > 0 ? g.radius : workspace_.agentKind().radius);
}

void CrowdSheet::refresh() {
  const project::CrowdSection& crowd = *workspace_.project().crowd;
  seconds_->setValue(crowd.seconds);
  const int keep = list_->currentRow();
  int all = 0;
  {
    const QSignalBlocker blocker(list_);
    list_->clear();
    for (const project::CrowdGroup& g : crowd.groups) {
      auto* item =
          new QListWidgetItem(tr("Group %1: %2 agents, %3 m apart").arg(g.id).arg(g.count).arg(glm::distance(g.start, g.goal), 0, 'f', 0));
      item->setText(tr("Group %1: %2 agents").arg(g.id).arg(g.count) +
                    (g.radius > 0 ? tr(", radius %1 m").arg(g.radius, 0, 'f', 2) : QString()));
      item->setForeground(theme().agent[static_cast<std::size_t>(g.id - 1) % 6]);
      item->setData(Qt::UserRole, g.id);
      list_->addItem(item);
      all += g.count;
    }
    list_->setCurrentRow(keep >= 0 && keep < list_->count() ? keep : list_->count() > 0 ? 0 : -1);
  }
  run_->setEnabled(workspace_.running() || (workspace_.ground() && !workspace_.building() && all > 0));
  run_->setText(workspace_.running() ? tr("Cancel") : tr("Run"));
  if (workspace_.running())
    state_->setText(tr("Running: %1 %").arg(static_cast<int>(workspace_.progress() * 100)));
  else if (!workspace_.ground())
    state_->setText(tr("There is no walkable ground yet."));
  else if (all == 0)
    state_->setText(tr("Draw a group to begin."));
  else if (!workspace_.run())
    state_->setText(tr("%1 agents, not run yet.").arg(all));
  else if (!workspace_.runFresh())
    state_->setText(tr("Out of date: something changed since the last run."));
  else {
    const trace::Trace& t = workspace_.run()->trace;
    int arrived = 0;
    for (std::size_t b = 0; b < t.bodies().size(); ++b) arrived += t.at(t.frameCount() - 1, b).state == crowd::State::arrived;
    state_->setText(
        tr("%1 of %2 agents arrived within %3 s. Play it below.").arg(arrived).arg(t.bodies().size()).arg(t.duration(), 0, 'f', 0));
  }
  showChosen();
}

}  // namespace dune::window
