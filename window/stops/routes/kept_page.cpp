#include "window/stops/routes/kept_page.h"

#include <QMenu>

#include "window/scene/box_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/ends_tool.h"

namespace dune::window {

namespace {

using project::Expected;
using project::KeptRoute;
using project::Touch;

QString textOf(const std::string& s) { return QString::fromStdString(s); }

/// A limit that can be asked for, with the number that it begins with: that of the answer now, with some room.
struct LimitRow {
  const char *name, *unit, *tip;
  std::optional<double> Expected::*value;
  double most, step;
  int decimals;
  double (*usual)(const route::PathAnswer&);
};
constexpr double kRoom = 1.1;  // of what is measured now

const LimitRow kRows[] = {
    {"Length at most", "m", "The path may not be longer", &Expected::mostLength, 1e6, 1, 1,
     [](const route::PathAnswer& a) { return std::ceil(a.length * kRoom); }},
    {"Length at least", "m", "A shorter path means that something is open that should not be", &Expected::leastLength, 1e6, 1, 1,
     [](const route::PathAnswer& a) { return std::floor(a.length / kRoom); }},
    {"Cost at most", "", "The path may not cost more", &Expected::mostCost, 1e6, 1, 1,
     [](const route::PathAnswer& a) { return std::ceil(a.cost * kRoom); }},
    {"Cost at least", "", "The path may not cost less", &Expected::leastCost, 1e6, 1, 1,
     [](const route::PathAnswer& a) { return std::floor(a.cost / kRoom); }},
    {"Width at least", "m", "Free ground across the way at its narrowest place", &Expected::leastWidth, 100, 0.1, 2,
     [](const route::PathAnswer& a) { return std::isfinite(a.narrowest) ? std::floor(a.narrowest * 10) / 10 : 1.0; }},
    {"Longer than straight", "%", "By how much the path may be longer than the straight line", &Expected::mostLonger, 1e4, 5, 0,
     [](const route::PathAnswer& a) {
       const double straight = glm::distance(a.start.used, a.goal.used);
       return straight > 0 ? std::ceil((a.length / straight - 1) * 20 + 1) * 5 : 10.0;
     }},
};

QString wordsOf(const Touch& t) {
  const QString what = t.what == Touch::What::kind   ? textOf(t.kind)
                       : t.what == Touch::What::link ? QObject::tr("link %1").arg(t.link)
                                                     : QObject::tr("a box");
  return (t.must ? QObject::tr("must touch %1") : QObject::tr("must not touch %1")).arg(what);
}

}  // namespace

KeptPage::KeptPage(Workspace& workspace) : Sheet({}, workspace) {
  hint_ = quiet(tr("Keep a path on the first page: it is asked again after every build, and says when it is no longer as expected."));
  list_ = list(tr("Kept routes"), ThingKind::route);
  list_->fitRows(150);
  connect(list_, &ItemList::chosen, this, [this](const std::string&) {
    if (const KeptRoute* r = chosenRoute(workspace_)) emit showPlace((r->from + r->to) / 2.0);
  });
  copy_ = button(tr("Copy"), tr("Another route with the same ends and expectations"));
  remove_ = button(tr("Remove"), tr("Forget the chosen route (Delete)"));
  row({copy_, remove_});
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::route); });
  connect(copy_, &QPushButton::clicked, this, [this] {
    if (const KeptRoute* r = chosenRoute(workspace_)) add(workspace_, *r);
  });
  fields_ = new QWidget;
  auto* inner = new QVBoxLayout(fields_);
  inner->setContentsMargins(0, 0, 0, 0);
  inner->setSpacing(column_->spacing());
  column_->addWidget(fields_);
  QVBoxLayout* outer = std::exchange(column_, inner);  // what follows is there only while a route is chosen
  addChoices();
  addLimits();
  addTouches();
  column_ = outer;
  boxTool_ = std::make_unique<BoxTool>([this](const Polygon& outline, double ground) { addBox(outline, ground); });
  tool_ = std::make_unique<EndsTool>(
      EndsTool::Words{tr("the start"), tr("the goal"), tr("Choose a kept route in the list."),
                      tr("Drag the start or the goal of the route.")},
      [this]() -> std::optional<EndsTool::Ends> {
        const KeptRoute* r = chosenRoute(workspace_);
        const pipeline::KeptAnswer* k = r ? workspace_.keptAnswer(*r) : nullptr;
        if (!r) return std::nullopt;
        return k ? EndsTool::Ends{k->ends.from, k->ends.to} : EndsTool::Ends{r->from, r->to};
      },
      [this](const EndsTool::Ends& ends) {
        edit(
            tr("Move route"),
            [&](KeptRoute& r) {
              if (ends.from != r.from) r.from = ends.from, r.fromName.clear();
              if (ends.to != r.to) r.to = ends.to, r.toName.clear();
            },
            QStringLiteral("ends"));
      });
}

void KeptPage::edit(const QString& label, const Edit& change, const QString& mergeKey) {
  const KeptRoute* chosen = chosenRoute(workspace_);
  if (!chosen) return;
  KeptRoute route = *chosen;
  change(route);
  if (route != *chosen) replace(workspace_, route, label, mergeKey);
}

/// What it is called, who is asked, from where to where.
void KeptPage::addChoices() {
  state_ = new QLabel;
  state_->setWordWrap(true);
  column_->addWidget(state_);
  auto* form = new QGridLayout;
  form->setHorizontalSpacing(6);
  form->setVerticalSpacing(3);
  form->setColumnStretch(1, 1);
  const auto field = [&](const QString& name, QWidget* widget, const QString& tip) {
    auto* label = new QLabel(name);
    label->setBuddy(widget);
    widget->setAccessibleName(name);
    widget->setToolTip(tip);
    form->addWidget(label, form->rowCount(), 0);
    form->addWidget(widget, form->rowCount() - 1, 1);
  };
  const auto combo = [] {
    auto* box = new QComboBox;
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(8);
    return box;
  };
  field(tr("Name"), name_ = new QLineEdit, tr("What lists and reports call it"));
  field(tr("Folder"), folder_ = new QLineEdit, tr("Routes of one folder are listed together, and can be verified alone"));
  field(tr("Agent"), agent_ = combo(), tr("Whose path is asked for"));
  field(tr("From"), from_ = combo(), tr("A place that has a name moves with its name"));
  field(tr("To"), to_ = combo(), tr("A place that has a name moves with its name"));
  field(tr("Result"), outcome_ = combo(), tr("What is expected of the path as a whole"));
  column_->addLayout(form);
  outcome_->addItems({tr("a complete path"), tr("no way through"), tr("whatever it is")});
  connect(name_, &QLineEdit::editingFinished, this,
          [this] { edit(tr("Rename route"), [&](KeptRoute& r) { r.name = name_->text().trimmed().toStdString(); }); });
  connect(folder_, &QLineEdit::editingFinished, this,
          [this] { edit(tr("Move route to folder"), [&](KeptRoute& r) { r.folder = folder_->text().trimmed().toStdString(); }); });
  connect(agent_, &QComboBox::activated, this,
          [this](int i) { edit(tr("Change agent of route"), [&](KeptRoute& r) { r.agent = agent_->itemData(i).toInt(); }); });
  connect(from_, &QComboBox::activated, this, [this](int i) {
    edit(tr("Change start of route"), [&](KeptRoute& r) { r.fromName = from_->itemData(i).toString().toStdString(); });
  });
  connect(to_, &QComboBox::activated, this,
          [this](int i) { edit(tr("Change goal of route"), [&](KeptRoute& r) { r.toName = to_->itemData(i).toString().toStdString(); }); });
  connect(outcome_, &QComboBox::activated, this,
          [this](int i) { edit(tr("Change expectation"), [&](KeptRoute& r) { r.expected.outcome = static_cast<Expected::Outcome>(i); }); });
}

void KeptPage::addLimits() {
  section(tr("Expected"));
  for (const LimitRow& limit : kRows) {
    auto* on = new QCheckBox;
    auto* number = new NumberField(tr(limit.name), tr(limit.unit), 0, limit.most, limit.step, limit.decimals);
    on->setAccessibleName(tr("Expect: %1").arg(tr(limit.name)));
    on->setToolTip(tr(limit.tip));
    number->setToolTip(tr(limit.tip));
    auto* line = qobject_cast<QHBoxLayout*>(row({on, number})->layout());
    line->setStretch(1, 1);
    limits_.push_back({limit.value, on, number});
    connect(on, &QCheckBox::clicked, this, [this, &limit](bool checked) {
      edit(tr("Change expectation"), [&](KeptRoute& r) {
        const pipeline::KeptAnswer* k = workspace_.keptAnswer(r);
        const bool any = k && k->answer.status != route::PathStatus::none;
        r.expected.*limit.value = checked ? std::optional(any ? limit.usual(k->answer) : 10.0) : std::nullopt;
      });
    });
    connect(number, &NumberField::edited, this, [this, &limit](double v) {
      edit(
          tr("Change expectation"), [&](KeptRoute& r) { r.expected.*limit.value = v; }, tr(limit.name));
    });
    connect(number, &NumberField::finished, this, [this] { workspace_.document().endMerge(); });
  }
}

void KeptPage::addTouches() {
  sameWay_ = new QCheckBox(tr("The same way as now"));
  sameWay_->setToolTip(tr("The path as it is now is remembered; it holds while it stays within 0.25 m of that"));
  column_->addWidget(sameWay_);
  connect(sameWay_, &QCheckBox::clicked, this, [this](bool on) {
    edit(tr("Change expectation"), [&](KeptRoute& r) {
      const pipeline::KeptAnswer* k = workspace_.keptAnswer(r);
      r.expected.sameWay = on && k ? k->answer.points : std::vector<Vec3>{};
    });
  });
  touchList_ = quiet({});
  touchList_->setTextFormat(Qt::RichText);
  connect(touchList_, &QLabel::linkActivated, this, [this](const QString& link) {
    edit(tr("Change expectation"), [&](KeptRoute& r) {
      const auto i = link.toLongLong();
      if (i >= 0 && i < static_cast<qsizetype>(r.expected.touches.size())) r.expected.touches.erase(r.expected.touches.begin() + i);
    });
  });
  touch_ = button(tr("Must, or must not, touch"), tr("Kinds of ground and links that the path has to go over, or may not"));
  touch_->setMenu(new QMenu(touch_));
  connect(touch_->menu(), &QMenu::aboutToShow, this, [this] { showTouchMenu(); });
  column_->addWidget(touch_);
}

void KeptPage::showTouchMenu() {
  QMenu* menu = touch_->menu();
  menu->clear();
  const auto offer = [&](const Touch& t) {
    connect(menu->addAction(wordsOf(t)), &QAction::triggered, this, [this, t] {
      edit(tr("Change expectation"), [&](KeptRoute& r) {
        if (std::ranges::find(r.expected.touches, t) == r.expected.touches.end()) r.expected.touches.push_back(t);
      });
    });
  };
  for (const bool must : {false, true}) {
    if (must) menu->addSeparator();
    for (const level::AreaKind& kind : workspace_.project().areas->kinds) offer({Touch::What::kind, must, kind.name, 0, {}});
    for (const links::HandLink& link : workspace_.project().links->links) offer({Touch::What::link, must, {}, link.id, {}});
    QAction* box = menu->addAction(must ? tr("must touch a box: draw it") : tr("must not touch a box: draw it"));
    connect(box, &QAction::triggered, this, [this, must] { drawBox(must); });
  }
}

void KeptPage::drawBox(bool must) {
  drawsBox_ = true, mustTouch_ = must;
  toolChanged();
}

void KeptPage::leaveTool() {
  if (!std::exchange(drawsBox_, false)) return;
  toolChanged();
}

/// As high as somebody who walks there, and a little into the ground.
void KeptPage::addBox(const Polygon& outline, double ground) {
  constexpr double kBelow = 0.5, kOver = 2.0;  // m
  Touch touch{Touch::What::box, mustTouch_, {}, 0, {}};
  for (const Vec2& q : outline) touch.box.add(lift(q, ground - kBelow)), touch.box.add(lift(q, ground + kOver));
  leaveTool();
  edit(tr("Change expectation"), [&](KeptRoute& r) { r.expected.touches.push_back(touch); });
}

void KeptPage::fillRows() {
  std::vector<const KeptRoute*> routes;
  for (const KeptRoute& r : workspace_.project().routes->routes) routes.push_back(&r);
  std::ranges::stable_sort(routes, {}, [](const KeptRoute* r) { return r->folder; });
  std::vector<ItemRow> rows;
  for (const KeptRoute* r : routes) {
    ItemRow row{std::to_string(r->id), r->folder.empty() ? textOf(r->name) : textOf(r->folder + " / " + r->name)};
    if (const pipeline::KeptAnswer* k = workspace_.keptAnswer(*r)) {
      row.text += k->answer.status == route::PathStatus::complete ? tr(" – %1 m").arg(k->answer.length, 0, 'f', 1)
                                                                  : tr(" – %1").arg(tr(route::statusName(k->answer.status)));
      if (!k->unmet.empty()) row.text = tr("✕ %1").arg(row.text), row.colour = theme().bad, row.tip = textOf(k->unmet[0].sentence);
    }
    rows.push_back(std::move(row));
  }
  hint_->setVisible(rows.empty());
  list_->setVisible(!rows.empty());
  list_->setRows(std::move(rows));
}

void KeptPage::fillAgents(const KeptRoute& route) {
  const QSignalBlocker blocker(agent_);
  agent_->clear();
  agent_->addItem(tr("whichever is shown"), 0);
  for (const project::AgentKind& kind : workspace_.project().agents->agents) agent_->addItem(textOf(kind.name), kind.id);
  if (agent_->findData(route.agent) < 0) agent_->addItem(tr("one that is gone"), route.agent);
  agent_->setCurrentIndex(agent_->findData(route.agent));
}

void KeptPage::fillEnd(QComboBox* box, const std::string& name) {
  const QSignalBlocker blocker(box);
  box->clear();
  box->addItem(tr("where it was drawn"), QString());
  for (const project::NamedPlace& place : workspace_.project().places->places) box->addItem(textOf(place.name), textOf(place.name));
  // Objects are too many to list; one that is chosen can be an end.
  const auto& objects = workspace_.selection().all(ThingKind::object);
  for (const std::string& object : objects)
    if (objects.size() <= 8 && box->findData(textOf(object)) < 0) box->addItem(tr("object %1").arg(textOf(object)), textOf(object));
  if (box->findData(textOf(name)) < 0) box->addItem(textOf(name), textOf(name));
  box->setCurrentIndex(name.empty() ? 0 : box->findData(textOf(name)));
}

void KeptPage::fillTouches(const KeptRoute& route) {
  QString text;
  for (std::size_t i = 0; i < route.expected.touches.size(); ++i)
    text += QStringLiteral("%1%2 <a href='%3' style='color:%4'>%5</a>")
                .arg(i ? QStringLiteral("<br>") : QString(), wordsOf(route.expected.touches[i]).toHtmlEscaped())
                .arg(i)
                .arg(theme().accent.name(), tr("remove"));
  touchList_->setText(text);
  touchList_->setVisible(!text.isEmpty());
}

void KeptPage::showState(const KeptRoute& route) {
  const pipeline::KeptAnswer* k = workspace_.keptAnswer(route);
  if (!k) return state_->setText(tr("Asked when the ground of its agent is built."));
  const bool holds = k->unmet.empty();
  QString text = QStringLiteral("<span style='font-size:13pt; font-weight:600; color:%1'>%2</span>")
                     .arg((holds ? theme().good : theme().bad).name(), holds ? tr("Holds") : tr("Does not hold"));
  for (const pipeline::Unmet& u : k->unmet) text += QStringLiteral("<br>") + textOf(u.sentence).toHtmlEscaped();
  if (holds) text += tr("<br>%1 m, cost %2").arg(k->answer.length, 0, 'f', 2).arg(k->answer.cost, 0, 'f', 2);
  if (k->before)
    text +=
        QStringLiteral("<br>") + tr("Since the build before: %1").arg(textOf(pipeline::changeOf(*k->before, k->answer)).toHtmlEscaped());
  state_->setText(text);
}

void KeptPage::showFields(const KeptRoute& route) {
  const auto put = [](QLineEdit* field, const std::string& text) {
    if (!field->hasFocus() || !field->isModified()) field->setText(textOf(text));
  };
  put(name_, route.name), put(folder_, route.folder);
  fillAgents(route);
  fillEnd(from_, route.fromName), fillEnd(to_, route.toName);
  outcome_->setCurrentIndex(static_cast<int>(route.expected.outcome));
  const bool limited = route.expected.outcome != Expected::Outcome::notComplete;
  for (const LimitField& limit : limits_) {
    const auto& value = route.expected.*limit.value;
    limit.on->setChecked(value.has_value());
    limit.on->setEnabled(limited || value);
    limit.number->setEnabled(value.has_value());
    limit.number->setValue(value.value_or(0));
  }
  sameWay_->setChecked(!route.expected.sameWay.empty());
  const pipeline::KeptAnswer* k = workspace_.keptAnswer(route);
  sameWay_->setEnabled(!route.expected.sameWay.empty() || (k && k->answer.points.size() > 1));
  fillTouches(route);
}

void KeptPage::refresh(Topics) {
  fillRows();
  const KeptRoute* route = chosenRoute(workspace_);
  remove_->setEnabled(route), copy_->setEnabled(route);
  fields_->setVisible(route);
  if (!route) return;
  showState(*route);
  showFields(*route);
}

}  // namespace dune::window
