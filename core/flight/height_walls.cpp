// Lids of ground that hangs together meet in whole edges, and nothing stands between them. Where triangles do not share whole edges sides
// stand on both; they lie within what is forbidden anyway, or are taken away as far as they lie within what is allowed.

#include "core/flight/height_walls.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/box_tree.h"
#include "core/base/plan_geometry.h"

namespace dune::flight {

namespace {

using Piece = std::vector<Vec3>;  // convex, in one plane

constexpr double kHair = 1e-4;       // m: by which sides stand outside of their ground, and lids may lie within others unseen
constexpr double kLeastArea = 1e-6;  // m²: smaller pieces part nothing that a body gets through
constexpr double kUpright = 1e-3;    // of the normal upwards
constexpr double kFarthest = 2e4;    // m down
constexpr std::size_t kBytes = 300;  // of a wall with its part of what finds it
constexpr std::uint32_t kUnchecked = 64;

struct HalfSpace {
  Vec3 normal;
  double offset;  // normal · p <= offset
};

/// A triangle of ground swept straight up.
class Swept {
 public:
  Swept(const Corners& ground, double height) {
    Corners c = ground;
    Vec3 up = glm::cross(c[1] - c[0], c[2] - c[0]);
    if (up.y < 0) std::swap(c[1], c[2]), up = -up;
    up /= glm::length(up);
    sides_[0] = {-up, -glm::dot(up, c[0])};
    sides_[1] = {up, glm::dot(up, c[0] + Vec3(0, height - kHair, 0))};
    for (std::size_t e = 0; e < 3; ++e) {
      const Vec3 along = c[(e + 1) % 3] - c[e], out(-along.z, 0, along.x);
      sides_[2 + e] = {out / std::hypot(out.x, out.z), 0};
      sides_[2 + e].offset = glm::dot(sides_[2 + e].normal, c[e]);
    }
  }

  /// Takes what lies within it from each of some pieces.
  void takeFrom(std::vector<Piece>& pieces) const {
    std::vector<Piece> left;
    for (Piece& piece : pieces) takeFrom(std::move(piece), left);
    pieces = std::move(left);
  }

  static double area(const Piece& piece) {
    Vec3 twice(0);
    for (std::size_t i = 2; i < piece.size(); ++i) twice += glm::cross(piece[i - 1] - piece[0], piece[i] - piece[0]);
    return glm::length(twice) / 2;
  }

 private:
  void takeFrom(Piece piece, std::vector<Piece>& left) const {
    Piece within = piece;
    for (const HalfSpace& h : sides_) clipByPlane(within, h.normal, h.offset);
    if (area(within) < kLeastArea) return left.push_back(std::move(piece));
    for (const HalfSpace& h : sides_) {
      Piece outside = piece;
      clipByPlane(outside, -h.normal, -h.offset);
      if (area(outside) >= kLeastArea) left.push_back(std::move(outside));
      clipByPlane(piece, h.normal, h.offset);
    }
  }

  HalfSpace sides_[5];
};

/// Whether a triangle has so little area seen from above that nothing lies under it.
bool isUpright(const Corners& c) {
  const Vec3 normal = glm::cross(c[1] - c[0], c[2] - c[0]);
  return std::abs(normal.y) <= kUpright * glm::length(normal);
}

/// The edges of triangles beyond which none of them goes on.
class OpenEdges {
 public:
  OpenEdges(const std::vector<Barrier>& barriers, const std::vector<std::uint32_t>& under) {
    for (const std::uint32_t i : under)
      for (std::size_t e = 0; e < 3; ++e) edges_.push_back(edgeOf(barriers[i].corner, e));
    std::sort(edges_.begin(), edges_.end());
  }
  bool isOpen(const Corners& c, std::size_t e) const {
    Edge beyond = edgeOf(c, e);
    beyond[6] = -beyond[6];
    return !std::binary_search(edges_.begin(), edges_.end(), beyond);
  }

 private:
  using Edge = std::array<double, 7>;  // both ends, and on which side of it the triangle lies
  static Edge edgeOf(const Corners& c, std::size_t e) {
    const auto key = [](const Vec3& p) { return std::array{p.x, p.y, p.z}; };
    const Vec3 *a = &c[e], *b = &c[(e + 1) % 3];
    if (key(*b) < key(*a)) std::swap(a, b);
    const bool left = cross(plan(*b) - plan(*a), plan(c[(e + 2) % 3]) - plan(*a)) > 0;
    return {a->x, a->y, a->z, b->x, b->y, b->z, left ? 1.0 : -1.0};
  }
  std::vector<Edge> edges_;
};

class Walls {
 public:
  Walls(std::vector<Barrier>& barriers, const Job& job) : barriers_(barriers), job_(job) {}

  /// The skin of what lies lower than `height` over ground. All of it may stay, for what lies within is forbidden too.
  bool low(double height) {
    collect([](const Barrier& b) { return b.of == Barrier::Of::ground; });
    return skin(height, Barrier::Of::low, [](std::uint32_t, std::vector<Piece>&) {});
  }

  /// The skin of what lies lower than `height` over anything.
  bool high(double height) {
    collect([](const Barrier& b) { return b.ofLevel(); });
    std::vector<Box3> boxes;
    for (const std::uint32_t i : under_) {
      Box3 box;
      for (const Vec3& p : barriers_[i].corner) box.add(p), box.add(p + Vec3(0, height, 0));
      boxes.push_back(box);
    }
    const BoxTree tree(std::move(boxes));
    std::vector<std::uint32_t> near;
    return skin(height, Barrier::Of::high, [&](std::uint32_t own, std::vector<Piece>& pieces) {
      Box3 box;
      for (const Vec3& p : pieces[0]) box.add(p);
      tree.collect(box, near);
      for (const std::uint32_t other : near) {
        if (pieces.empty()) break;
        if (other != own) Swept(barriers_[under_[other]].corner, height).takeFrom(pieces);
      }
    });
  }

 private:
  template <class Counts>
  void collect(Counts&& counts) {
    under_.clear();
    for (std::uint32_t i = 0; i < barriers_.size(); ++i)
      if (counts(barriers_[i]) && !isUpright(barriers_[i].corner)) under_.push_back(i);
    // The largest first, for what lies within one of them is all gone at once.
    const auto size = [&](std::uint32_t i) {
      const Corners& c = barriers_[i].corner;
      return std::abs(cross(plan(c[1]) - plan(c[0]), plan(c[2]) - plan(c[0])));
    };
    std::ranges::sort(under_, [&](std::uint32_t a, std::uint32_t b) { return std::pair(-size(a), a) < std::pair(-size(b), b); });
  }

  template <class TakeAway>
  bool skin(double height, Barrier::Of of, TakeAway&& takeAway) {
    const OpenEdges edges(barriers_, under_);
    const Vec3 up(0, height, 0);
    std::vector<Piece> pieces;
    for (std::uint32_t k = 0; k < under_.size(); ++k) {
      if (k % kUnchecked == 0 && (job_.cancelled() || barriers_.size() * kBytes > job_.memoryLimit())) return false;
      const Barrier like = barriers_[under_[k]];
      const Corners& c = like.corner;
      pieces.assign(1, {c[0] + up, c[1] + up, c[2] + up});
      takeAway(k, pieces);
      add(pieces, like, of);
      for (std::size_t e = 0; e < 3; ++e) {
        if (!edges.isOpen(c, e)) continue;
        pieces.assign(1, side(c, e, up));
        takeAway(k, pieces);
        add(pieces, like, of);
      }
    }
    return true;
  }

  /// The side over an edge, a hair outside.
  static Piece side(const Corners& c, std::size_t e, const Vec3& up) {
    const Vec3 &a = c[e], &b = c[(e + 1) % 3], &inner = c[(e + 2) % 3];
    Vec3 out(b.z - a.z, 0, a.x - b.x);
    if (glm::dot(out, inner - a) > 0) out = -out;
    const double length = glm::length(out);
    const Vec3 by = length > 0 ? out / length * kHair : Vec3(0);
    return {a + by, b + by, b + by + up, a + by + up};
  }

  void add(const std::vector<Piece>& pieces, Barrier wall, Barrier::Of of) {
    wall.of = of, wall.solid = -1;
    for (const Piece& piece : pieces)
      for (std::size_t i = 2; i < piece.size(); ++i) {
        wall.corner = {piece[0], piece[i - 1], piece[i]};
        barriers_.push_back(wall);
      }
  }

  std::vector<Barrier>& barriers_;
  const Job& job_;
  std::vector<std::uint32_t> under_;  // what counts as being below
};

}  // namespace

bool addHeightWalls(std::vector<Barrier>& barriers, const Flyer& flyer, const Job& job) {
  Walls walls(barriers, job);
  return (flyer.leastHeight <= 0 || walls.low(flyer.leastHeight)) &&
         (flyer.mostHeight <= 0 || walls.high(flyer.mostHeight + 2 * flyer.halfHeight));
}

namespace {

/// The height over what is straight below; infinite where nothing is. Straight down, and a hair beside: one line may go through between two
/// triangles.
HeightAt over(const Obstacles& obstacles, Obstacles::Which which, const Flyer& flyer, const Vec3& p) {
  HeightAt at;
  at.height = std::numeric_limits<double>::infinity();
  const double far = kFarthest * flyer.stretch();
  for (const Vec3& beside : {Vec3(0), Vec3(kHair, 0, 0.6 * kHair), Vec3(-0.7 * kHair, 0, -kHair)}) {
    const Vec3 from = p + beside;
    const Obstacles::Hit hit = obstacles.firstHit(from, from - Vec3(0, far, 0), which);
    if (hit.barrier < 0) continue;
    const double height = hit.along * kFarthest - flyer.halfHeight;
    if (height < at.height) at.height = height, at.object = obstacles[static_cast<std::size_t>(hit.barrier)].object;
  }
  return at;
}

}  // namespace

HeightAt heightAt(const Obstacles& obstacles, const Flyer& f, const Vec3& p) {
  if (f.leastHeight > 0)
    if (HeightAt at = over(obstacles, Obstacles::Which::ofGround, f, p); at.height < f.leastHeight - kHair)
      return at.is = HeightAt::Is::low, at;
  if (f.mostHeight > 0)
    if (HeightAt at = over(obstacles, Obstacles::Which::ofLevel, f, p); at.height > f.mostHeight + kHair)
      return at.is = HeightAt::Is::high, at;
  return {};
}

}  // namespace dune::flight
