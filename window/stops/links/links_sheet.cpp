#include "window/stops/links/links_sheet.h"

#include "window/scene/theme.h"
#include "window/stops/from_to_tool.h"

namespace dune::window {

LinksSheet::LinksSheet(Workspace& workspace) : Sheet(tr("Links"), workspace) {
  quiet(tr("Off-mesh links: jumps, drops and climbs that paths may use."));
  draw_ = button(tr("Draw link"), tr("Drag from foot to landing in the world"), true);
  draw_->setObjectName(QStringLiteral("primary"));
  row({draw_});
  connect(draw_, &QPushButton::toggled, this, &Sheet::toolChanged);
  kind_ = new QComboBox;
  kind_->addItems({tr("Jump"), tr("Drop"), tr("Climb")});
  kind_->setAccessibleName(tr("Kind of link"));
  bothWays_ = new QCheckBox(tr("Both ways"));
  bothWays_->setChecked(true);
  row({kind_, bothWays_});
  list_ = new QListWidget;
  list_->setAccessibleName(tr("Links"));
  column_->addWidget(list_, 1);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    showChosen();
    emit worldChanged();
  });
  connect(kind_, &QComboBox::activated, this, [this] { editChosen(tr("Change link"), [this](links::HandLink& l) { l.kind = kind(); }); });
  connect(bothWays_, &QCheckBox::clicked, this,
          [this](bool on) { editChosen(tr("Change direction"), [on](links::HandLink& l) { l.oneWay = !on; }); });
  cost_ = number(tr("Cost when taken"), tr("m"), 0, 10000, 0.5, 1);
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
  connect(remove_, &QPushButton::clicked, this, [this] {
    const int id = chosenLink();
    workspace_.change(tr("Remove link"), [&](project::Project& p) {
      project::edit(p.links,
                    [&](project::LinksSection& s) { std::erase_if(s.links, [&](const links::HandLink& l) { return l.id == id; }); });
    });
  });
  connect(show_, &QPushButton::clicked, this, [this] {
    for (const links::HandLink& l : workspace_.project().links->links)
      if (l.id == chosenLink()) emit showPlace((l.from + l.to) * 0.5);
  });
  auto drawFlight = [this](DrawList& list, const Vec3& from, const Vec3& to) {
    const Vec3 up{0, 0.08, 0};
    const std::uint32_t ink = packed(theme().accent, 1);
    list.polyline(nav::flight(kind(), from + up, to + up), 3, ink);
    for (const Vec3& end : {from, to}) list.circle(end + up, 0.25, 2.5, ink);
  };
  tool_ = std::make_unique<FromToTool>(FromToTool::Words{tr("Press where the link begins and drag to where it lands. Esc leaves the tool."),
                                                         tr("Let go where the link lands.")},
                                       0.3, drawFlight, [this](const Vec3& from, const Vec3& to) { addLink(from, to); });
}

Tool* LinksSheet::tool() { return draw_->isChecked() ? tool_.get() : nullptr; }
int LinksSheet::chosenLink() const { return list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toInt() : -1; }

void LinksSheet::addLink(const Vec3& from, const Vec3& to) {
  workspace_.change(tr("Draw link"), [&](project::Project& p) {
    project::edit(p.links, [&](project::LinksSection& s) {
      s.links.push_back({project::nextId(s.links), kind(), from, to, !bothWays_->isChecked(), 0});
    });
  });
  list_->setCurrentRow(list_->count() - 1);
}

void LinksSheet::editChosen(const QString& label, const std::function<void(links::HandLink&)>& change, const QString& key) {
  const int id = chosenLink();
  if (id < 0) return;
  workspace_.change(
      label,
      [&](project::Project& p) {
        project::edit(p.links, [&](project::LinksSection& s) {
          for (links::HandLink& l : s.links)
            if (l.id == id) change(l);
        });
      },
      key.isEmpty() ? key : key + QString::number(id));
}

void LinksSheet::showChosen() {
  const int id = chosenLink();
  for (QPushButton* b : {turn_, show_, remove_}) b->setEnabled(id >= 0);
  cost_->setEnabled(id >= 0);
  why_->hide();
  for (const links::HandLink& l : workspace_.project().links->links) {
    if (l.id != id) continue;
    kind_->setCurrentIndex(static_cast<int>(l.kind));
    const QSignalBlocker blocker(bothWays_);
    bothWays_->setChecked(!l.oneWay);
    cost_->setValue(l.cost);
  }
  const auto ground = workspace_.ground();
  if (!ground) return;
  QString why;
  if (const links::Broken* b = links::withId(ground->broken, id)) why = tr("Cannot be used: %1.").arg(QString::fromStdString(b->why));
  if (const links::Beyond* b = links::withId(ground->beyond, id))
    why = tr("Not for %1: %2.").arg(QString::fromStdString(ground->mesh.agent.name), QString::fromStdString(b->why));
  why_->setText(why);
  why_->setVisible(!why.isEmpty());
}

void LinksSheet::refresh() {
  const auto ground = workspace_.ground();
  const int keep = list_->currentRow();
  {
    const QSignalBlocker blocker(list_);
    list_->clear();
    for (const links::HandLink& l : workspace_.project().links->links) {
      const bool broken = ground && links::withId(ground->broken, l.id);
      const bool beyond = ground && links::withId(ground->beyond, l.id);
      auto* item = new QListWidgetItem(tr("%1 %2, %3, %4 m%5")
                                           .arg(tr(nav::kindName(l.kind)))
                                           .arg(l.id)
                                           .arg(l.oneWay ? tr("one way") : tr("both ways"))
                                           .arg(glm::distance(l.from, l.to), 0, 'f', 1)
                                           .arg(broken   ? tr(" – broken")
                                                : beyond ? tr(" – not for %1").arg(QString::fromStdString(ground->mesh.agent.name))
                                                         : QString()));
      item->setData(Qt::UserRole, l.id);
      if (broken) item->setForeground(theme().bad);
      list_->addItem(item);
    }
    if (keep >= 0 && keep < list_->count()) list_->setCurrentRow(keep);
  }
  showChosen();
}

}  // namespace dune::window
