#include "window/stops/level_sheet.h"

#include <QFileInfo>
#include <QHeaderView>
#include <QRegularExpression>

namespace dune::window {

namespace {

const QString kRoleNames[] = {QStringLiteral("ground"), QStringLiteral("obstacle"), QStringLiteral("ignored")};

level::Role roleOf(const project::LevelSection& section, const std::string& name) {
  const auto found = section.roles.find(name);
  return found == section.roles.end() ? level::Role::ground : found->second;
}

/// Picks objects in the world.
class PickObject : public Tool {
 public:
  PickObject(LevelSheet& sheet, Workspace& workspace) : sheet_(sheet), workspace_(workspace) {}
  QString hint() const override {
    return QObject::tr("Click an object to choose it, with Ctrl to choose several. Drag with the right button to turn the view.");
  }
  void press(const Pointer& p) override {
    if (p.hit && workspace_.level())
      sheet_.choose(QString::fromStdString(workspace_.level()->level->objects[p.hit->object].name), p.modifiers & Qt::ControlModifier);
  }

 private:
  LevelSheet& sheet_;
  Workspace& workspace_;
};

}  // namespace

int ObjectModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() || !shown_ ? 0 : static_cast<int>(shown_->level->objects.size());
}

QString ObjectModel::nameAt(int row) const { return QString::fromStdString(shown_->level->objects[static_cast<std::size_t>(row)].name); }

QVariant ObjectModel::data(const QModelIndex& index, int role) const {
  if (role != Qt::DisplayRole || !index.isValid() || index.row() >= rowCount()) return {};
  if (index.column() == 0) return nameAt(index.row());
  return kRoleNames[static_cast<int>(roleOf(*workspace_.project().level, nameAt(index.row()).toStdString()))];
}

QVariant ObjectModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (role != Qt::DisplayRole || orientation != Qt::Horizontal) return {};
  return section == 0 ? tr("Object") : tr("Counts as");
}

void ObjectModel::levelChanged() {
  if (shown_ == workspace_.level()) return;
  beginResetModel();
  shown_ = workspace_.level();
  endResetModel();
}

void ObjectModel::rolesChanged() {
  if (rowCount() > 0) emit dataChanged(index(0, 1), index(rowCount() - 1, 1));
}

LevelSheet::LevelSheet(Workspace& workspace) : Sheet(tr("Level"), workspace), model_(workspace) {
  auto* open = button(tr("Open level…"), tr("Take in an .obj, .gltf or .glb file"));
  connect(open, &QPushButton::clicked, this, &LevelSheet::openAsked);
  file_ = new QLabel;
  file_->setWordWrap(true);
  column_->addWidget(file_);
  row({open});
  size_ = quiet({});
  up_ = new QComboBox;
  up_->addItems({tr("Y is up in the file"), tr("Z is up in the file")});
  up_->setAccessibleName(tr("Up axis"));
  row({up_});
  connect(up_, &QComboBox::activated, this, [this](int i) {
    workspace_.change(tr("Change up axis"), [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) { s.import.up = i == 1 ? level::UpAxis::z : level::UpAxis::y; });
    });
  });
  scale_ = number(tr("Scale"), {}, 0.0001, 10000, 0.1, 4);
  connect(scale_, &NumberField::edited, this, [this](double v) {
    workspace_.change(
        tr("Change scale"), [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.import.scale = v; }); },
        QStringLiteral("scale"));
  });
  section(tr("What counts"));
  pattern_ = new QLineEdit;
  pattern_->setPlaceholderText(tr("Filter by name: crate*"));
  pattern_->setAccessibleName(tr("Filter by name"));
  pattern_->setClearButtonEnabled(true);
  column_->addWidget(pattern_);
  filtered_.setSourceModel(&model_);
  filtered_.setFilterCaseSensitivity(Qt::CaseInsensitive);
  connect(pattern_, &QLineEdit::textChanged, this, [this](const QString& text) {
    filtered_.setFilterRegularExpression(
        QRegularExpression(QRegularExpression::wildcardToRegularExpression(QStringLiteral("*") + text + QStringLiteral("*")),
                           QRegularExpression::CaseInsensitiveOption));
  });
  table_ = new QTableView;
  table_->setModel(&filtered_);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(22);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  table_->setShowGrid(false);
  table_->setAccessibleName(tr("Objects"));
  column_->addWidget(table_, 1);
  connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &Sheet::worldChanged);
  const QString names[] = {tr("Ground"), tr("Obstacle"), tr("Ignore")};
  const QString tips[] = {tr("The chosen objects can be walked on"), tr("The chosen objects only stand in the way"),
                          tr("The chosen objects are not there")};
  for (int i = 0; i < 3; ++i) {
    roles_[i] = button(names[i], tips[i]);
    connect(roles_[i], &QPushButton::clicked, this, [this, i] { setRole(static_cast<level::Role>(i)); });
  }
  row({roles_[0], roles_[1], roles_[2]});
  tool_ = std::make_unique<PickObject>(*this, workspace_);
  connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
    for (QPushButton* b : roles_) b->setEnabled(table_->selectionModel()->hasSelection());
  });
}

Tool* LevelSheet::tool() { return tool_.get(); }

std::set<std::string> LevelSheet::chosen() const {
  std::set<std::string> names;
  for (const QModelIndex& index : table_->selectionModel()->selectedRows()) names.insert(index.data().toString().toStdString());
  return names;
}

void LevelSheet::choose(const QString& object, bool add) {
  for (int i = 0; i < filtered_.rowCount(); ++i)
    if (filtered_.index(i, 0).data().toString() == object) {
      const auto flags = QItemSelectionModel::Rows | (add ? QItemSelectionModel::Toggle : QItemSelectionModel::ClearAndSelect);
      table_->selectionModel()->select(filtered_.index(i, 0), flags);
      table_->scrollTo(filtered_.index(i, 0));
    }
}

void LevelSheet::setRole(level::Role role) {
  const auto names = chosen();
  if (names.empty()) return;
  workspace_.change(tr("Mark %n object(s) as %1", nullptr, static_cast<int>(names.size())).arg(kRoleNames[static_cast<int>(role)]),
                    [&](project::Project& p) {
                      project::edit(p.level, [&](project::LevelSection& s) {
                        for (const std::string& name : names)
                          if (role == level::Role::ground)
                            s.roles.erase(name);
                          else
                            s.roles[name] = role;
                      });
                    });
}

void LevelSheet::refresh() {
  const project::LevelSection& section = *workspace_.project().level;
  model_.levelChanged();
  model_.rolesChanged();
  file_->setText(section.file.empty() ? tr("No level yet.") : QFileInfo(QString::fromStdString(section.file)).fileName());
  up_->setCurrentIndex(section.import.up == level::UpAxis::z ? 1 : 0);
  scale_->setValue(section.import.scale);
  const auto level = workspace_.level();
  const bool trouble = workspace_.levelProblem().has_value();
  size_->setObjectName(trouble ? QStringLiteral("trouble") : QStringLiteral("quiet"));
  size_->setStyleSheet(size_->styleSheet());
  if (trouble)
    size_->setText(QString::fromStdString(workspace_.levelProblem()->text()));
  else if (level) {
    const Vec3 size = level->level->bounds().size();
    size_->setText(tr("%1 × %2 m, %3 m high, %4 triangles. Compare with the 1.8 m figure beside it.")
                       .arg(size.x, 0, 'f', 1)
                       .arg(size.z, 0, 'f', 1)
                       .arg(size.y, 0, 'f', 1)
                       .arg(level->level->triangleCount()));
  } else
    size_->clear();
  for (QPushButton* b : roles_) b->setEnabled(table_->selectionModel()->hasSelection());
}

}  // namespace dune::window
