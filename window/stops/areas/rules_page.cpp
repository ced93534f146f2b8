#include "window/stops/areas/rules_page.h"

#include <QHeaderView>

#include "core/project/rules.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"
#include "window/widgets/cost_text.h"
#include "window/widgets/swatch.h"

namespace dune::window {

namespace {

constexpr int kLeastColumn = 48, kMostHead = 106;          // pixels
constexpr int kAsKind = 0, kOwnCosts = 1, kForbidden = 2;  // choices for ground
constexpr const char* kLinkNames[] = {
    QT_TRANSLATE_NOOP("dune::window::RulesPage", "jumps"), QT_TRANSLATE_NOOP("dune::window::RulesPage", "drops"),
    QT_TRANSLATE_NOOP("dune::window::RulesPage", "climbs"), QT_TRANSLATE_NOOP("dune::window::RulesPage", "doors"),
    QT_TRANSLATE_NOOP("dune::window::RulesPage", "teleports")};

static_assert(std::size(kLinkNames) == nav::kLinkKinds);

}  // namespace

RulesPage::RulesPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(tr("What ground and links are to each kind of agent. Bold is a rule of its own; the rest is as the kind of ground says."));
  grid_ = new QTableWidget;
  grid_->setAccessibleName(tr("Rules: agents and kinds"));
  grid_->setSelectionMode(QAbstractItemView::SingleSelection);
  grid_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  grid_->setTabKeyNavigation(false);
  grid_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  grid_->verticalHeader()->setDefaultSectionSize(25);
  grid_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
  grid_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  grid_->horizontalHeader()->setMinimumSectionSize(kLeastColumn);
  grid_->horizontalHeader()->setHighlightSections(false);
  grid_->verticalHeader()->setHighlightSections(false);
  column_->addWidget(grid_);
  connect(grid_, &QTableWidget::currentCellChanged, this, [this] { showCell(); });
  cell_ = section({});
  choice_ = new QComboBox;
  choice_->setAccessibleName(tr("What counts for the chosen agent and kind"));
  column_->addWidget(choice_);
  connect(choice_, &QComboBox::activated, this, [this](int choice) { decide(choice); });
  cost_ = number(tr("Its cost per metre"), tr("× m"), 0.01, 1000, 0.1, 2);
  cost_->setToolTip(tr("How many metres of plain ground one metre of this counts as for this agent"));
  entry_ = number(tr("Its cost to enter"), tr("m"), 0, 10000, 1, 1);
  entry_->setToolTip(tr("What stepping onto it costs this agent, in metres of plain ground"));
  instead_ = quiet({});
  connect(cost_, &NumberField::edited, this, [this](double v) {
    setRule({v, entry_->value(), false}, tr("Change rule"), QStringLiteral("rule cost"));
  });
  connect(entry_, &NumberField::edited, this, [this](double v) {
    setRule({cost_->value(), v, false}, tr("Change rule"), QStringLiteral("rule entry"));
  });
  endColumn();
}

bool RulesPage::isLink(int row) const { return kindOf(row) >= workspace_.project().areas->kinds.size(); }
nav::LinkKind RulesPage::linkOf(int row) const {
  return static_cast<nav::LinkKind>(kindOf(row) - workspace_.project().areas->kinds.size());
}
const project::AgentKind* RulesPage::agentAt(int column) const {
  const auto& agents = workspace_.project().agents->agents;
  return column < 0 || static_cast<std::size_t>(column) >= agents.size() ? nullptr : &agents[static_cast<std::size_t>(column)];
}

void RulesPage::refresh(Topics) {
  fillGrid();
  showCell();
}

void RulesPage::fillGrid() {
  const project::AreasSection& areas = *workspace_.project().areas;
  const auto& agents = workspace_.project().agents->agents;
  const QSignalBlocker blocker(grid_);
  grid_->setRowCount(static_cast<int>(areas.kinds.size() + nav::kLinkKinds));
  grid_->setColumnCount(static_cast<int>(agents.size()));
  for (int column = 0; column < grid_->columnCount(); ++column) {
    auto* head = new QTableWidgetItem(QString::fromStdString(agents[static_cast<std::size_t>(column)].name));
    head->setToolTip(head->text());
    grid_->setHorizontalHeaderItem(column, head);
  }
  for (int row = 0; row < grid_->rowCount(); ++row) {
    auto* head = isLink(row) ? new QTableWidgetItem(tr(kLinkNames[static_cast<int>(linkOf(row))]))
                             : new QTableWidgetItem(swatch(kindColour(areas.kinds[kindOf(row)].colour)),
                                                    QString::fromStdString(areas.kinds[kindOf(row)].name));
    grid_->setVerticalHeaderItem(row, head);
    for (int column = 0; column < grid_->columnCount(); ++column) fillCell(row, column);
  }
  if (!grid_->currentItem() && grid_->rowCount() > 0)
    grid_->setCurrentCell(std::min(1, grid_->rowCount() - 1), static_cast<int>(workspace_.agent()));
  fitGrid();
}

void RulesPage::fillCell(int row, int column) {
  const project::AreasSection& areas = *workspace_.project().areas;
  const int agent = agentAt(column)->id;
  auto* item = grid_->item(row, column);
  if (!item) grid_->setItem(row, column, item = new QTableWidgetItem);
  bool own = false, never = false;
  if (isLink(row)) {
    own = never = !project::mayTake(areas, agent, linkOf(row));
    item->setText(never ? tr("never") : tr("takes"));
    item->setToolTip(never ? tr("It never takes links of this kind") : tr("It takes links of this kind, within its limits"));
  } else {
    const level::AreaKind& kind = areas.kinds[kindOf(row)];
    const project::AgentRule* rule = project::ruleOf(areas.rules, agent, kind.name);
    const nav::KindRule counts = rule ? rule->rule : kind.rule();
    own = rule, never = counts.forbidden;
    item->setText(shortCost(counts));
    item->setToolTip(rule ? tr("Its own rule: %1; the kind of ground says %2").arg(longCost(counts), longCost(kind.rule()))
                          : longCost(counts));
  }
  QFont font = grid_->font();
  font.setBold(own);
  item->setFont(font);
  item->setTextAlignment(Qt::AlignCenter);
  item->setForeground(never ? theme().bad : own ? theme().text : theme().quiet);
}

/// As high as its rows: what is chosen in it stands below.
void RulesPage::fitGrid() {
  grid_->verticalHeader()->setFixedWidth(std::min(grid_->verticalHeader()->sizeHint().width(), kMostHead));
  const int rows = grid_->rowCount() * grid_->verticalHeader()->defaultSectionSize();
  const int head = grid_->horizontalHeader()->sizeHint().height() + 2 * grid_->frameWidth();
  const bool scrolls = grid_->columnCount() * kLeastColumn > 264 - kMostHead;
  grid_->setFixedHeight(std::min(rows + head + 2 + (scrolls ? grid_->style()->pixelMetric(QStyle::PM_ScrollBarExtent) : 0), 420));
}

void RulesPage::showCell() {
  const project::AreasSection& areas = *workspace_.project().areas;
  const int row = grid_->currentRow();
  const project::AgentKind* agent = agentAt(grid_->currentColumn());
  const bool there = agent && row >= 0 && row < grid_->rowCount();
  const bool link = there && isLink(row);
  for (QWidget* w : {static_cast<QWidget*>(cell_), static_cast<QWidget*>(choice_)}) w->setVisible(there);
  for (NumberField* f : {cost_, entry_}) f->setVisible(there && !link);
  instead_->setVisible(false);
  if (!there) return;
  const QSignalBlocker blocker(choice_);
  choice_->clear();
  const QString name = QString::fromStdString(agent->name);
  if (link) {
    cell_->setText(tr("%1: %2").arg(name, tr(kLinkNames[static_cast<int>(linkOf(row))])));
    choice_->addItems({tr("Takes them"), tr("Never takes them")});
    choice_->setCurrentIndex(project::mayTake(areas, agent->id, linkOf(row)) ? 0 : 1);
    return;
  }
  const level::AreaKind& kind = areas.kinds[kindOf(row)];
  const project::AgentRule* rule = project::ruleOf(areas.rules, agent->id, kind.name);
  cell_->setText(tr("%1 on %2").arg(name, QString::fromStdString(kind.name)));
  choice_->addItems({tr("As the kind of ground says"), tr("Costs of its own"), tr("Forbidden")});
  choice_->setCurrentIndex(!rule ? kAsKind : rule->rule.forbidden ? kForbidden : kOwnCosts);
  const nav::KindRule counts = rule ? rule->rule : kind.rule();
  for (NumberField* f : {cost_, entry_}) f->setEnabled(rule && !rule->rule.forbidden);
  cost_->setValue(counts.cost);
  entry_->setValue(counts.entryCost);
  instead_->setVisible(rule);
  instead_->setText(tr("The kind of ground says: %1.").arg(longCost(kind.rule())));
}

void RulesPage::decide(int choice) {
  const int row = grid_->currentRow();
  if (isLink(row)) {
    const nav::LinkKind kind = linkOf(row);
    change(choice == 0 ? tr("Allow links") : tr("Forbid links"), {},
           [&](project::AreasSection& s, int agent) { project::setMayTake(s, agent, kind, choice == 0); });
    return;
  }
  const level::AreaKind kind = workspace_.project().areas->kinds[kindOf(row)];
  if (choice == kAsKind)
    change(tr("Take rule away"), {},
           [&](project::AreasSection& s, int agent) { project::setRule(s.rules, agent, kind.name, std::nullopt); });
  else
    setRule({kind.cost, kind.entryCost, choice == kForbidden}, tr("Give rule"), {});
}

void RulesPage::setRule(const nav::KindRule& rule, const QString& label, const QString& key) {
  const int row = grid_->currentRow();
  if (row < 0 || isLink(row)) return;
  const std::string kind = workspace_.project().areas->kinds[kindOf(row)].name;
  const QString cell = key.isEmpty() ? key : key + QStringLiteral(" %1 %2").arg(row).arg(grid_->currentColumn());
  change(label, cell, [&](project::AreasSection& s, int agent) { project::setRule(s.rules, agent, kind, rule); });
}

void RulesPage::change(const QString& label, const QString& key, const std::function<void(project::AreasSection&, int)>& edit) {
  const project::AgentKind* agent = agentAt(grid_->currentColumn());
  if (!agent) return;
  workspace_.change(
      label, [&, id = agent->id](project::Project& p) { project::edit(p.areas, [&](project::AreasSection& s) { edit(s, id); }); }, key);
}

}  // namespace dune::window
