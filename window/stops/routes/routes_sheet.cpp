#include "window/stops/routes/routes_sheet.h"

#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

class RouteTool : public Tool {
 public:
  explicit RouteTool(RoutesSheet& sheet) : sheet_(sheet) {}
  QString hint() const override {
    if (dragging_) return QObject::tr("Drag to the goal: the path follows. Let go to see everything about it.");
    if (from_) return QObject::tr("Click the goal, or drag a new path from its start.");
    return QObject::tr("Drag from start to goal, or click one and then the other.");
  }
  bool press(const Pointer& p) override {
    if (!p.hit) return false;
    pressed_ = p.hit->at;
    pressedPixel_ = p.pixel;
    return true;
  }
  void drag(const Pointer& p) override {
    if (!pressed_ || !p.hit) return;
    if (!dragging_ && (p.pixel - pressedPixel_).manhattanLength() < 6) return;
    dragging_ = true;
    sheet_.ask(*pressed_, p.hit->at, false);
  }
  void drop(const Pointer& p) override {
    if (!pressed_) return;
    if (dragging_) {
      if (p.hit) sheet_.ask(*pressed_, p.hit->at, true);
      from_.reset();
    } else if (from_) {
      sheet_.ask(*from_, *pressed_, true);
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
    return had;
  }
  void draw(DrawList& list, const Camera&) const override {
    if (from_) list.disc(*from_ + Vec3{0, 0.06, 0}, 0.3, packed(theme().accent, 1));
  }

 private:
  RoutesSheet& sheet_;
  std::optional<Vec3> from_, pressed_;
  QPointF pressedPixel_;
  bool dragging_ = false;
};

QString line(const QString& name, const QString& value) {
  return QStringLiteral("<tr><td>%1&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>").arg(name, value);
}

}  // namespace

RoutesSheet::RoutesSheet(Workspace& workspace) : Sheet(tr("Routes"), workspace) {
  headline_ = new QLabel;
  headline_->setWordWrap(true);
  column_->addWidget(headline_);
  note_ = new QLabel;
  note_->setObjectName(QStringLiteral("trouble"));
  note_->setWordWrap(true);
  column_->addWidget(note_);
  table_ = new QLabel;
  table_->setTextFormat(Qt::RichText);
  column_->addWidget(table_);
  keep_ = button(tr("Keep this route"), tr("Ask it again after every build"));
  row({keep_});
  connect(keep_, &QPushButton::clicked, this, [this] { keep(); });
  section(tr("Kept routes"));
  list_ = list(tr("Kept routes"), ThingKind::route);
  connect(list_, &ItemList::chosen, this, [this](const std::string&) {
    if (const project::KeptRoute* r = chosenRoute(workspace_)) ask(r->from, r->to, true);
  });
  remove_ = button(tr("Remove"), tr("Forget the chosen route (Delete)"));
  row({remove_});
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::route); });
  tool_ = std::make_unique<RouteTool>(*this);
}

void RoutesSheet::ask(const Vec3& from, const Vec3& to, bool whole) {
  asked_ = {from, to};
  const auto ground = workspace_.ground();
  askedOf_ = ground;
  if (ground) {
    route::Search search(*ground->field);
    answer_ = route::findPath(*ground->field, search, from, to, {2, whole, whole});
  }
  show();
  workspace_.bulletin().add(Topic::answers);
}

void RoutesSheet::show() {
  const bool any = asked_ && workspace_.ground();
  keep_->setEnabled(any && answer_.status != route::PathStatus::none);
  note_->setVisible(any && !answer_.note.empty());
  if (!any) {
    headline_->setText(workspace_.ground() ? tr("Drag in the world from start to goal.")
                                           : tr("There is no walkable ground to ask for a path on yet."));
    table_->clear();
    return;
  }
  const char* colour = answer_.status == route::PathStatus::complete ? "good" : "bad";
  const QColor ink = colour[0] == 'g' ? theme().good : theme().bad;
  const QString status = answer_.status == route::PathStatus::complete  ? tr("Complete")
                         : answer_.status == route::PathStatus::partial ? tr("Partial")
                                                                        : tr("No path");
  headline_->setText(QStringLiteral("<span style='font-size:13pt; font-weight:600; color:%1'>%2</span>").arg(ink.name(), status));
  note_->setText(QString::fromStdString(answer_.note));
  const bool problem = answer_.status != route::PathStatus::complete;
  note_->setObjectName(problem ? QStringLiteral("trouble") : QStringLiteral("quiet"));
  note_->setStyleSheet(QString());
  if (answer_.status == route::PathStatus::none) {
    table_->clear();
    return;
  }
  QString text = QStringLiteral("<table>") + line(tr("Length"), tr("%1 m").arg(answer_.length, 0, 'f', 2)) +
                 line(tr("Cost"), QString::number(answer_.cost, 'f', 2));
  const nav::NavMesh& mesh = workspace_.ground()->mesh;
  for (const route::AreaShare& s : answer_.shares)
    text += line(QStringLiteral("&nbsp;&nbsp;") + QString::fromStdString(mesh.kinds[s.area].name),
                 tr("%1 for %2 m").arg(s.cost, 0, 'f', 2).arg(s.length, 0, 'f', 1));
  if (!answer_.links.empty()) {
    QStringList ids;
    for (const route::LinkUse& l : answer_.links) ids << QString::number(l.id);
    text +=
        line(QStringLiteral("&nbsp;&nbsp;") + tr("link %1").arg(ids.join(QStringLiteral(", "))), QString::number(answer_.linkCost, 'f', 2));
  }
  if (std::isfinite(answer_.narrowest) && answer_.narrowest > 0)
    text += line(tr("Narrowest place"), tr("%1 m").arg(answer_.narrowest, 0, 'f', 2));
  text += line(tr("Sharpest turn"), tr("%1°").arg(answer_.sharpestTurn, 0, 'f', 0));
  if (answer_.straight > 0.1)
    text += line(tr("Longer than straight"), tr("%1 %").arg(std::max(0.0, (answer_.length / answer_.straight - 1) * 100), 0, 'f', 0));
  text += line(tr("At most off the best"),
               answer_.optimalityBound <= 1.00005 ? tr("0 %") : tr("%1 %").arg((answer_.optimalityBound - 1) * 100, 0, 'f', 1));
  table_->setText(text + QStringLiteral("</table>"));
}

void RoutesSheet::keep() {
  if (asked_) add(workspace_, project::KeptRoute{0, {}, asked_->first, asked_->second});
}

void RoutesSheet::refresh(Topics) {
  std::vector<ItemRow> rows;
  for (const project::KeptRoute& r : workspace_.project().routes->routes) {
    ItemRow row{std::to_string(r.id), QString::fromStdString(r.name)};
    const auto& answers = workspace_.answers().routes;
    if (const auto k = std::ranges::find(answers, r.id, &pipeline::KeptAnswer::id); k != answers.end()) {
      const bool bad = k->answer.status != route::PathStatus::complete;
      row.text += bad ? tr(" – %1").arg(tr(route::statusName(k->answer.status))) : tr(" – %1 m").arg(k->answer.length, 0, 'f', 1);
      if (bad) row.colour = theme().bad;
    }
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
  remove_->setEnabled(list_->currentRow() >= 0);
  if (asked_ && askedOf_ != workspace_.ground())
    ask(asked_->first, asked_->second, true);
  else
    show();
}

}  // namespace dune::window
