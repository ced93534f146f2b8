#include "window/stops/level/bounds_page.h"

#include "window/scene/handles.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kLeastSide = 0.5;  // m of the playable bounds

/// Drags the sides of the bounds, and places seeds.
class BoundsTool : public Tool {
 public:
  BoundsTool(BoundsPage& page, Workspace& workspace) : page_(page), workspace_(workspace) {}

  QString hint() const override {
    if (page_.seeding()) return QObject::tr("Click the ground from which everything that is kept can be reached. Esc leaves the tool.");
    if (bounds()) return QObject::tr("Drag the dots on the sides of the bounds. There is no ground outside them.");
    return QObject::tr("Set bounds on the left to keep agents inside a part of the level.");
  }
  void press(const Pointer& p) override {
    if (page_.seeding()) {
      if (p.hit) page_.addSeed(p.hit->at);
      return;
    }
    if (!bounds() || !camera_) return;
    const auto handles = handlesOf(*bounds());
    if (const Handle* h = handleNear(handles, *camera_, p.pixel)) active_ = h->id, before_ = *bounds();
  }
  void move(const Pointer& p, bool pressed) override {
    if (!pressed || active_ < 0) return;
    const int axis = active_ / 2;
    const bool high = active_ % 2;
    Vec3 out{0};
    out[axis] = high ? 1 : -1;
    const double by = alongLine(p.ray, sideMiddle(before_, active_), out);
    Box3 box = before_;
    if (high)
      box.max[axis] = std::max(box.min[axis] + kLeastSide, before_.max[axis] + by);
    else
      box.min[axis] = std::min(box.max[axis] - kLeastSide, before_.min[axis] - by);
    page_.setBounds(box, QObject::tr("Change bounds"), QStringLiteral("bounds drag %1").arg(active_));
  }
  void release(const Pointer&) override {
    if (active_ >= 0) workspace_.document().endMerge();
    active_ = -1;
  }
  bool holding() const override { return active_ >= 0 || page_.seeding(); }
  bool remove() override {
    if (page_.chosenSeed() < 0) return false;
    page_.removeSeed();
    return true;
  }
  void draw(DrawList& list) const override {
    const project::LevelSection& section = *workspace_.project().level;
    for (std::size_t i = 0; i < section.seeds.size(); ++i) {
      const bool chosen = static_cast<int>(i) == page_.chosenSeed();
      const std::uint32_t ink = packed(chosen ? theme().accent : theme().good, 1);
      const Vec3 at = section.seeds[i] + Vec3{0, 0.05, 0};
      list.disc(at, 0.18, ink);
      list.circle(at, 0.4, 3, ink);
      list.line(at, at + Vec3{0, 1, 0}, 2.5, ink);
    }
    if (!bounds() || !camera_) return;
    const Box3& b = *bounds();
    for (int i = 0; i < 8; ++i)
      for (int axis = 0; axis < 3; ++axis) {
        if (i >> axis & 1) continue;
        auto corner = [&](int n) { return Vec3{n & 1 ? b.max.x : b.min.x, n & 2 ? b.max.y : b.min.y, n & 4 ? b.max.z : b.min.z}; };
        list.line(corner(i), corner(i | 1 << axis), 2.5, packed(theme().accent, 1));
      }
    const auto handles = handlesOf(b);
    drawHandles(handles, *camera_, active_, list);
  }

 private:
  const std::optional<Box3>& bounds() const { return workspace_.project().level->bounds; }
  static Vec3 sideMiddle(const Box3& box, int side) {
    Vec3 at = box.centre();
    at[side / 2] = side % 2 ? box.max[side / 2] : box.min[side / 2];
    return at;
  }
  static std::vector<Handle> handlesOf(const Box3& box) {
    std::vector<Handle> handles;
    for (int side = 0; side < 6; ++side) handles.push_back({side, sideMiddle(box, side), {}});
    return handles;
  }

  BoundsPage& page_;
  Workspace& workspace_;
  int active_ = -1;
  Box3 before_;
};

}  // namespace

BoundsPage::BoundsPage(Workspace& workspace) : Sheet({}, workspace) {
  section(tr("Playable bounds"));
  set_ = button(tr("Set bounds"), tr("Start with a box around the whole level"));
  unset_ = button(tr("Remove bounds"), tr("Ground may be anywhere again"));
  row({set_, unset_});
  size_ = quiet({});
  connect(set_, &QPushButton::clicked, this, [this] {
    if (workspace_.level()) setBounds(workspace_.worldBounds(), tr("Set bounds"));
  });
  connect(unset_, &QPushButton::clicked, this, [this] { setBounds(std::nullopt, tr("Remove bounds")); });
  section(tr("Seeds"));
  quiet(tr("With seeds, only ground that can be reached from one of them is kept; tops of walls and crates go."));
  seed_ = button(tr("Add seed"), tr("Click the ground to place a seed"), true);
  removeSeed_ = button(tr("Remove seed"), tr("Remove the chosen seed"));
  row({seed_, removeSeed_});
  connect(seed_, &QPushButton::toggled, this, &Sheet::toolChanged);
  connect(removeSeed_, &QPushButton::clicked, this, [this] { removeSeed(); });
  seeds_ = new QListWidget;
  seeds_->setAccessibleName(tr("Seeds"));
  seeds_->setMaximumHeight(120);
  column_->addWidget(seeds_);
  connect(seeds_, &QListWidget::currentRowChanged, this, [this](int at) {
    removeSeed_->setEnabled(at >= 0);
    emit toolChanged();
  });
  section(tr("Joining"));
  join_ = number(tr("Gaps up to"), tr("m"), 0, 2, 0.01, 2);
  quiet(tr("Ground parted by a gap that is no wider counts as one: floors that were modelled side by side and almost touch."));
  connect(join_, &NumberField::edited, this, [this](double v) {
    workspace_.change(
        tr("Change joining distance"),
        [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.joinDistance = v; }); },
        QStringLiteral("join"));
  });
  column_->addStretch(1);
  tool_ = std::make_unique<BoundsTool>(*this, workspace_);
}

BoundsPage::~BoundsPage() = default;

Tool* BoundsPage::tool() { return tool_.get(); }
void BoundsPage::leaveTool() { seed_->setChecked(false); }

void BoundsPage::addSeed(const Vec3& at) {
  workspace_.change(tr("Add seed"),
                    [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.seeds.push_back(at); }); });
  seeds_->setCurrentRow(seeds_->count() - 1);
}

void BoundsPage::removeSeed() {
  const int at = seeds_->currentRow();
  if (at < 0) return;
  workspace_.change(tr("Remove seed"), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) { s.seeds.erase(s.seeds.begin() + at); });
  });
}

void BoundsPage::setBounds(const std::optional<Box3>& bounds, const QString& label, const QString& mergeKey) {
  workspace_.change(
      label, [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.bounds = bounds; }); }, mergeKey);
  emit toolChanged();
}

void BoundsPage::refresh() {
  const project::LevelSection& section = *workspace_.project().level;
  set_->setEnabled(workspace_.level() && !section.bounds);
  unset_->setEnabled(section.bounds.has_value());
  seed_->setEnabled(workspace_.level() != nullptr);
  if (section.bounds) {
    const Vec3 size = section.bounds->size();
    size_->setText(
        tr("%1 × %2 m, %3 m high. Drag the dots in the world.").arg(size.x, 0, 'f', 1).arg(size.z, 0, 'f', 1).arg(size.y, 0, 'f', 1));
  } else {
    size_->setText(tr("None: there may be ground anywhere in the level."));
  }
  const int kept = seeds_->currentRow();
  const QSignalBlocker blocker(seeds_);
  seeds_->clear();
  for (const Vec3& s : section.seeds) seeds_->addItem(tr("at %1, %2, %3").arg(s.x, 0, 'f', 2).arg(s.y, 0, 'f', 2).arg(s.z, 0, 'f', 2));
  seeds_->setCurrentRow(std::min(kept, seeds_->count() - 1));
  removeSeed_->setEnabled(seeds_->currentRow() >= 0);
  join_->setValue(section.joinDistance);
}

}  // namespace dune::window
