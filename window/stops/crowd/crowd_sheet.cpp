#include "window/stops/crowd/crowd_sheet.h"

#include "window/stops/crowd/crowd_picture.h"

namespace dune::window {

CrowdSheet::CrowdSheet(Workspace& workspace) : PagedSheet(tr("Crowd"), workspace) {
  addHead();
  auto* groups = new GroupsPage(workspace);
  addPage(groups, tr("Groups"));
  addPage(new SteeringPage(workspace, groups->tool()), tr("Steering"));
  addPage(new ObstaclesPage(workspace), tr("Moving"));
  addPage(new ComparePage(workspace), tr("A–B"));
}

/// Above the pages.
void CrowdSheet::addHead() {
  run_ = button(tr("Run"), tr("Let all groups of the scene walk and record it (Ctrl+R)"));
  run_->setObjectName(QStringLiteral("primary"));
  connect(run_, &QPushButton::clicked, this, [this] {
    if (workspace_.crowd().running())
      workspace_.cancel();
    else
      workspace_.runCrowd();
  });
  scenes_ = new QComboBox;
  scenes_->setAccessibleName(tr("Scene"));
  scenes_->setToolTip(tr("Groups of one scene walk at once"));
  connect(scenes_, &QComboBox::activated, this, [this](int i) {
    const auto scenes = project::scenesOf(*workspace_.project().crowd);
    const bool isNew = i == scenes_->count() - 1;
    workspace_.setScene(isNew ? "Scene " + std::to_string(scenes.size() + 1) : scenes_->itemData(i).toString().toStdString());
  });
  auto* head = new QWidget;
  auto* line = new QHBoxLayout(head);
  line->setContentsMargins(0, 0, 0, 0);
  scenes_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  scenes_->setMinimumContentsLength(8);
  line->addWidget(run_, 1);
  line->addWidget(scenes_, 1);
  state_ = new QLabel;
  state_->setWordWrap(true);
  seconds_ = new NumberField(tr("Duration"), tr("s"), 1, 3600, 5, 0);
  seconds_->setToolTip(tr("How long the run goes on, at the longest"));
  connect(seconds_, &NumberField::edited, this, [this](double v) {
    workspace_.change(
        tr("Change duration"), [&](project::Project& p) { project::edit(p.crowd, [&](project::CrowdSection& s) { s.seconds = v; }); },
        QStringLiteral("seconds"));
  });
  connect(seconds_, &NumberField::finished, this, [this] { workspace_.document().endMerge(); });
  int at = column_->indexOf(pages());
  for (QWidget* w : {head, static_cast<QWidget*>(state_), static_cast<QWidget*>(seconds_)}) column_->insertWidget(at++, w);
}

void CrowdSheet::fillScenes() {
  auto scenes = project::scenesOf(*workspace_.project().crowd);
  const std::string now = workspace_.scene();
  if (std::ranges::find(scenes, now) == scenes.end()) scenes.push_back(now);
  const QSignalBlocker blocker(scenes_);
  scenes_->clear();
  for (const std::string& s : scenes) scenes_->addItem(s.empty() ? tr("Main scene") : QString::fromStdString(s), QString::fromStdString(s));
  scenes_->addItem(tr("New scene"));
  scenes_->setCurrentIndex(scenes_->findData(QString::fromStdString(now)));
}

void CrowdSheet::showState(int agents) {
  const auto run = workspace_.crowdRun();
  if (workspace_.crowd().running()) return state_->setText(tr("Running: %1 %").arg(static_cast<int>(workspace_.work().fraction() * 100)));
  if (!workspace_.ground()) return state_->setText(tr("There is no walkable ground yet."));
  if (agents == 0) return state_->setText(tr("Draw a group to begin, or add a ready-made scene."));
  if (!run) return state_->setText(tr("%1 agents, not run yet.").arg(agents));
  if (!workspace_.runFresh()) return state_->setText(tr("Out of date: something changed since the last run."));
  const trace::Trace& t = run->trace;
  int arrived = 0, arriving = 0;
  for (std::size_t b = 0; b < t.bodies().size(); ++b) {
    arriving += t.bodies()[b].goal.has_value();
    arrived += t.bodies()[b].goal && t.at(t.frameCount() - 1, b).state == crowd::State::arrived;
  }
  state_->setText(tr("%1 of %2 agents arrived within %3 s. Play it below.").arg(arrived).arg(arriving).arg(t.duration(), 0, 'f', 0));
}

void CrowdSheet::refresh(Topics changed) {
  seconds_->setValue(workspace_.project().crowd->seconds);
  fillScenes();
  int all = 0;
  for (const project::CrowdGroup* g : groupsOf(workspace_)) all += g->count;
  const bool running = workspace_.crowd().running();
  run_->setEnabled(running || (workspace_.ground() && !workspace_.building() && all > 0));
  run_->setText(running ? tr("Cancel") : tr("Run"));
  run_->setAccessibleName(run_->text());
  showState(all);
  PagedSheet::refresh(changed);
}

}  // namespace dune::window
