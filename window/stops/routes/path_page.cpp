#include "window/stops/routes/path_page.h"

#include <algorithm>
#include <chrono>

#include "core/pipeline/opening_cause.h"
#include "window/scene/handle_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

/// While an end is dragged the window waits for each answer.
std::size_t viewsFor(bool whole) { return whole ? route::kUsualSlopeViews : route::kUsualSlopeViews / 16; }

/// Draws a path from start to goal; then its ends are handles.
class RouteTool : public HandleTool {
 public:
  explicit RouteTool(PathPage& page) : page_(page) {}
  QString hint() const override {
    if (dragging_ || holding()) return QObject::tr("The path follows. Let go to see everything about it.");
    if (page_.sketching()) return QObject::tr("Click the places that the way should go over, or drag along it; places can be dragged.");
    if (from_) return QObject::tr("Click the goal, or drag a new path from its start.");
    if (!tip().isEmpty()) return QObject::tr("Drag to move %1.").arg(tip());
    return page_.asked() ? QObject::tr("Drag the start or the goal elsewhere, or drag a new path.")
                         : QObject::tr("Drag from start to goal, or click one and then the other.");
  }
  void drag(const Pointer& p) override {
    if (holding()) return HandleTool::drag(p);
    if (!pressed_ || !p.hit) return;
    if (page_.sketching()) {
      constexpr double kEvery = 2.5;  // metres between places of a way that is drawn
      if (glm::distance(page_.places().back(), p.hit->at) > kEvery) page_.addPlace(p.hit->at);
      return;
    }
    if (!dragging_ && (p.pixel - pressedPixel_).manhattanLength() < 6) return;
    dragging_ = true;
    page_.ask(*pressed_, p.hit->at, false);
  }
  void drop(const Pointer& p) override {
    if (holding()) {
      HandleTool::drop(p);
      if (page_.asked()) page_.ask(page_.asked()->from, page_.asked()->to, true);
      return;
    }
    if (!pressed_) return;
    if (page_.sketching()) return pressed_.reset();
    if (dragging_) {
      if (p.hit) page_.ask(*pressed_, p.hit->at, true);
      from_.reset();
    } else if (from_) {
      page_.ask(*from_, *pressed_, true);
      from_.reset();
    } else {
      from_ = pressed_;
    }
    pressed_.reset();
    dragging_ = false;
  }
  bool giveUp() override {
    const bool had = from_ || pressed_;
    from_.reset(), pressed_.reset(), dragging_ = false;
    return HandleTool::giveUp() || had;
  }
  bool aims() const override { return true; }
  void draw(DrawList& list, const Camera&) const override {
    if (from_) list.disc(*from_ + Vec3{0, 0.06, 0}, 0.3, packed(theme().accent, 1));
  }

 protected:
  std::vector<Handle> handles() const override {
    if (!page_.asked() || dragging_ || from_) return {};
    std::vector<Handle> all{{kFrom, page_.asked()->from, QObject::tr("the start")}, {kTo, page_.asked()->to, QObject::tr("the goal")}};
    for (std::size_t i = 0; i < page_.places().size(); ++i)
      all.push_back({kPlaces + static_cast<int>(i), page_.places()[i], QObject::tr("a place of the expected way")});
    return all;
  }
  void begin(int, const Pointer&) override {}
  void dragHandle(int end, const Pointer& p) override {
    if (!p.hit || !page_.asked()) return;
    if (end >= kPlaces) return page_.movePlace(static_cast<std::size_t>(end - kPlaces), p.hit->at);
    const PathPage::Ends ends = *page_.asked();
    page_.ask(end == kFrom ? p.hit->at : ends.from, end == kTo ? p.hit->at : ends.to, false);
  }
  bool pressBeside(const Pointer& p) override {
    if (!p.hit) return false;
    pressed_ = p.hit->at;
    if (page_.sketching()) page_.addPlace(p.hit->at);
    pressedPixel_ = p.pixel;
    return true;
  }

 private:
  static constexpr int kFrom = 0, kTo = 1, kPlaces = 2;
  PathPage& page_;
  std::optional<Vec3> from_, pressed_;
  QPointF pressedPixel_;
  bool dragging_ = false;
};

QString line(const QString& name, const QString& value) {
  return QStringLiteral("<tr><td>%1&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>").arg(name, value);
}

}  // namespace

PathPage::PathPage(Workspace& workspace) : Sheet({}, workspace) {
  headline_ = new QLabel;
  headline_->setWordWrap(true);
  column_->addWidget(headline_);
  note_ = trouble();
  prices_ = new PriceTable;
  column_->addWidget(prices_);
  connect(prices_, &PriceTable::pointedAt, this, [this](int i) { light(answer_, i); });
  table_ = new QLabel;
  table_->setTextFormat(Qt::RichText);
  column_->addWidget(table_);
  all_ = new QCheckBox(tr("All kinds of agent"));
  all_->setObjectName(QStringLiteral("allAgents"));
  all_->setToolTip(tr("Ask every kind of agent the same, each on its own ground and by its own rules"));
  column_->addWidget(all_);
  connect(all_, &QCheckBox::toggled, this, [this] {
    askOthers(true);
    show();
    workspace_.bulletin().add(Topic::answers);
  });
  othersTable_ = new QLabel;
  othersTable_->setTextFormat(Qt::RichText);
  othersTable_->setWordWrap(true);
  column_->addWidget(othersTable_);
  keep_ = button(tr("Keep this route"), tr("Ask it again after every build, and say what is expected of it"));
  sketch_ = button(tr("The way I expected"),
                   tr("Draw the way that it should have gone: its price is put beside this one's, and what decides is said"), true);
  row({keep_, sketch_});
  connect(keep_, &QPushButton::clicked, this, [this] { keep(); });
  connect(sketch_, &QPushButton::toggled, this, [this](bool on) {
    if (!on) places_.clear();
    askExpected();
    toolChanged();
  });
  verdict_ = new QLabel;
  verdict_->setWordWrap(true);
  column_->addWidget(verdict_);
  expectedPrices_ = new PriceTable;
  column_->addWidget(expectedPrices_);
  connect(expectedPrices_, &PriceTable::pointedAt, this, [this](int i) { light(expected_, i); });
  kept_ = quiet({});
  kept_->setTextFormat(Qt::RichText);
  connect(kept_, &QLabel::linkActivated, this, &PathPage::showKept);
  tool_ = std::make_unique<RouteTool>(*this);
}

void PathPage::addPlace(const Vec3& at) {
  places_.push_back(at);
  askExpected();
}

void PathPage::movePlace(std::size_t place, const Vec3& at) {
  if (place >= places_.size()) return;
  places_[place] = at;
  askExpected();
}

void PathPage::askExpected() {
  expected_ = {};
  const auto ground = workspace_.ground();
  if (ground && asked_ && !places_.empty()) {
    std::vector<Vec3> all{asked_->from};
    all.insert(all.end(), places_.begin(), places_.end());
    all.push_back(asked_->to);
    route::Search search(*ground->field, route::Answers::prepared);
    expected_ = route::findPathThrough(*ground->field, search, all);
  }
  show();
  workspace_.bulletin().add(Topic::answers);
}

void PathPage::askOthers(bool whole) {
  others_.clear();
  if (!asked_) return;
  for (const std::size_t agent : othersToAsk()) {
    const auto ground = workspace_.grounds().of(workspace_.project().agents->agents[agent].id);
    route::Search search(*ground->field, route::Answers::prepared);
    others_.push_back(
        {agent, ground, route::findPath(*ground->field, search, asked_->from, asked_->to, {2, false, false, viewsFor(whole)})});
  }
}

std::vector<std::size_t> PathPage::othersToAsk() const {
  const auto& agents = workspace_.project().agents->agents;
  std::vector<std::size_t> asked;
  for (std::size_t i = 0; all_->isChecked() && i < agents.size(); ++i)
    if (i != workspace_.agent() && workspace_.grounds().of(agents[i].id)) asked.push_back(i);
  return asked;
}

bool PathPage::othersAreAsked() const {
  const auto& agents = workspace_.project().agents->agents;
  return std::ranges::equal(others_, othersToAsk(), [&](const Other& o, std::size_t agent) {
    return o.agent == agent && o.ground == workspace_.grounds().of(agents[agent].id);
  });
}

/// A row a kind of agent: its colour, how far, at what cost, or why it does not get there.
void PathPage::showOthers() {
  const auto& agents = workspace_.project().agents->agents;
  all_->setVisible(asked_ && workspace_.ground() && agents.size() > 1);
  othersTable_->setVisible(all_->isVisibleTo(this) && all_->isChecked());
  QString text = QStringLiteral("<table cellpadding=2>");
  const auto row = [&](std::size_t agent, const route::PathAnswer& a) {
    const QString name = QString::fromStdString(agents[agent].name).toHtmlEscaped();
    const QString says = a.status == route::PathStatus::complete  ? tr("%1 m, cost %2").arg(a.length, 0, 'f', 1).arg(a.cost, 0, 'f', 1)
                         : a.status == route::PathStatus::partial ? tr("does not get there")
                                                                  : tr("no ground here");
    text += QStringLiteral("<tr><td><span style='color:%1'>&#9632;</span>&nbsp;%2</td><td>%3</td></tr>")
                .arg(theme().agent[agent % std::size(theme().agent)].name(), name, says);
  };
  for (std::size_t i = 0; i < agents.size(); ++i) {
    if (i == workspace_.agent()) row(i, answer_);
    for (const Other& o : others_)
      if (o.agent == i) row(i, o.answer);
    if (!workspace_.grounds().of(agents[i].id))
      text += QStringLiteral("<tr><td>%1</td><td>%2</td></tr>")
                  .arg(QString::fromStdString(agents[i].name).toHtmlEscaped(), tr("not built yet"));
  }
  othersTable_->setText(text + QStringLiteral("</table>"));
}

void PathPage::light(const route::PathAnswer& answer, int stretch) {
  lit_.clear();
  if (stretch >= 0 && stretch < static_cast<int>(answer.stretches.size())) {
    const route::Stretch& s = answer.stretches[static_cast<std::size_t>(stretch)];
    lit_.push_back(s.from);
    for (std::size_t i = s.first + 1; i < s.last; ++i) lit_.push_back(answer.points[i]);
    lit_.push_back(s.to);
  }
  workspace_.bulletin().add(Topic::answers);
}

void PathPage::ask(const Vec3& from, const Vec3& to, bool whole) {
  asked_ = Ends{from, to};
  const auto ground = workspace_.ground();
  askedOf_ = ground;
  if (ground) {
    route::Search search(*ground->field, route::Answers::prepared);
    answer_ = route::findPath(*ground->field, search, from, to, {2, whole, whole, viewsFor(whole)});
  }
  opening_.drop(), measuring_.drop();
  seconds_.reset();
  askOthers(whole);
  if (whole) askWhatOpens(), measure();
  lit_.clear();
  if (!places_.empty()) return askExpected();
  show();
  workspace_.bulletin().add(Topic::answers);
}

/// What the question costs whoever wants the way alone, once the search has its memory; beside the window, which has its answer.
void PathPage::measure() {
  if (!askedOf_ || answer_.status == route::PathStatus::none) return;
  measuring_.ask([this, ground = askedOf_, ends = *asked_](Job&) -> LatestQuestion::Answer {
    route::Search search(*ground->field, route::Answers::prepared);
    const auto ask = [&] { (void)route::findPath(*ground->field, search, ends.from, ends.to, {2, false, false}); };
    ask();
    const auto begin = std::chrono::steady_clock::now();
    ask();
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begin;
    return [this, took] {
      seconds_ = took.count();
      show();
    };
  });
}

/// The path is shown at once; this takes time on large ground.
void PathPage::askWhatOpens() {
  if (!askedOf_ || answer_.status != route::PathStatus::partial) return;
  opening_.ask([this, ground = askedOf_, answer = answer_](Job& job) mutable -> LatestQuestion::Answer {
    pipeline::Explainer explainer;
    pipeline::explainClosed(explainer, *ground, answer, job);
    return [this, answer] {
      answer_ = answer;
      show();
      workspace_.bulletin().add(Topic::answers);
    };
  });
}

void PathPage::show() {
  const bool any = asked_ && workspace_.ground(), there = any && answer_.status != route::PathStatus::none;
  const std::size_t kept = workspace_.project().routes->routes.size();
  kept_->setVisible(kept > 0);
  kept_->setText((kept == 1 ? tr("One route is kept.") : tr("%1 routes are kept.").arg(kept)) +
                 tr(" <a href='kept' style='color:%1'>Say what is expected of them</a>").arg(theme().accent.name()));
  keep_->setVisible(any), keep_->setEnabled(there);
  sketch_->setVisible(any), sketch_->setEnabled(there || sketch_->isChecked());
  note_->setVisible(any && !answer_.note.empty());
  prices_->setVisible(there), table_->setVisible(there);
  if (!any) {
    headline_->setText(workspace_.ground() ? tr("Drag in the world from start to goal.")
                                           : tr("There is no walkable ground to ask for a path on yet."));
  } else {
    const bool complete = answer_.status == route::PathStatus::complete;
    const QString status = complete ? tr("Complete") : there ? tr("Partial") : tr("No path");
    headline_->setText(QStringLiteral("<span style='font-size:13pt; font-weight:600; color:%1'>%2</span>")
                           .arg((complete ? theme().good : theme().bad).name(), status) +
                       (there ? tr("&nbsp; %1 m, cost %2").arg(answer_.length, 0, 'f', 2).arg(answer_.cost, 0, 'f', 2) : QString()));
    note_->setText(QString::fromStdString(answer_.note));
    note_->setObjectName(complete ? QStringLiteral("quiet") : QStringLiteral("trouble"));
    note_->setStyleSheet(QString());
  }
  if (there) {
    prices_->show(answer_, workspace_.ground()->mesh, tr("Price list of the path"));
    showFacts();
  }
  showOthers();
  showExpected();
}

void PathPage::showFacts() {
  QString text = QStringLiteral("<table>");
  if (std::isfinite(answer_.narrowest) && answer_.narrowest > 0)
    text += line(tr("Narrowest place"), tr("%1 m").arg(answer_.narrowest, 0, 'f', 2));
  text += line(tr("Steepest"), tr("%1°").arg(answer_.steepest, 0, 'f', 0));
  text += line(tr("Sharpest turn"), tr("%1°").arg(answer_.sharpestTurn, 0, 'f', 0));
  if (answer_.straight > 0.1)
    text += line(tr("Longer than straight"), tr("%1 %").arg(std::max(0.0, (answer_.length / answer_.straight - 1) * 100), 0, 'f', 0));
  text += line(tr("At most off the best"),
               answer_.optimalityBound <= 1.00005 ? tr("0 %") : tr("%1 %").arg((answer_.optimalityBound - 1) * 100, 0, 'f', 1));
  constexpr double kAsked = 1000;  // times a second: by 100 agents, ten times each
  const int digits = seconds_.value_or(0) < 0.001 ? 3 : 1;
  text += line(tr("Asking takes"), seconds_ ? tr("%1 ms").arg(*seconds_ * 1000, 0, 'f', digits) : QStringLiteral("…"));
  text += line(tr("1000 times a second"), seconds_ ? tr("%1 cores").arg(*seconds_ * kAsked, 0, 'f', digits) : QStringLiteral("…"));
  table_->setText(text + QStringLiteral("</table>"));
}

/// The sentence first, for it is what was asked for.
void PathPage::showExpected() {
  const bool drawn = sketching() && !expected_.points.empty();
  verdict_->setVisible(sketching());
  expectedPrices_->setVisible(drawn);
  if (!drawn) {
    verdict_->setText(tr("Click the places that the way should go over."));
    return;
  }
  verdict_->setText(QString::fromStdString(route::whatDecides(answer_, expected_, workspace_.ground()->mesh)));
  expectedPrices_->show(expected_, workspace_.ground()->mesh, tr("Price list of the expected way"));
}

void PathPage::keep() {
  if (!asked_) return;
  project::KeptRoute route{0, {}, asked_->from, asked_->to};
  route.agent = workspace_.agentKind().id;
  // What leads nowhere today may be meant to: then it is a mistake when it leads there one day.
  if (answer_.status != route::PathStatus::complete) route.expected.outcome = project::Expected::Outcome::notComplete;
  add(workspace_, std::move(route));
}

void PathPage::refresh(Topics) {
  if (asked_ && (!othersAreAsked() || askedOf_ != workspace_.ground()))
    ask(asked_->from, asked_->to, true);
  else
    show();
}

}  // namespace dune::window
