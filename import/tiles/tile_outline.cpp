#include "import/tiles/tile_outline.h"

namespace dune::import {

namespace {

constexpr int kEllipseCorners = 32;

Polygon unturned(const TileShape& s) {
  switch (s.kind) {
    case TileShape::Kind::point:
      return {};
    case TileShape::Kind::polygon:
    case TileShape::Kind::polyline:
      return s.corners;
    default:
      break;
  }
  if (!(s.size.x > 0) || !(s.size.y > 0)) return {};
  if (s.kind == TileShape::Kind::rectangle) return {{0, 0}, {s.size.x, 0}, s.size, {0, s.size.y}};
  Polygon ellipse;
  for (int i = 0; i < kEllipseCorners; ++i) {
    const double angle = 2 * kPi * i / kEllipseCorners;
    ellipse.push_back(s.size / 2.0 + Vec2{std::cos(angle), std::sin(angle)} * s.size / 2.0);
  }
  return ellipse;
}

/// A point of a tile after the tile's flips; the diagonal one comes first and swaps the sides.
Vec2 flipped(Vec2 p, Vec2 size, std::uint32_t number) {
  if (number & kFlipDiagonal) std::swap(p.x, p.y), std::swap(size.x, size.y);
  if (number & kFlipAcross) p.x = size.x - p.x;
  if (number & kFlipDown) p.y = size.y - p.y;
  return p;
}

}  // namespace

Polygon outlineOf(const TileShape& shape) {
  Polygon outline = unturned(shape);
  const double angle = radians(shape.turn), c = std::cos(angle), s = std::sin(angle);
  for (Vec2& p : outline) p = Vec2{p.x * c - p.y * s, p.x * s + p.y * c};
  return outline;
}

Polygon placedOutline(const TileShape& shape, const TileSet& set, std::uint32_t number, const Vec2& corner) {
  const Vec2 size{set.tileWidth, set.tileHeight};
  const double height = number & kFlipDiagonal ? size.x : size.y;
  Polygon outline = outlineOf(shape);
  for (Vec2& p : outline) p = corner + Vec2{0, -height} + flipped(p + shape.at, size, number);
  return outline;
}

}  // namespace dune::import
