#include "window/stops/areas/names_page.h"

#include <QCompleter>

#include "core/pipeline/ground.h"
#include "window/scene/layers.h"
#include "window/session/hand_made.h"
#include "window/widgets/swatch.h"

namespace dune::window {

namespace {

QStringList namesOf(const level::Level& level) {
  QStringList names;
  for (const level::Object& o : level.objects) {
    names << QString::fromStdString(o.name);
    if (!o.file.empty()) names << QString::fromStdString(o.file) + QStringLiteral("/*");
    for (const level::MaterialRun& run : o.materials)
      if (!run.name.empty()) names << QString::fromStdString(run.name);
  }
  names.sort(Qt::CaseInsensitive);
  names.removeDuplicates();
  return names;
}

}  // namespace

NamesPage::NamesPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(tr("Ground on objects, or on what is of a material, whose name fits is of a kind. What is drawn or painted goes before it."));
  pattern_ = new QLineEdit;
  pattern_->setAccessibleName(tr("Names that fit"));
  pattern_->setPlaceholderText(tr("name or material; * for any letters"));
  pattern_->setToolTip(tr("The name of an object or a material, or all of one file as yard/*; * stands for any letters, ? for one"));
  column_->addWidget(pattern_);
  names_ = new QStringListModel(this);
  auto* completer = new QCompleter(names_, this);
  completer->setFilterMode(Qt::MatchContains);
  completer->setCaseSensitivity(Qt::CaseInsensitive);
  pattern_->setCompleter(completer);
  fitting_ = quiet({});
  kind_ = new QComboBox;
  kind_->setAccessibleName(tr("Kind of ground there"));
  kind_->setMinimumWidth(128);
  add_ = button(tr("Add"), tr("Ground on what fits is of this kind"));
  row({kind_, add_});
  connect(pattern_, &QLineEdit::textChanged, this, [this] { showFitting(); });
  connect(pattern_, &QLineEdit::returnPressed, this, [this] { addRule(); });
  connect(add_, &QPushButton::clicked, this, [this] { addRule(); });
  section(tr("In use"));
  none_ = quiet(tr("Nothing yet: all ground that nobody draws a kind on is of the first one."));
  rules_ = list(tr("Kinds by name"), ThingKind::groundRule);
  rules_->fitRows(220);
  later_ = button(tr("Over others"), tr("Where several fit, this one counts"));
  earlier_ = button(tr("Under others"), tr("Where several fit, the others count"));
  orderRow_ = row({later_, earlier_});
  remove_ = button(tr("Remove"), tr("Remove the chosen one (Delete)"));
  row({remove_});
  connect(later_, &QPushButton::clicked, this, [this] { moveRule(true); });
  connect(earlier_, &QPushButton::clicked, this, [this] { moveRule(false); });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::groundRule); });
}

void NamesPage::refresh(Topics) {
  refreshNames();
  refreshKinds();
  refreshRules();
  showFitting();
}

void NamesPage::refreshNames() {
  const auto loaded = workspace_.level();
  const auto level = loaded ? loaded->level : nullptr;
  if (level == named_) return;
  named_ = level;
  names_->setStringList(level ? namesOf(*level) : QStringList());
}

void NamesPage::refreshKinds() {
  const QString chosen = kind_->currentText();
  const QSignalBlocker blocker(kind_);
  kind_->clear();
  const auto& kinds = workspace_.project().areas->kinds;
  for (const level::AreaKind& k : kinds) kind_->addItem(swatch(kindColour(k.colour)), QString::fromStdString(k.name));
  const int at = kind_->findText(chosen);
  kind_->setCurrentIndex(at >= 0 ? at : std::min(1, static_cast<int>(kinds.size()) - 1));  // the first is what ground is anyway
}

void NamesPage::refreshRules() {
  const project::AreasSection& areas = *workspace_.project().areas;
  std::vector<ItemRow> rows;
  for (const level::GroundRule& rule : areas.byName) {
    const auto kind = std::ranges::find(areas.kinds, rule.kind, &level::AreaKind::name);
    ItemRow row{std::to_string(rows.size()), tr("%1: %2 (%3 fit)")
                                                 .arg(QString::fromStdString(rule.pattern), QString::fromStdString(rule.kind))
                                                 .arg(named_ ? level::countFitting(*named_, rule.pattern) : 0)};
    if (kind != areas.kinds.end()) row.icon = swatch(kindColour(kind->colour));
    rows.push_back(std::move(row));
  }
  rules_->setRows(std::move(rows));
  const int at = rules_->currentRow(), count = static_cast<int>(areas.byName.size());
  none_->setVisible(count == 0), rules_->setVisible(count > 0);
  orderRow_->setVisible(count > 1), remove_->setVisible(count > 0);
  later_->setEnabled(at >= 0 && at + 1 < count), earlier_->setEnabled(at > 0), remove_->setEnabled(at >= 0);
}

void NamesPage::showFitting() {
  const std::string pattern = pattern_->text().trimmed().toStdString();
  add_->setEnabled(!pattern.empty());
  fitting_->setVisible(named_ && !pattern.empty());
  if (!named_ || pattern.empty()) return;
  fitting_->setText(tr("%1 of %2 objects fit").arg(level::countFitting(*named_, pattern)).arg(named_->objects.size()));
}

void NamesPage::addRule() {
  const std::string pattern = pattern_->text().trimmed().toStdString(), kind = kind_->currentText().toStdString();
  if (pattern.empty() || kind.empty()) return;
  workspace_.change(tr("Kind by name"), [&](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) {
      std::erase_if(s.byName, [&](const level::GroundRule& r) { return r.pattern == pattern; });
      s.byName.push_back({pattern, kind});
    });
  });
  workspace_.selection().choose(ThingKind::groundRule, static_cast<int>(workspace_.project().areas->byName.size()) - 1);
  pattern_->clear();
}

void NamesPage::moveRule(bool later) {
  const int at = rules_->currentRow(), to = later ? at + 1 : at - 1;
  if (at < 0 || to < 0 || to >= static_cast<int>(workspace_.project().areas->byName.size())) return;
  workspace_.change(later ? tr("Put name over others") : tr("Put name under others"), [&](project::Project& p) {
    project::edit(p.areas, [&](project::AreasSection& s) {
      std::swap(s.byName[static_cast<std::size_t>(at)], s.byName[static_cast<std::size_t>(to)]);
    });
  });
  workspace_.selection().choose(ThingKind::groundRule, to);
}

}  // namespace dune::window
