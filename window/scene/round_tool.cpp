#include "window/scene/round_tool.h"

#include <numbers>

#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr std::size_t kCorners = 32, kLeastCorners = 12;
constexpr double kSameRadius = 0.01;  // of it: what was read back or turned is still round

}  // namespace

Polygon roundOutline(const Vec2& middle, double radius) {
  Polygon outline;
  for (std::size_t i = 0; i < kCorners; ++i) {
    const double angle = 2 * std::numbers::pi * static_cast<double>(i) / kCorners;
    outline.push_back(middle + radius * Vec2{std::cos(angle), std::sin(angle)});
  }
  return outline;
}

std::optional<double> roundRadius(const Polygon& outline) {
  if (outline.size() < kLeastCorners) return std::nullopt;
  Vec2 middle{0};
  for (const Vec2& q : outline) middle += q / static_cast<double>(outline.size());
  const double radius = glm::distance(outline[0], middle), side = glm::distance(outline[0], outline[1]);
  for (std::size_t i = 0; i < outline.size(); ++i)
    if (std::abs(glm::distance(outline[i], middle) - radius) > kSameRadius * radius ||
        std::abs(glm::distance(outline[i], outline[(i + 1) % outline.size()]) - side) > kSameRadius * radius)
      return std::nullopt;
  return radius;
}

QString RoundTool::hint() const {
  return middle_ ? QObject::tr("Let go where it ends: %1 m from its middle.").arg(radius_, 0, 'f', 1)
                 : QObject::tr("Drag from the middle outwards to mark something round on the ground. Esc leaves the tool.");
}

bool RoundTool::press(const Pointer& p) {
  if (p.hit) middle_ = p.hit->at, radius_ = 0;
  return true;
}

void RoundTool::drag(const Pointer& p) {
  if (!middle_) return;
  if (const auto at = meetPlane(p.ray, middle_->y)) radius_ = glm::distance(plan(*at), plan(*middle_));
}

void RoundTool::drop(const Pointer& p) {
  drag(p);
  if (const auto middle = std::exchange(middle_, std::nullopt); middle && radius_ > kLeastRadius)
    done_(roundOutline(plan(*middle), radius_), middle->y);
}

bool RoundTool::giveUp() { return std::exchange(middle_, std::nullopt).has_value(); }

void RoundTool::draw(DrawList& list, const Camera&) const {
  if (!middle_) return;
  const Polygon outline = roundOutline(plan(*middle_), radius_);
  const double y = middle_->y + 0.05;
  for (std::size_t i = 0; i < outline.size(); ++i)
    list.line(lift(outline[i], y), lift(outline[(i + 1) % outline.size()], y), 3, packed(theme().accent, 1));
}

}  // namespace dune::window
