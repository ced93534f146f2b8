#pragma once
// What a layer wants drawn, as plain arrays; no GL. Layers fill one each, the view uploads and draws them.

#include <QColor>
#include <cstdint>
#include <functional>
#include <vector>

#include "core/base/bounds.h"
#include "core/base/vec.h"
#include "window/scene/thing.h"

namespace dune::window {

struct DrawVertex {
  float x, y, z;
  std::uint32_t colour;  // RGBA, one byte each
};

/// A corner of a line drawn as a strip of constant width on the screen.
struct LineVertex {
  float x, y, z;
  float ox, oy, oz;   // the other end
  float side, width;  // -1 or 1; pixels, below zero at the second end, from which the sides are seen the other way round
  std::uint32_t colour;
};

std::uint32_t packed(const QColor& colour, double alpha = -1);

/// What of a layer is drawn: all, or only what lies inside, or outside, a box of the plan.
enum class Clip : std::uint8_t { none, inside, outside };

/// Where a thing that is drawn can be picked: near a line of the world, or near a place.
struct PickLine {
  Thing thing;
  std::vector<Vec3> points;
};

struct DrawList {
  std::vector<DrawVertex> triangles;
  std::vector<LineVertex> lines;
  /// Drawn instead of both from afar while the view moves and there is no graphics card; none: they themselves.
  std::vector<DrawVertex> sketch;
  std::vector<PickLine> picks;
  /// More of them, worked out once somebody points; nothing: none.
  std::function<std::vector<PickLine>()> picksLater;
  bool lit = false;   ///< shaded by the light
  bool over = false;  ///< nothing hides it, however near
  bool veil = false;  ///< its triangles hide nothing behind them
  bool cut = true;    ///< the cut-away hides what is above it
  Clip clip = Clip::none;
  Box2 clipBox;     ///< of the plan
  double lift = 0;  ///< drawn nearer to the eye by this much, so that it is not lost in what it lies on

  /// How wide the triangles of the sketch are about, metres.
  double sketchGrain() const;
  void clear() { triangles.clear(), lines.clear(), sketch.clear(), picks.clear(), picksLater = nullptr; }
  void triangle(const Vec3& a, const Vec3& b, const Vec3& c, std::uint32_t colour);
  void line(const Vec3& a, const Vec3& b, double width, std::uint32_t colour);
  void polyline(const std::vector<Vec3>& points, double width, std::uint32_t colour);
  void dashed(const Vec3& a, const Vec3& b, double dash, double width, std::uint32_t colour);
  void circle(const Vec3& centre, double radius, double width, std::uint32_t colour);
  void disc(const Vec3& centre, double radius, std::uint32_t colour);
  /// How much of a body is drawn, by how many there are beside it.
  enum class Shape : std::uint8_t { round, plain, pointed };
  static Shape shapeAmong(std::size_t bodies);
  /// Corners of triangles that a body takes.
  static std::size_t bodyVertices(Shape shape);
  /// A body: a cylinder with a rounded top, which stands along `up`, of length 1; with a fourth of the triangles, or only as a pyramid.
  void body(const Vec3& feet, double radius, double height, std::uint32_t colour, const Vec3& up = {0, 1, 0}, Shape shape = Shape::round);

 private:
  void pointedBody(const Vec3& feet, double radius, double height, std::uint32_t colour);
};

}  // namespace dune::window
