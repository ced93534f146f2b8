#include "window/findings/ledger.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QRegularExpression>
#include <QShortcut>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "core/review/kinds.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kStripWidth = 44, kPageWidth = 270;
constexpr std::size_t kMostOfAKind = 5;  // findings that stand alone; more of one kind are one row that unfolds
const std::string kHead = "kind ";       // begins the key of such a row

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
  auto* top = new QHBoxLayout;
  title_ = new QLabel(tr("Findings"));
  title_->setObjectName(QStringLiteral("title"));
  fold_ = new QToolButton;
  fold_->setText(QStringLiteral("›"));
  fold_->setToolTip(tr("Fold the findings away"));
  fold_->setAccessibleName(tr("Fold findings"));
  top->addWidget(title_, 1);
  top->addWidget(fold_);
  pageColumn->addLayout(top);
  filter_ = new QLineEdit;
  filter_->setPlaceholderText(tr("Filter: words, errors, agent 3"));
  filter_->setAccessibleName(tr("Filter findings"));
  filter_->setClearButtonEnabled(true);
  connect(filter_, &QLineEdit::textChanged, this, [this] { refresh(); });
  pageColumn->addWidget(filter_);
  onlyNew_ = new QCheckBox(tr("Only what is new since the last run"));
  onlyNew_->hide();
  connect(onlyNew_, &QCheckBox::toggled, this, [this] { refresh(); });
  pageColumn->addWidget(onlyNew_);
  list_ = new ItemList(tr("Findings"), selection_, ThingKind::finding);
  list_->setUniformItemSizes(false);
  list_->setSpacing(2);
  pageColumn->addWidget(list_, 1);
  detail_ = new QLabel;
  detail_->setWordWrap(true);
  detail_->setObjectName(QStringLiteral("quiet"));
  pageColumn->addWidget(detail_);
  remedy_ = new QPushButton;
  remedy_->hide();
  pageColumn->addWidget(remedy_);
  connect(remedy_, &QPushButton::clicked, this, [this] {
    const review::Finding* f = findings_.withId(selection_.one(ThingKind::finding));
    if (f && f->remedy) emit remedyAsked(*f->remedy);
  });
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

void Ledger::unfold(const std::string& head, std::optional<bool> open) {
  if (!head.starts_with(kHead)) return;
  const std::string code = head.substr(kHead.size());
  if (open.value_or(!unfolded_.contains(code)))
    unfolded_.insert(code);
  else
    unfolded_.erase(code);
  refresh();
}

/// Each word of the filter stands in what is said of the finding.
bool Ledger::passes(const KeptFinding& kept) const {
  if (onlyNew_->isVisibleTo(this) && onlyNew_->isChecked() && !kept.isNew) return false;
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

ItemRow Ledger::headOf(const std::string& code, std::size_t count) const {
  const review::FindingKind* kind = review::kindOf(code);
  const QString title = kind ? tr(kind->title) : QString::fromStdString(code);
  const bool open = unfolded_.contains(code);
  ItemRow row{kHead + code, QStringLiteral("%1 %2 (%3)").arg(open ? QStringLiteral("▾") : QStringLiteral("▸"), title).arg(count)};
  const auto worst = std::ranges::find(findings_.all(), code, [](const KeptFinding& k) { return k.finding.code; });
  row.icon = mark(worst->finding.severity);
  row.tip = causeOf(code);
  row.spoken = (open ? tr("%1: %2 findings, unfolded") : tr("%1: %2 findings, folded")).arg(title).arg(count);
  return row;
}

QString Ledger::causeOf(const std::string& code) const {
  std::map<std::string, std::size_t> causes;
  std::size_t all = 0;
  for (const KeptFinding& k : findings_.all())
    if (k.finding.code == code && passes(k)) ++causes[k.finding.why], ++all;
  const auto most = std::ranges::max_element(causes, {}, [](const auto& c) { return c.second; });
  if (most == causes.end()) return {};
  return tr("%1 of %2: %3").arg(most->second).arg(all).arg(QString::fromStdString(most->first));
}

void Ledger::refresh() {
  onlyNew_->setVisible(findings_.compares());
  std::map<std::string, std::vector<const KeptFinding*>> byKind;
  std::vector<std::string> order;  // the worst kinds first
  for (const KeptFinding& kept : findings_.all()) {
    if (!passes(kept)) continue;
    auto& of = byKind[kept.finding.code];
    if (of.empty()) order.push_back(kept.finding.code);
    of.push_back(&kept);
  }
  std::vector<ItemRow> rows;
  shown_.clear();
  for (const std::string& code : order) {
    const auto& of = byKind[code];
    const bool many = of.size() > kMostOfAKind;
    if (many) rows.push_back(headOf(code, of.size()));
    for (const KeptFinding* kept : of) {
      shown_.push_back(kept->id);
      if (!many || unfolded_.contains(code)) rows.push_back(rowOf(*kept));
    }
  }
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
  detail_->setText(f                           ? QString::fromStdString(f->why + " Try: " + f->advice)
                   : chosen.starts_with(kHead) ? causeOf(chosen.substr(kHead.size()))
                                               : QString());
  remedy_->setVisible(f && f->remedy);
  if (f && f->remedy) remedy_->setText(QString::fromStdString(f->remedy->label));
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
  if (f && list_->rowOf(id) < 0) {
    unfolded_.insert(f->code);
    refresh();
  }
  list_->setCurrentRow(list_->rowOf(id));
}

}  // namespace dune::window
