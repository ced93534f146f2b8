#include "window/stops/areas/kinds_page.h"

#include <QColorDialog>
#include <map>

#include "core/project/rules.h"
#include "window/scene/box_tool.h"
#include "window/scene/layers.h"
#include "window/scene/outline_tool.h"
#include "window/scene/round_tool.h"
#include "window/session/hand_made.h"
#include "window/stops/areas/volume_tool.h"
#include "window/widgets/cost_text.h"
#include "window/widgets/swatch.h"

namespace dune::window {

namespace {

QString tagText(const std::vector<std::string>& tags) {
  QStringList words;
  for (const std::string& tag : tags) words << QString::fromStdString(tag);
  return words.join(QStringLiteral(", "));
}

QString shapeOf(const Polygon& outline) {
  if (const auto radius = roundRadius(outline)) return QObject::tr("round, %1 m").arg(2 * *radius, 0, 'f', 1);
  return QObject::tr("%1 corners").arg(outline.size());
}

constexpr double kBelow = 0.5, kOver = 2.0;  // m: how far a drawn volume reaches below and above the ground it is drawn on

}  // namespace

KindsPage::KindsPage(Workspace& workspace) : Sheet({}, workspace) {
  section(tr("Kinds of ground"));
  kinds_ = list(tr("Kinds of ground"), ThingKind::areaKind);
  kinds_->fitRows(112);
  auto* add = button(tr("Add kind"), tr("A new kind of ground"));
  removeKind_ = button(tr("Remove kind"), tr("Remove the chosen kind"));
  row({add, removeKind_});
  connect(add, &QPushButton::clicked, this, [this] { addKind(); });
  connect(removeKind_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::areaKind); });
  name_ = new QLineEdit;
  name_->setObjectName(QStringLiteral("kindName"));
  name_->setAccessibleName(tr("Name of the kind"));
  colour_ = button(tr("Colour"), tr("Choose the colour of this kind"));
  row({name_, colour_});
  cost_ = number(tr("Cost per metre"), tr("× m"), 0.01, 1000, 0.1, 2);
  cost_->setToolTip(tr("How many metres of plain ground one metre of this counts as; paths avoid it the more, the dearer it is"));
  entry_ = number(tr("Cost to enter"), tr("m"), 0, 10000, 1, 1);
  entry_->setToolTip(tr("What stepping onto it costs, in metres of plain ground"));
  forbidden_ = new QCheckBox(tr("Forbidden: never walked on"));
  column_->addWidget(forbidden_);
  connect(name_, &QLineEdit::editingFinished, this, [this] { rename(name_->text().trimmed().toStdString()); });
  connect(cost_, &NumberField::edited, this, [this](double v) {
    editKind(
        tr("Change cost"), [v](level::AreaKind& k) { k.cost = v; }, QStringLiteral("cost"));
  });
  connect(entry_, &NumberField::edited, this, [this](double v) {
    editKind(
        tr("Change cost to enter"), [v](level::AreaKind& k) { k.entryCost = v; }, QStringLiteral("entry"));
  });
  connect(forbidden_, &QCheckBox::toggled, this,
          [this](bool on) { editKind(tr("Forbid"), [on](level::AreaKind& k) { k.forbidden = on; }, {}); });
  connect(colour_, &QPushButton::clicked, this, [this] {
    const level::AreaKind* kind = chosenKind(workspace_);
    if (!kind) return;
    const QColor colour = QColorDialog::getColor(kindColour(kind->colour), this, tr("Colour of this kind"));
    if (colour.isValid()) editKind(tr("Change colour"), [&](level::AreaKind& k) { k.colour = colour.name().toStdString(); }, {});
  });
  addDrawing();
  volumes_ = list(tr("Volumes"), ThingKind::volume);
  volumes_->fitRows(112);
  addVolumeFields();
  connect(removeVolume_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::volume); });
}

void KindsPage::addDrawing() {
  section(tr("Where"));
  box_ = button(tr("Box"), tr("Drag a box on the ground"), true);
  round_ = button(tr("Round"), tr("Drag something round on the ground, from its middle"), true);
  outline_ = button(tr("Outline"), tr("Click an outline on the ground"), true);
  box_->setAccessibleName(tr("Draw a box")), round_->setAccessibleName(tr("Draw something round"));
  outline_->setAccessibleName(tr("Draw an outline"));
  row({new QLabel(tr("Draw")), box_, round_, outline_});
  const auto drawn = [this](const Polygon& outline, double ground) { addVolume(outline, ground); };
  boxTool_ = std::make_unique<BoxTool>(drawn);
  roundTool_ = std::make_unique<RoundTool>(drawn);
  outlineTool_ = std::make_unique<OutlineTool>(
      [](const Pointer& p, const std::vector<Vec3>&) { return p.hit ? std::optional(p.hit->at) : std::nullopt; },
      [this](const std::vector<Vec3>& corners) {
        Polygon outline;
        for (const Vec3& c : corners) outline.push_back(plan(c));
        addVolume(outline, corners[0].y);
      });
  handles_ = std::make_unique<VolumeTool>(workspace_);
  for (QPushButton* one : {box_, round_, outline_})
    connect(one, &QPushButton::toggled, this, [this, one](bool on) {
      for (QPushButton* other : {box_, round_, outline_})
        if (on && other != one) other->setChecked(false);
      toolChanged();
    });
}

void KindsPage::addVolumeFields() {
  volumeName_ = new QLineEdit;
  volumeName_->setAccessibleName(tr("Name of the volume"));
  volumeName_->setPlaceholderText(tr("no name"));
  volumeName_->setToolTip(tr("How you call it; names are shown in the list and in the world"));
  volumeKind_ = new QComboBox;
  volumeKind_->setObjectName(QStringLiteral("volumeKind"));
  volumeKind_->setAccessibleName(tr("Kind of ground in the volume"));
  volumeKind_->setToolTip(tr("What ground is in it"));
  volumeKind_->setMinimumWidth(128);
  volumeName_->setMinimumWidth(60);
  volumeRow_ = row({volumeKind_, volumeName_});
  connect(volumeName_, &QLineEdit::editingFinished, this, [this] {
    const std::string name = volumeName_->text().trimmed().toStdString();
    if (const level::AreaVolume* v = chosenVolume(workspace_); v && v->name != name)
      editVolume(tr("Name volume"), [&](level::AreaVolume& volume) { volume.name = name; });
  });
  connect(volumeKind_, &QComboBox::activated, this, [this](int kind) {
    const auto& kinds = workspace_.project().areas->kinds;
    const auto at = static_cast<std::size_t>(kind);
    editVolume(tr("Change kind of volume"), [&](level::AreaVolume& v) { v.kind = at < kinds.size() ? kinds[at].name : std::string(); });
  });
  tags_ = new QLineEdit;
  tags_->setObjectName(QStringLiteral("volumeTags"));
  tags_->setAccessibleName(tr("Tags of the volume"));
  tags_->setPlaceholderText(tr("tags, with commas between them"));
  tags_->setToolTip(tr("Words of your own that the ground in it has, \u201cno spawning\u201d for example; they go out with the mesh"));
  column_->addWidget(tags_);
  tooMany_ = trouble();
  connect(tags_, &QLineEdit::editingFinished, this, [this] { tag(tags_->text()); });
  bottom_ = number(tr("From height"), tr("m"), -10000, 10000, 0.1, 2);
  bottom_->setToolTip(tr("Only ground at or above this height is of its kind"));
  top_ = number(tr("Up to height"), tr("m"), -10000, 10000, 0.1, 2);
  top_->setToolTip(tr("Only ground at or below this height is of its kind"));
  constexpr double kLeast = 0.1;  // m
  connect(bottom_, &NumberField::edited, this, [this](double v) {
    editVolume(
        tr("Change volume"), [v](level::AreaVolume& a) { a.bottom = std::min(v, a.top - kLeast); }, QStringLiteral("volume bottom"));
  });
  connect(top_, &NumberField::edited, this, [this](double v) {
    editVolume(
        tr("Change volume"), [v](level::AreaVolume& a) { a.top = std::max(v, a.bottom + kLeast); }, QStringLiteral("volume top"));
  });
  later_ = button(tr("Over others"), tr("Where volumes overlap, this one counts"));
  earlier_ = button(tr("Under others"), tr("Where volumes overlap, the others count"));
  removeVolume_ = button(tr("Remove volume"), tr("Remove the chosen volume (Delete)"));
  orderRow_ = row({later_, earlier_});
  row({removeVolume_});
  connect(later_, &QPushButton::clicked, this, [this] { reorder(true); });
  connect(earlier_, &QPushButton::clicked, this, [this] { reorder(false); });
}

void KindsPage::editVolume(const QString& label, const std::function<void(level::AreaVolume&)>& change, const QString& key) {
  const level::AreaVolume* chosen = chosenVolume(workspace_);
  if (!chosen) return;
  level::AreaVolume volume = *chosen;
  change(volume);
  replace(workspace_, volume, label, key.isEmpty() ? key : key + QString::number(volume.id));
}

void KindsPage::tag(const QString& words) {
  std::vector<std::string> tags;
  for (const QString& word : words.split(QLatin1Char(','))) {
    const std::string tag = word.simplified().toStdString();
    if (!tag.empty() && std::ranges::count(tags, tag) == 0) tags.push_back(tag);
  }
  const level::AreaVolume* chosen = chosenVolume(workspace_);
  if (!chosen || chosen->tags == tags) return showVolume();
  auto volumes = workspace_.project().areas->volumes;
  for (level::AreaVolume& v : volumes)
    if (v.id == chosen->id) v.tags = tags;
  const bool fits = level::tagNames(volumes).size() <= nav::kMostTags;
  tooMany_->setVisible(!fits);
  tooMany_->setText(fits ? QString() : tr("A mesh has at most %1 different tags.").arg(nav::kMostTags));
  if (fits)
    editVolume(tr("Tag volume"), [&](level::AreaVolume& v) { v.tags = tags; });
  else
    tags_->setText(tagText(chosen->tags));
}

/// The last one that holds a place counts.
void KindsPage::reorder(bool later) {
  const level::AreaVolume* chosen = chosenVolume(workspace_);
  if (!chosen) return;
  workspace_.change(later ? tr("Put volume over others") : tr("Put volume under others"), [&, id = chosen->id](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) {
      const auto at = std::ranges::find(s.volumes, id, &level::AreaVolume::id);
      if (later)
        std::rotate(at, at + 1, s.volumes.end());
      else
        std::rotate(s.volumes.begin(), at, at + 1);
    });
  });
}

void KindsPage::showVolume() {
  const level::AreaVolume* v = chosenVolume(workspace_);
  for (QWidget* w : {volumeRow_, orderRow_, static_cast<QWidget*>(tags_), static_cast<QWidget*>(bottom_), static_cast<QWidget*>(top_),
                     static_cast<QWidget*>(removeVolume_)})
    w->setVisible(v);
  if (!v || shown_ != v->id) tooMany_->hide();
  shown_ = v ? v->id : 0;
  if (!v) return;
  const project::AreasSection& areas = *workspace_.project().areas;
  if (!volumeName_->hasFocus() || !volumeName_->isModified()) volumeName_->setText(QString::fromStdString(v->name));
  const QSignalBlocker blocker(volumeKind_);
  volumeKind_->clear();
  for (const level::AreaKind& k : areas.kinds) volumeKind_->addItem(swatch(kindColour(k.colour)), QString::fromStdString(k.name));
  volumeKind_->addItem(tr("as it is"));
  volumeKind_->setCurrentIndex(v->kind.empty() ? volumeKind_->count() - 1 : volumeKind_->findText(QString::fromStdString(v->kind)));
  if (!tags_->hasFocus() || !tags_->isModified()) tags_->setText(tagText(v->tags));
  bottom_->setValue(v->bottom), top_->setValue(v->top);
  later_->setEnabled(v->id != areas.volumes.back().id);
  earlier_->setEnabled(v->id != areas.volumes.front().id);
}

Tool* KindsPage::tool() {
  return box_->isChecked()       ? boxTool_.get()
         : round_->isChecked()   ? roundTool_.get()
         : outline_->isChecked() ? outlineTool_.get()
                                 : handles_.get();
}

void KindsPage::leaveTool() {
  for (QPushButton* one : {box_, round_, outline_}) one->setChecked(false);
}

void KindsPage::addVolume(const Polygon& outline, double ground) {
  const auto& kinds = workspace_.project().areas->kinds;
  const level::AreaKind* chosen = chosenKind(workspace_);
  // The first kind is what ground is anyway; drawing means another one.
  const bool other = chosen && chosen != kinds.data();
  const std::string name = other ? chosen->name : kinds.size() > 1 ? kinds[1].name : std::string();
  add(workspace_, level::AreaVolume{0, name, outline, ground - kBelow, ground + kOver, {}});
}

void KindsPage::editKind(const QString& label, const std::function<void(level::AreaKind&)>& change, const QString& key) {
  const level::AreaKind* chosen = chosenKind(workspace_);
  if (!chosen) return;
  const auto at = static_cast<std::size_t>(chosen - workspace_.project().areas->kinds.data());
  workspace_.change(
      label, [&](project::Project& p) { project::edit(p.areas, [&](project::AreasSection& s) { change(s.kinds[at]); }); },
      key.isEmpty() ? key : key + QString::number(at));
}

void KindsPage::rename(const std::string& name) {
  const level::AreaKind* chosen = chosenKind(workspace_);
  if (!chosen || name.empty() || std::ranges::count(workspace_.project().areas->kinds, name, &level::AreaKind::name)) return showKind();
  const std::string old = chosen->name;
  workspace_.change(tr("Rename kind"), [&](project::Project& p) { project::renameKind(p, old, name); });
  workspace_.selection().choose({ThingKind::areaKind, name});
}

void KindsPage::addKind() {
  const auto& kinds = workspace_.project().areas->kinds;
  std::string name = "kind";
  for (int n = 2; std::ranges::count(kinds, name, &level::AreaKind::name); ++n) name = "kind " + std::to_string(n);
  const char* colours[] = {"#3f7f9c", "#8a8f5a", "#a8402f", "#7a5aa0", "#4f8a6a"};
  const std::string colour = colours[kinds.size() % 5];
  workspace_.change(tr("Add kind"), [&](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) { s.kinds.push_back({name, colour, 2, 0, false}); });
  });
  workspace_.selection().choose({ThingKind::areaKind, name});
  refresh(kEverything);
  name_->setFocus();
  name_->selectAll();
}

void KindsPage::showKind() {
  const level::AreaKind* k = chosenKind(workspace_);
  const bool first = k && k == workspace_.project().areas->kinds.data();
  removeKind_->setEnabled(k && !first);
  if (!k) return;
  const QSignalBlocker blocker(forbidden_);
  if (!name_->hasFocus() || name_->text().isEmpty()) name_->setText(QString::fromStdString(k->name));
  colour_->setIcon(swatch(kindColour(k->colour)));
  cost_->setValue(k->cost);
  entry_->setValue(k->entryCost);
  forbidden_->setChecked(k->forbidden);
  forbidden_->setEnabled(!first);
}

/// Two of one kind are told apart by their numbers, and kinds by their colours.
ItemRow KindsPage::rowOf(const level::AreaVolume& v, const std::vector<level::AreaKind>& kinds) {
  const QString kindName = v.tags.empty()   ? v.kind.empty() ? tr("as it is") : QString::fromStdString(v.kind)
                             : v.kind.empty() ? tagText(v.tags)
                                            : tr("%1 (%2)").arg(QString::fromStdString(v.kind), tagText(v.tags));
  ItemRow row{std::to_string(v.id), v.name.empty() ? tr("%1 %2, %3").arg(kindName).arg(v.id).arg(shapeOf(v.outline))
                                                   : tr("%1, %2").arg(QString::fromStdString(v.name), kindName)};
  const auto kind = std::ranges::find(kinds, v.kind, &level::AreaKind::name);
  if (kind != kinds.end()) row.icon = swatch(kindColour(kind->colour));
  return row;
}

void KindsPage::refresh(Topics) {
  const project::AreasSection& areas = *workspace_.project().areas;
  if (!chosenKind(workspace_)) workspace_.selection().choose({ThingKind::areaKind, areas.kinds[0].name});
  std::vector<ItemRow> rows;
  for (const level::AreaKind& k : areas.kinds) {
    ItemRow row{k.name, QString::fromStdString(k.name) + QStringLiteral("  –  ") + longCost(k.rule())};
    row.icon = swatch(kindColour(k.colour));
    rows.push_back(std::move(row));
  }
  kinds_->setRows(std::move(rows));
  rows.clear();
  for (const level::AreaVolume& v : areas.volumes) rows.push_back(rowOf(v, areas.kinds));
  volumes_->setRows(std::move(rows));
  showVolume();
  showKind();
}

}  // namespace dune::window
