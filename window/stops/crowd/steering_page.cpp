#include "window/stops/crowd/steering_page.h"

#include "window/session/hand_made.h"

namespace dune::window {

SteeringPage::SteeringPage(Workspace& workspace, Tool* tool) : Sheet({}, workspace), tool_(tool) {
  who_ = section({});
  fields_ = new SteeringFields(tr("the group"));
  column_->addWidget(fields_);
  connect(fields_, &SteeringFields::edited, this, [this](const crowd::SteeringSettings& settings, const QString& what) {
    const project::CrowdGroup* chosen = chosenGroup(workspace_);
    if (!chosen) return;
    project::CrowdGroup group = *chosen;
    group.steering = settings;
    replace(workspace_, group, tr("Change steering"), what.isEmpty() ? what : what + QString::number(group.id));
  });
  connect(fields_, &SteeringFields::finished, this, [this] { workspace_.document().endMerge(); });
  toAll_ = button(tr("All groups like this"), tr("Every group of the scene steers as the chosen one"));
  column_->addWidget(toAll_);
  connect(toAll_, &QPushButton::clicked, this, [this] {
    const project::CrowdGroup* chosen = chosenGroup(workspace_);
    if (!chosen) return;
    workspace_.change(tr("Change steering"), [steering = chosen->steering, scene = chosen->scene](project::Project& p) {
      project::edit(p.crowd, [&](project::CrowdSection& s) {
        for (project::CrowdGroup& g : s.groups)
          if (g.scene == scene) g.steering = steering;
      });
    });
  });
  seen_ = new QCheckBox(tr("Show what it decides from"));
  seen_->setToolTip(tr("Draws what the agent that is followed wants, heeds and weighs; click an agent to follow it"));
  column_->addWidget(seen_);
  connect(seen_, &QCheckBox::toggled, this, [this](bool on) { workspace_.insights().setOn(on); });
  key_ = quiet({});
}

void SteeringPage::refresh(Topics changed) {
  if (changed & (Topics{Topic::crowd} | Topic::selection | Topic::stop)) showChosen();
  showSeen();
}

void SteeringPage::showChosen() {
  const project::CrowdGroup* g = chosenGroup(workspace_);
  who_->setText(g ? tr("How %1 steers").arg(g->name.empty() ? tr("group %1").arg(g->id) : QString::fromStdString(g->name))
                  : tr("No group is chosen"));
  fields_->setEnabled(g), toAll_->setEnabled(g);
  fields_->show(g ? g->steering : crowd::SteeringSettings());
}

void SteeringPage::showSeen() {
  const QSignalBlocker blocker(seen_);
  seen_->setChecked(workspace_.insights().on());
  const auto& shown = workspace_.insights().of(false);
  if (!workspace_.insights().on())
    key_->clear();
  else if (!workspace_.crowdRun())
    key_->setText(tr("Run the crowd, then click an agent."));
  else if (shown && shown->insight.ledTo)
    key_->setText(
        tr("It is led out of a jam, with all around it, to the place that is marked and on from there until each is at its goal or "
           "out; it heeds nobody meanwhile."));
  else
    key_->setText(tr("Green: where its way leads. Purple: what it decided. Dark: what it does. Red: what is in the way. Grey: the %1 "
                     "others that it heeds.")
                      .arg(shown ? static_cast<int>(shown->insight.heeded.size()) : 0));
}

}  // namespace dune::window
