#include "window/stops/crowd/crowd_sheet.h"

#include "window/scene/from_to_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/ends_tool.h"

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
    if (workspace_.crowd().running())
      workspace_.cancel();
    else
      workspace_.runCrowd();
  });
  connect(draw_, &QPushButton::toggled, this, [this] { toolChanged(); });
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
  list_ = list(tr("Groups"), ThingKind::group);
  column_->setStretchFactor(list_, 1);
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
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::group); });
  auto drawGroup = [](DrawList& list, const Vec3& from, const Vec3& to) {
    const Vec3 up{0, 0.1, 0};
    const std::uint32_t ink = packed(theme().accent, 1);
    list.circle(from + up, 0.7, 3, ink);
    list.line(from + up, to + up, 3, ink);
    list.circle(to + up, 0.3, 3, ink);
  };
  tool_ = std::make_unique<FromToTool>(FromToTool::Words{tr("Press where the group starts and drag to where it goes. Esc leaves the tool."),
                                                         tr("Let go at the group's goal.")},
                                       0.5, drawGroup, [this](const Vec3& from, const Vec3& to) {
                                         add(workspace_, project::CrowdGroup{0, from, to, kNewGroup, 0});
                                       });
  ends_ = std::make_unique<EndsTool>(
      EndsTool::Words{tr("where the group starts"), tr("where the group goes"),
                      tr("Click a group to change it, or draw one with the button on the left."),
                      tr("Drag the ends of the group's way to move them. Delete takes the group away.")},
      [this]() -> std::optional<EndsTool::Ends> {
        const project::CrowdGroup* g = chosenGroup(workspace_);
        return g ? std::optional(EndsTool::Ends{g->start, g->goal}) : std::nullopt;
      },
      [this](const EndsTool::Ends& ends) {
        editChosen(tr("Move group"), [&](project::CrowdGroup& g) { g.start = ends.from, g.goal = ends.to; });
      });
}

void CrowdSheet::editChosen(const QString& label, const std::function<void(project::CrowdGroup&)>& change, const QString& key) {
  const project::CrowdGroup* chosen = chosenGroup(workspace_);
  if (!chosen) return;
  project::CrowdGroup group = *chosen;
  change(group);
  replace(workspace_, group, label, key.isEmpty() ? key : key + QString::number(group.id));
}

void CrowdSheet::showChosen() {
  const project::CrowdGroup* g = chosenGroup(workspace_);
  for (QWidget* w : std::initializer_list<QWidget*>{count_, radius_, remove_}) w->setEnabled(g);
  if (g) count_->setValue(g->count), radius_->setValue(g->radius > 0 ? g->radius : workspace_.agentKind().radius);
}

void CrowdSheet::showState(int agents) {
  const auto run = workspace_.run();
  if (workspace_.crowd().running()) return state_->setText(tr("Running: %1 %").arg(static_cast<int>(workspace_.work().fraction() * 100)));
  if (!workspace_.ground()) return state_->setText(tr("There is no walkable ground yet."));
  if (agents == 0) return state_->setText(tr("Draw a group to begin."));
  if (!run) return state_->setText(tr("%1 agents, not run yet.").arg(agents));
  if (!workspace_.runFresh()) return state_->setText(tr("Out of date: something changed since the last run."));
  const trace::Trace& t = run->trace;
  int arrived = 0;
  for (std::size_t b = 0; b < t.bodies().size(); ++b) arrived += t.at(t.frameCount() - 1, b).state == crowd::State::arrived;
  state_->setText(
      tr("%1 of %2 agents arrived within %3 s. Play it below.").arg(arrived).arg(t.bodies().size()).arg(t.duration(), 0, 'f', 0));
}

void CrowdSheet::refresh(Topics) {
  const project::CrowdSection& crowd = *workspace_.project().crowd;
  seconds_->setValue(crowd.seconds);
  if (!chosenGroup(workspace_) && !crowd.groups.empty()) workspace_.selection().choose(ThingKind::group, crowd.groups[0].id);
  int all = 0;
  std::vector<ItemRow> rows;
  for (const project::CrowdGroup& g : crowd.groups) {
    ItemRow row{std::to_string(g.id), tr("Group %1: %2 agents").arg(g.id).arg(g.count) +
                                          (g.radius > 0 ? tr(", radius %1 m").arg(g.radius, 0, 'f', 2) : QString())};
    row.colour = theme().agent[static_cast<std::size_t>(g.id - 1) % 6];
    rows.push_back(std::move(row));
    all += g.count;
  }
  list_->setRows(std::move(rows));
  const bool running = workspace_.crowd().running();
  run_->setEnabled(running || (workspace_.ground() && !workspace_.building() && all > 0));
  run_->setText(running ? tr("Cancel") : tr("Run"));
  showState(all);
  showChosen();
}

}  // namespace dune::window
