#include "core/generate/outline.h"

#include <algorithm>
#include <map>

#include "core/generate/tuning.h"

namespace dune::generate {

namespace {

using ground::Limit;

constexpr double kSamePoint = 1e-4;  // m: shapes that meet nearer than this share their round corner
constexpr double kSameAngle = 1e-7;  // rad
constexpr double kGridCell = 1.0;    // m
constexpr std::size_t kChecksEvery = 64;

double turned(double angle) {
  const double t = std::fmod(angle, 2 * kPi);
  return t < 0 ? t + 2 * kPi : t;
}

/// The direction square to a limit, to its own side.
double sideAngle(const Limit& l) {
  const Vec2 n = leftOf(l.b - l.a);
  return turned(std::atan2(n.y, n.x));
}

/// The directions in which round corners have tangents. Shapes that meet in a point get the same tangents there, so that
/// their round corners are the same line and leave no nicks where one gives way to the other.
class Tangents {
 public:
  Tangents(const std::vector<Limit>& limits, double radius, double arcError) : most_(2 * std::acos(radius / (radius + arcError))) {
    for (const Limit& l : limits) {
      const double side = sideAngle(l);
      for (const double angle : {side, turned(side + kPi / 2)}) at_[key(l.a)].push_back(angle);
      for (const double angle : {side, turned(side - kPi / 2)}) at_[key(l.b)].push_back(angle);
    }
    for (auto& [point, angles] : at_) fill(angles);
  }

  /// The tangents at a corner from one direction to another, counter-clockwise, both included.
  std::vector<double> between(const Vec2& corner, double from, double to) const {
    std::vector<double> result{from};
    const double span = turned(to - from);
    if (const auto found = at_.find(key(corner)); found != at_.end()) {
      std::vector<double> inner;
      for (const double angle : found->second)
        if (const double d = turned(angle - from); d > kSameAngle && d < span - kSameAngle) inner.push_back(d);
      std::sort(inner.begin(), inner.end());
      for (const double d : inner) result.push_back(from + d);
    }
    result.push_back(from + span);
    return result;
  }

 private:
  using Key = std::pair<std::int64_t, std::int64_t>;
  static Key key(const Vec2& p) { return {std::llround(p.x / kSamePoint), std::llround(p.y / kSamePoint)}; }

  void fill(std::vector<double>& angles) const {
    std::sort(angles.begin(), angles.end());
    std::vector<double> full;
    for (std::size_t i = 0; i < angles.size(); ++i) {
      const double from = angles[i], to = i + 1 < angles.size() ? angles[i + 1] : angles[0] + 2 * kPi;
      if (to - from < kSameAngle) continue;
      const int parts = std::max(1, static_cast<int>(std::ceil((to - from) / most_ - 1e-9)));
      for (int k = 0; k < parts; ++k) full.push_back(turned(from + (to - from) * k / parts));
    }
    angles = std::move(full);
  }

  double most_;
  std::map<Key, std::vector<double>> at_;
};

Grown grow(const Limit& limit, const Tangents& tangents, double radius) {
  Grown grown;
  const double side = sideAngle(limit);
  auto corner = [&](const Vec2& at, double from, double to) {
    const auto angles = tangents.between(at, from, to);
    for (std::size_t k = 0; k + 1 < angles.size(); ++k) {
      const double half = (angles[k + 1] - angles[k]) / 2, middle = angles[k] + half;
      grown.border.push_back(at + Vec2(std::cos(middle), std::sin(middle)) * (radius / std::cos(half)));
    }
  };
  // From the end of the limit round to its begin, and back along its line.
  const Vec2 along = (limit.b - limit.a) / glm::distance(limit.a, limit.b) * radius;
  grown.border.push_back(limit.b + along);
  corner(limit.b, turned(side - kPi / 2), side);
  corner(limit.a, side, turned(side + kPi / 2));
  grown.border.push_back(limit.a - along);
  for (std::size_t i = 0, n = grown.border.size(); i < n; ++i) {
    const Vec2 &p = grown.border[i], edge = grown.border[(i + 1) % n] - p;
    grown.box.add(p);
    const double length = glm::length(edge);
    if (length == 0) continue;
    const Vec2 inward = leftOf(edge) / length;
    grown.sides.push_back({inward, glm::dot(inward, p)});
  }
  return grown;
}

/// The part of a segment inside a grown shape.
struct Inside {
  Interval part{0, 1};
  bool alongSide = false;  ///< the segment runs along a side, within kTie
};

/// Of segment ab; nothing when it runs along a side and is not to be `inclusive`.
std::optional<Inside> insideOf(const Grown& grown, const Vec2& a, const Vec2& b, bool inclusive) {
  Inside inside;
  Interval& t = inside.part;
  for (const Vec3& side : grown.sides) {
    const double da = side.x * a.x + side.y * a.y - side.z, db = side.x * b.x + side.y * b.y - side.z;
    if (da >= 0 && db >= 0 && (da > tuning::kTie || db > tuning::kTie)) continue;
    if (std::abs(da) <= tuning::kTie && std::abs(db) <= tuning::kTie) {
      if (!inclusive) return std::nullopt;
      inside.alongSide = true;
      continue;
    }
    if (da < 0 && db < 0) return std::nullopt;
    if (da < 0) t.from = std::max(t.from, da / (da - db));
    if (db < 0) t.to = std::min(t.to, da / (da - db));
    if (t.from >= t.to) return std::nullopt;
  }
  return inside;
}

/// Adds the parts of segment ab along which pieces run.
void addAlong(std::span<const OutlinePiece> pieces, const Vec2& a, const Vec2& b, std::vector<Interval>& covered) {
  const Vec2 way = b - a;
  const double length2 = glm::dot(way, way), off = 2 * tuning::kTie * std::sqrt(length2);
  for (const OutlinePiece& p : pieces) {
    if (std::abs(cross(way, p.a - a)) > off || std::abs(cross(way, p.b - a)) > off) continue;
    const auto [from, to] = std::minmax({glm::dot(p.a - a, way) / length2, glm::dot(p.b - a, way) / length2});
    if (from < 1 && to > 0) covered.push_back({std::max(0.0, from), std::min(1.0, to)});
  }
}

/// Whether a limit's end is no other's: beyond it only the limit's own line parts what it forbids from ground on its other side.
class LooseEnds {
 public:
  explicit LooseEnds(const std::vector<Limit>& limits) {
    for (const Limit& l : limits) ++at_[key(l.a)], ++at_[key(l.b)];
  }
  bool isLoose(const Vec2& end) const { return at_.at(key(end)) == 1; }

 private:
  using Key = std::pair<std::int64_t, std::int64_t>;
  static Key key(const Vec2& p) { return {std::llround(p.x / kSamePoint), std::llround(p.y / kSamePoint)}; }
  std::map<Key, int> at_;
};

/// A limit hides another's outline at p only where both are about the same ground.
bool sameGround(const Limit& a, const Limit& b, const Vec2& p, double agentHeight) {
  if (a.kind == ground::LimitKind::bounds || b.kind == ground::LimitKind::bounds) return true;
  return std::abs(a.heightNear(p) - b.heightNear(p)) < agentHeight / 2;
}

}  // namespace

std::vector<Grown> growLimits(const std::vector<Limit>& limits, double radius, double arcError) {
  const Tangents tangents(limits, radius, arcError);
  std::vector<Grown> grown;
  grown.reserve(limits.size());
  for (const Limit& l : limits) grown.push_back(grow(l, tangents, radius));
  return grown;
}

Result<std::vector<OutlinePiece>> outlinePieces(const std::vector<Limit>& limits, const std::vector<Grown>& grown, double agentHeight,
                                                const Box2& within, const Job& job) {
  std::vector<Box2> boxes;
  boxes.reserve(grown.size());
  for (const Grown& g : grown) boxes.push_back(g.box);
  const PlanGrid grid(boxes, kGridCell);
  const LooseEnds ends(limits);
  std::vector<OutlinePiece> pieces;
  std::vector<std::size_t> first;  // one a shape: of its pieces
  std::vector<std::uint32_t> near;
  std::vector<Interval> covered;
  for (std::size_t i = 0; i < grown.size(); ++i) {
    if (i % kChecksEvery == 0 && job.cancelled()) return Job::cancelledProblem();
    first.push_back(pieces.size());
    grid.collect(grown[i].box, near);
    std::vector<OutlinePiece> sides;
    for (std::size_t e = 0, n = grown[i].border.size(); e + 1 < n; ++e) sides.push_back({grown[i].border[e], grown[i].border[e + 1]});
    if (ends.isLoose(limits[i].a)) sides.push_back({grown[i].border.back(), limits[i].a});
    if (ends.isLoose(limits[i].b)) sides.push_back({limits[i].b, grown[i].border.front()});
    for (const auto& [a, b] : sides) {
      const auto part = clipToBox(a, b, within);
      const double length = glm::distance(a, b);
      if (!part || length == 0) continue;
      Box2 box;
      box.add(glm::mix(a, b, part->from)), box.add(glm::mix(a, b, part->to));
      covered.clear();
      for (const std::uint32_t j : near) {
        if (j == i || !grown[j].box.overlaps(box)) continue;
        // Of two borders on one line the first keeps it, if nothing else takes it: of three borders each may be on one line with the
        // next, and the first not with the last.
        const auto inside = insideOf(grown[j], a, b, j < i);
        if (!inside) continue;
        const auto [from, to] = inside->part;
        if (!sameGround(limits[i], limits[j], glm::mix(a, b, (from + to) / 2), agentHeight)) continue;
        if (inside->alongSide) {
          addAlong(std::span(pieces).subspan(first[j], first[j + 1] - first[j]), a, b, covered);
          continue;
        }
        covered.push_back({from, to});
        if (from <= part->from && to >= part->to) break;
      }
      for (const Interval& rest : complement(covered, tuning::kLeastPiece / length)) {
        const double from = std::max(rest.from, part->from), to = std::min(rest.to, part->to);
        if (from < to) pieces.push_back({glm::mix(a, b, from), glm::mix(a, b, to)});
      }
    }
  }
  return pieces;
}

}  // namespace dune::generate
