#include "window/stops/crowd/obstacles_page.h"

#include "window/scene/from_to_tool.h"
#include "window/scene/handle_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/crowd/crowd_picture.h"

namespace dune::window {

namespace {

using project::CrowdObstacle;
using Shape = crowd::MovingObstacle::Shape;

/// Moves the places of the chosen obstacle's track.
class TrackTool : public HandleTool {
 public:
  explicit TrackTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override {
    if (const QString tip = this->tip(); !tip.isEmpty()) return QObject::tr("Drag to change %1.").arg(tip);
    return chosenObstacle(workspace_) ? QObject::tr("Drag the places of its track. Delete takes it away.")
                                      : QObject::tr("Draw something that moves with the button on the left.");
  }

 protected:
  std::vector<Handle> handles() const override {
    std::vector<Handle> handles;
    if (const CrowdObstacle* o = chosenObstacle(workspace_); o && o->scene == workspace_.scene())
      for (std::size_t i = 0; i < o->track.size(); ++i)
        handles.push_back({static_cast<int>(i), o->track[i], QObject::tr("a place of its track")});
    return handles;
  }
  void begin(int, const Pointer&) override { before_ = *chosenObstacle(workspace_); }
  void dragHandle(int handle, const Pointer& p) override {
    if (!p.hit) return;
    CrowdObstacle o = before_;
    o.track[static_cast<std::size_t>(handle)] = p.hit->at;
    replace(workspace_, o, QObject::tr("Move obstacle"));
  }

 private:
  Workspace& workspace_;
  CrowdObstacle before_;
};

}  // namespace

ObstaclesPage::ObstaclesPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(tr("Bodies steer around what moves; where it stands for a while, their ways lead around it."));
  draw_ = button(tr("Draw track"), tr("Drag from one end of its track to the other in the world"), true);
  remove_ = button(tr("Remove"), tr("Remove the chosen one (Delete)"));
  row({draw_, remove_});
  connect(draw_, &QPushButton::toggled, this, [this] { toolChanged(); });
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::obstacle); });
  list_ = list(tr("Things that move"), ThingKind::obstacle);
  addFields();
  const auto drawTrack = [](DrawList& list, const Vec3& from, const Vec3& to) {
    list.dashed(raised(from, 0.1), raised(to, 0.1), 0.25, 3, packed(theme().accent, 1));
  };
  draws_ = std::make_unique<FromToTool>(FromToTool::Words{tr("Press where it is first and drag to where it goes. Esc leaves the tool."),
                                                          tr("Let go at the other end of its track.")},
                                        0.5, drawTrack, [this](const Vec3& from, const Vec3& to) {
                                          CrowdObstacle o;
                                          o.size = {1.5, 1.5, 1.5}, o.track = {from, to}, o.pause = 3;
                                          add(workspace_, o);
                                        });
  moves_ = std::make_unique<TrackTool>(workspace_);
}

NumberField* ObstaclesPage::field(const QString& name, const QString& unit, double least, double most, double step, int decimals,
                                  std::function<double&(CrowdObstacle&)> of) {
  NumberField* f = number(name, unit, least, most, step, decimals);
  connect(f, &NumberField::edited, this, [this, of, name](double v) {
    editChosen(
        tr("Change obstacle"), [&](CrowdObstacle& o) { of(o) = v; }, name);
  });
  fields_.push_back({f, of});
  return f;
}

void ObstaclesPage::addFields() {
  shape_ = new QComboBox;
  shape_->addItems({tr("box"), tr("cylinder")});
  shape_->setAccessibleName(tr("Shape"));
  row({new QLabel(tr("Shape")), shape_});
  connect(shape_, &QComboBox::activated, this,
          [this](int i) { editChosen(tr("Change shape"), [&](CrowdObstacle& o) { o.shape = static_cast<Shape>(i); }); });
  field(tr("Width"), tr("m"), 0.1, 50, 0.1, 1, [](CrowdObstacle& o) -> double& {
    return o.size.x;
  })->setToolTip(tr("Along its own x; bodies keep off all of it"));
  field(tr("Height"), tr("m"), 0.1, 50, 0.1, 1, [](CrowdObstacle& o) -> double& {
    return o.size.y;
  })->setToolTip(tr("How high it stands; what walks under or over it does not heed it"));
  field(tr("Depth"), tr("m"), 0.1, 50, 0.1, 1, [](CrowdObstacle& o) -> double& {
    return o.size.z;
  })->setToolTip(tr("Along its own z; of a cylinder the width counts"));
  field(tr("Turned by"), tr("°"), -180, 180, 5, 0, [](CrowdObstacle& o) -> double& {
    return o.turn;
  })->setToolTip(tr("About the upright, of a box"));
  field(tr("Speed"), tr("m/s"), 0.1, 30, 0.1, 1, [](CrowdObstacle& o) -> double& {
    return o.speed;
  })->setToolTip(tr("How fast it goes along its track"));
  field(tr("Stands at each end"), tr("s"), 0, 600, 0.5, 1, [](CrowdObstacle& o) -> double& {
    return o.pause;
  })->setToolTip(tr("While it stands, its place is cut out of the ground"));
}

void ObstaclesPage::editChosen(const QString& label, const Change& change, const QString& key) {
  const CrowdObstacle* chosen = chosenObstacle(workspace_);
  if (!chosen) return;
  CrowdObstacle o = *chosen;
  change(o);
  replace(workspace_, o, label, key.isEmpty() ? key : key + QString::number(o.id));
}

void ObstaclesPage::refresh(Topics) {
  const auto obstacles = obstaclesOf(workspace_);
  if (!obstacles.empty() && std::ranges::find(obstacles, chosenObstacle(workspace_)) == obstacles.end())
    workspace_.selection().choose(ThingKind::obstacle, obstacles[0]->id);
  std::vector<ItemRow> rows;
  for (const CrowdObstacle* o : obstacles)
    rows.push_back({std::to_string(o->id), (o->shape == Shape::box ? tr("Box %1") : tr("Cylinder %1"))
                                               .arg(o->id)
                                               .append(o->track.size() < 2 ? tr(", stands") : tr(", %1 m/s").arg(o->speed, 0, 'f', 1))});
  list_->setRows(std::move(rows));
  const CrowdObstacle* chosen = chosenObstacle(workspace_);
  CrowdObstacle shown = chosen ? *chosen : CrowdObstacle();
  shape_->setEnabled(chosen), remove_->setEnabled(chosen);
  shape_->setCurrentIndex(static_cast<int>(shown.shape));
  for (const Bound& b : fields_) b.field->setEnabled(chosen), b.field->setValue(b.of(shown));
}

}  // namespace dune::window
