#include "window/scene/draw_list.h"

#include <array>

namespace dune::window {

namespace {
constexpr int kRound = 28;  // corners of circles
float f(double x) { return static_cast<float>(x); }
Vec3 around(const Vec3& centre, double radius, int i, int n) {
  const double a = 2 * kPi * i / n;
  return centre + Vec3{radius * std::cos(a), 0, radius * std::sin(a)};
}
}  // namespace

std::uint32_t packed(const QColor& c, double alpha) {
  const int a = alpha < 0 ? c.alpha() : static_cast<int>(alpha * 255);
  return static_cast<std::uint32_t>(c.red()) | static_cast<std::uint32_t>(c.green()) << 8 | static_cast<std::uint32_t>(c.blue()) << 16 |
         static_cast<std::uint32_t>(a) << 24;
}

double DrawList::sketchGrain() const {
  double area = 0;
  for (std::size_t i = 0; i + 2 < sketch.size(); i += 3) {
    const auto corner = [&](std::size_t k) { return Vec3{sketch[i + k].x, sketch[i + k].y, sketch[i + k].z}; };
    area += glm::length(glm::cross(corner(1) - corner(0), corner(2) - corner(0))) / 2;
  }
  return sketch.empty() ? 0 : std::sqrt(2 * area / (static_cast<double>(sketch.size()) / 3));
}

void DrawList::triangle(const Vec3& a, const Vec3& b, const Vec3& c, std::uint32_t colour) {
  for (const Vec3& p : {a, b, c}) triangles.push_back({f(p.x), f(p.y), f(p.z), colour});
}

void DrawList::line(const Vec3& a, const Vec3& b, double width, std::uint32_t colour) {
  auto corner = [&](const Vec3& p, const Vec3& o, float side, double wide) {
    lines.push_back({f(p.x), f(p.y), f(p.z), f(o.x), f(o.y), f(o.z), side, f(wide), colour});
  };
  // Seen from b the sides are swapped.
  corner(a, b, -1, width), corner(a, b, 1, width), corner(b, a, 1, -width);
  corner(b, a, 1, -width), corner(a, b, 1, width), corner(b, a, -1, -width);
}

void DrawList::polyline(const std::vector<Vec3>& points, double width, std::uint32_t colour) {
  for (std::size_t i = 0; i + 1 < points.size(); ++i) line(points[i], points[i + 1], width, colour);
}

void DrawList::dashed(const Vec3& a, const Vec3& b, double dash, double width, std::uint32_t colour) {
  const double length = glm::distance(a, b);
  for (double at = 0; at < length; at += 2 * dash)
    line(glm::mix(a, b, at / length), glm::mix(a, b, std::min(1.0, (at + dash) / length)), width, colour);
}

void DrawList::circle(const Vec3& centre, double radius, double width, std::uint32_t colour) {
  for (int i = 0; i < kRound; ++i) line(around(centre, radius, i, kRound), around(centre, radius, i + 1, kRound), width, colour);
}

void DrawList::disc(const Vec3& centre, double radius, std::uint32_t colour) {
  for (int i = 0; i < kRound; ++i) triangle(centre, around(centre, radius, i + 1, kRound), around(centre, radius, i, kRound), colour);
}

namespace {

constexpr std::size_t kCorners = 3;          // of a pyramid's foot
constexpr int kSides[] = {14, 6, kCorners};  // of each shape
constexpr int kTrianglesOfSide[] = {5, 3, 1};

/// The corners of all of a shape are those of one circle.
const std::array<Vec2, 15>& circleOf(DrawList::Shape shape) {
  static const auto kCircles = [] {
    std::array<std::array<Vec2, 15>, 3> circles{};
    for (std::size_t s = 0; s < circles.size(); ++s)
      for (int i = 0; i <= kSides[s]; ++i) {
        const double angle = 2 * kPi * i / kSides[s];
        circles[s][static_cast<std::size_t>(i)] = {std::cos(angle), std::sin(angle)};
      }
    return circles;
  }();
  return kCircles[static_cast<std::size_t>(shape)];
}

}  // namespace

DrawList::Shape DrawList::shapeAmong(std::size_t bodies) {
  constexpr std::size_t kMany = 1500, kVeryMany = 5000;
  return bodies > kVeryMany ? Shape::pointed : bodies > kMany ? Shape::plain : Shape::round;
}

std::size_t DrawList::bodyVertices(Shape shape) {
  return static_cast<std::size_t>(3 * kSides[static_cast<std::size_t>(shape)] * kTrianglesOfSide[static_cast<std::size_t>(shape)]);
}

/// Where there are very many the lean is not seen, and each counts.
void DrawList::pointedBody(const Vec3& feet, double radius, double height, std::uint32_t colour) {
  const auto& circle = circleOf(Shape::pointed);
  const auto x = static_cast<float>(feet.x), y = static_cast<float>(feet.y), z = static_cast<float>(feet.z);
  const auto r = static_cast<float>(radius), top = y + static_cast<float>(height);
  std::array<DrawVertex, kCorners> ring;
  for (std::size_t i = 0; i < ring.size(); ++i)
    ring[i] = {x + r * static_cast<float>(circle[i].x), y, z + r * static_cast<float>(circle[i].y), colour};
  for (std::size_t i = 0; i < ring.size(); ++i)
    triangles.insert(triangles.end(), {ring[i], {x, top, z, colour}, ring[(i + 1) % ring.size()]});
}

void DrawList::body(const Vec3& feet, double radius, double height, std::uint32_t colour, const Vec3& up, Shape shape) {
  if (shape == Shape::pointed) return pointedBody(feet, radius, height, colour);
  const auto& circle = circleOf(shape);
  const Vec3 side = glm::normalize(glm::cross(std::abs(up.x) < 0.9 ? Vec3{1, 0, 0} : Vec3{0, 0, 1}, up)), ahead = glm::cross(up, side);
  auto ring = [&](double at, double wide, int i) {
    const Vec2& to = circle[static_cast<std::size_t>(i)];
    return feet + up * at + (ahead * to.x + side * to.y) * wide;
  };
  const double shoulder = std::max(0.0, height - radius * 0.6), temple = (shoulder + height) / 2 + radius * 0.15;
  const Vec3 crown = feet + up * height;
  for (int i = 0; i < kSides[static_cast<std::size_t>(shape)]; ++i) {
    const Vec3 a = ring(0, radius, i), b = ring(0, radius, i + 1);
    const Vec3 c = ring(shoulder, radius, i + 1), d = ring(shoulder, radius, i);
    triangle(a, c, b, colour), triangle(a, d, c, colour);
    if (shape == Shape::plain) {
      triangle(d, crown, c, colour);
      continue;
    }
    const Vec3 e = ring(temple, radius * 0.7, i), g = ring(temple, radius * 0.7, i + 1);
    triangle(d, g, c, colour), triangle(d, e, g, colour), triangle(e, crown, g, colour);
  }
}

}  // namespace dune::window
