#include "core/hand/sheet.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/generate/merge.h"
#include "core/generate/triangulation.h"

namespace dune::hand {

namespace {

constexpr double kNear = 1.5 * kLatticeStep;  // what is nearer to a line than that is on it, once corners are on the lattice
constexpr double kTouch = 2 * kLatticeStep;

using Segment = std::array<LatticePoint, 2>;

double distance(const LatticePoint& a, const LatticePoint& b) { return glm::distance(toPlan(a), toPlan(b)); }

PlanGrid gridOf(const std::vector<SheetFace>& faces) {
  std::vector<Box2> boxes;
  for (const SheetFace& f : faces) boxes.push_back(f.box());
  return {boxes, 1.0};
}

bool strictlyInside(const std::vector<LatticePoint>& convex, const LatticePoint& p) {
  for (std::size_t i = 0; i < convex.size(); ++i)
    if (orientation(convex[i], convex[(i + 1) % convex.size()], p) <= 0) return false;
  return true;
}

class Cutting {
 public:
  explicit Cutting(const Sheet& sheet) : sheet_(sheet), grid_(sheet.regions()) {
    for (const auto* list : {&sheet.made, &sheet.instead})
      for (const SheetFace& f : *list) regions_.push_back(&f), outlines_.push_back(f.outline());
  }

  std::vector<Sheet::Piece> run() {
    for (const SheetFace* region : regions_) addOutline(*region);
    for (const bool drawn : {true, false})
      for (const SheetFace& face : sheet_.around)
        if (face.drawn == drawn) addOutside(face);
    bend();
    triangulate();
    giveOwners();
    return collect();
  }

 private:
  void addOutline(const SheetFace& f) {
    for (std::size_t i = 0; i < f.corners.size(); ++i) {
      points_.insert(f.corners[i]), drawn_.insert(f.corners[i]);
      addSegment(f.corners[i], f.corners[(i + 1) % f.corners.size()], true);
    }
  }

  void addSegment(const LatticePoint& a, const LatticePoint& b, bool drawn) {
    if (a != b) segments_[a < b ? Segment{a, b} : Segment{b, a}] |= drawn;
  }

  /// The edges of what is around, as far as they lie outside of all that is made or goes: within, they would only cut it up.
  void addOutside(const SheetFace& f) {
    for (std::size_t i = 0; i < f.corners.size(); ++i) {
      const LatticePoint a = f.corners[i], b = f.corners[(i + 1) % f.corners.size()];
      if (!edges_.insert(a < b ? Segment{a, b} : Segment{b, a}).second) continue;
      const LatticePoint &low = std::min(a, b), &high = std::max(a, b);  // both faces of an edge cut it at the same places
      const Vec2 p = toPlan(low), q = toPlan(high);
      const double length = glm::distance(p, q);
      Box2 box;
      box.add(p), box.add(q);
      std::vector<Interval> covered;
      for (const std::uint32_t r : grid_.collect(box))
        if (const auto in = r < sheet_.made.size() || sheet_.takesFrom(f) ? inConvex(p, q, outlines_[r]) : std::nullopt;
            in && (in->to - in->from) * length > kLatticeStep)
          covered.push_back(*in);
      for (const Interval& out : complement(std::move(covered), 1e-9)) {
        const LatticePoint from = out.from <= 0 ? low : onBorder(glm::mix(p, q, out.from)),
                           to = out.to >= 1 ? high : onBorder(glm::mix(p, q, out.to));
        points_.insert(from), points_.insert(to);
        addSegment(from, to, false);
      }
    }
  }

  /// The lattice point for a crossing with the border of a region: a corner that is there already, or one that leaves the region convex.
  LatticePoint onBorder(const Vec2& q) const {
    const LatticePoint nearest = toLattice(q);
    LatticePoint best = nearest;
    double bestDistance = INFINITY;
    for (std::int64_t du = -1; du <= 1; ++du)
      for (std::int64_t dv = -1; dv <= 1; ++dv) {
        const LatticePoint p{nearest.u + du, nearest.v + dv};
        const double d = glm::distance(toPlan(p), q);
        if (points_.contains(p) && d <= kNear) return p;
        if (d < bestDistance && !insideAny(p)) best = p, bestDistance = d;
      }
    return best;
  }

  bool insideAny(const LatticePoint& p) const {
    return std::ranges::any_of(grid_.at(toPlan(p)), [&](std::uint32_t r) { return strictlyInside(regions_[r]->corners, p); });
  }

  /// The lines of what is drawn go through all corners that lie next to them, and those of the ground around through the corners of what
  /// is drawn. Not through each other's: beyond them there may be ground that stays as it is.
  void bend() {
    const std::vector<std::pair<Segment, bool>> segments(segments_.begin(), segments_.end());
    std::vector<Box2> boxes(segments.size());
    for (std::size_t i = 0; i < segments.size(); ++i)
      boxes[i].add(toPlan(segments[i].first[0])), boxes[i].add(toPlan(segments[i].first[1]));
    const PlanGrid grid(boxes, 1.0);
    std::vector<std::vector<std::pair<double, LatticePoint>>> on(segments.size());
    for (const LatticePoint& p : points_) {
      Box2 box;
      box.add(toPlan(p));
      for (const std::uint32_t s : grid.collect(box.grown(kNear))) {
        const auto& [ends, drawn] = segments[s];
        const auto& [a, b] = ends;
        if (p == a || p == b || (!drawn && !drawn_.contains(p))) continue;
        const Vec2 d = toPlan(b) - toPlan(a);
        const double t = glm::dot(toPlan(p) - toPlan(a), d) / glm::dot(d, d);
        if (t > 0 && t < 1 && distanceToSegment(toPlan(a), toPlan(b), toPlan(p)) <= kNear) on[s].emplace_back(t, p);
      }
    }
    segments_.clear();
    for (std::size_t s = 0; s < segments.size(); ++s) {
      std::ranges::sort(on[s]);
      const auto& [ends, drawn] = segments[s];
      LatticePoint from = ends[0];
      for (const auto& [t, p] : on[s]) addSegment(from, p, drawn), from = p;
      addSegment(from, ends[1], drawn);
    }
  }

  void triangulate() {
    std::vector<LatticePoint> points(points_.begin(), points_.end());
    plan_ = generate::Triangulation::around(points);
    Job job;
    (void)plan_->insertSorted(std::move(points), job);
    for (const auto& [ends, drawn] : segments_) plan_->constrain(ends[0], ends[1], 1);
  }

  std::array<LatticePoint, 3> cornersOf(std::size_t t) const {
    const auto i = static_cast<std::int32_t>(t);
    return {plan_->corner(i, 0), plan_->corner(i, 1), plan_->corner(i, 2)};
  }

  /// What lies between lines belongs to one face: that in which the middle of its largest triangle is.
  void giveOwners() {
    const PlanGrid around = gridOf(sheet_.around);
    owner_.assign(plan_->triangles().size(), kNobody);
    std::vector<char> seen(owner_.size(), 0);
    for (std::size_t first = 0; first < owner_.size(); ++first) {
      if (seen[first]) continue;
      std::vector<std::size_t> piece{first};
      seen[first] = 1;
      double most = -1;
      std::size_t largest = first;
      for (std::size_t head = 0; head < piece.size(); ++head) {
        const auto c = cornersOf(piece[head]);
        if (const double size = cross(toPlan(c[1]) - toPlan(c[0]), toPlan(c[2]) - toPlan(c[0])); size > most)
          most = size, largest = piece[head];
        const auto& triangle = plan_->triangles()[piece[head]];
        for (std::size_t e = 0; e < 3; ++e) {
          if (triangle.fixed[e] != 0 || triangle.n[e] == generate::Triangulation::kOutside) continue;
          const auto next = static_cast<std::size_t>(triangle.n[e]);
          if (!seen[next]) seen[next] = 1, piece.push_back(next);
        }
      }
      const auto c = cornersOf(largest);
      const std::uint32_t owner = ownerAt((toPlan(c[0]) + toPlan(c[1]) + toPlan(c[2])) / 3.0, around);
      for (const std::size_t t : piece) owner_[t] = owner;
    }
  }

  std::uint32_t ownerAt(const Vec2& q, const PlanGrid& around) const {
    bool goes = false;
    for (const std::uint32_t r : grid_.at(q)) {
      if (!contains(outlines_[r], q)) continue;
      if (r < sheet_.made.size()) return r;
      goes = true;
    }
    for (const std::uint32_t f : around.at(q))
      if ((!goes || !sheet_.takesFrom(sheet_.around[f])) && contains(sheet_.around[f].outline(), q))
        return static_cast<std::uint32_t>(sheet_.made.size()) + f;
    return kNobody;
  }

  std::vector<Sheet::Piece> collect() const {
    std::map<std::uint32_t, std::vector<std::size_t>> byOwner;
    for (std::size_t t = 0; t < owner_.size(); ++t)
      if (owner_[t] != kNobody) byOwner[owner_[t]].push_back(t);
    std::vector<Sheet::Piece> pieces;
    for (const auto& [owner, own] : byOwner) {
      const bool made = owner < sheet_.made.size();
      const std::uint32_t of = made ? owner : owner - static_cast<std::uint32_t>(sheet_.made.size());
      const SheetFace& face = made ? sheet_.made[of] : sheet_.around[of];
      for (auto& loop : merged(own)) {
        SheetFace shape{std::move(loop), {}, face.area};
        for (const LatticePoint& p : shape.corners) shape.heights.push_back(face.heightAt(p));
        pieces.push_back({std::move(shape), made, of});
      }
    }
    return pieces;
  }

  std::vector<std::vector<LatticePoint>> merged(const std::vector<std::size_t>& triangles) const {
    std::vector<std::array<std::uint32_t, 3>> own;
    std::map<std::uint32_t, std::uint32_t> number;
    std::vector<LatticePoint> points;
    for (const std::size_t t : triangles) {
      std::array<std::uint32_t, 3> v = plan_->triangles()[t].v;
      for (std::uint32_t& k : v) {
        const auto [at, fresh] = number.emplace(k, static_cast<std::uint32_t>(points.size()));
        if (fresh) points.push_back(plan_->points()[k]);
        k = at->second;
      }
      own.push_back(v);
    }
    std::vector<std::vector<LatticePoint>> loops;
    for (const generate::Loop& loop : generate::mergeInPlan(points, own)) {
      loops.emplace_back();
      for (const std::uint32_t v : loop) loops.back().push_back(points[v]);
    }
    return loops;
  }

  static constexpr std::uint32_t kNobody = 0xffffffffu;
  const Sheet& sheet_;
  std::vector<const SheetFace*> regions_;  // what is made, then what goes
  std::vector<Polygon> outlines_;          // theirs
  PlanGrid grid_;                          // theirs
  std::set<LatticePoint> points_, drawn_;  // all corners; those of the regions
  std::map<Segment, bool> segments_;       // whether it is a side of a region
  std::set<Segment> edges_;
  std::optional<generate::Triangulation> plan_;
  std::vector<std::uint32_t> owner_;  // one a triangle
};

}  // namespace

std::optional<Interval> inConvex(const Vec2& a, const Vec2& b, const Polygon& convex) {
  Interval in{0, 1};
  for (std::size_t i = 0; i < convex.size(); ++i) {
    const Vec2 p = convex[i], q = convex[(i + 1) % convex.size()];
    const double length = glm::distance(p, q), da = cross(q - p, a - p) / length, db = cross(q - p, b - p) / length;
    if (da <= 0 && db <= 0) return std::nullopt;
    if (da < 0) in.from = std::max(in.from, da / (da - db));
    if (db < 0) in.to = std::min(in.to, da / (da - db));
  }
  if (in.from >= in.to) return std::nullopt;
  return in;
}

std::vector<Vec3> within(const SheetFace& face, const SheetFace& other, double by) {
  std::vector<Vec3> rest;
  for (std::size_t i = 0; i < face.corners.size(); ++i) rest.push_back(face.place(i));
  for (std::size_t i = 0; i < other.corners.size() && !rest.empty(); ++i) {
    const Vec2 a = toPlan(other.corners[i]), b = toPlan(other.corners[(i + 1) % other.corners.size()]);
    const Vec2 along = (b - a) / glm::distance(a, b), out = Vec2{along.y, -along.x} * by;
    clipByLine(rest, a + out, b + out, true);
  }
  return rest;
}

SheetFace sheetFace(const std::vector<Vec3>& corners, std::uint16_t area) {
  SheetFace face;
  face.area = area;
  for (const Vec3& c : corners) {
    const LatticePoint p = toLattice(plan(c));
    if (!face.corners.empty() && (p == face.corners.back() || p == face.corners.front())) continue;
    face.corners.push_back(p), face.heights.push_back(c.y);
  }
  return face;
}

Polygon SheetFace::outline() const {
  Polygon outline;
  for (const LatticePoint& p : corners) outline.push_back(toPlan(p));
  return outline;
}

double SheetFace::heightAt(const LatticePoint& p) const {
  const std::size_t n = corners.size();
  const Vec2 q = toPlan(p);
  double least = INFINITY, along = 0;
  for (std::size_t i = 0; i < n; ++i) {
    if (corners[i] == p) return heights[i];
    const std::size_t k = (i + 1) % n;
    const double off = distanceToSegment(toPlan(corners[i]), toPlan(corners[k]), q);
    if (off < least)
      least = off, along = glm::mix(heights[i], heights[k], std::min(1.0, distance(corners[i], p) / distance(corners[i], corners[k])));
  }
  if (least <= kNear) return along;
  for (std::size_t i = 1; i + 1 < n; ++i) {
    const Vec2 a = toPlan(corners[0]), b = toPlan(corners[i]), c = toPlan(corners[i + 1]);
    const double twice = cross(b - a, c - a);
    if (twice <= 0) continue;
    const double wb = cross(q - a, c - a) / twice, wc = cross(b - a, q - a) / twice;
    if (wb >= -1e-9 && wc >= -1e-9 && wb + wc <= 1 + 1e-9)
      return heights[0] + wb * (heights[i] - heights[0]) + wc * (heights[i + 1] - heights[0]);
  }
  return along;
}

Box2 SheetFace::box() const {
  Box2 box;
  for (const LatticePoint& p : corners) box.add(toPlan(p));
  return box;
}

PlanGrid Sheet::regions() const {
  std::vector<SheetFace> all(made);
  all.insert(all.end(), instead.begin(), instead.end());
  return gridOf(all);
}

bool Sheet::touches(const SheetFace& face, double levels, const PlanGrid& regions) const {
  return std::ranges::any_of(regions.collect(face.box().grown(kTouch)), [&](std::uint32_t number) {
    const SheetFace& other = region(number);
    // Where they meet anywhere, corners become one there: then one of them must give way to the other.
    return std::ranges::any_of(within(face, other, kTouch),
                               [&](const Vec3& p) { return std::abs(other.heightAt(toLattice(plan(p))) - p.y) <= levels; });
  });
}

namespace {

constexpr double kOneGround = 0.1;  // m in height

/// Two faces at one height are one ground, of which the one has what the other does not take.
std::optional<Vec3> overlapIn(const std::vector<SheetFace>& faces) {
  const PlanGrid grid = gridOf(faces);
  for (std::uint32_t f = 0; f < faces.size(); ++f)
    for (const std::uint32_t g : grid.collect(faces[f].box())) {
      if (g <= f) continue;
      const std::vector<Vec3> common = within(faces[f], faces[g], 0);
      const auto apart = [&](const Vec3& p) { return std::abs(faces[g].heightAt(toLattice(plan(p))) - p.y) > kOneGround; };
      if (common.size() >= 3 && planArea(common) > kOverlap && std::ranges::any_of(common, apart)) return meanOf(common);
    }
  return std::nullopt;
}

}  // namespace

std::optional<Vec3> Sheet::foldedAt() const {
  const auto at = overlapIn(around);
  return at ? at : overlapIn(made);
}

std::vector<Sheet::Piece> Sheet::pieces() const { return Cutting(*this).run(); }

}  // namespace dune::hand
