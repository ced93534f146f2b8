#include "window/stops/crowd/compare_page.h"

#include <QHeaderView>

#include "core/pipeline/crowd_run.h"

namespace dune::window {

ComparePage::ComparePage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(tr("The same start twice, side by side: A steers as each group says, B all as below."));
  on_ = new QCheckBox(tr("Walk a second time, as B"));
  column_->addWidget(on_);
  connect(on_, &QCheckBox::toggled, this, [this](bool on) {
    workspace_.change(on ? tr("Compare with B") : tr("Compare no more"), [on](project::Project& p) {
      project::edit(p.crowd, [on](project::CrowdSection& s) {
        s.other.reset();
        if (on) s.other.emplace().model = crowd::Steering::directionRing;
      });
    });
  });
  hint_ = quiet({});
  table_ = new QTableWidget(0, 4);
  table_->setAccessibleName(tr("A against B"));
  table_->setHorizontalHeaderLabels({QString(), tr("A"), tr("B"), tr("B − A")});
  table_->verticalHeader()->hide();
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setFocusPolicy(Qt::NoFocus);
  table_->setShowGrid(false);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  table_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  column_->addWidget(table_);
  fields_ = new SteeringFields(tr("B"));
  column_->addWidget(fields_);
  connect(fields_, &SteeringFields::edited, this, [this](const crowd::SteeringSettings& settings, const QString& what) {
    workspace_.change(
        tr("Change steering of B"),
        [&](project::Project& p) { project::edit(p.crowd, [&](project::CrowdSection& s) { s.other = settings; }); },
        what.isEmpty() ? what : QStringLiteral("b ") + what);
  });
  connect(fields_, &SteeringFields::finished, this, [this] { workspace_.document().endMerge(); });
}

void ComparePage::refresh(Topics) {
  const auto& other = workspace_.project().crowd->other;
  const QSignalBlocker blocker(on_);
  on_->setChecked(other.has_value());
  fields_->setVisible(other.has_value());
  if (other) fields_->show(*other);
  fillTable();
}

void ComparePage::fillTable() {
  const auto a = workspace_.crowdRun(), b = workspace_.crowd().other();
  const bool both = a && b && workspace_.runFresh();
  table_->setVisible(both);
  hint_->setVisible(workspace_.project().crowd->other && !both);
  hint_->setText(tr("Run to see both."));
  if (!both) return;
  const auto figures = pipeline::figures();
  table_->setRowCount(static_cast<int>(figures.size()));
  for (std::size_t i = 0; i < figures.size(); ++i) {
    const pipeline::Figure& f = figures[i];
    const QString none = QStringLiteral("–"), name = *f.unit ? tr("%1, %2").arg(tr(f.name), tr(f.unit)) : tr(f.name);
    const auto text = [&](const pipeline::RunFigures& r) { return f.says(r) ? QString::number(r.*f.value, 'f', f.digits) : none; };
    const double more = b->figures.*f.value - a->figures.*f.value;
    const bool known = f.says(a->figures) && f.says(b->figures);
    const QString difference = known ? (more > 0 ? QStringLiteral("+") : QString()) + QString::number(more, 'f', f.digits) : none;
    const QString cells[] = {name, text(a->figures), text(b->figures), difference};
    for (int c = 0; c < 4; ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      if (c > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      table_->setItem(static_cast<int>(i), c, item);
    }
  }
  table_->resizeRowsToContents();
  int height = table_->horizontalHeader()->height() + 4;
  for (int i = 0; i < table_->rowCount(); ++i) height += table_->rowHeight(i);
  table_->setFixedHeight(height);
}

}  // namespace dune::window
