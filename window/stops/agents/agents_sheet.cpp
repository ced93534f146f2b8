#include "window/stops/agents/agents_sheet.h"

#include "core/project/rules.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

/// Stands the agent where one clicks, to scale, whether anything is built or not.
class StandTool : public Tool {
 public:
  using Put = std::function<void(const Picked&)>;
  StandTool(Workspace& workspace, Put put) : workspace_(workspace), put_(std::move(put)) {}
  QString hint() const override {
    return QObject::tr("Click where the %1 shall stand, to scale, beside a person of 1.8 m. Esc leaves the tool.")
        .arg(QString::fromStdString(workspace_.agentKind().name));
  }
  bool press(const Pointer& p) override {
    if (p.hit) put_(*p.hit);
    return true;
  }
  void hover(const Pointer& p) override { at_ = p.hit; }
  bool holding() const override { return true; }
  void draw(DrawList& list, const Camera&) const override {
    if (!at_) return;
    const nav::Agent& a = workspace_.agentKind();
    list.lit = true;
    list.body(at_->at, a.radius, a.height, packed(theme().accent, 0.8), a.tilts ? at_->normal : Vec3{0, 1, 0});
  }

 private:
  Workspace& workspace_;
  Put put_;
  std::optional<Picked> at_;
};

}  // namespace

AgentsSheet::AgentsSheet(Workspace& workspace) : Sheet(tr("Agents"), workspace) {
  addKinds();
  pages_ = new QTabWidget;
  pages_->setDocumentMode(true);
  pages_->setAccessibleName(tr("Parts of the agent"));
  column_->addWidget(pages_, 1);
  addPage(tr("Limits"), [this] { addLimits(); });
  addPage(tr("Movement"), [this] { addMovement(); });
  addPage(tr("Compare"), [this] { addComparison(); });
}

AgentsSheet::~AgentsSheet() = default;

void AgentsSheet::addPage(const QString& name, const std::function<void()>& fill) {
  auto* page = new QWidget;
  QVBoxLayout* own = column_;
  column_ = new QVBoxLayout(page);
  column_->setContentsMargins(0, 8, 0, 0);
  column_->setSpacing(7);
  fill();
  endColumn();
  column_ = own;
  pages_->addTab(page, name);
}

void AgentsSheet::addLimits() {
  drawing_ = new AgentDrawing;
  column_->addWidget(drawing_);
  connect(drawing_, &AgentDrawing::dragged, this, [this](const nav::Agent& a) { set(a, QStringLiteral("drawing")); });
  connect(drawing_, &AgentDrawing::dropped, this, [this] { workspace_.document().endMerge(); });
  add(tr("Radius"), tr("m"), &nav::Agent::radius, 0.05, 5, 0.01, 2)
      ->setToolTip(tr("Ground nearer than this to a wall or a drop is taken away"));
  add(tr("Height"), tr("m"), &nav::Agent::height, 0.1, 20, 0.05, 2)->setToolTip(tr("Ground with less headroom is taken away"));
  NumberField* crouch = add(tr("Crouching"), tr("m"), &nav::Agent::crouchHeight, 0, 20, 0.05, 2);
  crouch->setToolTip(tr("Headroom it needs crouching. Low places become a kind of ground of their own."));
  crouch->spin()->setSpecialValueText(tr("never"));
  crouchCost_ = add(tr("Cost of crouching"), {}, &nav::Agent::crouchCost, 0.01, 1000, 0.1, 2);
  crouchCost_->setToolTip(tr("Of a metre where it must crouch; upright on plain ground a metre costs 1"));
  add(tr("Steepest slope"), tr("°"), &nav::Agent::maxSlope, 0, 85, 1, 1)->setToolTip(tr("Steeper ground is taken away"));
  add(tr("Step height"), tr("m"), &nav::Agent::stepHeight, 0, 5, 0.01, 2)
      ->setToolTip(tr("Grounds whose heights differ by no more are one; a higher edge parts them"));
  for (NumberField* field : {add(tr("Longest jump"), tr("m"), &nav::Agent::maxJump, 0, 100, 0.1, 2),
                             add(tr("Deepest drop"), tr("m"), &nav::Agent::maxDrop, 0, 100, 0.1, 2)}) {
    field->spin()->setSpecialValueText(tr("none"));
    field->setToolTip(tr("It takes links that ask for no more; gaps are measured from edge to edge"));
  }
  add(tr("Highest jump"), tr("m"), &nav::Agent::maxRise, 0, 100, 0.1, 2)
      ->setToolTip(tr("A jump may land so much higher than where it begins"));
  trouble_ = trouble();
  trouble_->hide();
}

void AgentsSheet::addMovement() {
  add(tr("Speed"), tr("m/s"), &nav::Agent::speed, 0.1, 20, 0.1, 2)->setToolTip(tr("The fastest that it walks"));
  add(tr("Acceleration"), tr("m/s²"), &nav::Agent::acceleration, 0.1, 100, 0.5, 1)
      ->setToolTip(tr("How quickly it gains speed, and how quickly it brakes"));
  add(tr("Turning rate"), tr("°/s"), &nav::Agent::turnRate, 10, 3600, 10, 0)->setToolTip(tr("How far its body turns in a second"));
  add(tr("Arrived within"), tr("m"), &nav::Agent::arriveWithin, 0.01, 5, 0.01, 2)->setToolTip(tr("So near to its goal it has arrived"));
  add(tr("Passed within"), tr("m"), &nav::Agent::passWithin, 0, 5, 0.01, 2)
      ->setToolTip(tr("So near to a waypoint it goes on to the next one"));
  section(tr("The body"));
  add(tr("Origin over feet"), tr("m"), &nav::Agent::originHeight, -20, 20, 0.05, 2)
      ->setToolTip(tr("Of the body's origin over its feet, where that is in its middle. Recorded movement has the places of the origin."));
  tilts_ = new QCheckBox(tr("Leans with the ground"));
  tilts_->setToolTip(tr("The body stands square on slopes, instead of upright"));
  column_->addWidget(tilts_);
  connect(tilts_, &QCheckBox::clicked, this, [this](bool on) {
    nav::Agent a = workspace_.agentKind();
    a.tilts = on;
    set(a, {});
  });
}

void AgentsSheet::addKinds() {
  kinds_ = new QComboBox;
  kinds_->setAccessibleName(tr("Kind of agent"));
  kinds_->setToolTip(tr("The kind of agent whose ground, routes and crowd are shown"));
  auto* another = button(tr("Add"), tr("One more kind of agent, with the limits of this one to begin with"));
  another->setObjectName(QStringLiteral("narrow"));
  remove_ = button(tr("Remove"), tr("Remove this kind of agent"));
  remove_->setObjectName(QStringLiteral("narrow"));
  row({kinds_, another, remove_});
  connect(kinds_, &QComboBox::activated, this, [this](int i) { workspace_.setAgent(static_cast<std::size_t>(i)); });
  connect(another, &QPushButton::clicked, this, [this] { addKind(); });
  connect(remove_, &QPushButton::clicked, this, [this] { removeKind(); });
  name_ = new QLineEdit;
  name_->setAccessibleName(tr("Name"));
  stand_ = button(tr("Put in level"), tr("Click a place in the world where the agent shall stand to scale"), true);
  stand_->setObjectName(QStringLiteral("narrow"));
  row({name_, stand_});
  connect(stand_, &QPushButton::toggled, this, [this] { toolChanged(); });
  tool_ = std::make_unique<StandTool>(workspace_, [this](const Picked& at) { putInLevel({at.at, at.normal}); });
  connect(&workspace_.source(), &LevelSource::wasRead, this, [this] {
    // A level that is read again, or a project that is saved elsewhere, keeps its figure.
    const auto& files = workspace_.project().level->files;
    if (!workspace_.level() || (putIn_.first != workspace_.file().path() && (files.empty() || putIn_.second != files))) put_.reset();
  });
  connect(name_, &QLineEdit::editingFinished, this, [this] { rename(name_->text().trimmed().toStdString()); });
}

void AgentsSheet::addComparison() {
  quiet(tr("Lays the ground of another kind over this one's, with a line around it, and hatches where they differ."));
  against_ = new QComboBox;
  against_->setAccessibleName(tr("Compare with"));
  column_->addWidget(against_);
  connect(against_, &QComboBox::activated, this, [this](int i) {
    const QVariant kind = against_->itemData(i);
    workspace_.compareWith(kind.isValid() ? std::optional(kind.toInt()) : std::nullopt);
  });
  difference_ = quiet({});
}

void AgentsSheet::leaveTool() {
  workspace_.compareWith(std::nullopt);
  stand_->setChecked(false);
}

Tool* AgentsSheet::tool() { return stand_->isChecked() ? tool_.get() : nullptr; }

void AgentsSheet::putInLevel(const Standing& figure) {
  put_ = figure, putIn_ = {workspace_.file().path(), workspace_.project().level->files};
  stand_->setChecked(false);
  workspace_.bulletin().add({Topic::tool, Topic::stop});
}

NumberField* AgentsSheet::add(const QString& name, const QString& unit, double nav::Agent::*field, double least, double most, double step,
                              int decimals) {
  NumberField* widget = number(name, unit, least, most, step, decimals);
  fields_.push_back({widget, field});
  connect(widget, &NumberField::edited, this, [this, field, name](double v) {
    nav::Agent a = workspace_.agentKind();
    a.*field = v;
    set(a, name);
  });
  return widget;
}

void AgentsSheet::set(const nav::Agent& agent, const QString& key) {
  const auto problem = nav::checkAgent(agent);
  trouble_->setVisible(problem.has_value());
  if (problem) {
    trouble_->setText(QString::fromStdString(problem->what + " Try: " + problem->advice));
    for (const Field& f : fields_) f.widget->restore(workspace_.agentKind().*f.field);
    return;
  }
  const std::size_t at = workspace_.agent();
  workspace_.change(
      tr("Change agent"), [&](project::Project& p) { project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[at] = agent; }); },
      key.isEmpty() ? key : QStringLiteral("agent %1 ").arg(at) + key);
}

void AgentsSheet::rename(const std::string& name) {
  const auto& agents = workspace_.project().agents->agents;
  const std::string old = workspace_.agentKind().name;
  if (name.empty() || name == old || std::ranges::count(agents, name, &nav::Agent::name)) return refresh(kEverything);
  const std::size_t at = workspace_.agent();
  workspace_.change(tr("Rename agent"), [&](project::Project& p) {
    project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[at].name = name; });
    const bool named =
        std::ranges::any_of(p.level->blockers, [&](const level::Blocker& b) { return std::ranges::count(b.agents, old) > 0; });
    if (!named) return;  // what is not touched stays as it was, and so does what was made from it
    project::edit(p.level, [&](project::LevelSection& s) {
      for (level::Blocker& b : s.blockers) std::ranges::replace(b.agents, old, name);
    });
  });
}

void AgentsSheet::addKind() {
  const auto& agents = workspace_.project().agents->agents;
  nav::Agent agent = workspace_.agentKind();
  agent.name = "agent " + std::to_string(agents.size() + 1);
  for (std::size_t n = agents.size() + 2; std::ranges::count(agents, agent.name, &nav::Agent::name); ++n)
    agent.name = "agent " + std::to_string(n);
  const std::size_t at = agents.size();
  workspace_.change(tr("Add agent"),
                    [&](project::Project& p) { project::edit(p.agents, [&](project::AgentsSection& s) { s.agents.push_back(agent); }); });
  workspace_.setAgent(at);
  name_->setFocus();
  name_->selectAll();
}

void AgentsSheet::removeKind() {
  const std::size_t at = workspace_.agent();
  const std::string name = workspace_.agentKind().name;
  if (workspace_.project().agents->agents.size() < 2) return;
  workspace_.change(tr("Remove agent"), [&](project::Project& p) {
    project::edit(p.agents, [&](project::AgentsSection& s) { s.agents.erase(s.agents.begin() + static_cast<std::ptrdiff_t>(at)); });
    project::edit(p.areas, [&](project::AreasSection& s) { project::dropRules(s, *p.agents); });
    // Blockers that were there for this kind alone go with it; left without names they would be there for all.
    project::edit(p.level, [&](project::LevelSection& s) {
      std::erase_if(s.blockers, [&](const level::Blocker& b) { return b.agents == std::vector<std::string>{name}; });
      for (level::Blocker& b : s.blockers) std::erase(b.agents, name);
    });
  });
}

void AgentsSheet::refreshComparison() {
  const auto& agents = workspace_.project().agents->agents;
  const QSignalBlocker blocker(against_);
  against_->clear();
  against_->addItem(agents.size() > 1 ? tr("Show this kind alone") : tr("Add another kind to compare"));
  for (std::size_t i = 0; i < agents.size(); ++i) {
    if (i == workspace_.agent()) continue;
    against_->addItem(tr("Compare with %1").arg(QString::fromStdString(agents[i].name)), agents[i].id);
    if (workspace_.comparison().other() == agents[i].id) against_->setCurrentIndex(against_->count() - 1);
  }
  against_->setEnabled(agents.size() > 1);
  const auto& change = workspace_.comparison().change();
  const QString frame =
      workspace_.comparison().other() ? QStringLiteral("QComboBox { border: 2px solid %1; }").arg(theme().agent[1].name()) : QString();
  if (against_->styleSheet() != frame) against_->setStyleSheet(frame);
  if (!workspace_.comparison().other())
    difference_->clear();
  else if (!change)
    difference_->setText(tr("Both are being compared, or have the same ground."));
  else
    difference_->setText(tr("%1 has %2 m² that %3 has not (hatched +), and lacks %4 m² (hatched –).")
                             .arg(QString::fromStdString(workspace_.agentKind().name))
                             .arg(change->gained, 0, 'f', 1)
                             .arg(QString::fromStdString(change->before->mesh.agent.name))
                             .arg(change->lost, 0, 'f', 1));
}

void AgentsSheet::refresh(Topics) {
  const nav::Agent& agent = workspace_.agentKind();
  {
    const QSignalBlocker blocker(kinds_);
    kinds_->clear();
    for (const nav::Agent& a : workspace_.project().agents->agents) kinds_->addItem(QString::fromStdString(a.name));
    kinds_->setCurrentIndex(static_cast<int>(workspace_.agent()));
  }
  remove_->setEnabled(workspace_.project().agents->agents.size() > 1);
  if (!name_->hasFocus()) name_->setText(QString::fromStdString(agent.name));
  drawing_->setAgent(agent);
  for (const Field& f : fields_) f.widget->setValue(agent.*f.field);
  crouchCost_->setVisible(agent.crouches());
  tilts_->setChecked(agent.tilts);
  stand_->setEnabled(workspace_.level() != nullptr);
  refreshComparison();
}

}  // namespace dune::window
