#include "window/help/command_finder.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kWide = 620, kHigh = 420;
constexpr int kCommand = Qt::UserRole;
}  // namespace

int fitOf(const Command& command, const QString& typed) {
  const QString name = command.name.toLower(), all = name + QLatin1Char(' ') + command.where.toLower();
  const QString wanted = typed.simplified().toLower();
  if (wanted.isEmpty()) return 3;
  for (const QString& word : wanted.split(QLatin1Char(' ')))
    if (!all.contains(word)) return -1;
  if (name.startsWith(wanted)) return 0;
  if (name.contains(QLatin1Char(' ') + wanted)) return 1;
  return name.contains(wanted) ? 2 : 3;
}

CommandFinder::CommandFinder(std::vector<Command> commands, const QString& title, const QString& prompt, QWidget* parent)
    : QDialog(parent), commands_(std::move(commands)) {
  setWindowTitle(title);
  setAttribute(Qt::WA_DeleteOnClose);
  resize(kWide, kHigh);
  auto* column = new QVBoxLayout(this);
  line_ = new QLineEdit;
  line_->setPlaceholderText(prompt);
  line_->setAccessibleName(prompt);
  line_->setClearButtonEnabled(true);
  line_->installEventFilter(this);
  rows_ = new QTreeWidget;
  rows_->setColumnCount(3);
  rows_->setHeaderHidden(true);
  rows_->setRootIsDecorated(false);
  rows_->setUniformRowHeights(true);
  rows_->setAllColumnsShowFocus(true);
  rows_->setAccessibleName(title);
  rows_->header()->setStretchLastSection(false);
  rows_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  rows_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  rows_->header()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
  column->addWidget(line_);
  column->addWidget(rows_, 1);
  connect(line_, &QLineEdit::textChanged, this, [this] { fill(); });
  connect(line_, &QLineEdit::returnPressed, this, &CommandFinder::runCurrent);
  connect(rows_, &QTreeWidget::itemActivated, this, &CommandFinder::runCurrent);
  connect(rows_, &QTreeWidget::itemClicked, this, &CommandFinder::runCurrent);
  fill();
  line_->setFocus();
}

void CommandFinder::fill() {
  std::vector<std::pair<int, int>> fitting;  // how well, and which
  for (std::size_t i = 0; i < commands_.size(); ++i)
    if (const int fit = fitOf(commands_[i], line_->text()); fit >= 0) fitting.emplace_back(fit, static_cast<int>(i));
  std::ranges::sort(fitting);
  rows_->clear();
  for (const auto& [fit, at] : fitting) {
    const Command& c = commands_[static_cast<std::size_t>(at)];
    auto* row = new QTreeWidgetItem({c.name, c.where, c.keys});
    row->setData(0, kCommand, at);
    row->setForeground(1, theme().quiet);
    row->setToolTip(2, c.keys);
    rows_->addTopLevelItem(row);
  }
  if (fitting.empty()) {
    auto* none = new QTreeWidgetItem({tr("Nothing is called that")});
    none->setDisabled(true);
    rows_->addTopLevelItem(none);
  } else {
    rows_->setCurrentItem(rows_->topLevelItem(0));
  }
}

void CommandFinder::runCurrent() {
  const QTreeWidgetItem* row = rows_->currentItem();
  if (!row || row->isDisabled()) return;
  const auto run = commands_[static_cast<std::size_t>(row->data(0, kCommand).toInt())].run;
  if (!run) return;
  accept();
  run();
}

/// The keys that move in the list do so while one types.
bool CommandFinder::eventFilter(QObject* watched, QEvent* event) {
  if (watched == line_ && event->type() == QEvent::KeyPress) {
    auto* key = static_cast<QKeyEvent*>(event);
    for (const int moving : {Qt::Key_Up, Qt::Key_Down, Qt::Key_PageUp, Qt::Key_PageDown})
      if (key->key() == moving) {
        QCoreApplication::sendEvent(rows_, event);
        return true;
      }
  }
  return QDialog::eventFilter(watched, event);
}

}  // namespace dune::window
