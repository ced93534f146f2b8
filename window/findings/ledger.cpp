#include "window/findings/ledger.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPainter>
#include <QRegularExpression>
#include <QShortcut>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "core/review/causes.h"
#include "core/review/kinds.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kStripWidth = 44, kPageWidth = 270;
constexpr std::size_t kMostOfAKind = 5;  // findings that stand alone; more of one kind are one row that unfolds
const std::string kHead = "head ";       // begins the key of such a row
const std::string kMuted = "muted";      // the group of what is passed over
const std::string kGone = "gone";        // and of what the run before had

/// Diamond for errors, triangle for warnings, circle for hints: told by shape, not by colour alone.
QPixmap drawnMark(review::Severity severity) {
  QPixmap pixmap(16, 16);
  pixmap.fill(Qt::transparent);
  QPainter p(&pixmap);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  if (severity == review::Severity::error)
    p.setBrush(theme().bad), p.drawPolygon(QPolygonF({{8, 1}, {15, 8}, {8, 15}, {1, 8}}));
  else if (severity == review::Severity::warning)
    p.setBrush(theme().warning), p.drawPolygon(QPolygonF({{8, 2}, {15, 14}, {1, 14}}));
  else
    p.setBrush(theme().hint), p.drawEllipse(3, 3, 10, 10);
  return pixmap;
}

/// The same icon for the same look, so that a list sees that nothing changed.
QIcon mark(review::Severity severity) {
  static std::map<std::pair<review::Severity, bool>, QIcon> known;
  QIcon& icon = known[{severity, theme().dark}];
  if (icon.isNull()) {
    icon = QIcon(drawnMark(severity));
    icon.addPixmap(drawnMark(severity), QIcon::Selected);  // the same on a chosen row
  }
  return icon;
}

}  // namespace

Ledger::Ledger(const FindingList& findings, Selection& selection) : findings_(findings), selection_(selection) {
  setObjectName(QStringLiteral("ledger"));
  setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  strip_ = new QWidget;
  strip_->setFixedWidth(kStripWidth);
  auto* column = new QVBoxLayout(strip_);
  column->setContentsMargins(4, 8, 4, 8);
  unfold_ = new QToolButton;
  unfold_->setText(QStringLiteral("‹"));
  unfold_->setToolTip(tr("Show the findings (F4 goes to the next one)"));
  unfold_->setAccessibleName(tr("Show findings"));
  column->addWidget(unfold_, 0, Qt::AlignHCenter);
  for (int i = 0; i < 3; ++i) {
    counts_[i] = new QLabel;
    counts_[i]->setAlignment(Qt::AlignCenter);
    column->addWidget(counts_[i]);
  }
  column->addStretch(1);
  page_ = new QWidget;
  page_->setFixedWidth(kPageWidth);
  auto* pageColumn = new QVBoxLayout(page_);
  pageColumn->setContentsMargins(10, 10, 10, 10);
  makeTop(pageColumn);
  list_ = new ItemList(tr("Findings"), selection_, ThingKind::finding);
  list_->setUniformItemSizes(false);
  list_->setSpacing(2);
  pageColumn->addWidget(list_, 1);
  makeBottom(pageColumn);
  layout->addWidget(strip_);
  layout->addWidget(page_);
  connect(unfold_, &QToolButton::clicked, this, [this] { setOpen(true); });
  connect(fold_, &QToolButton::clicked, this, [this] { setOpen(false); });
  connect(list_, &ItemList::chosen, this, [this](const std::string& id) {
    showChosen();
    if (const review::Finding* f = findings_.withId(id)) emit chosen(*f);
  });
  // A click or the keys unfold what is folded away.
  const auto headAt = [this](const QModelIndex& row) { return row.isValid() ? list_->keyAt(row.row()) : std::string(); };
  connect(list_, &QListView::clicked, this, [this, headAt](const QModelIndex& row) { unfold(headAt(row), std::nullopt); });
  for (const auto& [key, open] : {std::pair(Qt::Key_Return, std::optional<bool>()), {Qt::Key_Right, true}, {Qt::Key_Left, false}}) {
    auto* shortcut = new QShortcut(key, list_);
    shortcut->setContext(Qt::WidgetShortcut);
    connect(shortcut, &QShortcut::activated, this, [this, headAt, open] { unfold(headAt(list_->currentIndex()), open); });
  }
  setOpen(false);
}

void Ledger::makeTop(QVBoxLayout* column) {
  auto* top = new QHBoxLayout;
  title_ = new QLabel(tr("Findings"));
  title_->setObjectName(QStringLiteral("title"));
  fold_ = new QToolButton;
  fold_->setText(QStringLiteral("›"));
  fold_->setToolTip(tr("Fold the findings away"));
  fold_->setAccessibleName(tr("Fold findings"));
  top->addWidget(title_, 1);
  top->addWidget(fold_);
  column->addLayout(top);
  filter_ = new QLineEdit;
  filter_->setPlaceholderText(tr("Filter: words, errors, agent 3"));
  filter_->setAccessibleName(tr("Filter findings"));
  filter_->setClearButtonEnabled(true);
  connect(filter_, &QLineEdit::textChanged, this, [this] { refresh(); });
  column->addWidget(filter_);
  grouping_ = new QComboBox;
  grouping_->setAccessibleName(tr("How findings are put together"));
  grouping_->addItem(tr("By kind"), static_cast<int>(Grouping::kind));
  grouping_->addItem(tr("By cause"), static_cast<int>(Grouping::cause));
  grouping_->addItem(tr("By place"), static_cast<int>(Grouping::place));
  grouping_->addItem(tr("By agent"), static_cast<int>(Grouping::agent));
  connect(grouping_, &QComboBox::activated, this, [this] { refresh(); });
  column->addWidget(grouping_);
  onlyNew_ = new QCheckBox(tr("Only what is new since the last run"));
  onlyNew_->hide();
  connect(onlyNew_, &QCheckBox::toggled, this, [this] { refresh(); });
  column->addWidget(onlyNew_);
}

void Ledger::makeBottom(QVBoxLayout* column) {
  detail_ = new QLabel;
  detail_->setWordWrap(true);
  detail_->setObjectName(QStringLiteral("quiet"));
  column->addWidget(detail_);
  auto* buttons = new QHBoxLayout;
  remedy_ = new QPushButton;
  remedy_->hide();
  all_ = new QPushButton;
  all_->hide();
  connect(all_, &QPushButton::clicked, this, [this] { emit remedyForAllAsked(allOf_); });
  mute_ = new QPushButton;
  mute_->hide();
  buttons->addWidget(remedy_, 1);
  buttons->addWidget(all_);
  buttons->addWidget(mute_);
  column->addLayout(buttons);
  const auto chosenOne = [this] { return findings_.withId(selection_.one(ThingKind::finding)); };
  connect(remedy_, &QPushButton::clicked, this, [this, chosenOne] {
    if (const review::Finding* f = chosenOne(); f && f->remedy) emit remedyAsked(*f->remedy);
  });
  auto* further = new QHBoxLayout;
  for (std::size_t i = 0; i < instead_.size(); ++i) {
    instead_[i] = new QPushButton;
    instead_[i]->hide();
    further->addWidget(instead_[i], 1);
    connect(instead_[i], &QPushButton::clicked, this, [this, chosenOne, i] {
      if (const review::Finding* f = chosenOne(); f && i < f->instead.size()) emit remedyAsked(f->instead[i]);
    });
  }
  column->addLayout(further);
  connect(mute_, &QPushButton::clicked, this, [this, chosenOne] {
    if (const review::Finding* f = chosenOne()) emit muteAsked(*f);
  });
}

Grouping Ledger::grouping() const { return static_cast<Grouping>(grouping_->currentData().toInt()); }

void Ledger::unfold(const std::string& head, std::optional<bool> open) {
  if (!head.starts_with(kHead)) return;
  const std::string key = head.substr(kHead.size());
  if (open.value_or(!unfolded_.contains(key)))
    unfolded_.insert(key);
  else
    unfolded_.erase(key);
  refresh();
}

/// Each word of the filter stands in what is said of the finding.
bool Ledger::passes(const KeptFinding& kept) const {
  const review::Finding& f = kept.finding;
  const review::FindingKind* kind = review::kindOf(f.code);
  std::string all = std::string(review::severityName(f.severity)) + "s " + f.code + ' ' + (kind ? tr(kind->title).toStdString() : "") +
                    ' ' + f.sentence + ' ' + f.why;
  if (f.agent >= 0) all += " agent " + std::to_string(f.agent) + ' ';
  const QString said = QString::fromStdString(all);
  // "agent 3" is not agent 30.
  const QString text = filter_->text().simplified();
  static const QRegularExpression kAgent(QStringLiteral("\\bagent (\\d+)\\b"), QRegularExpression::CaseInsensitiveOption);
  if (const auto agent = kAgent.match(text); agent.hasMatch()) {
    const int asked = agent.captured(1).toInt();
    if (f.agent != asked && std::ranges::count(f.others, asked) == 0) return false;
  }
  const QStringList words = QString(text).remove(kAgent).split(QLatin1Char(' '), Qt::SkipEmptyParts);
  return std::ranges::all_of(words, [&](const QString& word) { return said.contains(word, Qt::CaseInsensitive); });
}

ItemRow Ledger::rowOf(const KeptFinding& kept) const {
  const review::Finding& f = kept.finding;
  const QString sentence = QString::fromStdString(f.sentence);
  ItemRow row{kept.id, f.timed() ? tr("%1 s: %2").arg(f.time, 0, 'f', 1).arg(sentence) : sentence};
  row.icon = mark(f.severity);
  row.tip = QString::fromStdString(f.why + "\nTry: " + f.advice);
  row.spoken = QString::fromStdString(std::string(review::severityName(f.severity)) + ": " + f.sentence);
  return row;
}

ItemRow Ledger::headOf(const FindingGroup& group) const {
  const bool open = unfolded_.contains(group.key);
  const std::size_t count = group.findings.size();
  ItemRow row{kHead + group.key,
              QStringLiteral("%1 %2 (%3)").arg(open ? QStringLiteral("▾") : QStringLiteral("▸"), group.title).arg(count)};
  row.icon = mark(group.findings.front()->finding.severity);
  row.tip = causes_.at(group.key);
  row.spoken = (open ? tr("%1: %2 findings, unfolded") : tr("%1: %2 findings, folded")).arg(group.title).arg(count);
  return row;
}

void Ledger::addRows(const FindingGroup& group, bool folds, std::vector<ItemRow>& rows) {
  if (folds) {
    review::Causes causes;
    for (const KeptFinding* kept : group.findings) causes.add(kept->finding.muted.empty() ? kept->finding.why : kept->finding.muted);
    causes_[group.key] = QString::fromStdString(causes.sentence());
    rows.push_back(headOf(group));
  }
  for (const KeptFinding* kept : group.findings) {
    if (folds) head_[kept->id] = group.key;
    if (!folds || unfolded_.contains(group.key)) rows.push_back(rowOf(*kept));
  }
}

std::vector<const KeptFinding*> Ledger::passing(const std::vector<KeptFinding>& of) const {
  std::vector<const KeptFinding*> all;
  for (const KeptFinding& kept : of)
    if (passes(kept)) all.push_back(&kept);
  return all;
}

void Ledger::refresh() {
  // What was looked for in another project is not looked for in this one.
  if (std::exchange(listNumber_, findings_.number()) != findings_.number()) {
    const QSignalBlocker typing(filter_), choosing(onlyNew_);
    filter_->clear(), onlyNew_->setChecked(false), unfolded_.clear(), grouping_->setCurrentIndex(0);
  }
  onlyNew_->setVisible(findings_.compares());
  onlyNew_->setText(findings_.based() ? tr("Only what is new against the other run") : tr("Only what is new since the last run"));
  std::vector<ItemRow> rows;
  shown_.clear(), causes_.clear(), head_.clear();
  const std::size_t alone = grouping() == Grouping::kind ? kMostOfAKind : 1;
  auto told = passing(findings_.all());
  if (findings_.compares() && onlyNew_->isChecked()) std::erase_if(told, [](const KeptFinding* k) { return !k->isNew; });
  for (const FindingGroup& group : grouped(told, grouping())) {
    for (const KeptFinding* kept : group.findings) shown_.push_back(kept->id);
    addRows(group, group.findings.size() > alone, rows);
  }
  if (auto muted = passing(findings_.muted()); !muted.empty()) addRows({kMuted, tr("Muted"), std::move(muted)}, true, rows);
  if (auto gone = passing(findings_.gone()); !gone.empty()) addRows({kGone, tr("No more there"), std::move(gone)}, true, rows);
  list_->setRows(std::move(rows));
  const std::size_t all = findings_.all().size();
  title_->setText(shown_.size() == all ? tr("Findings (%1)").arg(all) : tr("Findings (%1 of %2)").arg(shown_.size()).arg(all));
  const QString shapes[] = {QStringLiteral("◆"), QStringLiteral("▲"), QStringLiteral("●")};
  const QString names[] = {tr("errors"), tr("warnings"), tr("hints")};
  for (int i = 0; i < 3; ++i) {
    const std::size_t n = findings_.count(static_cast<review::Severity>(i));
    counts_[i]->setText(shapes[i] + QStringLiteral("\n%1").arg(n));
    counts_[i]->setToolTip(QStringLiteral("%1 %2").arg(n).arg(names[i]));
  }
  showChosen();
}

void Ledger::showChosen() {
  const std::string chosen = selection_.one(ThingKind::finding);
  const review::Finding* f = findings_.withId(chosen);
  const auto cause = chosen.starts_with(kHead) ? causes_.find(chosen.substr(kHead.size())) : causes_.end();
  QString said = f ? QString::fromStdString(f->why + " Try: " + f->advice) : cause != causes_.end() ? cause->second : QString();
  if (f && !f->muted.empty()) said = tr("Muted: %1.").arg(QString::fromStdString(f->muted)) + QLatin1Char(' ') + said;
  detail_->setText(said);
  remedy_->setVisible(f && f->remedy);
  if (f && f->remedy) remedy_->setText(QString::fromStdString(f->remedy->label));
  showInstead(f);
  showRemedyForAll(chosen, f);
  mute_->setVisible(f && !chosen.starts_with(kGoneId));
  if (f) mute_->setText(f->muted.empty() ? tr("Mute…") : tr("Tell again"));
}

void Ledger::showInstead(const review::Finding* f) {
  for (std::size_t i = 0; i < instead_.size(); ++i) {
    const bool is = f && i < f->instead.size();
    instead_[i]->setVisible(is);
    if (is) instead_[i]->setText(QString::fromStdString(f->instead[i].label));
  }
}

std::vector<QPushButton*> Ledger::insteadButtons() const {
  std::vector<QPushButton*> shown;
  std::ranges::copy_if(instead_, std::back_inserter(shown), [](const QPushButton* b) { return !b->isHidden(); });
  return shown;
}

/// Of what is chosen, or of the group whose head is.
void Ledger::showRemedyForAll(const std::string& chosen, const review::Finding* f) {
  allOf_ = f ? f->code : std::string();
  if (!f && chosen.starts_with(kHead)) {
    std::set<std::string> codes;
    for (const KeptFinding& kept : findings_.all())
      if (const auto head = head_.find(kept.id); head != head_.end() && kHead + head->second == chosen) codes.insert(kept.finding.code);
    if (codes.size() == 1) allOf_ = *codes.begin();
  }
  const auto count = std::ranges::count_if(
      findings_.all(), [&](const KeptFinding& kept) { return kept.finding.code == allOf_ && kept.finding.remedy.has_value(); });
  all_->setVisible(count > 1);
  all_->setText(tr("All %1").arg(count));
  all_->setToolTip(tr("Does that for all findings of this kind"));
}

void Ledger::setOpen(bool open) {
  open_ = open;
  strip_->setVisible(!open);
  page_->setVisible(open);
}

/// Over all that pass the filter; what is folded away unfolds.
void Ledger::step(int by) {
  const auto count = static_cast<std::ptrdiff_t>(shown_.size());
  if (count == 0) return;
  setOpen(true);
  const auto now = std::ranges::find(shown_, selection_.one(ThingKind::finding));
  const std::ptrdiff_t at = now == shown_.end() ? (by > 0 ? 0 : count - 1) : (now - shown_.begin() + by + count) % count;
  choose(shown_[static_cast<std::size_t>(at)]);
}

void Ledger::choose(const std::string& id) {
  const review::Finding* f = findings_.withId(id);
  if (const auto head = head_.find(id); f && head != head_.end() && list_->rowOf(id) < 0) {
    unfolded_.insert(head->second);
    refresh();
  }
  list_->setCurrentRow(list_->rowOf(id));
}

}  // namespace dune::window
