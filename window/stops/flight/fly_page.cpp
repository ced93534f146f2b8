#include "window/stops/flight/fly_page.h"

#include <cmath>

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
  bool raise(const Pointer& p, double notches) override {
    constexpr double kNotch = 0.25;  // metres
    if (!flyerNow(workspace_) || holding()) return false;
    page_.setHeight(page_.height() + kNotch * notches);
    if (from_) drag(p);
    return true;
  }

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
    if (!p.hit || !flyerNow(workspace_) || (p.thing && p.thing->kind == ThingKind::flyerGroup)) return false;
    for (const ThingKind kept : {ThingKind::flight, ThingKind::flyerGroup})  // a new one, and not the kept one elsewhere
      workspace_.selection().clear(kept);
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
  height_->setToolTip(tr("How high over what is pointed at a new flight starts and ends; Shift and the wheel over the world change it"));
  makeLists();
  makePlayer();
  tool_ = std::make_unique<FlightTool>(workspace_, *this);
}

void FlyPage::makeLists() {
  keep_ = button(tr("Keep this flight"), tr("Ask it again after every change"));
  keepGroup_ = button(tr("Keep as a group"), tr("So many bodies as below fly this way whenever something is flown"));
  row({keep_, keepGroup_});
  connect(keep_, &QPushButton::clicked, this, [this] { keep(); });
  connect(keepGroup_, &QPushButton::clicked, this, [this] { keepGroup(); });
  section(tr("Kept flights"));
  list_ = list(tr("Kept flights"), ThingKind::flight);
  list_->fitRows(80);
  section(tr("Groups that fly"));
  groups_ = list(tr("Groups that fly"), ThingKind::flyerGroup);
  groups_->fitRows(80);
}

void FlyPage::makePlayer() {
  section(tr("See it flown"));
  count_ = number(tr("How many"), {}, 1, 500, 1, 0);
  count_->setValue(1);
  count_->setToolTip(tr("They start around the start, go to around the goal, and make way for each other"));
  connect(count_, &NumberField::edited, this, [this](double count) { setCount(static_cast<int>(count)); });
  shape_ = new QCheckBox(tr("They keep their places"));
  shape_->setObjectName(QStringLiteral("in shape"));
  shape_->setToolTip(
      tr("Of the chosen group: all keep their places beside the first one, who waits for them; behind a narrow place they close up again"));
  column_->addWidget(shape_);
  connect(shape_, &QCheckBox::clicked, this, [this](bool on) {
    const auto* chosen = chosenFlyerGroup(workspace_);
    if (!chosen) return;
    project::FlyerGroup group = *chosen;
    group.inShape = on;
    replace(workspace_, group, tr("Change how a group flies"));
  });
  among_ = new QCheckBox(tr("Among the walkers of the last run"));
  among_->setObjectName(QStringLiteral("among"));
  among_->setToolTip(tr("They make way for the bodies and moving obstacles of the crowd, or of the recording, that is looked at"));
  column_->addWidget(among_);
  connect(among_, &QCheckBox::toggled, this, [this] { dropFlown(), show(); });
  fly_ = button(tr("Fly"), tr("Work out the flight of all groups and of what is asked, and play it"));
  play_ = button(tr("Play"), tr("Go on, or stop"), true);
  save_ = button(tr("Save…"), tr("Write what was flown to a file, as movement that was recorded"));
  row({fly_, play_, save_});
  time_ = new QSlider(Qt::Horizontal);
  time_->setAccessibleName(tr("Time of the flight"));
  time_->setRange(0, 0);
  column_->addWidget(time_);
  arrived_ = quiet({});
  connect(fly_, &QPushButton::clicked, this, [this] { fly(); });
  connect(play_, &QPushButton::toggled, this, [this](bool on) { play(on); });
  connect(save_, &QPushButton::clicked, this, [this] { emit Sheet::asked(Request::saveFlight); });
  connect(time_, &QSlider::valueChanged, this, &FlyPage::moved);
  timer_.setInterval(33);
  connect(&timer_, &QTimer::timeout, this, [this] {
    if (!isVisible() || time_->value() >= time_->maximum()) return play_->setChecked(false);
    time_->setValue(time_->value() + 1);
  });
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
  waits_ = false, followed_ = -1;
  workspace_.setFlown(nullptr);
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
  if (const auto* chosen = chosenFlyerGroup(workspace_);
      chosen && chosen->id == shownGroup_ && (chosen->start != from || chosen->goal != to)) {
    project::FlyerGroup group = *chosen;
    group.start = from, group.goal = to;
    replace(workspace_, group, tr("Move group"));
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

void FlyPage::keepGroup() {
  const auto* kind = flyerNow(workspace_);
  if (!kind || !asked_) return;
  project::FlyerGroup group;
  group.name = "group " + std::to_string(project::nextId(workspace_.project().flight->groups));
  group.flyer = kind->id, group.count = static_cast<int>(count_->value()), group.start = asked_->from, group.goal = asked_->to;
  workspace_.selection().clear(ThingKind::flight);
  add(workspace_, group);
  shown_ = -1, shownGroup_ = chosenFlyerGroup(workspace_) ? chosenFlyerGroup(workspace_)->id : -1;
}

/// Of the chosen group; else it is only about what is asked.
void FlyPage::setCount(int count) {
  const auto* chosen = chosenFlyerGroup(workspace_);
  if (!chosen || chosen->count == count) return;
  project::FlyerGroup group = *chosen;
  group.count = count;
  replace(workspace_, group, tr("Size of group"), QStringLiteral("flyer group size %1").arg(group.id));
}

/// The groups of the project, and what is asked where that is none of them.
std::vector<project::FlyerGroup> FlyPage::wanted() const {
  std::vector<project::FlyerGroup> groups = workspace_.project().flight->groups;
  const auto* kind = flyerNow(workspace_);
  if (kind && asked_ && !chosenFlyerGroup(workspace_) && answered_ && way_.found())
    groups.push_back({0, tr("asked").toStdString(), kind->id, static_cast<int>(count_->value()), asked_->from, asked_->to, 0, {}});
  return groups;
}

FlyPage::Source FlyPage::sourceNow() const {
  Source now{wanted(), workspace_.project().flight->flyers, {}, among_->isChecked() ? workspace_.run() : nullptr};
  for (const project::FlyerGroup& g : now.groups) now.airs[g.flyer] = workspace_.airs().of(g.flyer);
  return now;
}

void FlyPage::fly() {
  const auto groups = wanted();
  if (groups.empty() || !workspace_.level()) return;
  // The free space of each kind first, one after the other.
  for (const project::FlyerGroup& g : groups) {
    waits_ = !workspace_.airs().fresh(workspace_.project(), *workspace_.level()->level, g.flyer);
    if (!waits_) continue;
    workspace_.wantAir(g.flyer);
    return arrived_->setText(tr("The free space of one more kind is being measured."));
  }
  source_ = sourceNow();
  arrived_->setText(tr("Working it out …"));
  flying_.ask([this, source = source_](Job& job) -> LatestQuestion::Answer {
    return [this, flown = flyGroups(source.groups, source.airs, source.among, job)] {
      if (!flown) return arrived_->setText(QString::fromStdString(flown.problem().what));
      take(*flown);
    };
  });
}

void FlyPage::take(const std::shared_ptr<const Flown>& flown) {
  workspace_.setFlown(flown);
  followed_ = -1;
  time_->setRange(0, static_cast<int>(flown->frames.size()) - 1);
  time_->setValue(0);
  QString said = tr("%1 of %2 arrive; %3 s.")
                     .arg(flown->arrived)
                     .arg(flown->goals)
                     .arg(static_cast<double>(flown->frames.size()) / kFlownRate, 0, 'f', 1);
  if (!flown->findings.empty()) said += QStringLiteral(" ") + tr("Found in it: %1, under Findings.").arg(flown->findings.size());
  for (const pipeline::TooFew& few : flown->tooFew)
    said += QStringLiteral(" ") +
            tr("Of %1 there is room for %2 of %3.").arg(QString::fromStdString(few.group)).arg(few.placed).arg(few.wanted);
  arrived_->setText(said);
  show();
  play(true);
  emit moved();
}

void FlyPage::showFinding(const review::Finding& finding) {
  if (!flown()) return;
  play(false);
  followed_ = finding.agent;
  if (finding.timed()) time_->setValue(static_cast<int>(std::lround(finding.time * kFlownRate)));
  emit moved();
}

void FlyPage::show() {
  for (QPushButton* b : {keep_, keepGroup_}) b->setEnabled(asked_.has_value());
  fly_->setEnabled(!wanted().empty());
  for (QPushButton* b : {play_, save_}) b->setEnabled(flown() != nullptr);
  among_->setVisible(workspace_.run() != nullptr);
  const auto* kind = flyerNow(workspace_);
  if (kind && asked_ && guide_ && !answered_) return;  // what is said of the way before stays until then
  note_->setVisible(false);
  if (!kind) return headline_->setText(tr("Add a kind that flies on the page Kind."));
  if (!asked_) return headline_->setText(tr("Drag in the world from where it starts to where it is to fly."));
  if (!guide_)
    return headline_->setText(workspace_.airs().making() ? tr("The free space is being measured.") : tr("There is no free space yet."));
  if (way_.found())
    headline_->setText(tr("<b>%1 m</b>, %2 corners").arg(way_.length, 0, 'f', 2).arg(way_.points.size() - 2) +
                       (std::abs(way_.cost - way_.length) > 0.005 ? tr(", costs %1").arg(way_.cost, 0, 'f', 1) : QString()));
  else
    headline_->setText(way_.points.empty() ? tr("<b>No way</b>") : tr("<b>As near as %1 m</b>").arg(way_.missing, 0, 'f', 2));
  note_->setText(QString::fromStdString(way_.why));
  note_->setVisible(!way_.why.empty());
}

bool FlyPage::takeChosen() {
  const auto* kept = chosenFlight(workspace_);
  const auto* group = chosenFlyerGroup(workspace_);
  // One of both: the one that was chosen last.
  if (kept && group) {
    const bool keptIsNew = kept->id != shown_;
    workspace_.selection().clear(keptIsNew ? ThingKind::flyerGroup : ThingKind::flight);
    if (keptIsNew)
      group = nullptr;
    else
      kept = nullptr;
  }
  const bool other = (kept && kept->id != shown_) || (group && group->id != shownGroup_);
  shown_ = kept ? kept->id : -1, shownGroup_ = group ? group->id : -1;
  if (!kept && !group) return false;
  // It is of a kind of its own.
  if (other) workspace_.selection().choose(ThingKind::flyer, kept ? kept->flyer : group->flyer);
  const Ends ends = kept ? Ends{kept->from, kept->to} : Ends{group->start, group->goal};
  const bool moved = !asked_ || asked_->from != ends.from || asked_->to != ends.to;  // undone
  if (group) count_->setValue(group->count);
  asked_ = ends;
  return other || moved;
}

void FlyPage::refreshLists() {
  std::vector<ItemRow> rows;
  for (const project::AskedFlight& f : workspace_.project().flight->flights)
    rows.push_back({std::to_string(f.id), f.name.empty() ? tr("flight %1").arg(f.id) : QString::fromStdString(f.name)});
  list_->setRows(std::exchange(rows, {}));
  for (const project::FlyerGroup& g : workspace_.project().flight->groups)
    rows.push_back(
        {std::to_string(g.id), tr("%1: %2").arg(g.name.empty() ? tr("group %1").arg(g.id) : QString::fromStdString(g.name)).arg(g.count)});
  groups_->setRows(std::move(rows));
  const auto* chosen = chosenFlyerGroup(workspace_);
  shape_->setVisible(chosen), shape_->setChecked(chosen && chosen->inShape);
}

void FlyPage::refresh(Topics) {
  // What was asked in another project is not asked in this one.
  if (std::exchange(project_, workspace_.projectNumber()) != workspace_.projectNumber()) asked_.reset(), answered_ = false, dropFlown();
  const bool again = takeChosen();
  const auto* kind = flyerNow(workspace_);
  const auto air = kind ? workspace_.airs().of(kind->id) : nullptr;
  const bool otherAir = air != (guide_ ? guide_->air : nullptr);
  if (again || (otherAir && !waits_)) dropFlown();
  if (again || otherAir) {
    askAgain();
    workspace_.bulletin().add(Topic::air);
  }
  const bool known = answered_ || !asked_ || !guide_;  // what would be flown now
  if (flown() && known && source_ != sourceNow()) dropFlown();
  refreshLists();
  show();
  if (waits_ && !workspace_.airs().making()) {
    if (workspace_.airs().trouble().isEmpty()) return fly();
    waits_ = false;
    arrived_->setText(workspace_.airs().trouble());
  }
}

}  // namespace dune::window
