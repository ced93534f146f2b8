#include "window/scene/outline_tool.h"

#include <QObject>
#include <utility>

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr double kClose = 0.4,
                 kSameCorner = 0.05;  // metres: a click so near to the first corner closes; a double click sets its corner twice
}

QString OutlineTool::hint() const {
  return corners_.size() < 3
             ? QObject::tr("Click the corners of the outline on the ground, one after the other. Esc leaves the tool.")
             : QObject::tr("Click the next corner; click the first one again, or press Enter, to close the outline. Esc starts over.");
}

bool OutlineTool::press(const Pointer& p) {
  const auto at = place_(p, corners_);
  if (!at) return true;
  if (corners_.size() >= 3 && glm::distance(*at, corners_[0]) < kClose)
    finish();
  else
    corners_.push_back(*at), next_ = *at;
  return true;
}

void OutlineTool::hover(const Pointer& p) {
  if (const auto at = place_(p, corners_)) next_ = *at;
}

bool OutlineTool::finish() {
  while (corners_.size() > 1 && glm::distance(corners_.back(), corners_[corners_.size() - 2]) < kSameCorner) corners_.pop_back();
  if (corners_.size() >= 3) done_(std::exchange(corners_, {}));
  return true;
}

bool OutlineTool::giveUp() { return !std::exchange(corners_, {}).empty(); }

void OutlineTool::draw(DrawList& list, const Camera&) const {
  const std::uint32_t ink = packed(theme().accent, 1);
  const Vec3 up{0, 0.06, 0};
  for (std::size_t i = 0; i < corners_.size(); ++i) {
    list.circle(corners_[i] + up, 0.18, 2.5, ink);
    list.line(corners_[i] + up, (i + 1 < corners_.size() ? corners_[i + 1] : next_) + up, 3, ink);
  }
  if (corners_.size() >= 2) list.dashed(next_ + up, corners_[0] + up, 0.25, 1.5, ink);
}

}  // namespace dune::window
