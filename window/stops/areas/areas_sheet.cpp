#include "window/stops/areas/areas_sheet.h"

#include <QColorDialog>

#include "window/scene/layers.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kBelow = 0.5, kOver = 2.0;  // m: how far a drawn volume reaches below and above the ground it is drawn on

/// Drags a box from corner to corner on the ground.
class BoxTool : public Tool {
 public:
  explicit BoxTool(AreasSheet& sheet) : sheet_(sheet) {}
  QString hint() const override {
    return begin_ ? QObject::tr("Let go at the opposite corner.")
                  : QObject::tr("Drag from corner to corner to mark a box on the ground. Esc leaves the tool.");
  }
  void press(const Pointer& p) override {
    if (p.hit) begin_ = end_ = p.hit->at;
  }
  void move(const Pointer& p, bool pressed) override {
    if (pressed && begin_)
      if (const auto at = meetPlane(p.ray, begin_->y)) end_ = *at;
  }
  void release(const Pointer& p) override {
    move(p, true);
    if (begin_ && std::abs(end_.x - begin_->x) > 0.2 && std::abs(end_.z - begin_->z) > 0.2) sheet_.addVolume(outline(), begin_->y);
    begin_.reset();
  }
  bool giveUp() override { return std::exchange(begin_, std::nullopt).has_value(); }
  void draw(DrawList& list) const override {
    if (!begin_) return;
    const Polygon o = outline();
    for (std::size_t i = 0; i < 4; ++i)
      list.line(lift(o[i], begin_->y + 0.05), lift(o[(i + 1) % 4], begin_->y + 0.05), 3, packed(theme().accent, 1));
  }

 private:
  Polygon outline() const {
    const Vec2 a = plan(*begin_), b = plan(end_);
    return {{std::min(a.x, b.x), std::min(a.y, b.y)},
            {std::max(a.x, b.x), std::min(a.y, b.y)},
            {std::max(a.x, b.x), std::max(a.y, b.y)},
            {std::min(a.x, b.x), std::max(a.y, b.y)}};
  }
  AreasSheet& sheet_;
  std::optional<Vec3> begin_;
  Vec3 end_{};
};

/// Clicks the corners of an outline on the ground.
class OutlineTool : public Tool {
 public:
  explicit OutlineTool(AreasSheet& sheet) : sheet_(sheet) {}
  QString hint() const override {
    if (corners_.size() < 3) return QObject::tr("Click the corners of the outline on the ground, one after the other.");
    return QObject::tr("Click the next corner; click the first one again, or press Enter, to close the outline. Esc starts over.");
  }
  void press(const Pointer& p) override {
    if (!p.hit) return;
    if (corners_.size() >= 3 && glm::distance(p.hit->at, corners_[0]) < 0.5) return finish();
    corners_.push_back(p.hit->at);
  }
  void move(const Pointer& p, bool) override {
    if (p.hit) next_ = p.hit->at;
  }
  void finish() override {
    // A double click has set its last corner twice.
    while (corners_.size() > 1 && glm::distance(corners_.back(), corners_[corners_.size() - 2]) < 0.05) corners_.pop_back();
    if (corners_.size() < 3) return;
    Polygon outline;
    for (const Vec3& c : corners_) outline.push_back(plan(c));
    const double ground = corners_[0].y;
    corners_.clear();
    sheet_.addVolume(outline, ground);
  }
  bool giveUp() override {
    const bool had = !corners_.empty();
    corners_.clear();
    return had;
  }
  void draw(DrawList& list) const override {
    const std::uint32_t ink = packed(theme().accent, 1);
    const Vec3 up{0, 0.06, 0};
    for (std::size_t i = 0; i < corners_.size(); ++i) {
      list.circle(corners_[i] + up, 0.18, 2.5, ink);
      list.line(corners_[i] + up, (i + 1 < corners_.size() ? corners_[i + 1] : next_) + up, 3, ink);
    }
    if (corners_.size() >= 2) list.dashed(next_ + up, corners_[0] + up, 0.25, 1.5, ink);
  }

 private:
  AreasSheet& sheet_;
  std::vector<Vec3> corners_;
  Vec3 next_{};
};

QIcon swatch(const QColor& colour) {
  QPixmap pixmap(14, 14);
  pixmap.fill(colour);
  return QIcon(pixmap);
}

}  // namespace

AreasSheet::AreasSheet(Workspace& workspace) : Sheet(tr("Areas"), workspace) {
  section(tr("Kinds of ground"));
  kinds_ = new QListWidget;
  kinds_->setAccessibleName(tr("Kinds of ground"));
  kinds_->setMaximumHeight(112);
  column_->addWidget(kinds_);
  auto* add = button(tr("Add kind"), tr("A new kind of ground"));
  removeKind_ = button(tr("Remove kind"), tr("Remove the chosen kind"));
  row({add, removeKind_});
  connect(add, &QPushButton::clicked, this, [this] { addKind(); });
  connect(removeKind_, &QPushButton::clicked, this, [this] { removeKind(); });
  name_ = new QLineEdit;
  name_->setAccessibleName(tr("Name of the kind"));
  colour_ = button(tr("Colour"), tr("Choose the colour of this kind"));
  row({name_, colour_});
  cost_ = number(tr("Cost per metre"), {}, 0.01, 1000, 0.1, 2);
  entry_ = number(tr("Cost to enter"), {}, 0, 10000, 1, 1);
  forbidden_ = new QCheckBox(tr("Forbidden: never walked on"));
  column_->addWidget(forbidden_);
  connect(kinds_, &QListWidget::currentRowChanged, this, [this] { showKind(); });
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const std::string name = name_->text().trimmed().toStdString();
    const auto& kinds = workspace_.project().areas->kinds;
    if (kind() < 0 || name.empty() || std::ranges::count(kinds, name, &level::AreaKind::name)) return showKind();
    const std::string old = kinds[static_cast<std::size_t>(kind())].name;
    const auto at = static_cast<std::size_t>(kind());
    workspace_.change(tr("Rename kind"), [&](project::Project& p) {
      project::edit(p.areas, [&](project::AreasSection& s) {
        s.kinds[at].name = name;
        for (level::AreaVolume& v : s.volumes)
          if (v.kind == old) v.kind = name;
      });
    });
  });
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
    const QColor colour =
        QColorDialog::getColor(kindColour(workspace_.project().areas->kinds[static_cast<std::size_t>(std::max(0, kind()))].colour), this,
                               tr("Colour of this kind"));
    if (colour.isValid()) editKind(tr("Change colour"), [&](level::AreaKind& k) { k.colour = colour.name().toStdString(); }, {});
  });
  section(tr("Where"));
  box_ = button(tr("Draw box"), tr("Drag a box on the ground"), true);
  outline_ = button(tr("Draw outline"), tr("Click an outline on the ground"), true);
  row({box_, outline_});
  boxTool_ = std::make_unique<BoxTool>(*this);
  outlineTool_ = std::make_unique<OutlineTool>(*this);
  connect(box_, &QPushButton::toggled, this, [this](bool on) {
    if (on) outline_->setChecked(false);
    emit toolChanged();
  });
  connect(outline_, &QPushButton::toggled, this, [this](bool on) {
    if (on) box_->setChecked(false);
    emit toolChanged();
  });
  volumes_ = new QListWidget;
  volumes_->setAccessibleName(tr("Volumes"));
  column_->addWidget(volumes_, 1);
  connect(volumes_, &QListWidget::currentRowChanged, this, [this] {
    removeVolume_->setEnabled(volumes_->currentRow() >= 0);
    emit worldChanged();
  });
  removeVolume_ = button(tr("Remove volume"), tr("Remove the chosen volume"));
  row({removeVolume_});
  connect(removeVolume_, &QPushButton::clicked, this, [this] {
    const int id = chosenVolume();
    workspace_.change(tr("Remove volume"), [&](project::Project& p) {
      project::edit(p.areas,
                    [&](project::AreasSection& s) { std::erase_if(s.volumes, [&](const level::AreaVolume& v) { return v.id == id; }); });
    });
  });
}

Tool* AreasSheet::tool() { return box_->isChecked() ? boxTool_.get() : outline_->isChecked() ? outlineTool_.get() : nullptr; }

void AreasSheet::leaveTool() {
  box_->setChecked(false);
  outline_->setChecked(false);
}

int AreasSheet::chosenVolume() const { return volumes_->currentItem() ? volumes_->currentItem()->data(Qt::UserRole).toInt() : -1; }

void AreasSheet::addVolume(const Polygon& outline, double ground) {
  const auto& kinds = workspace_.project().areas->kinds;
  // The first kind is what ground is anyway; drawing means another one.
  const std::size_t chosen = kind() > 0 ? static_cast<std::size_t>(kind()) : std::min<std::size_t>(1, kinds.size() - 1);
  const std::string name = kinds[chosen].name;
  workspace_.change(tr("Add volume"), [&](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) {
      s.volumes.push_back({project::nextId(s.volumes), name, outline, ground - kBelow, ground + kOver});
    });
  });
}

void AreasSheet::editKind(const QString& label, const std::function<void(level::AreaKind&)>& change, const QString& key) {
  if (kind() < 0) return;
  const auto at = static_cast<std::size_t>(kind());
  workspace_.change(
      label, [&](project::Project& p) { project::edit(p.areas, [&](project::AreasSection& s) { change(s.kinds[at]); }); },
      key.isEmpty() ? key : key + QString::number(at));
}

void AreasSheet::addKind() {
  const auto& kinds = workspace_.project().areas->kinds;
  std::string name = "kind";
  for (int n = 2; std::ranges::count(kinds, name, &level::AreaKind::name); ++n) name = "kind " + std::to_string(n);
  const char* colours[] = {"#3f7f9c", "#8a8f5a", "#a8402f", "#7a5aa0", "#4f8a6a"};
  const std::string colour = colours[kinds.size() % 5];
  workspace_.change(tr("Add kind"), [&](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) { s.kinds.push_back({name, colour, 2, 0, false}); });
  });
  kinds_->setCurrentRow(kinds_->count() - 1);
  name_->setFocus();
  name_->selectAll();
}

void AreasSheet::removeKind() {
  if (kind() <= 0) return;
  const std::string name = workspace_.project().areas->kinds[static_cast<std::size_t>(kind())].name;
  workspace_.change(tr("Remove kind"), [&](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) {
      std::erase_if(s.kinds, [&](const level::AreaKind& k) { return k.name == name; });
      std::erase_if(s.volumes, [&](const level::AreaVolume& v) { return v.kind == name; });
    });
  });
}

void AreasSheet::showKind() {
  const auto& kinds = workspace_.project().areas->kinds;
  const bool any = kind() >= 0 && static_cast<std::size_t>(kind()) < kinds.size();
  removeKind_->setEnabled(kind() > 0);
  if (!any) return;
  const level::AreaKind& k = kinds[static_cast<std::size_t>(kind())];
  const QSignalBlocker blocker(forbidden_);
  if (!name_->hasFocus() || name_->text().isEmpty()) name_->setText(QString::fromStdString(k.name));
  colour_->setIcon(swatch(kindColour(k.colour)));
  cost_->setValue(k.cost);
  entry_->setValue(k.entryCost);
  forbidden_->setChecked(k.forbidden);
  forbidden_->setEnabled(kind() > 0);
}

void AreasSheet::refresh() {
  const project::AreasSection& areas = *workspace_.project().areas;
  const int keepKind = std::clamp(kind(), 0, static_cast<int>(areas.kinds.size()) - 1), keepVolume = volumes_->currentRow();
  {
    const QSignalBlocker blockKinds(kinds_), blockVolumes(volumes_);
    kinds_->clear();
    for (const level::AreaKind& k : areas.kinds) {
      const QString cost = k.forbidden       ? tr("forbidden")
                           : k.entryCost > 0 ? tr("%1 a metre, %2 to enter").arg(k.cost).arg(k.entryCost)
                                             : tr("%1 a metre").arg(k.cost);
      kinds_->addItem(new QListWidgetItem(swatch(kindColour(k.colour)), QString::fromStdString(k.name) + QStringLiteral("  –  ") + cost));
    }
    kinds_->setCurrentRow(keepKind);
    volumes_->clear();
    for (const level::AreaVolume& v : areas.volumes) {
      auto* item = new QListWidgetItem(tr("%1, %2 corners").arg(QString::fromStdString(v.kind)).arg(v.outline.size()));
      item->setData(Qt::UserRole, v.id);
      volumes_->addItem(item);
    }
    if (keepVolume >= 0 && keepVolume < volumes_->count()) volumes_->setCurrentRow(keepVolume);
  }
  removeVolume_->setEnabled(volumes_->currentRow() >= 0);
  box_->setEnabled(areas.kinds.size() > 1);
  outline_->setEnabled(areas.kinds.size() > 1);
  box_->setToolTip(areas.kinds.size() > 1 ? tr("Drag a box on the ground") : tr("Add a kind of ground first"));
  showKind();
}

}  // namespace dune::window
