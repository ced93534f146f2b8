#include "window/stops/areas/volume_tool.h"

#include "window/scene/round_tool.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"

namespace dune::window {

namespace {

constexpr double kLeastHeight = 0.1;  // metres
constexpr int kTop = 0, kBottom = 1, kMiddle = 2, kTurn = 3, kFirstCorner = 4;
constexpr double kBeside = 1.3;  // times as far from the middle as the first side: where the handle to turn it is

/// The height at which a volume's outline is drawn.
double baseOf(const level::AreaVolume& v) { return std::max(v.bottom, std::min(0.0, v.top)); }

Vec3 middleOf(const level::AreaVolume& v) {
  Vec2 middle{0};
  for (const Vec2& q : v.outline) middle += q / static_cast<double>(v.outline.size());
  return lift(middle, baseOf(v));
}

/// Beside the middle, where it does not lie under those of the heights.
Vec3 moveHandleOf(const level::AreaVolume& v) {
  const std::size_t n = v.outline.size(), far = n / 2;
  const Vec2 middle = plan(middleOf(v)), side = (v.outline[far] + v.outline[(far + 1) % n]) * 0.5;
  return lift(middle + (side - middle) * 0.5, baseOf(v));
}

Vec3 turnHandleOf(const level::AreaVolume& v) {
  const Vec2 middle = plan(middleOf(v)), side = (v.outline[0] + v.outline[1]) * 0.5;
  return lift(middle + (side - middle) * kBeside, baseOf(v));
}

}  // namespace

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
  std::vector<Handle> handles{{kTop, top, QObject::tr("how high it reaches")}, {kMiddle, moveHandleOf(*v), QObject::tr("where it is")}};
  constexpr double kApart = 0.3;  // metres: else it would lie under the one in the middle
  if (v->bottom < baseOf(*v) - kApart) handles.push_back({kBottom, lift(plan(top), v->bottom), QObject::tr("how deep it reaches")});
  if (roundRadius(v->outline)) {
    handles.push_back({kFirstCorner, lift(v->outline[0], baseOf(*v)), QObject::tr("how wide it is")});
    return handles;
  }
  handles.push_back({kTurn, turnHandleOf(*v), QObject::tr("how it is turned")});
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
  } else if (handle == kBottom) {
    const Vec3 middle = middleOf(before_);
    v.bottom = std::min(before_.top - kLeastHeight, middle.y + alongLine(p.ray, middle, {0, 1, 0}));
  } else if (const auto at = meetPlane(p.ray, baseOf(before_)); at && handle == kMiddle) {
    for (Vec2& corner : v.outline) corner += plan(*at) - plan(moveHandleOf(before_));
  } else if (at && handle == kTurn) {
    const Vec2 middle = plan(middleOf(before_)), was = plan(turnHandleOf(before_)) - middle, now = plan(*at) - middle;
    const double angle = std::atan2(cross(was, now), glm::dot(was, now)), c = std::cos(angle), s = std::sin(angle);
    for (Vec2& corner : v.outline) {
      const Vec2 d = corner - middle;
      corner = middle + Vec2{c * d.x - s * d.y, s * d.x + c * d.y};
    }
  } else if (const Vec2 middle = plan(middleOf(before_)); at && roundRadius(before_.outline)) {
    const double wider = std::max(glm::distance(plan(*at), middle), kLeastRadius) / glm::distance(before_.outline[0], middle);
    for (Vec2& corner : v.outline) corner = middle + (corner - middle) * wider;
  } else if (at) {
    v.outline[static_cast<std::size_t>(handle - kFirstCorner)] = plan(*at);
  }
  replace(workspace_, v, QObject::tr("Change volume"));
}

}  // namespace dune::window
