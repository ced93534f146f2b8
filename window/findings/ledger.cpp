#include "window/findings/ledger.h"

#include <QHBoxLayout>
#include <QToolButton>

namespace dune::window {

namespace {
constexpr int kStripWidth = 44, kPageWidth = 270;
}

Ledger::Ledger(QWidget* parent) : QWidget(parent) {
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
  list_ = new QListView;
  list_->setModel(&model_);
  list_->setWordWrap(true);
  list_->setUniformItemSizes(false);
  list_->setResizeMode(QListView::Adjust);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setSpacing(2);
  list_->setAccessibleName(tr("Findings"));
  pageColumn->addWidget(list_, 1);
  detail_ = new QLabel;
  detail_->setWordWrap(true);
  detail_->setObjectName(QStringLiteral("quiet"));
  pageColumn->addWidget(detail_);
  remedy_ = new QPushButton;
  remedy_->hide();
  pageColumn->addWidget(remedy_);
  connect(remedy_, &QPushButton::clicked, this, [this] {
    const QModelIndex index = list_->currentIndex();
    if (index.isValid() && model_.at(index.row()).remedy) emit remedyAsked(*model_.at(index.row()).remedy);
  });
  layout->addWidget(strip_);
  layout->addWidget(page_);
  connect(unfold_, &QToolButton::clicked, this, [this] { setOpen(true); });
  connect(fold_, &QToolButton::clicked, this, [this] { setOpen(false); });
  connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& index) {
    if (!index.isValid()) return;
    const review::Finding& f = model_.at(index.row());
    detail_->setText(QString::fromStdString(f.why + " Try: " + f.advice));
    remedy_->setVisible(f.remedy.has_value());
    if (f.remedy) remedy_->setText(QString::fromStdString(f.remedy->label));
    emit chosen(f);
  });
  setOpen(false);
}

void Ledger::setFindings(std::vector<review::Finding> findings) {
  model_.set(std::move(findings));
  detail_->clear();
  remedy_->hide();
  title_->setText(tr("Findings (%1)").arg(model_.rowCount()));
  const QString shapes[] = {QStringLiteral("◆"), QStringLiteral("▲"), QStringLiteral("●")};
  const QString names[] = {tr("errors"), tr("warnings"), tr("hints")};
  for (int i = 0; i < 3; ++i) {
    const int n = model_.count(static_cast<review::Severity>(i));
    counts_[i]->setText(shapes[i] + QStringLiteral("\n%1").arg(n));
    counts_[i]->setToolTip(QStringLiteral("%1 %2").arg(n).arg(names[i]));
  }
}

void Ledger::setOpen(bool open) {
  open_ = open;
  strip_->setVisible(!open);
  page_->setVisible(open);
}

void Ledger::step(int by) {
  if (model_.rowCount() == 0) return;
  setOpen(true);
  const int row = list_->currentIndex().isValid() ? (list_->currentIndex().row() + by + model_.rowCount()) % model_.rowCount()
                  : by > 0                        ? 0
                                                  : model_.rowCount() - 1;
  list_->setCurrentIndex(model_.index(row));
}

}  // namespace dune::window
