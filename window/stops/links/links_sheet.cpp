#include "window/stops/links/links_sheet.h"

#include <QMenu>

#include "window/scene/from_to_tool.h"
#include "window/scene/theme.h"
#include "window/session/found_links.h"
#include "window/session/hand_made.h"
#include "window/stops/ends_tool.h"

namespace dune::window {

namespace {

QComboBox* kinds(const QString& name) {
  auto* box = new QComboBox;
  box->addItems(
      {LinksSheet::tr("Jump"), LinksSheet::tr("Drop"), LinksSheet::tr("Climb"), LinksSheet::tr("Door"), LinksSheet::tr("Teleport")});
  Q_ASSERT(box->count() == static_cast<int>(nav::kLinkKinds));
  box->setAccessibleName(name);
  return box;
}

template <class L>
QString described(const L& l) {
  const double width = 2 * glm::length(l.fromHalf);
  const QString length = LinksSheet::tr("%1 m").arg(glm::distance(l.from, l.to), 0, 'f', 1);
  return width < 0.05 ? length : LinksSheet::tr("%1, %2 m wide").arg(length).arg(width, 0, 'f', 1);
}

QString ways(bool oneWay) { return oneWay ? LinksSheet::tr("one way") : LinksSheet::tr("both ways"); }

}  // namespace

LinksSheet::LinksSheet(Workspace& workspace) : Sheet(tr("Links"), workspace) {
  quiet(tr("Off-mesh links: jumps, drops and climbs that paths may use."));
  addFinding();
  addDrawing();
  list_ = list(tr("Links"), ThingKind::link);
  addChosen();
  makeTools();
}

void LinksSheet::addFinding() {
  find_ = new QCheckBox(tr("Find drops and jumps"));
  find_->setToolTip(tr("The build looks along the border of the ground for drops and jumps that the agent can take"));
  find_->setObjectName(QStringLiteral("findLinks"));
  column_->addWidget(find_);
  connect(find_, &QCheckBox::clicked, this, [this](bool on) { findLinks(workspace_, on); });
  found_ = quiet({});
}

void LinksSheet::addDrawing() {
  draw_ = button(tr("Draw link"), tr("Drag from foot to landing in the world"), true);
  draw_->setObjectName(QStringLiteral("primary"));
  connect(draw_, &QPushButton::toggled, this, [this] { toolChanged(); });
  kind_ = kinds(tr("Kind of the next link"));
  kind_->setObjectName(QStringLiteral("nextKind"));
  kind_->setToolTip(tr("What the next link is that is drawn"));
  bothWays_ = new QCheckBox(tr("Both ways"));
  bothWays_->setToolTip(tr("Whether the next link that is drawn goes both ways"));
  bothWays_->setChecked(true);
  connect(kind_, &QComboBox::currentIndexChanged, this, [this] { bothWays_->setEnabled(kind() != nav::LinkKind::drop); });
  row({draw_, kind_, bothWays_});
}

void LinksSheet::addChosen() {
  what_ = section({});
  chosenKind_ = kinds(tr("Kind of the chosen link"));
  chosenKind_->setObjectName(QStringLiteral("chosenKind"));
  chosenKind_->setToolTip(tr("What the chosen link is"));
  chosenBothWays_ = new QCheckBox(tr("Goes both ways"));
  chosenBothWays_->setAccessibleName(tr("The chosen link goes both ways"));
  kindRow_ = row({chosenKind_, chosenBothWays_});
  connect(chosenKind_, &QComboBox::activated, this,
          [this](int kind) { editChosen(tr("Change link"), [kind](links::HandLink& l) { l.kind = static_cast<nav::LinkKind>(kind); }); });
  connect(chosenBothWays_, &QCheckBox::clicked, this,
          [this](bool on) { editChosen(tr("Change direction"), [on](links::HandLink& l) { l.oneWay = !on; }); });
  cost_ = number(tr("Cost when taken"), tr("m"), 0, 10000, 0.5, 1);
  cost_->setToolTip(tr("What taking it costs, in metres of plain ground, besides its length"));
  connect(cost_, &NumberField::edited, this, [this](double v) {
    editChosen(
        tr("Change cost"), [v](links::HandLink& l) { l.cost = v; }, QStringLiteral("link cost"));
  });
  perMetre_ = number(tr("Cost per metre"), tr("× m"), 0, 1000, 0.1, 2);
  perMetre_->setToolTip(tr("How many metres of plain ground one metre of its flight counts as"));
  connect(perMetre_, &NumberField::edited, this, [this](double v) {
    editChosen(
        tr("Change cost"), [v](links::HandLink& l) { l.perMetre = v; }, QStringLiteral("link cost per metre"));
  });
  seconds_ = number(tr("Time to cross"), tr("s"), 0, 3600, 0.5, 1);
  seconds_->setToolTip(tr("Seconds that a body takes; 0: as long as its flight is at its speed"));
  seconds_->spin()->setSpecialValueText(tr("as far as it is"));
  connect(seconds_, &NumberField::edited, this, [this](double v) {
    editChosen(
        tr("Change time"), [v](links::HandLink& l) { l.seconds = v; }, QStringLiteral("link seconds"));
  });
  users_ = button({}, tr("Which kinds of agent may take it"));
  users_->setMenu(new QMenu(users_));
  users_->setAccessibleName(tr("Who may take the chosen link"));
  usersRow_ = row({users_});
  connect(users_->menu(), &QMenu::aboutToShow, this, [this] { fillUsers(); });
  trouble_ = trouble();
  show_ = button(tr("Show"), tr("Show the chosen link"));
  turn_ = button(tr("Turn round"), tr("Swap foot and landing"));
  remove_ = button(tr("Remove"), tr("Remove the chosen link (Delete)"));
  drawnRow_ = row({turn_, remove_});
  keep_ = button(tr("Keep as drawn"), tr("Make it a link of your own, which no build changes"));
  refuse_ = button(tr("Refuse"), tr("Leave it out, now and at every build"));
  foundRow_ = row({keep_, refuse_});
  takeBack_ = button(tr("Allow again"), tr("Let the build find it again"));
  refusedRow_ = row({takeBack_});
  row({show_});
  connect(turn_, &QPushButton::clicked, this, [this] {
    editChosen(tr("Turn link round"), [](links::HandLink& l) { std::swap(l.from, l.to), std::swap(l.fromHalf, l.toHalf); });
  });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::link); });
  connect(keep_, &QPushButton::clicked, this, [this] {
    if (const nav::Link* l = chosenFound(workspace_)) keepAsDrawn(workspace_, *l);
  });
  connect(refuse_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::link); });
  connect(takeBack_, &QPushButton::clicked, this, [this] { takeBackRefused(workspace_); });
  connect(show_, &QPushButton::clicked, this, [this] {
    if (const links::HandLink* l = chosenLink(workspace_)) emit showPlace((l->from + l->to) * 0.5);
    if (const nav::Link* l = chosenFound(workspace_)) emit showPlace((l->from + l->to) * 0.5);
    if (const links::RefusedLink* l = chosenRefused(workspace_)) emit showPlace((l->from + l->to) * 0.5);
  });
}

void LinksSheet::makeTools() {
  auto drawFlight = [this](DrawList& list, const Vec3& from, const Vec3& to) {
    const Vec3 up{0, 0.08, 0};
    const std::uint32_t ink = packed(theme().accent, 1);
    list.polyline(nav::flight(kind(), from + up, to + up, workspace_.agentKind().radius), 3, ink);
    for (const Vec3& end : {from, to}) list.circle(end + up, 0.25, 2.5, ink);
  };
  tool_ = std::make_unique<FromToTool>(FromToTool::Words{tr("Press where the link begins and drag to where it lands. Esc leaves the tool."),
                                                         tr("Let go where the link lands.")},
                                       0.3, drawFlight, [this](const Vec3& from, const Vec3& to) {
                                         const bool oneWay = !bothWays_->isChecked() || kind() == nav::LinkKind::drop;
                                         add(workspace_, links::HandLink{0, kind(), from, to, oneWay, 0});
                                       });
  ends_ = std::make_unique<EndsTool>(
      EndsTool::Words{tr("where it begins"), tr("where it lands"),
                      tr("Click a link to change it, or draw one with the button on the left."),
                      tr("Drag the ends of the link to move them. Delete takes it away.")},
      [this]() -> std::optional<EndsTool::Ends> {
        if (const links::HandLink* l = chosenLink(workspace_)) return EndsTool::Ends{l->from, l->to};
        if (const nav::Link* l = chosenFound(workspace_)) return EndsTool::Ends{l->from, l->to};
        return std::nullopt;
      },
      [this](const EndsTool::Ends& ends) {
        if (const nav::Link* found = chosenFound(workspace_)) return keepMoved(workspace_, *found, ends.from, ends.to);
        editChosen(tr("Move link"), [&](links::HandLink& l) { l.from = ends.from, l.to = ends.to; });
      });
}

Tool* LinksSheet::tool() { return draw_->isChecked() ? tool_.get() : ends_.get(); }

void LinksSheet::editChosen(const QString& label, const std::function<void(links::HandLink&)>& change, const QString& key) {
  const links::HandLink* chosen = chosenLink(workspace_);
  if (!chosen) return;
  links::HandLink link = *chosen;
  change(link);
  replace(workspace_, link, label, key.isEmpty() ? key : key + QString::number(link.id));
}

void LinksSheet::say(const QString& trouble) {
  trouble_->setText(trouble);
  trouble_->setVisible(!trouble.isEmpty());
}

/// All of them, or those that are ticked; unticking the last one lets all take it again.
void LinksSheet::fillUsers() {
  QMenu* menu = users_->menu();
  menu->clear();
  const links::HandLink* link = chosenLink(workspace_);
  if (!link) return;
  for (const project::AgentKind& kind : workspace_.project().agents->agents) {
    QAction* action = menu->addAction(QString::fromStdString(kind.name));
    action->setCheckable(true);
    action->setChecked(link->isFor(kind.id));
    connect(action, &QAction::triggered, this, [this, id = kind.id](bool on) {
      editChosen(tr("Change who may take link"), [&](links::HandLink& l) {
        if (l.agents.empty())
          for (const project::AgentKind& k : workspace_.project().agents->agents) l.agents.push_back(k.id);
        std::erase(l.agents, id);
        if (on) l.agents.push_back(id);
        std::ranges::sort(l.agents);
        if (l.agents.size() == workspace_.project().agents->agents.size()) l.agents.clear();
      });
    });
  }
}

QString LinksSheet::usersOf(const links::HandLink& link) const {
  if (link.agents.empty()) return tr("For all kinds of agent");
  QStringList names;
  for (const project::AgentKind& kind : workspace_.project().agents->agents)
    if (link.isFor(kind.id)) names.append(QString::fromStdString(kind.name));
  return names.isEmpty() ? tr("For nobody who is there") : tr("For %1").arg(names.join(QStringLiteral(", ")));
}

void LinksSheet::showDrawn(const links::HandLink& l) {
  what_->setText(tr("Link %1, %2").arg(l.id).arg(described(l)));
  chosenKind_->setCurrentIndex(static_cast<int>(l.kind));
  const QSignalBlocker blocker(chosenBothWays_);
  chosenBothWays_->setChecked(!l.oneWay && l.kind != nav::LinkKind::drop);
  chosenBothWays_->setEnabled(l.kind != nav::LinkKind::drop);
  chosenBothWays_->setToolTip(l.kind == nav::LinkKind::drop ? tr("A drop goes down only") : tr("Whether it may be taken from both ends"));
  cost_->setValue(l.cost), perMetre_->setValue(l.perMetre), seconds_->setValue(l.seconds);
  users_->setText(usersOf(l));
  const auto ground = workspace_.ground();
  if (!ground) return;
  if (const links::Broken* b = links::withId(ground->broken, l.id)) say(tr("Cannot be used: %1.").arg(QString::fromStdString(b->why)));
  const auto tied = std::ranges::find(ground->mesh.links, l.id, &nav::Link::id);
  if (tied != ground->mesh.links.end() && tied->oneWay && !l.oneWay && l.kind == nav::LinkKind::jump)
    say(tr("It is taken down only: the way up is higher than %1 jumps.").arg(QString::fromStdString(ground->mesh.agent.name)));
  if (const links::Beyond* b = links::withId(ground->beyond, l.id))
    say(tr("Not for %1: %2.").arg(QString::fromStdString(ground->mesh.agent.name), QString::fromStdString(b->why)));
}

void LinksSheet::showChosen() {
  const links::HandLink* drawn = chosenLink(workspace_);
  const nav::Link* found = chosenFound(workspace_);
  const links::RefusedLink* refused = chosenRefused(workspace_);
  for (QWidget* w :
       {kindRow_, static_cast<QWidget*>(cost_), static_cast<QWidget*>(perMetre_), static_cast<QWidget*>(seconds_), usersRow_, drawnRow_})
    w->setVisible(drawn);
  foundRow_->setVisible(found);
  refusedRow_->setVisible(refused);
  show_->setVisible(drawn || found || refused);
  what_->setVisible(drawn || found || refused);
  say({});
  if (drawn) showDrawn(*drawn);
  if (found) what_->setText(tr("Found %1, %2, %3").arg(tr(nav::kindName(found->kind)), ways(found->oneWay), described(*found)));
  if (refused) what_->setText(tr("Refused %1, %2").arg(tr(nav::kindName(refused->kind)), described(*refused)));
}

std::vector<ItemRow> LinksSheet::rows() const {
  const auto ground = workspace_.ground();
  std::vector<ItemRow> rows;
  const project::LinksSection& section = *workspace_.project().links;
  for (const links::HandLink& l : section.links) {
    const bool broken = ground && links::withId(ground->broken, l.id);
    const bool beyond = ground && links::withId(ground->beyond, l.id);
    const QString state = broken ? tr(" – broken")
                          : beyond || (ground && std::ranges::count(ground->notFor, l.id) > 0)
                              ? tr(" – not for %1").arg(QString::fromStdString(ground->mesh.agent.name))
                              : QString();
    ItemRow row{std::to_string(l.id),
                tr("%1 %2, %3, %4%5").arg(tr(nav::kindName(l.kind))).arg(l.id).arg(ways(l.oneWay), described(l), state)};
    if (broken) row.colour = theme().bad;
    rows.push_back(std::move(row));
  }
  std::vector<const nav::Link*> found;
  if (ground)
    for (const nav::Link& l : ground->mesh.links)
      if (l.generated) found.push_back(&l);
  std::ranges::stable_sort(found, std::ranges::greater(), [](const nav::Link* l) { return l->width(); });
  for (const nav::Link* l : found)
    rows.push_back({std::to_string(l->id), tr("found %1, %2, %3").arg(tr(nav::kindName(l->kind)), ways(l->oneWay), described(*l))});
  for (std::size_t i = 0; i < section.refused.size(); ++i) {
    const links::RefusedLink& r = section.refused[i];
    ItemRow row{std::to_string(kFirstRefused + static_cast<int>(i)), tr("refused %1, %2").arg(tr(nav::kindName(r.kind)), described(r))};
    row.colour = theme().quiet;
    rows.push_back(std::move(row));
  }
  return rows;
}

void LinksSheet::refresh(Topics) {
  const auto ground = workspace_.ground();
  {
    const QSignalBlocker blocker(find_);
    find_->setChecked(workspace_.project().links->find);
  }
  std::size_t drops = 0, jumps = 0;
  if (ground)
    for (const nav::Link& l : ground->mesh.links)
      if (l.generated) ++(l.kind == nav::LinkKind::drop ? drops : jumps);
  const nav::Agent& agent = workspace_.agentKind();
  const bool none = agent.maxDrop <= agent.stepHeight && agent.maxJump == 0;
  const QString name = QString::fromStdString(agent.name);
  found_->setText(none ? tr("%1 neither drops nor jumps.").arg(name)
                       : tr("For %1: %2 drops, %3 jumps found.").arg(name).arg(drops).arg(jumps));
  found_->setVisible(workspace_.project().links->find);
  list_->setRows(rows());
  showChosen();
}

}  // namespace dune::window
