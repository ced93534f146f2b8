#include "window/widgets/reading_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <set>

namespace dune::window {

namespace {
constexpr int kRowsHigh = 150;
}

ReadingDialog::ReadingDialog(trace::TableHead head, const trace::Reading& now, const QString& file, QWidget* parent)
    : QDialog(parent), head_(std::move(head)) {
  setWindowTitle(tr("How %1 is read").arg(file));
  auto* column = new QVBoxLayout(this);
  column->addWidget(new QLabel(tr("Its first lines:")));
  column->addWidget(preview());
  auto* form = new QFormLayout;
  const QString names[] = {tr("Time"), tr("Agent"), tr("Place, x"), tr("Place, y"), tr("Place, z")};
  for (std::size_t i = 0; i < columns_.size(); ++i) {
    columns_[i] = columnBox(trace::kNeeded[i], now);
    columns_[i]->setAccessibleName(names[i]);
    form->addRow(names[i], columns_[i]);
  }
  const auto choice = [&](const QString& name, std::initializer_list<std::pair<QString, double>> values, double is) {
    auto* box = new QComboBox;
    box->setAccessibleName(name);
    for (const auto& [words, value] : values) {
      box->addItem(words, value);
      if (value == is) box->setCurrentIndex(box->count() - 1);
    }
    if (box->currentData().toDouble() != is) box->addItem(QStringLiteral("× %1").arg(is), is), box->setCurrentIndex(box->count() - 1);
    form->addRow(name, box);
    return box;
  };
  unit_ = choice(tr("Places in"),
                 {{tr("metres"), 1}, {tr("centimetres"), 0.01}, {tr("millimetres"), 0.001}, {tr("inches"), 0.0254}, {tr("feet"), 0.3048}},
                 now.scale);
  up_ = choice(tr("Up is"), {{tr("y"), 0}, {tr("z"), 1}}, now.zUp);
  time_ = choice(tr("Times in"), {{tr("seconds"), 1}, {tr("milliseconds"), 0.001}}, now.seconds);
  column->addLayout(form);
  auto* note = new QLabel(tr("Recordings with the same columns are read like that from now on."));
  note->setObjectName(QStringLiteral("quiet"));
  column->addWidget(note);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  read_ = buttons->addButton(tr("Read it"), QDialogButtonBox::AcceptRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
  check();
}

QWidget* ReadingDialog::preview() const {
  const int columns = static_cast<int>(head_.names.size()), rows = static_cast<int>(head_.rows.size());
  auto* table = new QTableWidget(rows, columns);
  QStringList names;
  for (const std::string& name : head_.names) names << QString::fromStdString(name);
  table->setHorizontalHeaderLabels(names);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < columns; ++c)
      table->setItem(r, c,
                     new QTableWidgetItem(QString::fromStdString(head_.rows[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)])));
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->setSelectionMode(QAbstractItemView::NoSelection);
  table->verticalHeader()->hide();
  table->resizeColumnsToContents();
  table->setFixedHeight(kRowsHigh);
  table->setMinimumWidth(520);
  return table;
}

QComboBox* ReadingDialog::columnBox(std::size_t column, const trace::Reading& now) {
  auto* box = new QComboBox;
  box->addItem(tr("choose…"));
  for (const std::string& name : head_.names) {
    box->addItem(QString::fromStdString(name));
    if (now.columnOf(name) == column) box->setCurrentIndex(box->count() - 1);
  }
  connect(box, &QComboBox::currentIndexChanged, this, &ReadingDialog::check);
  return box;
}

/// Each needs a column of its own.
void ReadingDialog::check() {
  std::set<int> taken;
  for (const QComboBox* box : columns_)
    if (box && box->currentIndex() > 0) taken.insert(box->currentIndex());
  if (columns_.back()) read_->setEnabled(taken.size() == columns_.size());
}

QComboBox* ReadingDialog::columnChoice(std::size_t column) const {
  const auto at = std::ranges::find(trace::kNeeded, column);
  return at == trace::kNeeded.end() ? nullptr : columns_[static_cast<std::size_t>(at - trace::kNeeded.begin())];
}

trace::Reading ReadingDialog::answer() const {
  trace::Reading reading;
  for (std::size_t i = 0; i < columns_.size(); ++i)
    if (const std::string name = columns_[i]->currentText().toStdString(); trace::columnNamed(name) != trace::kNeeded[i])
      reading.columns[trace::kNeeded[i]] = name;
  reading.scale = unit_->currentData().toDouble(), reading.seconds = time_->currentData().toDouble();
  reading.zUp = up_->currentData().toDouble() > 0;
  return reading;
}

}  // namespace dune::window
