#include "window/timeline/lanes.h"

#include <algorithm>

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kLaneHeight = 46, kAxisHeight = 20, kLeft = 44;  // pixels
constexpr std::size_t kMostBodies = 6;                         // as many as there are colours
constexpr double kLeastSeen = 0.5;                             // s

/// Two marks, for lanes are low: nothing, and a round number not above the most.
QSharedPointer<QCPAxisTicker> tickerTo(double most) {
  const double power = std::pow(10, std::floor(std::log10(most)));
  double round = power;
  for (const double by : {2.0, 5.0})
    if (by * power <= most) round = by * power;
  auto ticker = QSharedPointer<QCPAxisTickerText>::create();
  ticker->addTick(0, QStringLiteral("0"));
  ticker->addTick(round, QString::number(round));
  return ticker;
}

const QString kCursor = QStringLiteral("cursor");  // a layer of the plot

}  // namespace

/// A curve a body for each lane, and the band of all.
struct Lanes::Drawn {
  std::map<pipeline::Measure, std::vector<std::vector<float>>> curves;
  std::map<pipeline::Measure, pipeline::Band> bands;
};

Lanes::Lanes(const Playback& playback, const FindingList& findings, const Selection& selection)
    : playback_(playback), findings_(findings), selection_(selection) {
  setObjectName(QStringLiteral("lanes"));
  setAccessibleName(tr("Lanes over time"));
  setToolTip(tr("Click or drag to go to a time; the wheel looks closer, the right button moves, a double click shows the whole run"));
  // What moves with the time is drawn over the rest, which stays as it is.
  addLayer(kCursor, layer(QStringLiteral("overlay")));
  layer(kCursor)->setMode(QCPLayer::lmBuffered);
  makeLanes();
}

void Lanes::setShown(const std::set<pipeline::Measure>& shown) {
  if (shown.empty() || shown == shown_) return;
  shown_ = shown;
  makeLanes();
  asked_ = {};
  refresh();
}

void Lanes::setWithAll(bool on) {
  withAll_ = on;
  refresh();
}

Lanes::Lane Lanes::makeLane(pipeline::Measure measure, bool last) {
  Lane lane{measure, new QCPAxisRect(this), nullptr, nullptr, nullptr, nullptr, nullptr, nullptr, {}};
  plotLayout()->addElement(static_cast<int>(lanes_.size()), 0, lane.axes);
  lane.axes->setAutoMargins(QCP::msNone);
  lane.axes->setMargins(QMargins(kLeft, 3, 8, last ? kAxisHeight : 1));
  QCPAxis *time = lane.axes->axis(QCPAxis::atBottom), *value = lane.axes->axis(QCPAxis::atLeft);
  time->setTickLabels(last);
  const auto graph = [&] { return addGraph(time, value); };
  lane.low = graph(), lane.high = graph(), lane.middle = graph();
  lane.high->setChannelFillGraph(lane.low);
  for (std::size_t i = 0; i < kMostBodies; ++i) lane.curves.push_back(graph());
  lane.chosen = new QCPItemRect(this);
  lane.cursor = new QCPItemLine(this);
  for (QCPAbstractItem* item : {static_cast<QCPAbstractItem*>(lane.chosen), static_cast<QCPAbstractItem*>(lane.cursor)})
    item->setClipAxisRect(lane.axes);
  lane.cursor->setLayer(kCursor);
  for (QCPItemPosition* p : {lane.chosen->topLeft, lane.chosen->bottomRight, lane.cursor->start, lane.cursor->end}) {
    p->setAxisRect(lane.axes);
    p->setAxes(time, value);
    p->setTypeX(QCPItemPosition::ptPlotCoords);
    p->setTypeY(QCPItemPosition::ptAxisRectRatio);
  }
  lane.title = new QCPItemText(this);
  lane.title->setClipAxisRect(lane.axes);
  lane.title->position->setAxisRect(lane.axes);
  lane.title->position->setType(QCPItemPosition::ptAxisRectRatio);
  lane.title->position->setCoords(1, 0);  // at its end as a rule all have arrived
  lane.title->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
  lane.title->setLayer(QStringLiteral("overlay"));
  lane.title->setPadding(QMargins(5, 1, 5, 1));
  return lane;
}

void Lanes::makeLanes() {
  question_.drop();
  clearItems(), clearGraphs();
  lanes_.clear();
  plotLayout()->clear();
  plotLayout()->setRowSpacing(0);
  for (const pipeline::Measure m : shown_) lanes_.push_back(makeLane(m, m == *shown_.rbegin()));
  for (std::size_t i = 0; i < lanes_.size(); ++i)
    plotLayout()->setRowStretchFactor(static_cast<int>(i), i + 1 == lanes_.size() ? (kLaneHeight + kAxisHeight) / double{kLaneHeight} : 1);
  for (QCPGraph*& marks : marks_)
    marks = addGraph(lanes_.front().axes->axis(QCPAxis::atBottom), lanes_.front().axes->axis(QCPAxis::atLeft));
  setFixedHeight(static_cast<int>(lanes_.size()) * kLaneHeight + kAxisHeight);
  applyTheme();
}

void Lanes::applyTheme() {
  const Theme& t = theme();
  setBackground(t.panel);
  QFont small = font();
  small.setPointSizeF(font().pointSizeF() * 0.82);
  QColor band = t.quiet, veil = t.accent, titled = t.window;
  band.setAlphaF(0.22F), veil.setAlphaF(0.18F), titled.setAlphaF(0.75F);
  for (const Lane& lane : lanes_) {
    lane.axes->setBackground(t.window);
    for (QCPAxis* a : {lane.axes->axis(QCPAxis::atBottom), lane.axes->axis(QCPAxis::atLeft)}) {
      for (auto pen : {&QCPAxis::setBasePen, &QCPAxis::setTickPen, &QCPAxis::setSubTickPen}) (a->*pen)(QPen(t.line));
      a->setTickLabelColor(t.quiet);
      a->setTickLabelFont(small);
      a->grid()->setPen(QPen(t.line, 0, Qt::DotLine));
    }
    for (QCPGraph* g : {lane.low, lane.high}) g->setPen(Qt::NoPen);
    lane.high->setBrush(band);
    lane.middle->setPen(QPen(t.quiet, 1.2, Qt::DashLine));
    for (std::size_t i = 0; i < lane.curves.size(); ++i) lane.curves[i]->setPen(QPen(t.agent[i], 1.6));
    lane.cursor->setPen(QPen(t.accent, 2));
    lane.chosen->setPen(Qt::NoPen);
    lane.chosen->setBrush(veil);
    lane.title->setFont(small);
    lane.title->setColor(t.text);
    lane.title->setBrush(titled);
  }
  const QColor colours[] = {t.bad, t.warning, t.hint};
  const QCPScatterStyle::ScatterShape shapes[] = {QCPScatterStyle::ssDiamond, QCPScatterStyle::ssTriangle, QCPScatterStyle::ssDisc};
  for (std::size_t i = 0; i < std::size(marks_); ++i) {
    marks_[i]->setLineStyle(QCPGraph::lsNone);
    marks_[i]->setScatterStyle(QCPScatterStyle(shapes[i], colours[i], colours[i], i == 0 ? 8 : 6));
  }
  replot(QCustomPlot::rpQueuedReplot);
}

QCPRange Lanes::whole() const {
  const auto& run = asked_.run;
  if (!run || run->trace.frameCount() == 0) return {0, 1};
  return {run->trace.firstTime(), std::max(run->trace.firstTime() + kLeastSeen, run->trace.duration())};
}

bool Lanes::zoomed() const { return seen_.size() < whole().size() - 1e-9; }

void Lanes::showWhole() { see(whole()); }

void Lanes::see(QCPRange range) {
  const QCPRange all = whole();
  const double size = std::clamp(range.size(), std::min(kLeastSeen, all.size()), all.size());
  const double from = std::clamp(range.center() - size / 2, all.lower, all.upper - size);
  seen_ = {from, from + size};
  for (const Lane& lane : lanes_) lane.axes->axis(QCPAxis::atBottom)->setRange(seen_);
  replot(QCustomPlot::rpQueuedReplot);
  emit seenChanged();
}

void Lanes::refresh() {
  Asked now{playback_.run(), {}, shown_, withAll_};
  for (const int id : playback_.bodies())
    if (now.run && now.bodies.size() < kMostBodies && now.run->trace.bodyOf(id)) now.bodies.push_back(id);
  if (now != asked_) {
    const bool other = now.run != asked_.run;
    asked_ = now, bodies_ = now.bodies;
    if (other) showWhole();
    question_.drop();
    waits_ = now.run != nullptr;
    if (!now.run)
      fill(now, {});
    else
      question_.ask([this, now](Job& job) -> LatestQuestion::Answer {
        Drawn drawn;
        for (const pipeline::Measure m : now.measures) {
          for (const int id : now.bodies) drawn.curves[m].push_back(pipeline::curveOf(*now.run, *now.run->trace.bodyOf(id), m, job));
          if (now.all) drawn.bands[m] = pipeline::bandOf(*now.run, m, job);
        }
        if (job.cancelled()) return {};
        return [this, now, drawn = std::move(drawn)] { fill(now, drawn); };
      });
    refreshMarks();
  }
  followCursor();
  placeCursor();
}

void Lanes::fill(const Asked& asked, const Drawn& drawn) {
  waits_ = false;
  const auto set = [](QCPGraph* graph, const std::vector<double>& times, const std::vector<float>& values, double& most) {
    QVector<double> keys(static_cast<qsizetype>(values.size())), numbers(static_cast<qsizetype>(values.size()));
    for (std::size_t i = 0; i < values.size(); ++i) {
      keys[static_cast<qsizetype>(i)] = times[i], numbers[static_cast<qsizetype>(i)] = static_cast<double>(values[i]);
      if (!std::isnan(values[i])) most = std::max(most, static_cast<double>(values[i]));
    }
    graph->setData(keys, numbers, true);
  };
  std::vector<double> times;
  for (std::size_t f = 0; asked.run && f < asked.run->trace.frameCount(); ++f) times.push_back(asked.run->trace.timeOf(f));
  for (const Lane& lane : lanes_) {
    double most = 0.1;
    const auto curves = drawn.curves.find(lane.measure);
    for (std::size_t i = 0; i < lane.curves.size(); ++i) {
      const bool there = curves != drawn.curves.end() && i < curves->second.size();
      set(lane.curves[i], times, there ? curves->second[i] : std::vector<float>(), most);
    }
    const auto band = drawn.bands.find(lane.measure);
    const pipeline::Band none, &of = band != drawn.bands.end() ? band->second : none;
    set(lane.low, of.times, of.low, most), set(lane.middle, of.times, of.middle, most), set(lane.high, of.times, of.high, most);
    // Room for the title and the marks above what is highest.
    lane.axes->axis(QCPAxis::atLeft)->setRange(0, most * 1.5);
    lane.axes->axis(QCPAxis::atLeft)->setTicker(tickerTo(most));
    const pipeline::MeasureWords words = asked.run ? pipeline::wordsOf(lane.measure, *asked.run) : pipeline::MeasureWords{"", ""};
    QString title = *words.unit ? tr("%1, %2").arg(tr(words.name), QString::fromUtf8(words.unit)) : tr(words.name);
    if (most <= 0.1 && lane.measure == pipeline::Measure::toGoal) title += tr(": the recording does not say where they go");
    lane.title->setText(title);
  }
  refreshMarks();
}

void Lanes::refreshMarks() {
  const double top = lanes_.front().axes->axis(QCPAxis::atLeft)->range().upper * 0.86;
  QVector<double> keys[3], values[3];
  for (const KeptFinding& k : findings_.all()) {
    const review::Finding& f = k.finding;
    if (!f.timed() || !asked_.run) continue;
    if (!withAll_ && std::ranges::count(bodies_, f.agent) == 0) continue;
    const auto i = static_cast<std::size_t>(f.severity);
    keys[i].push_back(f.time), values[i].push_back(top);
  }
  for (std::size_t i = 0; i < std::size(marks_); ++i) marks_[i]->setData(keys[i], values[i]);
  const review::Finding* chosen = findings_.withId(selection_.one(ThingKind::finding));
  for (const Lane& lane : lanes_) {
    lane.chosen->setVisible(chosen && chosen->timed());
    if (!chosen || !chosen->timed()) continue;
    constexpr double kWide = 0.004;  // of what is seen, so that a moment can be seen too
    const double more = seen_.size() * kWide;
    lane.chosen->topLeft->setCoords(chosen->from - more, 0);
    lane.chosen->bottomRight->setCoords(chosen->until + more, 1);
  }
  replot(QCustomPlot::rpQueuedReplot);
}

/// While less than all is seen, what is played stays in sight.
void Lanes::followCursor() {
  const double now = playback_.time();
  if (!asked_.run || (now >= seen_.lower - 1e-9 && now <= seen_.upper + 1e-9)) return;
  see({now - 0.1 * seen_.size(), now + 0.9 * seen_.size()});
}

void Lanes::placeCursor() {
  for (const Lane& lane : lanes_) lane.cursor->start->setCoords(playback_.time(), 0), lane.cursor->end->setCoords(playback_.time(), 1);
  layer(kCursor)->replot();
}

double Lanes::timeAt(double x) const { return lanes_.front().axes->axis(QCPAxis::atBottom)->pixelToCoord(x); }

void Lanes::wheelEvent(QWheelEvent* event) {
  constexpr double kStep = 0.8;  // of what is seen, a notch of the wheel
  event->accept();
  const double factor = std::pow(kStep, event->angleDelta().y() / 120.0),
               at = std::clamp(timeAt(event->position().x()), seen_.lower, seen_.upper);
  see({at - (at - seen_.lower) * factor, at + (seen_.upper - at) * factor});
}

void Lanes::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) emit jumped(timeAt(event->position().x()));
  if (event->button() == Qt::RightButton) dragged_ = timeAt(event->position().x());
}

void Lanes::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) emit jumped(timeAt(event->position().x()));
  if (!(event->buttons() & Qt::RightButton)) return;
  const double by = dragged_ - timeAt(event->position().x());
  see({seen_.lower + by, seen_.upper + by});
}

}  // namespace dune::window
