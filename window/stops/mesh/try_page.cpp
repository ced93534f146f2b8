#include "window/stops/mesh/try_page.h"

#include <qcustomplot.h>

#include "window/scene/handle_tool.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

using pipeline::SweptLimit;

struct LimitWords {
  QString name, unit;
  double least, most;
};

LimitWords wordsOf(SweptLimit limit) {
  switch (limit) {
    case SweptLimit::radius:
      return {QObject::tr("Radius"), QObject::tr("m"), 0.05, 5};
    case SweptLimit::height:
      return {QObject::tr("Height"), QObject::tr("m"), 0.1, 20};
    case SweptLimit::maxSlope:
      return {QObject::tr("Steepest slope"), QObject::tr("°"), 0, 85};
    default:
      return {QObject::tr("Step height"), QObject::tr("m"), 0, 5};
  }
}

/// Two places that stay where they were put and can be moved; each time they are let go the question is asked.
class BetweenTool : public HandleTool {
 public:
  explicit BetweenTool(Workspace& workspace) : workspace_(workspace) {}

  QString hint() const override {
    if (drawing_) return QObject::tr("Let go at the other place.");
    if (workspace_.trials().between()) return QObject::tr("Drag one of the two places, or draw two others from one to the other.");
    return QObject::tr("Drag from one place to another to find the widest and the tallest agent that still gets there.");
  }
  void drop(const Pointer& p) override {
    constexpr double kLeast = 0.3;  // metres: shorter drags are slips
    drag(p);
    HandleTool::drop(p);
    drawing_ = false;
    const auto ends = std::exchange(dragged_, std::nullopt);
    if (ends && glm::distance(ends->first, ends->second) > kLeast) workspace_.tryPassing(ends->first, ends->second);
  }
  bool giveUp() override {
    drawing_ = false;
    const bool any = std::exchange(dragged_, std::nullopt).has_value();
    return HandleTool::giveUp() || any;
  }
  bool aims() const override { return true; }
  void draw(DrawList& list, const Camera&) const override {
    const auto ends = shown();
    if (!ends) return;
    const Vec3 lifted{0, 0.1, 0};
    list.dashed(ends->first + lifted, ends->second + lifted, 0.3, 3, packed(theme().accent, 1));
    for (const Vec3& p : {ends->first, ends->second}) list.circle(p + Vec3{0, 0.05, 0}, 0.3, 3, packed(theme().accent, 1));
  }

 protected:
  std::vector<Handle> handles() const override {
    const auto ends = shown();
    if (!ends || drawing_) return {};
    return {{0, ends->first, QObject::tr("where it begins"), 0.3}, {1, ends->second, QObject::tr("where it goes"), 0.3}};
  }
  void begin(int, const Pointer&) override { dragged_ = workspace_.trials().between(); }
  void dragHandle(int end, const Pointer& p) override {
    if (p.hit && dragged_) (end == 0 ? dragged_->first : dragged_->second) = p.hit->at;
  }
  bool pressBeside(const Pointer& p) override {
    if (!p.hit) return false;
    take(1, p);
    drawing_ = true;
    dragged_ = {p.hit->at, p.hit->at};
    return true;
  }

 private:
  std::optional<std::pair<Vec3, Vec3>> shown() const { return dragged_ ? dragged_ : workspace_.trials().between(); }

  Workspace& workspace_;
  std::optional<std::pair<Vec3, Vec3>> dragged_;  // as they are while the mouse holds one
  bool drawing_ = false;                          // both anew
};

}  // namespace

TryPage::TryPage(Workspace& workspace) : Sheet({}, workspace) {
  addPassing();
  addSweep();
  tool_ = std::make_unique<BetweenTool>(workspace_);
}

TryPage::~TryPage() = default;

void TryPage::addPassing() {
  section(tr("Who still fits through?"));
  between_ = button(tr("Two places"), tr("Drag from one place to another in the world"), true);
  showWhere_ = button(tr("Show where"), tr("Go to the place where a wider agent is stopped"));
  row({between_, showWhere_});
  connect(between_, &QPushButton::toggled, this, [this] { toolChanged(); });
  passing_ = new QLabel;
  passing_->setWordWrap(true);
  column_->addWidget(passing_);
  connect(showWhere_, &QPushButton::clicked, this, [this] {
    if (const auto& p = workspace_.trials().passed(); p && !p->radius.open) emit showPlace(p->radius.at);
  });
}

void TryPage::addSweep() {
  section(tr("One limit over a range"));
  limit_ = new QComboBox;
  limit_->setAccessibleName(tr("Limit to try"));
  for (int i = 0; i < 4; ++i) limit_->addItem(wordsOf(static_cast<SweptLimit>(i)).name);
  column_->addWidget(limit_);
  connect(limit_, &QComboBox::activated, this, [this] { limitChanged(); });
  from_ = number(tr("From"), {}, 0, 90, 0.05, 2);
  to_ = number(tr("To"), {}, 0, 90, 0.05, 2);
  from_->setToolTip(tr("The least value that a mesh is built for"));
  to_->setToolTip(tr("The greatest value that a mesh is built for"));
  start_ = button(tr("Try the range"), tr("Build at each value in the background"));
  cancel_ = button(tr("Cancel"), tr("Stop trying"));
  row({start_, cancel_});
  progress_ = quiet({});
  connect(start_, &QPushButton::clicked, this, [this] {
    workspace_.trySweep({static_cast<SweptLimit>(limit_->currentIndex()), from_->value(), to_->value(), 16});
  });
  connect(cancel_, &QPushButton::clicked, this, [this] { workspace_.cancelTrial(); });
  plot_ = new QCustomPlot;
  plot_->setMinimumHeight(150);
  plot_->setAccessibleName(tr("Ground over the limit; click to set the limit"));
  plot_->setToolTip(tr("Click to set the limit to that value"));
  column_->addWidget(plot_, 1);
  connect(plot_, &QCustomPlot::mousePress, this, [this](QMouseEvent* e) {
    const auto sweep = workspace_.trials().swept();
    if (sweep && e->button() == Qt::LeftButton)
      setLimit(std::clamp(plot_->xAxis->pixelToCoord(e->pos().x()), sweep->plan.from, sweep->plan.to));
  });
  old_ = new QLabel(tr("Out of date: what it was tried with has changed since. Try the range again."));
  old_->setObjectName(QStringLiteral("trouble"));
  old_->setWordWrap(true);
  column_->addWidget(old_);
  measure_ = quiet({});
  thresholds_ = list(tr("Thresholds of the kept routes"), ThingKind::threshold);
  thresholds_->setToolTip(tr("Choose one to go to the place where its route is stopped"));
  connect(thresholds_, &ItemList::chosen, this, [this](const std::string&) {
    const auto sweep = workspace_.trials().swept();
    const int at = workspace_.selection().id(ThingKind::threshold);
    if (sweep && at >= 0 && static_cast<std::size_t>(at) < sweep->thresholds.size())
      emit showPlace(sweep->thresholds[static_cast<std::size_t>(at)].at);
  });
}

Tool* TryPage::tool() { return between_->isChecked() ? tool_.get() : nullptr; }
void TryPage::leaveTool() { between_->setChecked(false); }

void TryPage::limitChanged() {
  rangeFor_ = {workspace_.projectNumber(), workspace_.agentKind().id};
  const auto limit = static_cast<SweptLimit>(limit_->currentIndex());
  const LimitWords words = wordsOf(limit);
  const double now = workspace_.agentKind().*pipeline::fieldOf(limit);
  for (NumberField* f : {from_, to_}) f->spin()->setRange(words.least, words.most), f->spin()->setSuffix(QStringLiteral(" ") + words.unit);
  from_->setValue(std::max(words.least, now / 2));
  to_->setValue(std::min(words.most, std::max(now * 2.5, now + 0.1)));
}

void TryPage::setLimit(double value) {
  const auto sweep = workspace_.trials().swept();
  const auto field = pipeline::fieldOf(sweep->plan.limit);
  const double rounded = std::round(value * 100) / 100;
  const std::size_t at = workspace_.agent();
  workspace_.change(tr("Change agent"), [&](project::Project& p) {
    project::edit(p.agents, [&](project::AgentsSection& s) { s.agents[at].*field = rounded; });
  });
}

void TryPage::refreshPassing() {
  const auto& p = workspace_.trials().passed();
  showWhere_->setEnabled(p && !p->radius.open);
  if (workspace_.trials().busyWith(Trials::About::passing)) return passing_->setText(tr("Trying: %1").arg(workspace_.trials().step()));
  if (!p) return passing_->setText(tr("Drag from one place to another: the widest and the tallest agent that still gets there are found."));
  auto sentence = [](const QString& what, const pipeline::Tightest& t) {
    if (t.open) return QObject::tr("%1: even %2 m passes.").arg(what).arg(t.most, 0, 'f', 1);
    if (t.most == 0) return QObject::tr("%1: nobody gets there: %2.").arg(what, QString::fromStdString(t.cause));
    return QObject::tr("%1: up to %2 m. A larger one is stopped: %3.")
        .arg(what)
        .arg(t.most, 0, 'f', 2)
        .arg(QString::fromStdString(t.brief));
  };
  passing_->setText(sentence(tr("Radius"), p->radius) + QStringLiteral("\n") + sentence(tr("Height"), p->height));
}

void TryPage::refreshSweep() {
  const auto sweep = workspace_.trials().swept();
  start_->setEnabled(workspace_.level() != nullptr && !workspace_.trials().busy());
  cancel_->setEnabled(workspace_.trials().busy());
  const bool trying = workspace_.trials().busyWith(Trials::About::sweep);
  progress_->setVisible(trying);
  if (trying) progress_->setText(tr("Trying: %1").arg(workspace_.trials().step()));
  plot_->setVisible(sweep != nullptr), measure_->setVisible(sweep != nullptr);
  thresholds_->setVisible(sweep && !sweep->thresholds.empty());
  old_->setVisible(false);
  if (!sweep) return;
  const LimitWords words = wordsOf(sweep->plan.limit);
  plot_->clearItems();
  plot_->clearGraphs();
  plot_->setBackground(theme().panel);
  QVector<double> x, y;
  double most = 0;
  for (const pipeline::SweepPoint& p : sweep->points) x << p.value, y << p.reachable, most = std::max(most, p.reachable);
  QCPGraph* graph = plot_->addGraph();
  graph->setData(x, y);
  graph->setPen(QPen(theme().accent, 2));
  graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().accent, 5));
  for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
    axis->setLabelColor(theme().text), axis->setTickLabelColor(theme().text);
    for (const QPen& pen : {QPen(theme().quiet)}) axis->setBasePen(pen), axis->setTickPen(pen), axis->setSubTickPen(pen);
    axis->grid()->setPen(QPen(theme().line, 1, Qt::DotLine));
  }
  plot_->xAxis->setLabel(tr("%1, %2").arg(words.name, words.unit));
  plot_->yAxis->setLabel(tr("m²"));
  plot_->xAxis->setRange(sweep->plan.from, sweep->plan.to);
  plot_->yAxis->setRange(0, most > 0 ? most * 1.08 : 1);
  auto upright = [&](double at, const QPen& pen) {
    auto* line = new QCPItemStraightLine(plot_);
    line->point1->setCoords(at, 0), line->point2->setCoords(at, 1), line->setPen(pen);
  };
  for (const pipeline::Threshold& t : sweep->thresholds) upright(t.value, QPen(theme().bad, 1.5, Qt::DashLine));
  upright(workspace_.agentKind().*pipeline::fieldOf(sweep->plan.limit), QPen(theme().good, 1.5));
  plot_->replot(QCustomPlot::rpQueuedReplot);
  const bool old = workspace_.trials().sweptIsOld(workspace_.project(), workspace_.level() ? workspace_.level()->level : nullptr,
                                                  workspace_.agentKind().id);
  old_->setVisible(old);
  measure_->setText(tr("Curve: %1. Green: now; click to set it.").arg(QString::fromStdString(sweep->measure)));
  std::vector<ItemRow> rows;
  for (const pipeline::Threshold& t : sweep->thresholds) {
    const QString line =
        tr("%1: %2 %3 %4")
            .arg(QString::fromStdString(sweep->routes.routes[t.route].name), t.above ? tr("complete from") : tr("complete up to"))
            .arg(t.value, 0, 'f', 2)
            .arg(words.unit);
    rows.push_back(
        {std::to_string(rows.size()), t.brief.empty() ? line : line + tr(". Else stopped: %1").arg(QString::fromStdString(t.brief))});
  }
  thresholds_->setRows(std::move(rows));
}

void TryPage::refresh(Topics) {
  if (rangeFor_ != std::pair(workspace_.projectNumber(), workspace_.agentKind().id)) limitChanged();
  between_->setEnabled(workspace_.level() != nullptr);
  refreshPassing();
  refreshSweep();
}

}  // namespace dune::window
