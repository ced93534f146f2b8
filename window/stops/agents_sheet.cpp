#include "window/stops/agents_sheet.h"

namespace dune::window {

AgentsSheet::AgentsSheet(Workspace& workspace) : Sheet(tr("Agent"), workspace) {
  name_ = new QLineEdit;
  name_->setAccessibleName(tr("Name"));
  column_->addWidget(name_);
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    if (name_->text().trimmed().isEmpty()) return refresh();
    workspace_.change(tr("Rename agent"), [&](project::Project& p) {
      project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[0].name = name_->text().trimmed().toStdString(); });
    });
  });
  drawing_ = new AgentDrawing;
  column_->addWidget(drawing_);
  connect(drawing_, &AgentDrawing::dragged, this, [this](const level::Agent& a) { set(a, QStringLiteral("drawing")); });
  connect(drawing_, &AgentDrawing::dropped, this, [this] { workspace_.document().endMerge(); });
  add(tr("Radius"), tr("m"), &level::Agent::radius, 0.05, 5, 0.01, 2);
  add(tr("Height"), tr("m"), &level::Agent::height, 0.1, 20, 0.05, 2);
  add(tr("Steepest slope"), tr("°"), &level::Agent::maxSlope, 0, 85, 1, 1);
  add(tr("Step height"), tr("m"), &level::Agent::stepHeight, 0, 5, 0.01, 2);
  trouble_ = new QLabel;
  trouble_->setObjectName(QStringLiteral("trouble"));
  trouble_->setWordWrap(true);
  trouble_->hide();
  column_->addWidget(trouble_);
  section(tr("Movement"));
  add(tr("Speed"), tr("m/s"), &level::Agent::speed, 0.1, 20, 0.1, 2);
  add(tr("Acceleration"), tr("m/s²"), &level::Agent::acceleration, 0.1, 100, 0.5, 1);
  add(tr("Turning rate"), tr("°/s"), &level::Agent::turnRate, 10, 3600, 10, 0);
  add(tr("Arrived within"), tr("m"), &level::Agent::arriveWithin, 0.01, 5, 0.01, 2);
  column_->addStretch(1);
}

void AgentsSheet::add(const QString& name, const QString& unit, double level::Agent::*field, double least, double most, double step,
                      int decimals) {
  NumberField* widget = number(name, unit, least, most, step, decimals);
  fields_.push_back({widget, field});
  connect(widget, &NumberField::edited, this, [this, field, name](double v) {
    level::Agent a = workspace_.project().agents->agents[0];
    a.*field = v;
    set(a, name);
  });
}

void AgentsSheet::set(const level::Agent& agent, const QString& key) {
  const auto problem = level::checkAgent(agent);
  trouble_->setVisible(problem.has_value());
  if (problem) {
    trouble_->setText(QString::fromStdString(problem->what + " Try: " + problem->advice));
    return;
  }
  workspace_.change(
      tr("Change agent"), [&](project::Project& p) { project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[0] = agent; }); },
      QStringLiteral("agent ") + key);
}

void AgentsSheet::refresh() {
  const level::Agent& agent = workspace_.project().agents->agents[0];
  if (!name_->hasFocus()) name_->setText(QString::fromStdString(agent.name));
  drawing_->setAgent(agent);
  for (const Field& f : fields_) f.widget->setValue(agent.*f.field);
}

}  // namespace dune::window
