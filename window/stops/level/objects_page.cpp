#include "window/stops/level/objects_page.h"

#include <QFileInfo>
#include <QHeaderView>
#include <QMenu>
#include <QPainter>
#include <QRegularExpression>
#include <QStyle>

#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/level/role_text.h"
#include "window/widgets/count_text.h"

namespace dune::window {

namespace {

/// The colour that objects of a role have in the world while this stop is open.
QPixmap roleMark(level::Role role) {
  const QColor colours[] = {theme().level, theme().obstacle, theme().cuts, theme().ignored};
  QPixmap pixmap(12, 12);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  painter.setPen(QPen(theme().quiet, 1, role == level::Role::ignored ? Qt::DotLine : Qt::SolidLine));
  painter.setBrush(role == level::Role::ignored ? QBrush(Qt::NoBrush) : QBrush(colours[static_cast<std::size_t>(role)]));
  painter.drawRect(1, 1, 9, 9);
  return pixmap;
}

/// Picks objects in the world.
class PickObject : public Tool {
 public:
  explicit PickObject(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override { return QObject::tr("Click an object to choose it, with Ctrl to choose several. Drag to turn the view."); }
  bool press(const Pointer&) override { return false; }
  void click(const Pointer& p) override {
    const auto level = workspace_.level();
    if (!p.hit || !level || p.hit->object >= level->level->objects.size()) return;
    const Thing object{ThingKind::object, level->level->objects[p.hit->object].name};
    if (p.modifiers & Qt::ControlModifier)
      workspace_.selection().toggle(object);
    else
      workspace_.selection().choose(object);
  }
  bool aims() const override { return false; }

 private:
  Workspace& workspace_;
};

}  // namespace

int ObjectModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() || !shown_ ? 0 : static_cast<int>(shown_->level->objects.size());
}

QString ObjectModel::nameAt(int row) const { return QString::fromStdString(shown_->level->objects[static_cast<std::size_t>(row)].name); }

QVariant ObjectModel::dataOfName(const std::string& name, int role) const {
  const auto in = [&](const std::vector<std::string>& names) { return std::ranges::count(names, name) > 0; };
  const bool fresh = in(workspace_.source().news().fresh), changed = !fresh && in(workspace_.source().news().changed);
  if (role == Qt::DisplayRole) return QString::fromStdString(name);
  if (!fresh && !changed) return {};
  if (role == Qt::ToolTipRole) return fresh ? tr("New since the file was read again") : tr("Changed since the file was read again");
  if (role == Qt::FontRole) {
    QFont font;
    font.setBold(true);
    return font;
  }
  return {};
}

QVariant ObjectModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const project::LevelSection& section = *workspace_.project().level;
  const level::Object& object = shown_->level->objects[static_cast<std::size_t>(index.row())];
  const std::string& name = object.name;
  if (index.column() == 0) return dataOfName(name, role);
  if (role == Qt::DecorationRole) return roleMark(level::roleOf(object, section.roles, section.rules));
  if (role != Qt::DisplayRole) return {};
  const QString word = roleText(level::roleOf(object, section.roles, section.rules));
  // Roles that come from a rule are told apart from those set by hand.
  const bool byRule =
      !section.roles.count(name) && std::ranges::any_of(section.rules, [&](const auto& r) { return level::fits(r, object); });
  return byRule ? tr("%1 (rule)").arg(word) : word;
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

ObjectsPage::ObjectsPage(Workspace& workspace) : Sheet({}, workspace), model_(workspace) {
  addFiles();
  addPieces();
  addHeightMap();
  addTileMap();
  addObjects();
  addRules();
  tool_ = std::make_unique<PickObject>(workspace_);
}

void ObjectsPage::addFiles() {
  auto* open = button(tr("Open level…"), tr("Take in a level file in place of what is here"));
  addBeside_ = button(tr("Add file…"), tr("Take in one more level file beside those that are here"));
  connect(open, &QPushButton::clicked, this, [this] { emit asked(Request::openLevel); });
  connect(addBeside_, &QPushButton::clicked, this, [this] { emit asked(Request::addLevelFile); });
  row({open, addBeside_});
  files_ = new QComboBox;
  files_->setAccessibleName(tr("Level files"));
  files_->setToolTip(tr("The file whose up axis and scale are shown below"));
  files_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  removeFile_ = button(tr("Remove"), tr("Take this file out of the project"));
  row({files_, removeFile_});
  connect(files_, &QComboBox::activated, this, [this] { refresh(kEverything); });
  connect(removeFile_, &QPushButton::clicked, this, [this] {
    const std::size_t at = fileIndex();
    workspace_.change(tr("Remove level file"), [&](project::Project& p) {
      project::edit(p.level, [&](project::LevelSection& s) { s.files.erase(s.files.begin() + static_cast<std::ptrdiff_t>(at)); });
    });
  });
  size_ = quiet({});
  guess_ = trouble();
  readSo_ = button(tr("Use the guess"), tr("Read this file so"));
  guessRow_ = row({readSo_});
  connect(readSo_, &QPushButton::clicked, this, [this] {
    if (const auto* units = guessed()) editFile(tr("Change units"), [read = units->read](project::LevelFile& f) { f.import = read; });
  });
  news_ = new QLabel;
  news_->setWordWrap(true);
  column_->addWidget(news_);
  showNews_ = button(tr("Choose them"), tr("Choose what is new or changed in the list and in the world"));
  newsRow_ = row({showNews_});
  connect(showNews_, &QPushButton::clicked, this, [this] { chooseNews(); });
  up_ = new QComboBox;
  up_->addItems({tr("Y is up in the file"), tr("Z is up in the file")});
  up_->setAccessibleName(tr("Up axis"));
  row({up_});
  connect(up_, &QComboBox::activated, this, [this](int i) {
    editFile(tr("Change up axis"), [&](project::LevelFile& f) { f.import.up = i == 1 ? level::UpAxis::z : level::UpAxis::y; });
  });
  scale_ = number(tr("Scale"), {}, 0.0001, 10000, 0.1, 4);
  scale_->setToolTip(tr("Metres that one unit of the file is: 0.01 where it was made in centimetres"));
  connect(scale_, &NumberField::edited, this, [this](double v) {
    editFile(
        tr("Change scale"), [&](project::LevelFile& f) { f.import.scale = v; }, QStringLiteral("scale"));
  });
}

void ObjectsPage::addPieces() {
  pieces_ = new QCheckBox(tr("In connected pieces"));
  pieces_->setToolTip(
      tr("Each piece of a file that hangs together becomes an object, named by its material and place, so that it can be marked"));
  row({pieces_});
  connect(pieces_, &QCheckBox::clicked, this, [this](bool on) {
    editFile(on ? tr("Split into pieces") : tr("Take objects as they are"), [&](project::LevelFile& f) { f.import.pieces = on; });
  });
}

void ObjectsPage::addHeightMap() {
  spacing_ = number(tr("Metres a pixel"), tr("m"), 0.01, 1000, 0.1, 2);
  spacing_->setToolTip(tr("How far the heights of the map stand from each other"));
  connect(spacing_, &NumberField::edited, this, [this](double v) {
    editFile(
        tr("Change size of height map"), [&](project::LevelFile& f) { f.import.spacing = v; }, QStringLiteral("spacing"));
  });
  rise_ = number(tr("Black to white"), tr("m"), 0.01, 10000, 1, 2);
  rise_->setToolTip(tr("How high white lies over black; slopes grow with it"));
  connect(rise_, &NumberField::edited, this, [this](double v) {
    editFile(
        tr("Change height of height map"), [&](project::LevelFile& f) { f.import.rise = v; }, QStringLiteral("rise"));
  });
}

void ObjectsPage::addTileMap() {
  pixels_ = number(tr("Pixels a metre"), tr("px"), 0.01, 10000, 1, 2);
  pixels_->setToolTip(tr("How many pixels of the map are one metre; with 1, pixels are counted as metres"));
  connect(pixels_, &NumberField::edited, this, [this](double v) {
    editFile(
        tr("Change pixels a metre"), [&](project::LevelFile& f) { f.import.spacing = 1 / v; }, QStringLiteral("pixels"));
  });
  tall_ = number(tr("Height of solid tiles"), tr("m"), 0.1, 100, 0.1, 2);
  tall_->setToolTip(tr("How high what is solid stands over the ground of the map"));
  connect(tall_, &NumberField::edited, this, [this](double v) {
    editFile(
        tr("Change height of solid tiles"), [&](project::LevelFile& f) { f.import.rise = v; }, QStringLiteral("tall"));
  });
  solid_ = new QLineEdit;
  solid_->setObjectName(QStringLiteral("solidProperty"));
  solid_->setAccessibleName(tr("Property of what is solid"));
  solid_->setToolTip(tr("The yes-or-no property by which the map says that a tile, a layer or an outline stands in the way"));
  auto* label = new QLabel(tr("Solid by property"));
  label->setBuddy(solid_);
  solidRow_ = row({label, solid_});
  connect(solid_, &QLineEdit::editingFinished, this, [this] {
    const std::string name = solid_->text().trimmed().toStdString();
    if (!name.empty()) editFile(tr("Change property of what is solid"), [&](project::LevelFile& f) { f.import.solid = name; });
  });
}

void ObjectsPage::addObjects() {
  objectsTitle_ = section(tr("What counts"));
  pattern_ = new QLineEdit;
  pattern_->setPlaceholderText(tr("Filter by name: crate*"));
  pattern_->setAccessibleName(tr("Filter by name"));
  pattern_->setClearButtonEnabled(true);
  column_->addWidget(pattern_);
  fits_ = new QLabel;
  fits_->setObjectName(QStringLiteral("quiet"));
  column_->addWidget(fits_);
  filtered_.setSourceModel(&model_);
  filtered_.setFilterCaseSensitivity(Qt::CaseInsensitive);
  connect(pattern_, &QLineEdit::textChanged, this, [this](const QString& text) {
    filtered_.setFilterRegularExpression(
        QRegularExpression(QRegularExpression::wildcardToRegularExpression(QStringLiteral("*") + text + QStringLiteral("*")),
                           QRegularExpression::CaseInsensitiveOption));
    makeRule_->setEnabled(!text.trimmed().isEmpty());
    refreshFilter();
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
  table_->setMinimumHeight(120);
  table_->setAccessibleName(tr("Objects"));
  column_->addWidget(table_, 1);
  connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { tellChosen(); });
  const QString names[] = {tr("Ground"), tr("Obstacle"), tr("Cut"), tr("Ignore")};
  const QString tips[] = {tr("The chosen objects can be walked on"), tr("The chosen objects only stand in the way"),
                          tr("The chosen objects take away the ground they lie on"), tr("The chosen objects are not there")};
  for (int i = 0; i < 4; ++i) {
    roles_[i] = button(names[i], tips[i]);
    roles_[i]->setObjectName(QStringLiteral("narrow"));
    connect(roles_[i], &QPushButton::clicked, this, [this, i] { giveRole(chosen(), static_cast<level::Role>(i)); });
  }
  roleRow_ = row({roles_[0], roles_[1], roles_[2], roles_[3]});
}

void ObjectsPage::addRules() {
  makeRule_ = button(tr("Rule for the filter…"), tr("All objects that fit the filter count as one thing, those that appear later too"));
  makeRule_->setEnabled(false);
  auto* menu = new QMenu(makeRule_);
  for (const level::Role role : {level::Role::ground, level::Role::obstacle, level::Role::cuts, level::Role::ignored})
    menu->addAction(roleText(role), this, [this, role] { addRule(role); });
  makeRule_->setMenu(menu);
  removeRule_ = button(tr("Remove rule"), tr("Remove the chosen rule"));
  ruleRow_ = row({makeRule_, removeRule_});
  rules_ = list(tr("Rules"), ThingKind::rule);
  rules_->fitRows(66);
  connect(removeRule_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::rule); });
}

/// Without objects there is nothing to sort, and no empty list for it.
void ObjectsPage::showObjects(bool any) {
  for (QWidget* w : std::initializer_list<QWidget*>{objectsTitle_, pattern_, table_, roleRow_, ruleRow_}) w->setVisible(any);
}

std::size_t ObjectsPage::fileIndex() const { return static_cast<std::size_t>(std::max(0, files_->currentIndex())); }

void ObjectsPage::editFile(const QString& label, const std::function<void(project::LevelFile&)>& change, const QString& key) {
  const std::size_t at = fileIndex();
  if (at >= workspace_.project().level->files.size()) return;
  workspace_.change(
      label, [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { change(s.files[at]); }); },
      key.isEmpty() ? key : key + QString::number(at));
}

void ObjectsPage::addRule(level::Role role) {
  std::string pattern = pattern_->text().trimmed().toStdString();
  if (pattern.empty()) return;
  // The filter finds its text anywhere in a name; so does the rule.
  if (pattern.find('*') == std::string::npos && pattern.find('?') == std::string::npos) pattern = "*" + pattern + "*";
  workspace_.change(tr("Add rule"), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) { s.rules.push_back({pattern, role}); });
  });
}

Tool* ObjectsPage::tool() { return tool_.get(); }

/// Of what the filter shows.
bool ObjectsPage::chooseAll() {
  table_->selectAll();
  return true;
}

/// What is chosen in the table is chosen; what the filter hides is not.
void ObjectsPage::tellChosen() {
  if (following_) return;
  std::set<std::string> names;
  for (const QModelIndex& index : table_->selectionModel()->selectedRows()) names.insert(index.data().toString().toStdString());
  workspace_.selection().set(ThingKind::object, std::move(names));
}

void ObjectsPage::followChosen() {
  const auto& names = chosen();
  std::set<std::string> shown;
  for (const QModelIndex& index : table_->selectionModel()->selectedRows()) shown.insert(index.data().toString().toStdString());
  if (shown == names) return;
  following_ = true;
  QItemSelection rows;
  for (int i = 0; i < filtered_.rowCount(); ++i)
    if (const QModelIndex at = filtered_.index(i, 0); names.contains(at.data().toString().toStdString())) rows.select(at, at);
  table_->selectionModel()->select(rows, QItemSelectionModel::Rows | QItemSelectionModel::ClearAndSelect);
  if (!rows.isEmpty()) table_->scrollTo(rows.first().topLeft());
  following_ = false;
}

void ObjectsPage::giveRole(const std::set<std::string>& names, level::Role role) {
  if (names.empty() || !workspace_.level()) return;
  workspace_.change(tr("Mark %n object(s) as %1", nullptr, static_cast<int>(names.size())).arg(roleText(role)), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) {
      for (const level::Object& object : workspace_.level()->level->objects) {
        if (!names.contains(object.name)) continue;
        // A mark that says what the rules or the file say anyway is none.
        s.roles.erase(object.name);
        if (level::roleOf(object, s.roles, s.rules) != role) s.roles[object.name] = role;
      }
    });
  });
}

void ObjectsPage::refreshFiles() {
  const project::LevelSection& section = *workspace_.project().level;
  const QSignalBlocker blocker(files_);
  const int kept = files_->currentIndex();
  files_->clear();
  for (const project::LevelFile& f : section.files) files_->addItem(QFileInfo(QString::fromStdString(f.path)).fileName());
  if (!section.files.empty()) files_->setCurrentIndex(std::clamp(kept, 0, files_->count() - 1));
  const bool any = !section.files.empty();
  const bool map = any && level::isHeightMap(section.files[fileIndex()].path);
  files_->setVisible(any);
  const bool tiles = any && level::isTileMap(section.files[fileIndex()].path);
  pieces_->setVisible(any && !map && !tiles);
  up_->setVisible(any && !map && !tiles), scale_->setVisible(any && !map && !tiles);
  spacing_->setVisible(map), rise_->setVisible(map);
  pixels_->setVisible(tiles), tall_->setVisible(tiles), solidRow_->setVisible(tiles);
  removeFile_->setVisible(section.files.size() > 1);
  addBeside_->setEnabled(any);
  if (!any) return;
  const project::LevelFile& file = section.files[fileIndex()];
  up_->setCurrentIndex(file.import.up == level::UpAxis::z ? 1 : 0);
  scale_->setValue(file.import.scale);
  pieces_->setChecked(file.import.pieces);
  spacing_->setValue(file.import.spacing), rise_->setValue(file.import.rise);
  pixels_->setValue(1 / file.import.spacing), tall_->setValue(file.import.rise);
  if (!solid_->hasFocus()) solid_->setText(QString::fromStdString(file.import.solid));
}

const level::UnitsGuess* ObjectsPage::guessed() const {
  const auto level = workspace_.level();
  return level ? pipeline::guessOf(*level, *workspace_.project().level, fileIndex()) : nullptr;
}

void ObjectsPage::refreshNews() {
  const level::UnitsGuess* units = guessed();
  guess_->setVisible(units), guessRow_->setVisible(units);
  if (units) {
    guess_->setText(QString::fromStdString(units->reason));
    readSo_->setText(QString::fromStdString(level::howToRead(workspace_.project().level->files[fileIndex()].import, units->read)));
    readSo_->setAccessibleName(readSo_->text());
  }
  const pipeline::LevelNews& news = workspace_.source().news();
  news_->setVisible(!news.empty());
  news_->setText(QString::fromStdString(news.sentence()));
  newsRow_->setVisible(!news.changed.empty() || !news.fresh.empty());
}

void ObjectsPage::chooseNews() {
  pattern_->clear();
  const pipeline::LevelNews& news = workspace_.source().news();
  std::set<std::string> names(news.changed.begin(), news.changed.end());
  names.insert(news.fresh.begin(), news.fresh.end());
  Box3 box;
  for (const level::Object& object : workspace_.level()->level->objects) {
    if (!names.contains(object.name)) continue;
    if (const Box3 bounds = object.bounds(); !bounds.empty()) box.add(bounds.min), box.add(bounds.max);
  }
  workspace_.selection().set(ThingKind::object, std::move(names));
  if (!box.empty()) emit showBox(box);
}

void ObjectsPage::refreshRules() {
  const project::LevelSection& section = *workspace_.project().level;
  std::vector<ItemRow> rows;
  for (const level::RoleRule& rule : section.rules) {
    std::size_t fitting = 0;
    if (const auto level = workspace_.level())
      for (const level::Object& o : level->level->objects) fitting += level::fits(rule, o);
    rows.push_back(
        {std::to_string(rows.size()), tr("%1: %2 (%3 fit)").arg(QString::fromStdString(rule.pattern), roleText(rule.role)).arg(fitting)});
  }
  rules_->setRows(std::move(rows));
  rules_->setVisible(!section.rules.empty() && model_.rowCount() > 0);
  removeRule_->setVisible(!section.rules.empty());
  removeRule_->setEnabled(rules_->currentRow() >= 0);
}

void ObjectsPage::refreshFilter() {
  fits_->setVisible(model_.rowCount() > 0 && !pattern_->text().trimmed().isEmpty());
  fits_->setText(tr("%1 of %2 fit the filter").arg(filtered_.rowCount()).arg(model_.rowCount()));
}

void ObjectsPage::refreshSize() {
  const auto level = workspace_.level();
  const bool trouble = workspace_.source().problem().has_value();
  size_->setObjectName(trouble ? QStringLiteral("trouble") : QStringLiteral("quiet"));
  size_->style()->unpolish(size_), size_->style()->polish(size_);  // the style goes by the name
  if (trouble) {
    size_->setText(QString::fromStdString(workspace_.source().problem()->text()));
  } else if (level && level->files.empty()) {
    size_->setText(tr("No file: everything is drawn by hand, under Blockers."));
  } else if (level) {
    const Vec3 size = workspace_.source().bounds().size();
    constexpr double kMiB = 1024 * 1024;
    const bool coarse = workspace_.source().picture()->level != level->level;
    QString text = tr("%1 × %2 m, %3 m high, %4 triangles, %5 MiB. %6")
                       .arg(size.x, 0, 'f', 1)
                       .arg(size.z, 0, 'f', 1)
                       .arg(size.y, 0, 'f', 1)
                       .arg(countText(level->level->triangleCount()))
                       .arg(static_cast<double>(workspace_.source().bytes()) / kMiB, 0, 'f', 1)
                       .arg(tr("Compare with the 1.8 m figure beside it."));
    if (coarse) text += tr(" It is large: far from the place that is looked at it is drawn coarsely.");
    size_->setText(text);
  } else {
    size_->setText(tr("No level yet."));
  }
}

void ObjectsPage::refresh(Topics changed) {
  if (projectNumber_ != workspace_.projectNumber()) {
    projectNumber_ = workspace_.projectNumber();
    pattern_->clear();
  }
  if (changed & (Topic::level | Topic::stop)) {
    following_ = true;  // another level takes the rows of the table away; that is no choice
    model_.levelChanged();
    following_ = false;
  }
  if (changed & (Topic::level | Topic::levelSection | Topic::theme)) model_.rolesChanged();
  followChosen();
  refreshFilter();
  refreshFiles();
  refreshRules();
  showObjects(model_.rowCount() > 0);
  refreshSize();
  refreshNews();
  for (QPushButton* b : roles_) b->setEnabled(!chosen().empty());
  makeRule_->setEnabled(!pattern_->text().trimmed().isEmpty());
}

}  // namespace dune::window
