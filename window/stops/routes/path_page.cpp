#include "window/stops/routes/path_page.h"

#include "core/pipeline/opening_cause.h"
#include "window/scene/handle_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

/// Draws a path from start to goal; then its ends are handles.
class RouteTool : public HandleTool {
 public:
  explicit RouteTool(PathPage& page) : page_(page) {}
  QString hint() const override {
    if (dragging_ || holding()) return QObject::tr("The path follows. Let go to see everything about it.");
    if (from_) return QObject::tr("Click the goal, or drag a new path from its start.");
    if (!tip().isEmpty()) return QObject::tr("Drag to move %1.").arg(tip());
    return page_.asked() ? QObject::tr("Drag the start or the goal elsewhere, or drag a new path.")
                         : QObject::tr("Drag from start to goal, or click one and then the other.");
  }
  void drag(const Pointer& p) override {
    if (holding()) return HandleTool::drag(p);
    if (!pressed_ || !p.hit) return;
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
    return {{kFrom, page_.asked()->from, QObject::tr("the start")}, {kTo, page_.asked()->to, QObject::tr("the goal")}};
  }
  void begin(int, const Pointer&) override {}
  void dragHandle(int end, const Pointer& p) override {
    if (!p.hit || !page_.asked()) return;
    const PathPage::Ends ends = *page_.asked();
    page_.ask(end == kFrom ? p.hit->at : ends.from, end == kTo ? p.hit->at : ends.to, false);
  }
  bool pressBeside(const Pointer& p) override {
    if (!p.hit) return false;
    pressed_ = p.hit->at;
    pressedPixel_ = p.pixel;
    return true;
  }

 private:
  static constexpr int kFrom = 0, kTo = 1;
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
  note_ = new QLabel;
  note_->setObjectName(QStringLiteral("trouble"));
  note_->setWordWrap(true);
  column_->addWidget(note_);
  table_ = new QLabel;
  table_->setTextFormat(Qt::RichText);
  column_->addWidget(table_);
  keep_ = button(tr("Keep this route"), tr("Ask it again after every build, and say what is expected of it"));
  row({keep_});
  kept_ = quiet({});
  kept_->setTextFormat(Qt::RichText);
  connect(kept_, &QLabel::linkActivated, this, &PathPage::showKept);
  connect(keep_, &QPushButton::clicked, this, [this] { keep(); });
  tool_ = std::make_unique<RouteTool>(*this);
}

void PathPage::forget() {
  asked_.reset();
  show();
  workspace_.bulletin().add(Topic::answers);
}

void PathPage::ask(const Vec3& from, const Vec3& to, bool whole) {
  asked_ = Ends{from, to};
  const auto ground = workspace_.ground();
  askedOf_ = ground;
  if (ground) {
    route::Search search(*ground->field);
    answer_ = route::findPath(*ground->field, search, from, to, {2, whole, whole, whole});
    pipeline::Explainer explainer;
    if (!answer_.openings.empty()) answer_.note += " " + pipeline::causesOf(explainer, *ground, answer_);
  }
  show();
  workspace_.bulletin().add(Topic::answers);
}

void PathPage::show() {
  const bool any = asked_ && workspace_.ground();
  const std::size_t kept = workspace_.project().routes->routes.size();
  kept_->setVisible(kept > 0);
  kept_->setText(
      tr("%n route(s) are kept. <a href='kept' style='color:%1'>Say what is expected of them</a>", nullptr, static_cast<int>(kept))
          .arg(theme().accent.name()));
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

void PathPage::keep() {
  if (!asked_) return;
  project::KeptRoute route{0, {}, asked_->from, asked_->to};
  route.agent = workspace_.agentKind().id;
  // What leads nowhere today may be meant to: then it is a mistake when it leads there one day.
  if (answer_.status != route::PathStatus::complete) route.expected.outcome = project::Expected::Outcome::notComplete;
  add(workspace_, std::move(route));
}

void PathPage::refresh(Topics) {
  if (asked_ && askedOf_ != workspace_.ground())
    ask(asked_->from, asked_->to, true);
  else
    show();
}

}  // namespace dune::window
