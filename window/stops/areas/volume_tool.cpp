#include "window/stops/areas/volume_tool.h"

#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

constexpr double kLeastSide = 0.2, kLeastHeight = 0.1;  // metres
constexpr int kTop = 0, kFirstCorner = 1;

/// The height at which a volume's outline is drawn.
double baseOf(const level::AreaVolume& v) { return std::max(v.bottom, std::min(0.0, v.top)); }

Vec3 middleOf(const level::AreaVolume& v) {
  Vec2 middle{0};
  for (const Vec2& q : v.outline) middle += q / static_cast<double>(v.outline.size());
  return lift(middle, baseOf(v));
}

}  // namespace

QString BoxTool::hint() const {
  return box_.going() ? QObject::tr("Let go at the opposite corner.")
                      : QObject::tr("Drag from corner to corner to mark a box on the ground. Esc leaves the tool.");
}

bool BoxTool::press(const Pointer& p) {
  if (p.hit) box_.begin(p.hit->at);
  return true;
}

void BoxTool::drop(const Pointer& p) {
  drag(p);
  const Box2 made = box_.box();
  const double ground = box_.height();
  if (box_.end() && made.max.x - made.min.x > kLeastSide && made.max.y - made.min.y > kLeastSide) done_(cornersOf(made), ground);
}

void BoxTool::draw(DrawList& list, const Camera&) const {
  if (box_.going()) drawBox(list, box_.box(), box_.height() + 0.05, 3, 0, packed(theme().accent, 1));
}

QString VolumeTool::hint() const {
  if (const QString tip = this->tip(); !tip.isEmpty()) return QObject::tr("Drag to change %1.").arg(tip);
  if (chosenVolume(workspace_)) return QObject::tr("Drag the dots to change the volume. Delete takes it away.");
  return QObject::tr("Draw a volume with the buttons on the left, or click one to change it.");
}

std::vector<Handle> VolumeTool::handles() const {
  const level::AreaVolume* v = chosenVolume(workspace_);
  if (!v) return {};
  Vec3 top = middleOf(*v);
  top.y = v->top;
  std::vector<Handle> handles{{kTop, top, QObject::tr("how high it reaches")}};
  for (std::size_t i = 0; i < v->outline.size(); ++i)
    handles.push_back({kFirstCorner + static_cast<int>(i), lift(v->outline[i], baseOf(*v)), QObject::tr("this corner of its outline")});
  return handles;
}

void VolumeTool::begin(int, const Pointer&) { before_ = *chosenVolume(workspace_); }

void VolumeTool::dragHandle(int handle, const Pointer& p) {
  level::AreaVolume v = before_;
  if (handle == kTop) {
    const Vec3 middle = middleOf(before_);
    v.top = std::max(before_.bottom + kLeastHeight, middle.y + alongLine(p.ray, middle, {0, 1, 0}));
  } else if (const auto at = meetPlane(p.ray, baseOf(before_))) {
    v.outline[static_cast<std::size_t>(handle - kFirstCorner)] = plan(*at);
  }
  replace(workspace_, v, QObject::tr("Change volume"));
}

}  // namespace dune::window
