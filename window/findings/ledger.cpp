#include "window/findings/ledger.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kStripWidth = 44, kPageWidth = 270;

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
  setOpen(false);
}

void Ledger::refresh() {
  std::vector<ItemRow> rows;
  for (const KeptFinding& kept : findings_.all()) {
    const review::Finding& f = kept.finding;
    const QString sentence = QString::fromStdString(f.sentence);
    ItemRow row{kept.id, f.time >= 0 ? tr("%1 s: %2").arg(f.time, 0, 'f', 1).arg(sentence) : sentence};
    row.icon = mark(f.severity);
    row.tip = QString::fromStdString(f.why + "\nTry: " + f.advice);
    row.spoken = QString::fromStdString(std::string(review::severityName(f.severity)) + ": " + f.sentence);
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
  title_->setText(tr("Findings (%1)").arg(list_->count()));
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
  const review::Finding* f = findings_.withId(selection_.one(ThingKind::finding));
  detail_->setText(f ? QString::fromStdString(f->why + " Try: " + f->advice) : QString());
  remedy_->setVisible(f && f->remedy);
  if (f && f->remedy) remedy_->setText(QString::fromStdString(f->remedy->label));
}

void Ledger::setOpen(bool open) {
  open_ = open;
  strip_->setVisible(!open);
  page_->setVisible(open);
}

void Ledger::step(int by) {
  const int count = list_->count();
  if (count == 0) return;
  setOpen(true);
  const int row = list_->currentRow();
  list_->setCurrentRow(row >= 0 ? (row + by + count) % count : by > 0 ? 0 : count - 1);
}

}  // namespace dune::window
