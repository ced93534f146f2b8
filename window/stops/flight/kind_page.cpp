#include "window/stops/flight/kind_page.h"

#include "window/session/hand_made.h"

namespace dune::window {

const project::FlyerKind* flyerNow(Workspace& workspace) {
  if (const project::FlyerKind* chosen = chosenFlyer(workspace)) return chosen;
  const auto& flyers = workspace.project().flight->flyers;
  return flyers.empty() ? nullptr : &flyers[0];
}

KindPage::KindPage(Workspace& workspace) : Sheet({}, workspace) {
  list_ = list(tr("Kinds that fly"), ThingKind::flyer);
  list_->fitRows(110);
  add_ = button(tr("Add kind"), tr("Add a kind of agent that flies"));
  remove_ = button(tr("Remove kind"), tr("Remove the kind that is worked on (Delete)"));
  row({add_, remove_});
  connect(add_, &QPushButton::clicked, this, [this] {
    project::FlyerKind kind;
    kind.name = "flyer " + std::to_string(project::nextId(workspace_.project().flight->flyers));
    add(workspace_, kind);
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    if (const auto* kind = flyerNow(workspace_)) workspace_.selection().choose(ThingKind::flyer, kind->id);
    removeChosen(workspace_, ThingKind::flyer);
  });
  name_ = new QLineEdit;
  name_->setAccessibleName(tr("Name of the kind"));
  column_->addWidget(name_);
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    if (!name_->text().trimmed().isEmpty())
      edit(tr("Rename kind that flies"), [&](flight::Flyer& f) { f.name = name_->text().trimmed().toStdString(); });
  });
  section(tr("Body"));
  addField(tr("Radius"), tr("m"), 0.02, 100, 0.05, 2, &flight::Flyer::radius,
           tr("To the sides from its middle: how narrow a gap it gets through"));
  addField(tr("Half height"), tr("m"), 0.02, 100, 0.05, 2, &flight::Flyer::halfHeight,
           tr("Up and down from its middle: how low an opening it gets through"));
  section(tr("Height"));
  addField(tr("Least over ground"), tr("m"), 0, 1000, 0.5, 2, &flight::Flyer::leastHeight,
           tr("How much air it keeps between its underside and ground; none: it may fly right over it. It takes off and lands straight up "
              "and down"));
  addField(tr("Greatest over the level"), tr("m"), 0, 10000, 1, 2, &flight::Flyer::mostHeight,
           tr("How far its underside may be over what lies below it; any: as far as the volume goes"));
  fields_[fields_.size() - 2].field->spin()->setSpecialValueText(tr("none"));
  fields_.back().field->spin()->setSpecialValueText(tr("any"));
  section(tr("Motion"));
  addField(tr("Speed"), tr("m/s"), 0.01, 1000, 0.5, 1, &flight::Flyer::speed, tr("The fastest that it flies"));
  addField(tr("Least speed"), tr("m/s"), 0, 1000, 0.5, 1, &flight::Flyer::leastSpeed,
           tr("0: it can hover. Above that it must keep moving, and turns in circles"));
  addField(tr("Acceleration"), tr("m/s²"), 0.01, 10000, 0.5, 1, &flight::Flyer::acceleration,
           tr("How soon it is faster, slower, or goes another way"));
  addField(tr("Climbs"), tr("m/s"), 0.01, 1000, 0.5, 1, &flight::Flyer::climbRate, tr("The fastest that it rises and sinks"));
  addField(tr("Turns"), tr("°/s"), 1, 100000, 10, 0, &flight::Flyer::turnRate, tr("How fast its nose turns"));
  addField(tr("Bank up to"), tr("°"), 0, 89, 5, 0, &flight::Flyer::mostBank, tr("How far it leans into a turn"));
  addField(tr("Pitch up to"), tr("°"), 0, 89, 5, 0, &flight::Flyer::mostPitch, tr("How far its nose goes up and down"));
  turnsFirst_ = new QCheckBox(tr("Turns before it goes"));
  turnsFirst_->setToolTip(tr("Where it stands it turns towards where it goes first; otherwise it turns while it goes"));
  column_->addWidget(turnsFirst_);
  connect(turnsFirst_, &QCheckBox::clicked, this,
          [this](bool on) { edit(tr("Change turning"), [on](flight::Flyer& f) { f.turnsFirst = on; }); });
  section(tr("Waypoints"));
  addField(tr("Pass within"), tr("m"), 0.01, 1000, 0.25, 2, &flight::Flyer::passWithin,
           tr("The smaller, the closer it keeps to its way, and slows down at corners; the larger, the more sweeping its turns"));
  addField(tr("Arrive within"), tr("m"), 0.01, 1000, 0.05, 2, &flight::Flyer::arriveWithin,
           tr("How near to its goal it counts as arrived"));
  trouble_ = trouble();
  trouble_->hide();
}

void KindPage::addField(const QString& name, const QString& unit, double least, double most, double step, int decimals,
                        double flight::Flyer::*value, const QString& tip) {
  NumberField* field = number(name, unit, least, most, step, decimals);
  field->setToolTip(tip);
  fields_.push_back({field, value});
  connect(field, &NumberField::edited, this, [this, name, value](double v) {
    edit(
        tr("Change %1").arg(name.toLower()), [&](flight::Flyer& f) { f.*value = v; }, QStringLiteral("flyer ") + name);
  });
}

/// What makes no sense is said, and stays as it was.
void KindPage::edit(const QString& label, const std::function<void(flight::Flyer&)>& change, const QString& key) {
  const project::FlyerKind* now = flyerNow(workspace_);
  if (!now) return;
  project::FlyerKind kind = *now;
  change(kind);
  if (const auto problem = flight::checkFlyer(kind)) {
    trouble_->setText(QString::fromStdString(problem->what + " Try: " + problem->advice));
    trouble_->show();
    return;
  }
  trouble_->hide();
  replace(workspace_, kind, label, key);
}

void KindPage::refresh(Topics) {
  std::vector<ItemRow> rows;
  for (const project::FlyerKind& f : workspace_.project().flight->flyers)
    rows.push_back({std::to_string(f.id),
                    QString::fromStdString(f.name) + QStringLiteral("  ·  ") + tr("%1 × %2 m").arg(2 * f.radius).arg(2 * f.halfHeight)});
  list_->setVisible(rows.size() > 1);  // the name of the only one stands below
  list_->setRows(std::move(rows));
  const project::FlyerKind* kind = flyerNow(workspace_);
  remove_->setEnabled(kind), name_->setEnabled(kind), turnsFirst_->setEnabled(kind);
  for (const Field& f : fields_) {
    f.field->setEnabled(kind);
    if (kind) f.field->setValue(kind->*f.value);
  }
  if (!name_->hasFocus()) name_->setText(kind ? QString::fromStdString(kind->name) : QString());
  turnsFirst_->setChecked(kind && kind->turnsFirst);
}

}  // namespace dune::window
