#include "window/stops/flight/fly_page.h"

#include "window/scene/handle_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/flight/kind_page.h"

namespace dune::window {

namespace {

/// Draws a flight from start to goal at a height over what is pointed at; then its ends are handles, in plan and up.
class FlightTool : public HandleTool {
 public:
  FlightTool(Workspace& workspace, FlyPage& page) : workspace_(workspace), page_(page) {}
  QString hint() const override {
    if (!flyerNow(workspace_)) return QObject::tr("Add a kind that flies on the page Kind.");
    if (from_) return QObject::tr("Let go at the goal.");
    if (!tip().isEmpty()) return QObject::tr("Drag to move %1.").arg(tip());
    return page_.asked() ? QObject::tr("Drag the start or the goal, or the dots above them to change their heights.")
                         : QObject::tr("Drag from where it starts to where it is to fly.");
  }
  void drag(const Pointer& p) override {
    if (holding()) return HandleTool::drag(p);
    if (from_ && p.hit) page_.ask(*from_, over(p));
  }
  void drop(const Pointer& p) override {
    if (holding()) return HandleTool::drop(p);
    from_.reset();
  }
  bool giveUp() override {
    const bool had = std::exchange(from_, std::nullopt).has_value();
    return HandleTool::giveUp() || had;
  }
  bool aims() const override { return true; }

 protected:
  std::vector<Handle> handles() const override {
    if (!page_.asked() || from_) return {};
    const auto& [from, to] = *page_.asked();
    return {{kFrom, from, QObject::tr("the start")},
            {kTo, to, QObject::tr("the goal")},
            {kFromUp, from + kUp, QObject::tr("the start up or down")},
            {kToUp, to + kUp, QObject::tr("the goal up or down")}};
  }
  void begin(int, const Pointer&) override { before_ = *page_.asked(); }
  void dragHandle(int handle, const Pointer& p) override {
    FlyPage::Ends ends = before_;
    Vec3& end = handle % 2 == kFrom ? ends.from : ends.to;
    if (handle >= kFromUp)
      end.y += alongLine(p.ray, end + kUp, {0, 1, 0});
    else if (std::abs(p.ray.direction.y) > 1e-3) {
      // In the plane in which it lies.
      const double far = (end.y - p.ray.origin.y) / p.ray.direction.y;
      if (far > 0 && far < 1e4) end = p.ray.origin + p.ray.direction * far;
    }
    page_.ask(ends.from, ends.to);
  }
  bool pressBeside(const Pointer& p) override {
    if (!p.hit || !flyerNow(workspace_)) return false;
    workspace_.selection().clear(ThingKind::flight);  // a new one, and not the kept one elsewhere
    from_ = over(p);
    return true;
  }

 private:
  static constexpr int kFrom = 0, kTo = 1, kFromUp = 2, kToUp = 3;
  static constexpr Vec3 kUp{0, 1.6, 0};
  Vec3 over(const Pointer& p) const { return p.hit->at + Vec3(0, page_.height(), 0); }
  Workspace& workspace_;
  FlyPage& page_;
  std::optional<Vec3> from_;
  FlyPage::Ends before_{};
};

}  // namespace

FlyPage::FlyPage(Workspace& workspace) : Sheet({}, workspace) {
  headline_ = new QLabel;
  headline_->setWordWrap(true);
  column_->addWidget(headline_);
  note_ = trouble();
  height_ = number(tr("Height over ground"), tr("m"), 0, 1000, 0.25, 2);
  height_->setValue(2);
  height_->setToolTip(tr("How high over what is pointed at a new flight starts and ends"));
  keep_ = button(tr("Keep this flight"), tr("Ask it again after every change"));
  row({keep_});
  connect(keep_, &QPushButton::clicked, this, [this] { keep(); });
  section(tr("Kept flights"));
  list_ = list(tr("Kept flights"), ThingKind::flight);
  list_->fitRows(110);
  section(tr("See it flown"));
  count_ = number(tr("How many"), {}, 1, 500, 1, 0);
  count_->setValue(1);
  count_->setToolTip(tr("They start around the start, go to around the goal, and make way for each other"));
  fly_ = button(tr("Fly"), tr("Work out the flight and play it"));
  play_ = button(tr("Play"), tr("Go on, or stop"), true);
  row({fly_, play_});
  time_ = new QSlider(Qt::Horizontal);
  time_->setAccessibleName(tr("Time of the flight"));
  time_->setRange(0, 0);
  column_->addWidget(time_);
  arrived_ = quiet({});
  connect(fly_, &QPushButton::clicked, this, [this] { fly(); });
  connect(play_, &QPushButton::toggled, this, [this](bool on) { play(on); });
  connect(time_, &QSlider::valueChanged, this, &FlyPage::moved);
  timer_.setInterval(33);
  connect(&timer_, &QTimer::timeout, this, [this] {
    if (!isVisible() || time_->value() >= time_->maximum()) return play_->setChecked(false);
    time_->setValue(time_->value() + 1);
  });
  tool_ = std::make_unique<FlightTool>(workspace_, *this);
}

FlyPage::~FlyPage() = default;

void FlyPage::play(bool on) {
  if (on && time_->value() >= time_->maximum()) time_->setValue(0);
  on &= time_->maximum() > 0;
  if (on)
    timer_.start();
  else
    timer_.stop();
  play_->setText(on ? tr("Pause") : tr("Play"));
  play_->setChecked(on);
}

void FlyPage::dropFlown() {
  flying_.drop();
  if (!flown_) return;
  flown_.reset();
  play(false);
  time_->setRange(0, 0);
  arrived_->clear();
}

void FlyPage::ask(const Vec3& from, const Vec3& to) {
  asked_ = Ends{from, to};
  dropFlown();
  if (const auto* kept = chosenFlight(workspace_); kept && kept->id == shown_ && (kept->from != from || kept->to != to)) {
    project::AskedFlight flight = *kept;
    flight.from = from, flight.to = to;
    replace(workspace_, flight, tr("Move flight"));
  }
  askAgain();
  show();
  workspace_.bulletin().add(Topic::air | Topic::tool);
}

/// Beside the window: in a large space it takes longer than a picture.
void FlyPage::askAgain() {
  const auto* kind = flyerNow(workspace_);
  const auto air = kind ? workspace_.airs().of(kind->id) : nullptr;
  if (!air) guide_.reset();
  if (air && (!guide_ || guide_->air != air)) guide_ = std::make_shared<Guide>(air);
  answered_ = false;
  if (!asked_ || !guide_) return;
  asking_.ask([this, ends = *asked_, guide = guide_, number = ++question_](Job&) -> LatestQuestion::Answer {
    return [this, number, way = guide->searcher.find({ends.from, ends.to})] {
      way_ = way, answered_ = number == question_;
      show();
      workspace_.bulletin().add(Topic::air);
    };
  });
}

void FlyPage::keep() {
  const auto* kind = flyerNow(workspace_);
  if (!kind || !asked_) return;
  project::AskedFlight flight;
  flight.name = "flight " + std::to_string(project::nextId(workspace_.project().flight->flights));
  flight.flyer = kind->id, flight.from = asked_->from, flight.to = asked_->to;
  add(workspace_, flight);
  shown_ = chosenFlight(workspace_) ? chosenFlight(workspace_)->id : -1;
}

void FlyPage::fly() {
  const auto* kind = flyerNow(workspace_);
  if (!kind || !guide_ || !answered_ || !way_.found()) return;
  std::vector<project::FlyerGroup> groups;
  for (const project::FlyerGroup& g : workspace_.project().flight->groups)
    if (g.flyer == kind->id) groups.push_back(g);
  groups.push_back({0, tr("asked").toStdString(), kind->id, static_cast<int>(count_->value()), asked_->from, asked_->to, 0, {}});
  arrived_->setText(tr("Working it out …"));
  flying_.ask([this, groups, id = kind->id, air = guide_->air](Job& job) -> LatestQuestion::Answer {
    return [this, flown = flyGroups(groups, air, id, job)] {
      if (!flown) return arrived_->setText(QString::fromStdString(flown.problem().what));
      flown_ = *flown;
      time_->setRange(0, static_cast<int>(flown_->frames.size()) - 1);
      time_->setValue(0);
      QString said = tr("%1 of %2 arrive; %3 s.")
                         .arg(flown_->arrived)
                         .arg(flown_->goals)
                         .arg(static_cast<double>(flown_->frames.size()) / kFlownRate, 0, 'f', 1);
      for (const pipeline::TooFew& few : flown_->tooFew)
        said += QStringLiteral(" ") +
                tr("Of %1 there is room for %2 of %3.").arg(QString::fromStdString(few.group)).arg(few.placed).arg(few.wanted);
      arrived_->setText(said);
      show();
      play(true);
      emit moved();
    };
  });
}

void FlyPage::show() {
  keep_->setEnabled(asked_.has_value());
  fly_->setEnabled(answered_ && way_.found());
  play_->setEnabled(flown_ != nullptr);
  const auto* kind = flyerNow(workspace_);
  if (kind && asked_ && guide_ && !answered_) return;  // what is said of the way before stays until then
  note_->setVisible(false);
  if (!kind) return headline_->setText(tr("Add a kind that flies on the page Kind."));
  if (!asked_) return headline_->setText(tr("Drag in the world from where it starts to where it is to fly."));
  if (!guide_)
    return headline_->setText(workspace_.airs().making() ? tr("The free space is being measured.") : tr("There is no free space yet."));
  if (way_.found())
    headline_->setText(tr("<b>%1 m</b>, %2 corners").arg(way_.length, 0, 'f', 2).arg(way_.points.size() - 2));
  else
    headline_->setText(way_.points.empty() ? tr("<b>No way</b>") : tr("<b>As near as %1 m</b>").arg(way_.missing, 0, 'f', 2));
  note_->setText(QString::fromStdString(way_.why));
  note_->setVisible(!way_.why.empty());
}

void FlyPage::refresh(Topics) {
  bool again = false;
  const auto* kept = chosenFlight(workspace_);
  if (kept && kept->id != shown_) {
    // It is of a kind of its own.
    workspace_.selection().choose(ThingKind::flyer, kept->flyer);
    again = true;
  }
  again |= kept && asked_ && (kept->from != asked_->from || kept->to != asked_->to);  // undone
  shown_ = kept ? kept->id : -1;
  if (again) asked_ = Ends{kept->from, kept->to};
  const auto* kind = flyerNow(workspace_);
  const auto air = kind ? workspace_.airs().of(kind->id) : nullptr;
  if (again || air != (guide_ ? guide_->air : nullptr)) {
    dropFlown();
    askAgain();
    workspace_.bulletin().add(Topic::air);
  }
  std::vector<ItemRow> rows;
  for (const project::AskedFlight& f : workspace_.project().flight->flights)
    rows.push_back({std::to_string(f.id), f.name.empty() ? tr("flight %1").arg(f.id) : QString::fromStdString(f.name)});
  list_->setRows(std::move(rows));
  show();
}

}  // namespace dune::window
