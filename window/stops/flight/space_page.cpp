#include "window/stops/flight/space_page.h"

#include "core/project/rules.h"
#include "window/scene/handle_tool.h"
#include "window/session/hand_made.h"
#include "window/stops/flight/kind_page.h"
#include "window/widgets/count_text.h"

namespace dune::window {

namespace {

constexpr double kLeastVolumeSide = 0.5;  // m

Vec3 middleOfSide(const Box3& box, int side) {
  Vec3 at = box.centre();
  at[side / 2] = side % 2 ? box.max[side / 2] : box.min[side / 2];
  return at;
}

/// Drags the sides of the chosen volume.
class VolumeSidesTool : public HandleTool {
 public:
  explicit VolumeSidesTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override {
    if (chosenFlightVolume(workspace_))
      return QObject::tr("Drag the dots on the sides of the volume. The middles of bodies stay within it.");
    return workspace_.project().flight->volumes.empty() ? QObject::tr("Add a volume on the left to say where bodies may fly.")
                                                        : QObject::tr("Choose a volume on the left to change it.");
  }

 protected:
  std::vector<Handle> handles() const override {
    std::vector<Handle> handles;
    const auto* volume = chosenFlightVolume(workspace_);
    for (int side = 0; volume && side < 6; ++side) handles.push_back({side, middleOfSide(volume->box, side), QObject::tr("this side")});
    return handles;
  }
  void begin(int, const Pointer&) override { before_ = *chosenFlightVolume(workspace_); }
  void dragHandle(int side, const Pointer& p) override {
    const int axis = side / 2;
    Vec3 out{0};
    out[axis] = side % 2 ? 1 : -1;
    const double by = alongLine(p.ray, middleOfSide(before_.box, side), out);
    project::FlightVolume volume = before_;
    if (side % 2)
      volume.box.max[axis] = std::max(volume.box.min[axis] + kLeastVolumeSide, before_.box.max[axis] + by);
    else
      volume.box.min[axis] = std::min(volume.box.max[axis] - kLeastVolumeSide, before_.box.min[axis] - by);
    replace(workspace_, volume, QObject::tr("Change volume to fly in"));
  }

 private:
  Workspace& workspace_;
  project::FlightVolume before_;
};

}  // namespace

SpacePage::SpacePage(Workspace& workspace) : Sheet({}, workspace) {
  section(tr("Where they may fly"));
  usual_ = quiet(tr("Around the level and 10 m over its top, until you say otherwise."));
  list_ = list(tr("Volumes to fly in"), ThingKind::flightVolume);
  list_->fitRows(90);
  add_ = button(tr("Add volume"), tr("Add a box in which the middles of bodies may be, or of air that costs more, or that is forbidden"));
  remove_ = button(tr("Remove volume"), tr("Remove the chosen volume (Delete)"));
  row({add_, remove_});
  connect(add_, &QPushButton::clicked, this, [this] {
    project::FlightVolume volume;
    volume.box = workspace_.worldBounds();
    volume.box.max.y += 10;
    volume.name = "volume " + std::to_string(project::nextId(workspace_.project().flight->volumes));
    add(workspace_, volume);
  });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::flightVolume); });
  const QString names[] = {tr("x from"), tr("x to"), tr("y from, up"), tr("y to, up"), tr("z from"), tr("z to")};
  for (int side = 0; side < 6; ++side) {
    auto& field = sideFields_[static_cast<std::size_t>(side)];
    field = number(names[side], tr("m"), -1e5, 1e5, 0.5, 2);
    field->setToolTip(tr("The middles of bodies stay on this side of it"));
    connect(field, &NumberField::edited, this, [this, side](double v) { moveSide(side, v); });
  }
  addAirFields();
  section(tr("Free space"));
  figures_ = quiet({});
  trouble_ = trouble();
  cells_ = new QCheckBox(tr("Show cells at a height"));
  cells_->setObjectName(QStringLiteral("cells"));
  cells_->setToolTip(tr("Cuts the free space at this height: green with much room around, red where the body just fits"));
  column_->addWidget(cells_);
  height_ = number(tr("Height"), tr("m"), -1e5, 1e5, 0.25, 2);
  height_->setValue(2);
  height_->setToolTip(tr("At which the cells are cut"));
  connect(cells_, &QCheckBox::toggled, this, [this] { workspace_.bulletin().add(Topic::air); });
  connect(height_, &NumberField::edited, this, [this] { workspace_.bulletin().add(Topic::air); });
  sides_ = std::make_unique<VolumeSidesTool>(workspace_);
}

SpacePage::~SpacePage() = default;

std::optional<double> SpacePage::plane() const { return cells_->isChecked() ? std::optional(height_->value()) : std::nullopt; }

void SpacePage::addAirFields() {
  air_ = new QComboBox;
  air_->setAccessibleName(tr("What the volume is"));
  air_->setToolTip(tr("Whether bodies may be in it, or what kind of air is in it: by the costs of the kinds of ground at Areas"));
  airRow_ = row({new QLabel(tr("It is")), air_});
  connect(air_, &QComboBox::activated, this, &SpacePage::setAir);
  rule_ = new QComboBox;
  rule_->setAccessibleName(tr("What this air is to the kind that flies"));
  ruleOf_ = new QLabel;
  ruleRow_ = row({ruleOf_, rule_});
  connect(rule_, &QComboBox::activated, this, [this](int choice) {
    const auto* volume = chosenFlightVolume(workspace_);
    if (!volume) return;
    const nav::KindRule said = project::airRule(workspace_.project(), 0, volume->air);
    setRule(tr("Change rule for air"), choice == 0 ? std::nullopt : std::optional(nav::KindRule{said.cost, said.entryCost, choice == 2}));
  });
  cost_ = number(tr("Costs"), tr("a metre"), 0.01, 1000, 0.5, 2);
  cost_->setToolTip(tr("What a metre through it costs; other air costs 1"));
  entry_ = number(tr("To enter"), QString(), 0, 10000, 1, 2);
  entry_->setToolTip(tr("What it costs once to come into it, as so many metres of other air"));
  const auto now = [this] {
    const auto* volume = chosenFlightVolume(workspace_);
    const auto* kind = flyerNow(workspace_);
    return project::airRule(workspace_.project(), kind ? kind->id : 0, volume ? volume->air : std::string());
  };
  connect(cost_, &NumberField::edited, this, [this, now](double v) {
    nav::KindRule rule = now();
    rule.cost = v;
    setRule(tr("Change cost of air"), rule, QStringLiteral("air cost"));
  });
  connect(entry_, &NumberField::edited, this, [this, now](double v) {
    nav::KindRule rule = now();
    rule.entryCost = v;
    setRule(tr("Change cost of air"), rule, QStringLiteral("air entry"));
  });
}

void SpacePage::setAir(int choice) {
  const auto* chosen = chosenFlightVolume(workspace_);
  if (!chosen) return;
  project::FlightVolume volume = *chosen;
  volume.air = choice == 0 ? std::string() : workspace_.project().areas->kinds[static_cast<std::size_t>(choice - 1)].name;
  replace(workspace_, volume, tr("Change what a volume is"));
}

void SpacePage::setRule(const QString& label, const std::optional<nav::KindRule>& rule, const QString& key) {
  const auto* volume = chosenFlightVolume(workspace_);
  const auto* kind = flyerNow(workspace_);
  if (!volume || volume->air.empty() || !kind) return;
  workspace_.change(
      label,
      [&, id = kind->id, air = volume->air](project::Project& p) {
        project::edit(p.flight, [&](project::FlightSection& s) { project::setRule(s.rules, id, air, rule); });
      },
      key.isEmpty() ? key : key + QStringLiteral(" %1 %2").arg(kind->id).arg(QString::fromStdString(volume->air)));
}

void SpacePage::showAir() {
  const auto* volume = chosenFlightVolume(workspace_);
  const auto* kind = flyerNow(workspace_);
  const auto& kinds = workspace_.project().areas->kinds;
  QStringList names{tr("where they may fly")};
  for (const level::AreaKind& k : kinds)
    names.push_back(tr("air of the kind %1").arg(QString::fromStdString(k.name)) + (k.forbidden ? tr(", forbidden") : QString()));
  int now = 0;
  for (std::size_t k = 0; volume && k < kinds.size(); ++k)
    if (kinds[k].name == volume->air) now = static_cast<int>(k) + 1;
  if (names != air_->property("names").toStringList()) air_->clear(), air_->addItems(names), air_->setProperty("names", names);
  air_->setCurrentIndex(now);
  airRow_->setVisible(volume);
  const bool rules = volume && kind && !volume->air.empty();
  ruleRow_->setVisible(rules), cost_->setVisible(rules), entry_->setVisible(rules);
  if (!rules) return;
  const bool ruled = project::ruleOf(workspace_.project().flight->rules, kind->id, volume->air);
  const nav::KindRule rule = project::airRule(workspace_.project(), kind->id, volume->air);
  ruleOf_->setText(tr("For %1").arg(QString::fromStdString(kind->name)));
  if (rule_->count() == 0) rule_->addItems({tr("as the kind says"), tr("costs of its own"), tr("forbidden")});
  rule_->setCurrentIndex(!ruled ? 0 : rule.forbidden ? 2 : 1);
  cost_->setEnabled(!rule.forbidden), entry_->setEnabled(!rule.forbidden);
  cost_->setValue(rule.cost), entry_->setValue(rule.entryCost);
}

void SpacePage::moveSide(int side, double value) {
  const auto* chosen = chosenFlightVolume(workspace_);
  if (!chosen) return;
  project::FlightVolume volume = *chosen;
  const int axis = side / 2;
  if (side % 2)
    volume.box.max[axis] = std::max(value, volume.box.min[axis] + kLeastVolumeSide);
  else
    volume.box.min[axis] = std::min(value, volume.box.max[axis] - kLeastVolumeSide);
  replace(workspace_, volume, tr("Change volume to fly in"), QStringLiteral("flight side %1").arg(side));
}

void SpacePage::showFigures() {
  const auto* kind = flyerNow(workspace_);
  const auto air = kind ? workspace_.airs().of(kind->id) : nullptr;
  trouble_->setText(workspace_.airs().trouble());
  trouble_->setVisible(!trouble_->text().isEmpty());
  if (!kind) return figures_->setText(tr("Add a kind that flies first."));
  if (workspace_.airs().making())
    return figures_->setText(tr("Being measured: %1 %").arg(static_cast<int>(100 * workspace_.airs().fraction())));
  if (!air) return figures_->setText(workspace_.level() ? tr("Not measured yet.") : tr("Open a level first."));
  const flight::Space& s = *air->space;
  QString text =
      tr("%1 m³ in which %2 fits, in %3 cells.").arg(s.freeVolume(), 0, 'f', 0).arg(QString::fromStdString(kind->name)).arg(s.size());
  if (s.parts() > 1)
    text += QStringLiteral(" ") + tr("%1 parts that no way joins; the largest has %2 m³.").arg(s.parts()).arg(s.partSize(0), 0, 'f', 0);
  figures_->setText(text);
}

void SpacePage::refresh(Topics) {
  const auto& volumes = workspace_.project().flight->volumes;
  std::vector<ItemRow> rows;
  for (const project::FlightVolume& v : volumes) {
    const Vec3 size = v.box.size();
    const QString name = v.name.empty() ? tr("volume %1").arg(v.id) : QString::fromStdString(v.name);
    rows.push_back({std::to_string(v.id), name + QStringLiteral("  ·  ") +
                                              tr("%1 × %2 × %3 m").arg(size.x, 0, 'f', 1).arg(size.y, 0, 'f', 1).arg(size.z, 0, 'f', 1) +
                                              (v.air.empty() ? QString() : QStringLiteral("  ·  ") + QString::fromStdString(v.air))});
  }
  list_->setRows(std::move(rows));
  list_->setVisible(!volumes.empty());
  usual_->setVisible(std::ranges::none_of(volumes, [](const project::FlightVolume& v) { return v.air.empty(); }));
  const auto* chosen = chosenFlightVolume(workspace_);
  remove_->setEnabled(chosen);
  for (int side = 0; side < 6; ++side) {
    NumberField* field = sideFields_[static_cast<std::size_t>(side)];
    field->setVisible(chosen);
    if (chosen) field->setValue(side % 2 ? chosen->box.max[side / 2] : chosen->box.min[side / 2]);
  }
  showAir();
  showFigures();
}

}  // namespace dune::window
