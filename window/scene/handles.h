#pragma once
// Points of a thing in the world that are dragged to change it. No GL.

#include <QPointF>
#include <limits>
#include <span>

#include "window/scene/camera.h"
#include "window/scene/draw_list.h"

namespace dune::window {

struct Handle {
  int id;
  Vec3 at;
  QString tip;                                               ///< what dragging it does, in a few words
  double largest = std::numeric_limits<double>::infinity();  ///< radius that it has at most, metres, so that it never hides a small thing
};

/// The handle nearest to a pixel, within reach of a finger; null when there is none.
const Handle* handleNear(std::span<const Handle> handles, const Camera& camera, const QPointF& pixel);
/// How far along a line the point of it lies that a ray comes nearest to, metres from the origin; `direction` has length 1.
double alongLine(const Ray& ray, const Vec3& origin, const Vec3& direction);
/// Draws handles as dots of the same size on the screen wherever the eye is, but for the largest that they may be.
void drawHandles(std::span<const Handle> handles, const Camera& camera, int active, DrawList& list);

}  // namespace dune::window
