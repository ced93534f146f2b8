#include "window/timeline/reel.h"

#include <QComboBox>
#include <QLabel>
#include <QMenu>
#include <QProxyStyle>
#include <QPushButton>
#include <QSettings>
#include <QShortcut>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>

#include "window/scene/theme.h"
#include "window/timeline/lanes.h"

namespace dune::window {

namespace {
constexpr int kTick = 33;  // milliseconds between pictures while playing
constexpr int kSliderSteps = 10000;
constexpr double kSpeeds[] = {0.1, 0.25, 0.5, 1, 2, 4, 8, 16};
constexpr int kAsItWas = 3;  // of these
const auto kLanesKey = QStringLiteral("lanes");

/// A click on the line goes there.
class JumpStyle : public QProxyStyle {
 public:
  int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget, QStyleHintReturn* data) const override {
    return hint == SH_Slider_AbsoluteSetButtons ? static_cast<int>(Qt::LeftButton) : QProxyStyle::styleHint(hint, option, widget, data);
  }
};
}  // namespace

Reel::Reel(Playback& playback, const FindingList& findings, const Selection& selection) : playback_(playback) {
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
  all_ = check(tr("All"), tr("Lanes show all agents too: half of them are below the line, eight of ten within the band"));
  whole_ = new QPushButton(tr("Whole run"));
  whole_->setToolTip(tr("Lanes show all of the time again"));
  whole_->hide();
  which_ = new QPushButton(tr("Lanes"));
  which_->setToolTip(tr("Which numbers are shown over time"));
  connect(eye_, &QToolButton::toggled, this, [this](bool on) { playback_.setEyeFollows(on); });
  connect(trails_, &QToolButton::toggled, this, [this](bool on) { playback_.setTrails(on); });
  controls->addWidget(clock_);
  controls->addWidget(slider_, 1);
  controls->addWidget(speed_);
  controls->addWidget(who_);
  controls->addWidget(eye_);
  controls->addWidget(trails_);
  controls->addWidget(all_);
  controls->addWidget(whole_);
  controls->addWidget(which_);
  column->addLayout(controls);
  makeLanes(findings, selection);
  column->addWidget(lanes_);
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

void Reel::makeLanes(const FindingList& findings, const Selection& selection) {
  lanes_ = new Lanes(playback_, findings, selection);
  menu_ = new QMenu(this);
  which_->setMenu(menu_);
  const QString kept = QSettings().value(kLanesKey).toString();
  std::set<pipeline::Measure> shown;
  for (const QString& number : kept.split(QLatin1Char(' '), Qt::SkipEmptyParts))
    if (const int m = number.toInt(); m >= 0 && m < static_cast<int>(std::size(pipeline::kMeasures))) shown.insert(pipeline::kMeasures[m]);
  lanes_->setShown(shown);
  fillLaneMenu();
  connect(all_, &QToolButton::toggled, lanes_, &Lanes::setWithAll);
  connect(whole_, &QPushButton::clicked, lanes_, &Lanes::showWhole);
  connect(lanes_, &Lanes::seenChanged, this, [this] { whole_->setVisible(lanes_->zoomed()); });
  connect(lanes_, &Lanes::jumped, this, [this](double time) { setPlaying(false), playback_.setTime(time); });
}

/// Words differ with the run: of a recording the path that was followed is not known.
void Reel::fillLaneMenu() {
  static const pipeline::Run kNone;
  for (const pipeline::Measure m : pipeline::kMeasures) {
    QAction*& action = laneActions_[m];
    if (!action) {
      action = menu_->addAction(QString());
      action->setCheckable(true);
      action->setChecked(lanes_->shown().contains(m));
      connect(action, &QAction::toggled, this, &Reel::chooseLanes);
    }
    const pipeline::MeasureWords words = pipeline::wordsOf(m, run_ ? *run_ : kNone);
    const QString name = tr(words.name);
    action->setText(name.left(1).toUpper() + name.mid(1));
  }
}

void Reel::chooseLanes() {
  std::set<pipeline::Measure> shown;
  QStringList kept;
  for (const auto& [measure, action] : laneActions_)
    if (action->isChecked()) shown.insert(measure), kept << QString::number(static_cast<int>(measure));
  // The last one stays.
  for (const auto& [measure, action] : laneActions_) action->setEnabled(!action->isChecked() || shown.size() > 1);
  QSettings().setValue(kLanesKey, kept.join(QLatin1Char(' ')));
  lanes_->setShown(shown);
}

void Reel::showWho() {
  const std::vector<int>& bodies = lanes_->bodies();
  QStringList names;  // each in the colour of its curve
  for (std::size_t i = 0; i < bodies.size(); ++i)
    names << QStringLiteral("<b style='color:%1'>%2</b>").arg(theme().agent[i].name()).arg(bodies[i]);
  who_->setText(names.isEmpty() ? tr("No agent chosen")
                                : (names.size() == 1 ? tr("Agent %1") : tr("Agents %1")).arg(names.join(QStringLiteral(", "))));
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
  play_->setIcon(lineIcon(playing() ? QStringLiteral("pause") : QStringLiteral("play")));
  back_->setIcon(lineIcon(QStringLiteral("back")));
  forward_->setIcon(lineIcon(QStringLiteral("forward")));
  lanes_->applyTheme();
}

void Reel::step(int frames) {
  setPlaying(false);
  if (run_) playback_.setTime(playback_.time() + frames * run_->trace.step());
}

void Reel::refresh() {
  if (playback_.run() != run_) {
    setPlaying(false);
    run_ = playback_.run();
    fillLaneMenu();
  }
  lanes_->refresh();
  showWho();
  const double first = run_ ? run_->trace.firstTime() : 0, last = run_ ? run_->trace.duration() : 0, time = playback_.time();
  const QSignalBlocker blocker(slider_);
  slider_->setValue(last > first ? static_cast<int>(std::lround((time - first) / (last - first) * kSliderSteps)) : 0);
  clock_->setText(tr("%1 / %2 s").arg(time, 0, 'f', 1).arg(last, 0, 'f', 1));
}

void Reel::refreshMarks() { lanes_->refreshMarks(); }

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

}  // namespace dune::window
