#include "window/stops/level/blocker_tool.h"

namespace dune::window {

namespace {

using level::Blocker;
using level::BlockerShape;

struct Choice {
  const char *name, *tip;
  BlockerShape shape;
  level::Role role;
};
constexpr std::array<Choice, 6> kChoices{{
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Box"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click the ground to place a box"), BlockerShape::box, level::Role::obstacle},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Ramp"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click the ground to place a ramp"), BlockerShape::ramp, level::Role::ground},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Cylinder"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click the ground to place a cylinder"), BlockerShape::cylinder,
     level::Role::obstacle},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Prism"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click an outline to place an obstacle over it"), BlockerShape::prism,
     level::Role::obstacle},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Floor"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click an outline to lay flat ground in it"), BlockerShape::floor,
     level::Role::ground},
    {QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Hole"),
     QT_TRANSLATE_NOOP("dune::window::BlockersPage", "Click an outline to take the ground in it away"), BlockerShape::floor,
     level::Role::cuts},
}};

QString nameOf(const Blocker& b) {
  return b.shape == BlockerShape::floor && b.role == level::Role::cuts ? QObject::tr("hole")
                                                                       : QString::fromLatin1(level::shapeName(b.shape));
}

constexpr level::Role kRoles[] = {level::Role::obstacle, level::Role::ground, level::Role::cuts};

}  // namespace

BlockersPage::BlockersPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(
      tr("What if there were a crate here? Choose a shape, click the ground, and see what the mesh does. Floors and holes are drawn corner "
         "by corner."));
  for (std::size_t i = 0; i < kChoices.size(); ++i) {
    shapes_[i] = button(tr(kChoices[i].name), tr(kChoices[i].tip), true);
    shapes_[i]->setObjectName(QStringLiteral("narrow"));
    connect(shapes_[i], &QPushButton::toggled, this, [this, i](bool on) {
      for (std::size_t k = 0; on && k < kChoices.size(); ++k)
        if (k != i) shapes_[k]->setChecked(false);
      emit toolChanged();
    });
  }
  row({shapes_[0], shapes_[1], shapes_[2]});
  row({shapes_[3], shapes_[4], shapes_[5]});
  list_ = new QListWidget;
  list_->setAccessibleName(tr("Blockers"));
  list_->setMinimumHeight(90);
  column_->addWidget(list_, 1);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    refresh();
    emit worldChanged();
    emit toolChanged();
  });
  addFields();
  tool_ = std::make_unique<BlockerTool>(*this, workspace_);
}

BlockersPage::~BlockersPage() = default;

void BlockersPage::addFields() {
  copy_ = button(tr("Copy"), tr("One more like the chosen blocker, beside it"));
  remove_ = button(tr("Remove"), tr("Remove the chosen blocker (Delete)"));
  row({copy_, remove_});
  connect(copy_, &QPushButton::clicked, this, [this] { copy(); });
  connect(remove_, &QPushButton::clicked, this, [this] { remove(); });
  role_ = new QComboBox;
  role_->setAccessibleName(tr("Counts as"));
  for (const level::Role r : kRoles) role_->addItem(tr("Counts as %1").arg(QString::fromLatin1(level::roleName(r))));
  row({role_});
  connect(role_, &QComboBox::activated, this, [this](int i) { edit(tr("Change role"), [&](Blocker& b) { b.role = kRoles[i]; }); });
  auto size = [&](const QString& name, double Vec3::*extent) {
    NumberField* field = number(name, tr("m"), level::kLeastBlocker, level::kMostBlocker, 0.1, 2);
    connect(field, &NumberField::edited, this, [this, extent, name](double v) {
      edit(
          tr("Resize blocker"), [&](Blocker& b) { b.size.*extent = v; }, name);
    });
    return field;
  };
  width_ = size(tr("Width"), &Vec3::x);
  depth_ = size(tr("Depth"), &Vec3::z);
  height_ = size(tr("Height"), &Vec3::y);
  turn_ = number(tr("Turned"), tr("°"), -360, 360, 15, 0);
  connect(turn_, &NumberField::edited, this, [this](double v) {
    edit(
        tr("Turn blocker"), [&](Blocker& b) { b.turn = v; }, tr("turn"));
  });
  agentsTitle_ = section(tr("There for"));
  agents_ = new QListWidget;
  agents_->setAccessibleName(tr("Agents it is there for"));
  agents_->setMaximumHeight(74);
  column_->addWidget(agents_);
  connect(agents_, &QListWidget::itemChanged, this, [this] {
    std::vector<std::string> names;
    for (int i = 0; i < agents_->count(); ++i)
      if (agents_->item(i)->checkState() == Qt::Checked) names.push_back(agents_->item(i)->text().toStdString());
    if (names.empty()) return refresh();  // a blocker for nobody is removed, not kept
    if (static_cast<int>(names.size()) == agents_->count()) names.clear();
    edit(tr("Change agents of blocker"), [&](Blocker& b) { b.agents = names; });
  });
}

const Blocker* BlockersPage::chosen() const {
  const auto& blockers = workspace_.project().level->blockers;
  const int id = list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toInt() : -1;
  const auto found = std::ranges::find(blockers, id, &Blocker::id);
  return found == blockers.end() ? nullptr : &*found;
}

void BlockersPage::choose(int id) {
  for (int i = 0; i < list_->count(); ++i)
    if (list_->item(i)->data(Qt::UserRole).toInt() == id) return list_->setCurrentRow(i);
  list_->setCurrentRow(-1);
}

std::optional<Blocker> BlockersPage::placing() const {
  for (std::size_t i = 0; i < kChoices.size(); ++i)
    if (shapes_[i]->isChecked()) {
      Blocker b;
      b.shape = kChoices[i].shape, b.role = kChoices[i].role;
      if (b.shape == BlockerShape::ramp) b.size = {2, 0.6, 1.2};
      return b;
    }
  return std::nullopt;
}

void BlockersPage::place(Blocker blocker) {
  blocker.id = project::nextId(workspace_.project().level->blockers);
  workspace_.change(tr("Place blocker"),
                    [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.blockers.push_back(blocker); }); });
  for (QPushButton* b : shapes_) b->setChecked(false);
  choose(blocker.id);
}

void BlockersPage::replace(const Blocker& blocker, const QString& label, const QString& mergeKey) {
  workspace_.change(
      label,
      [&](project::Project& p) {
        project::edit(p.level, [&](project::LevelSection& s) {
          for (Blocker& b : s.blockers)
            if (b.id == blocker.id) b = blocker;
        });
      },
      mergeKey);
}

void BlockersPage::edit(const QString& label, const std::function<void(Blocker&)>& change, const QString& key) {
  if (!chosen()) return;
  Blocker b = *chosen();
  change(b);
  replace(b, label, key.isEmpty() ? key : QStringLiteral("blocker %1 %2").arg(b.id).arg(key));
}

void BlockersPage::copy() {
  if (!chosen()) return;
  Blocker b = *chosen();
  const double angle = radians(b.turn), by = b.size.x + 0.2;
  b.at += Vec3{std::cos(angle) * by, 0, -std::sin(angle) * by};
  place(b);
}

void BlockersPage::remove() {
  if (!chosen()) return;
  const int id = chosen()->id;
  workspace_.change(tr("Remove blocker"), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) { std::erase_if(s.blockers, [&](const Blocker& b) { return b.id == id; }); });
  });
}

Tool* BlockersPage::tool() { return tool_.get(); }

void BlockersPage::leaveTool() {
  for (QPushButton* b : shapes_) b->setChecked(false);
}

void BlockersPage::refreshAgents() {
  const auto& kinds = workspace_.project().agents->agents;
  const Blocker* b = chosen();
  const QSignalBlocker blocker(agents_);
  agents_->clear();
  const bool shown = b && kinds.size() > 1;
  agents_->setVisible(shown), agentsTitle_->setVisible(shown);
  for (const nav::Agent& a : kinds) {
    auto* item = new QListWidgetItem(QString::fromStdString(a.name), agents_);
    item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
    item->setCheckState(b && b->holds(a.name) ? Qt::Checked : Qt::Unchecked);
  }
}

void BlockersPage::refresh() {
  const auto& blockers = workspace_.project().level->blockers;
  {
    const QSignalBlocker block(list_);
    const int id = chosen() ? chosen()->id : -1;
    list_->clear();
    for (const Blocker& b : blockers) {
      auto* item = new QListWidgetItem(tr("%1 %2, %3").arg(nameOf(b)).arg(b.id).arg(QString::fromLatin1(level::roleName(b.role))));
      item->setData(Qt::UserRole, b.id);
      list_->addItem(item);
    }
    choose(id);
  }
  const Blocker* b = chosen();
  for (QWidget* w :
       {static_cast<QWidget*>(width_), static_cast<QWidget*>(depth_), static_cast<QWidget*>(height_), static_cast<QWidget*>(turn_),
        static_cast<QWidget*>(role_), static_cast<QWidget*>(copy_), static_cast<QWidget*>(remove_)})
    w->setVisible(b != nullptr);
  height_->setVisible(b && b->shape != BlockerShape::floor);  // a sheet has none
  refreshAgents();
  if (!b) return;
  width_->setValue(b->size.x), depth_->setValue(b->size.z), height_->setValue(b->size.y), turn_->setValue(b->turn);
  role_->setCurrentIndex(static_cast<int>(std::ranges::find(kRoles, b->role) - std::begin(kRoles)));
}

}  // namespace dune::window
