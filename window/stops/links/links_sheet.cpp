#include "window/stops/links/links_sheet.h"

#include "window/scene/from_to_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/ends_tool.h"

namespace dune::window {

LinksSheet::LinksSheet(Workspace& workspace) : Sheet(tr("Links"), workspace) {
  quiet(tr("Off-mesh links: jumps, drops and climbs that paths may use."));
  draw_ = button(tr("Draw link"), tr("Drag from foot to landing in the world"), true);
  draw_->setObjectName(QStringLiteral("primary"));
  row({draw_});
  connect(draw_, &QPushButton::toggled, this, [this] { toolChanged(); });
  kind_ = new QComboBox;
  kind_->addItems({tr("Jump"), tr("Drop"), tr("Climb")});
  kind_->setAccessibleName(tr("Kind of link"));
  bothWays_ = new QCheckBox(tr("Both ways"));
  bothWays_->setChecked(true);
  row({kind_, bothWays_});
  list_ = list(tr("Links"), ThingKind::link);
  connect(kind_, &QComboBox::activated, this, [this] { editChosen(tr("Change link"), [this](links::HandLink& l) { l.kind = kind(); }); });
  connect(bothWays_, &QCheckBox::clicked, this,
          [this](bool on) { editChosen(tr("Change direction"), [on](links::HandLink& l) { l.oneWay = !on; }); });
  cost_ = number(tr("Cost when taken"), tr("m"), 0, 10000, 0.5, 1);
  cost_->setToolTip(tr("What taking it costs, in metres of plain ground, besides its length"));
  connect(cost_, &NumberField::edited, this, [this](double v) {
    editChosen(
        tr("Change cost"), [v](links::HandLink& l) { l.cost = v; }, QStringLiteral("link cost"));
  });
  why_ = new QLabel;
  why_->setObjectName(QStringLiteral("trouble"));
  why_->setWordWrap(true);
  column_->addWidget(why_);
  turn_ = button(tr("Turn round"), tr("Swap foot and landing"));
  show_ = button(tr("Show"), tr("Show the link"));
  remove_ = button(tr("Remove"), tr("Remove the chosen link"));
  row({show_, turn_, remove_});
  connect(turn_, &QPushButton::clicked, this,
          [this] { editChosen(tr("Turn link round"), [](links::HandLink& l) { std::swap(l.from, l.to); }); });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::link); });
  connect(show_, &QPushButton::clicked, this, [this] {
    if (const links::HandLink* l = chosenLink(workspace_)) emit showPlace((l->from + l->to) * 0.5);
  });
  auto drawFlight = [this](DrawList& list, const Vec3& from, const Vec3& to) {
    const Vec3 up{0, 0.08, 0};
    const std::uint32_t ink = packed(theme().accent, 1);
    list.polyline(nav::flight(kind(), from + up, to + up, workspace_.project().agents->agents[workspace_.agent()].radius), 3, ink);
    for (const Vec3& end : {from, to}) list.circle(end + up, 0.25, 2.5, ink);
  };
  tool_ = std::make_unique<FromToTool>(FromToTool::Words{tr("Press where the link begins and drag to where it lands. Esc leaves the tool."),
                                                         tr("Let go where the link lands.")},
                                       0.3, drawFlight, [this](const Vec3& from, const Vec3& to) {
                                         add(workspace_, links::HandLink{0, kind(), from, to, !bothWays_->isChecked(), 0});
                                       });
  ends_ = std::make_unique<EndsTool>(
      EndsTool::Words{tr("where it begins"), tr("where it lands"),
                      tr("Click a link to change it, or draw one with the button on the left."),
                      tr("Drag the ends of the link to move them. Delete takes it away.")},
      [this]() -> std::optional<EndsTool::Ends> {
        const links::HandLink* l = chosenLink(workspace_);
        return l ? std::optional(EndsTool::Ends{l->from, l->to}) : std::nullopt;
      },
      [this](const EndsTool::Ends& ends) { editChosen(tr("Move link"), [&](links::HandLink& l) { l.from = ends.from, l.to = ends.to; }); });
}

Tool* LinksSheet::tool() { return draw_->isChecked() ? tool_.get() : ends_.get(); }

void LinksSheet::editChosen(const QString& label, const std::function<void(links::HandLink&)>& change, const QString& key) {
  const links::HandLink* chosen = chosenLink(workspace_);
  if (!chosen) return;
  links::HandLink link = *chosen;
  change(link);
  replace(workspace_, link, label, key.isEmpty() ? key : key + QString::number(link.id));
}

void LinksSheet::showChosen() {
  const links::HandLink* l = chosenLink(workspace_);
  for (QPushButton* b : {turn_, show_, remove_}) b->setEnabled(l);
  cost_->setEnabled(l);
  why_->hide();
  if (!l) return;
  kind_->setCurrentIndex(static_cast<int>(l->kind));
  const QSignalBlocker blocker(bothWays_);
  bothWays_->setChecked(!l->oneWay);
  cost_->setValue(l->cost);
  const auto ground = workspace_.ground();
  if (!ground) return;
  QString why;
  if (const links::Broken* b = links::withId(ground->broken, l->id)) why = tr("Cannot be used: %1.").arg(QString::fromStdString(b->why));
  if (const links::Beyond* b = links::withId(ground->beyond, l->id))
    why = tr("Not for %1: %2.").arg(QString::fromStdString(ground->mesh.agent.name), QString::fromStdString(b->why));
  why_->setText(why);
  why_->setVisible(!why.isEmpty());
}

void LinksSheet::refresh(Topics) {
  const auto ground = workspace_.ground();
  std::vector<ItemRow> rows;
  for (const links::HandLink& l : workspace_.project().links->links) {
    const bool broken = ground && links::withId(ground->broken, l.id);
    const bool beyond = ground && links::withId(ground->beyond, l.id);
    ItemRow row{std::to_string(l.id), tr("%1 %2, %3, %4 m%5")
                                          .arg(tr(nav::kindName(l.kind)))
                                          .arg(l.id)
                                          .arg(l.oneWay ? tr("one way") : tr("both ways"))
                                          .arg(glm::distance(l.from, l.to), 0, 'f', 1)
                                          .arg(broken   ? tr(" – broken")
                                               : beyond ? tr(" – not for %1").arg(QString::fromStdString(ground->mesh.agent.name))
                                                        : QString())};
    if (broken) row.colour = theme().bad;
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
  showChosen();
}

}  // namespace dune::window
