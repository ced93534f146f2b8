#include "window/scene/camera.h"

#include <QRectF>
#include <algorithm>
#include <utility>

namespace dune::window {

namespace {
constexpr double kFieldOfView = 40;    // degrees, vertical
constexpr double kOrbitSpeed = 0.006;  // radians a pixel
constexpr double kNearest = 0.5, kFarthest = 20000;
QVector3D q(const Vec3& v) { return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)}; }
}  // namespace

void Camera::orbit(double dx, double dy) {
  yaw_ -= dx * kOrbitSpeed;
  if (!plan_) pitch_ = std::clamp(pitch_ + dy * kOrbitSpeed, 0.05, kPi / 2 - 0.01);
}

void Camera::setPlan(bool plan) {
  if (plan == plan_) return;
  if (plan) yawBefore_ = std::exchange(yaw_, 0.0);
  if (!plan) yaw_ = yawBefore_;
  plan_ = plan;
}

void Camera::tilt() {
  if (std::exchange(plan_, false)) pitch_ = kPi / 2 - 0.01;
}

Vec3 Camera::eye() const {
  const double pitch = plan_ ? kPi / 2 : pitch_;
  return target_ + Vec3{std::sin(yaw_) * std::cos(pitch), std::sin(pitch), std::cos(yaw_) * std::cos(pitch)} * distance_;
}

Vec3 Camera::up() const { return plan_ ? Vec3{-std::sin(yaw_), 0, -std::cos(yaw_)} : Vec3{0, 1, 0}; }

void Camera::pan(double dx, double dy) {
  const Vec3 forward = glm::normalize(target_ - eye());
  const Vec3 right = glm::normalize(glm::cross(forward, up()));
  const Vec3 ahead = plan_ ? up() : glm::normalize(Vec3{forward.x, 0, forward.z});
  target_ += (right * -dx + ahead * (dy / (plan_ ? 1 : std::max(0.3, std::sin(pitch_))))) * metresPerPixel();
}

double Camera::metresPerPixel() const { return 2 * distance_ * std::tan(radians(kFieldOfView) / 2) / size_.height(); }

void Camera::zoom(double factor, const Vec3& towards) {
  const double next = std::clamp(distance_ * factor, kNearest, kFarthest);
  target_ = towards + (target_ - towards) * (next / distance_);
  distance_ = next;
}

void Camera::frame(const Box3& box) {
  if (box.empty()) return;
  target_ = box.centre();
  // As near as all corners of the box still fit with a margin, then moved so that they sit in the middle, twice.
  for (int round = 0; round < 3; ++round) {
    constexpr double kMargin = 0.03;
    double near = 1, far = 4 * glm::length(box.size()) + 4;
    for (int i = 0; i < 40; ++i) {
      distance_ = (near + far) / 2;
      const QRectF shown = outline(box);
      const bool fits =
          !shown.isNull() && shown.width() < size_.width() * (1 - 2 * kMargin) && shown.height() < size_.height() * (1 - 2 * kMargin);
      (fits ? far : near) = distance_;
    }
    distance_ = far;
    const QPointF off = QPointF(size_.width() / 2, size_.height() / 2) - outline(box).center();
    pan(off.x(), off.y());
  }
}

/// The rectangle on the screen around a box; null when part of it is behind the eye.
QRectF Camera::outline(const Box3& box) const {
  QRectF rect;
  for (int k = 0; k < 8; ++k) {
    QPointF at;
    if (!project({k & 1 ? box.max.x : box.min.x, k & 2 ? box.max.y : box.min.y, k & 4 ? box.max.z : box.min.z}, at)) return {};
    rect = k == 0 ? QRectF(at, QSizeF(1e-3, 1e-3)) : rect.united(QRectF(at, QSizeF(1e-3, 1e-3)));
  }
  return rect;
}

QMatrix4x4 Camera::matrix() const {
  QMatrix4x4 m;
  const double aspect = size_.width() / std::max(1.0, size_.height()), near = std::max(0.05, distance_ * 0.02), far = distance_ * 12 + 500;
  if (plan_) {
    const double h = distance_ * std::tan(radians(kFieldOfView) / 2);
    m.ortho(static_cast<float>(-h * aspect), static_cast<float>(h * aspect), static_cast<float>(-h), static_cast<float>(h),
            static_cast<float>(-far), static_cast<float>(far));
  } else {
    m.perspective(static_cast<float>(kFieldOfView), static_cast<float>(aspect), static_cast<float>(near), static_cast<float>(far));
  }
  m.lookAt(q(eye()), q(target_), q(up()));
  return m;
}

Ray Camera::rayAt(const QPointF& pixel) const {
  const Vec3 forward = glm::normalize(target_ - eye());
  const Vec3 right = glm::normalize(glm::cross(forward, up())), over = glm::cross(right, forward);
  const double h = std::tan(radians(kFieldOfView) / 2), aspect = size_.width() / std::max(1.0, size_.height());
  const double x = (2 * pixel.x() / size_.width() - 1) * h * aspect, y = (1 - 2 * pixel.y() / size_.height()) * h;
  if (plan_) return {eye() + (right * x + over * y) * distance_ + Vec3{0, 1000, 0}, forward};
  return {eye(), glm::normalize(forward + right * x + over * y)};
}

bool Camera::project(const Vec3& p, QPointF& pixel) const {
  const QVector4D v = matrix() * QVector4D(q(p), 1);
  if (v.w() <= 0) return false;
  pixel = {(static_cast<double>(v.x() / v.w()) + 1) / 2 * size_.width(), (1 - static_cast<double>(v.y() / v.w())) / 2 * size_.height()};
  return true;
}

}  // namespace dune::window
