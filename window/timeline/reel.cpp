#include "window/timeline/reel.h"

#include <qcustomplot.h>

#include <QProxyStyle>
#include <QShortcut>

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr int kTick = 33;  // milliseconds between pictures while playing
constexpr int kSliderSteps = 10000;
constexpr double kSpeeds[] = {0.1, 0.25, 0.5, 1, 2, 4, 8, 16};
constexpr int kAsItWas = 3;  // of these

/// A click on the line goes there.
class JumpStyle : public QProxyStyle {
 public:
  int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget, QStyleHintReturn* data) const override {
    return hint == SH_Slider_AbsoluteSetButtons ? static_cast<int>(Qt::LeftButton) : QProxyStyle::styleHint(hint, option, widget, data);
  }
};
}  // namespace

Reel::Reel(Playback& playback, QWidget* parent) : QWidget(parent), playback_(playback) {
  setObjectName(QStringLiteral("reel"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("Playback"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 6, 10, 6);
  column->setSpacing(4);
  auto* controls = new QHBoxLayout;
  auto tool = [&](const QString& name, const QString& tip) {
    auto* b = new QToolButton;
    b->setToolTip(tip);
    b->setAccessibleName(name);
    controls->addWidget(b);
    return b;
  };
  play_ = tool(tr("Play"), tr("Play or pause (Space)"));
  back_ = tool(tr("Step back"), tr("One step back (,)"));
  forward_ = tool(tr("Step forward"), tr("One step forward (.)"));
  clock_ = new QLabel;
  clock_->setMinimumWidth(104);
  slider_ = new QSlider(Qt::Horizontal);
  slider_->setRange(0, kSliderSteps);
  slider_->setAccessibleName(tr("Time"));
  auto* jump = new JumpStyle;
  jump->setParent(slider_);
  slider_->setStyle(jump);
  speed_ = new QComboBox;
  for (const double s : kSpeeds) speed_->addItem(tr("%1 ×").arg(s));
  speed_->setCurrentIndex(kAsItWas);
  speed_->setAccessibleName(tr("Playback speed"));
  who_ = new QLabel;
  eye_ = check(tr("Follow"), tr("The eye goes with the agent that is followed"));
  trails_ = check(tr("Trails"), tr("Shows where the agents were in the last three seconds"));
  connect(eye_, &QToolButton::toggled, this, [this](bool on) { playback_.setEyeFollows(on); });
  connect(trails_, &QToolButton::toggled, this, [this](bool on) { playback_.setTrails(on); });
  controls->addWidget(clock_);
  controls->addWidget(slider_, 1);
  controls->addWidget(speed_);
  controls->addWidget(who_);
  controls->addWidget(eye_);
  controls->addWidget(trails_);
  column->addLayout(controls);
  plot_ = new QCustomPlot;
  plot_->setFixedHeight(96);
  plot_->plotLayout()->clear();
  for (int i = 0; i < 2; ++i) {
    auto* axes = new QCPAxisRect(plot_);
    axes->setAutoMargins(QCP::MarginSides(QCP::msLeft) | QCP::msBottom);
    axes->setMinimumMargins(QMargins(46, 2, 6, 2));
    plot_->plotLayout()->addElement(0, i, axes);
    plot_->addGraph(axes->axis(QCPAxis::atBottom), axes->axis(QCPAxis::atLeft));
    plot_->addGraph(axes->axis(QCPAxis::atBottom), axes->axis(QCPAxis::atLeft));
    cursors_[i] = new QCPItemLine(plot_);
    cursors_[i]->setClipAxisRect(axes);
    for (QCPItemPosition* p : {cursors_[i]->start, cursors_[i]->end}) {
      p->setAxisRect(axes);
      p->setAxes(axes->axis(QCPAxis::atBottom), axes->axis(QCPAxis::atLeft));
      p->setTypeX(QCPItemPosition::ptPlotCoords);
      p->setTypeY(QCPItemPosition::ptAxisRectRatio);
    }
    axes->axis(QCPAxis::atLeft)->setLabel(i == 0 ? tr("speed, m/s") : tr("to wall, m"));
    axes->axis(QCPAxis::atLeft)->ticker()->setTickCount(3);
  }
  column->addWidget(plot_);
  connect(plot_, &QCustomPlot::mousePress, this, [this](QMouseEvent* e) { scrubAt(e->pos()); });
  connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* e) {
    if (e->buttons() & Qt::LeftButton) scrubAt(e->pos());
  });
  connect(play_, &QToolButton::clicked, this, [this] { setPlaying(!playing()); });
  connect(back_, &QToolButton::clicked, this, [this] { step(-1); });
  connect(forward_, &QToolButton::clicked, this, [this] { step(1); });
  // Arrow keys step wherever in the reel the focus is.
  for (const auto& [key, frames] : {std::pair(Qt::Key_Left, -1), {Qt::Key_Right, 1}}) {
    auto* shortcut = new QShortcut(key, this);
    shortcut->setContext(Qt::WidgetWithChildrenShortcut);
    connect(shortcut, &QShortcut::activated, this, [this, frames] { step(frames); });
  }
  connect(slider_, &QSlider::valueChanged, this, [this](int v) {
    if (!run_) return;
    const double first = run_->trace.firstTime();
    playback_.setTime(first + (run_->trace.duration() - first) * v / kSliderSteps);
  });
  connect(&timer_, &QTimer::timeout, this, [this] {
    const double passed = static_cast<double>(since_.restart()) / 1000 * kSpeeds[speed_->currentIndex()];
    playback_.setTime(playback_.time() + passed);
    if (run_ && playback_.time() >= run_->trace.duration()) setPlaying(false);
  });
  applyTheme();
}

QToolButton* Reel::check(const QString& name, const QString& tip) {
  auto* b = new QToolButton;
  b->setText(name);
  b->setToolTip(tip);
  b->setAccessibleName(name);
  b->setCheckable(true);
  return b;
}

void Reel::applyTheme() {
  const Theme& t = theme();
  play_->setIcon(lineIcon(playing() ? QStringLiteral("pause") : QStringLiteral("play")));
  back_->setIcon(lineIcon(QStringLiteral("back")));
  forward_->setIcon(lineIcon(QStringLiteral("forward")));
  plot_->setBackground(t.panel);
  QFont small = font();
  small.setPointSizeF(font().pointSizeF() * 0.82);
  for (int i = 0; i < 2; ++i) {
    QCPAxisRect* axes = plot_->axisRect(i);
    axes->setBackground(t.window);
    for (QCPAxis* a : {axes->axis(QCPAxis::atBottom), axes->axis(QCPAxis::atLeft)}) {
      for (auto pen : {&QCPAxis::setBasePen, &QCPAxis::setTickPen, &QCPAxis::setSubTickPen}) (a->*pen)(QPen(t.line));
      a->setTickLabelColor(t.quiet);
      a->setLabelColor(t.text);
      a->setTickLabelFont(small);
      a->setLabelFont(small);
      a->grid()->setPen(QPen(t.line, 0, Qt::DotLine));
    }
    plot_->graph(2 * i)->setPen(QPen(i == 0 ? t.agent[0] : t.agent[1], 1.6));
    plot_->graph(2 * i + 1)->setLineStyle(QCPGraph::lsNone);
    plot_->graph(2 * i + 1)->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDiamond, t.bad, t.bad, 8));
    cursors_[i]->setPen(QPen(t.accent, 2));
  }
  plot_->replot();
}

void Reel::step(int frames) {
  setPlaying(false);
  if (run_) playback_.setTime(playback_.time() + frames * run_->trace.step());
}

void Reel::refresh() {
  const bool otherRun = playback_.run() != run_;
  if (otherRun) setPlaying(false);
  if (otherRun || playback_.body() != body_) {
    run_ = playback_.run(), body_ = playback_.body();
    fillCurves();
  }
  const double first = run_ ? run_->trace.firstTime() : 0, last = run_ ? run_->trace.duration() : 0, time = playback_.time();
  const QSignalBlocker blocker(slider_);
  slider_->setValue(last > first ? static_cast<int>(std::lround((time - first) / (last - first) * kSliderSteps)) : 0);
  clock_->setText(tr("%1 / %2 s").arg(time, 0, 'f', 1).arg(last, 0, 'f', 1));
  placeCursor();
}

void Reel::setPlaying(bool playing) {
  if (playing && run_) {
    if (playback_.time() >= run_->trace.duration()) playback_.setTime(run_->trace.firstTime());
    since_.start();
    timer_.start(kTick);
  } else {
    timer_.stop();
  }
  play_->setIcon(lineIcon(timer_.isActive() ? QStringLiteral("pause") : QStringLiteral("play")));
}

void Reel::fillCurves() {
  for (int g = 0; g < 4; ++g) plot_->graph(g)->data()->clear();
  who_->setText(body_ >= 0 ? tr("Agent %1").arg(body_) : QString());
  if (!run_ || run_->trace.frameCount() == 0) return plot_->replot();
  const trace::Trace& t = run_->trace;
  const auto body = t.bodyOf(body_);
  if (!body) return plot_->replot();
  double fastest = 0.1;
  for (std::size_t f = 0; f < t.frameCount(); ++f) {
    const trace::Sample s = t.at(f, *body);
    plot_->graph(0)->addData(s.t, glm::length(s.velocity));
    plot_->graph(2)->addData(s.t, run_->wallDistance[f * t.bodies().size() + *body]);
    fastest = std::max(fastest, glm::length(s.velocity));
  }
  for (const review::Finding& f : run_->findings)
    if (f.agent == body_ && f.timed()) plot_->graph(1)->addData(f.time, fastest), plot_->graph(3)->addData(f.time, 0.2);
  for (int i = 0; i < 2; ++i) {
    plot_->axisRect(i)->axis(QCPAxis::atBottom)->setRange(t.firstTime(), std::max(t.firstTime() + 1, t.duration()));
    plot_->axisRect(i)->axis(QCPAxis::atLeft)->setRange(0, i == 0 ? fastest * 1.15 : 5.2);
  }
  placeCursor();
}

void Reel::placeCursor() {
  for (QCPItemLine* c : cursors_) c->start->setCoords(playback_.time(), 0), c->end->setCoords(playback_.time(), 1);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void Reel::scrubAt(const QPoint& pixel) {
  for (int i = 0; i < 2; ++i)
    if (plot_->axisRect(i)->outerRect().contains(pixel))
      setPlaying(false), playback_.setTime(plot_->axisRect(i)->axis(QCPAxis::atBottom)->pixelToCoord(pixel.x()));
}

}  // namespace dune::window
