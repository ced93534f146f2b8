#pragma once
// The eye: orbit, pan, zoom to a place, frame a box, and a view straight down. No GL; tested headless.

#include <QMatrix4x4>
#include <QPointF>
#include <QRectF>
#include <QSizeF>

#include "core/base/bounds.h"

namespace dune::window {

struct Ray {
  Vec3 origin, direction;  ///< direction has length 1
};

class Camera {
 public:
  void setViewport(const QSizeF& size) { size_ = size; }
  void orbit(double dx, double dy);               ///< pixels
  void pan(double dx, double dy);                 ///< pixels
  void zoom(double factor, const Vec3& towards);  ///< below 1: nearer
  void frame(const Box3& box);
  void lookAt(const Vec3& target, double distance) { target_ = target, distance_ = distance; }
  /// Straight down with -z up on the screen, as maps are drawn; back as it was before.
  void setPlan(bool plan);
  /// Ends that from where it looks now.
  void tilt();
  bool plan() const { return plan_; }

  QMatrix4x4 matrix() const;
  Ray rayAt(const QPointF& pixel) const;
  /// Where a point of the world is on the screen; false behind the eye.
  bool project(const Vec3& p, QPointF& pixel) const;
  const Vec3& target() const { return target_; }
  double distance() const { return distance_; }
  Vec3 eye() const;
  /// What a pixel is wide at the target.
  double metresPerPixel() const;

 private:
  QRectF outline(const Box3& box) const;
  Vec3 up() const;
  Vec3 target_{0};
  double distance_ = 40, yaw_ = 0.65, pitch_ = 0.85, yawBefore_ = 0.65;  // radians
  bool plan_ = false;
  QSizeF size_{800, 600};
};

}  // namespace dune::window
