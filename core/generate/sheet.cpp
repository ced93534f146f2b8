// From the simplified border of a sheet to convex faces. A second triangulation is made from the border alone, so that
// outlines of other storeys, which cut the cells, leave no trace in this sheet's faces.

#include "core/generate/sheet.h"

#include <algorithm>
#include <array>
#include <limits>

#include "core/generate/fewer.h"
#include "core/generate/label.h"
#include "core/generate/merge.h"
#include "core/generate/needles.h"
#include "core/generate/sheet_lines.h"
#include "core/generate/sheet_profile.h"
#include "core/generate/straight_runs.h"
#include "core/generate/tuning.h"
#include "core/ground/ground_kind.h"

namespace dune::generate {

namespace {

constexpr std::int64_t kMargin = 4096;  // lattice steps around the border
constexpr double kAround = 1;           // m: lines farther from the border than this are cut off
constexpr double kEven = 1e-6;          // m: of places as far off as each other the first is taken, wherever in the world they lie
constexpr int kMostRounds = 48;         // of inserting points for height; each halves the error or so

class SheetMesher {
 public:
  SheetMesher(const SheetInput& input, std::int32_t sheet, Job& job)
      : in_(input), sheet_(sheet), job_(job), ground_(input, sheet), profile_(input, ground_), plan_({0, 0}, {1, 1}) {}

  std::vector<SheetFace> run() {
    lowLines_ = lowLines(in_.cells, sheet_);
    SheetBorder border = sheetBorder(in_, sheet_, lowLines_);
    if (border.loops.empty()) return {};
    pinned_ = std::move(border.pinned);
    LatticePoint min = border.loops[0][0].p, max = min;
    for (const auto& loop : border.loops)
      for (const auto& [p, beyond] : loop)
        min = {std::min(min.u, p.u), std::min(min.v, p.v)}, max = {std::max(max.u, p.u), std::max(max.v, p.v)};
    box_.add(glm::max(toPlan(min) - Vec2(kAround), toPlan(in_.chunk.min)));
    box_.add(glm::min(toPlan(max) + Vec2(kAround), toPlan(in_.chunk.max)));
    plan_ = Triangulation({min.u - kMargin, min.v - kMargin}, {max.u + kMargin, max.v + kMargin});
    lines_ = sheetLines(in_, steepest());
    for (auto& loop : border.loops) fitCuts(loop), fitBorder(loop);
    if (!constrain(border.loops)) return {};
    findInside();
    if (fitSeams()) findInside();
    if (!fitHeights()) return {};
    return faces();
  }

 private:
  /// The rise of the steepest ground in one metre.
  double steepest() const { return ground_.steepest(); }

  using Loop = std::vector<SheetBorder::Corner>;

  bool constrain(const std::vector<Loop>& border) {
    std::vector<LatticePoint> points;
    for (const Loop& loop : border)
      for (const auto& [p, beyond] : loop) points.push_back(p);
    if (!plan_.insertSorted(std::move(points), job_)) return false;
    for (const Loop& loop : border)
      for (std::size_t i = 0; i < loop.size(); ++i)
        plan_.constrain(loop[i].p, loop[(i + 1) % loop.size()].p, loop[i].beyond >= 0 ? edge::border | edge::cut : edge::border);
    for (const LowLine& l : lowLines_) plan_.constrain(l.a, l.b, edge::low);
    for (const SheetLine& line : lines_)
      if (isOnSheet(line)) generate::constrain(plan_, line, box_);
    return !job_.cancelled();
  }

  /// Whether a line may be about this sheet's ground: one of another storey would leave a trace in it.
  bool isOnSheet(const SheetLine& line) {
    if (!ground_.mayLie(line.low, line.high)) return false;
    const auto inside = clipToBox(line.a, line.b, box_);
    if (!inside) return false;
    if (in_.cells.sheetCount() == 1) return true;
    return std::ranges::any_of(std::array{1 / 6.0, 1 / 2.0, 5 / 6.0}, [&](double part) {
      const double t = glm::mix(inside->from, inside->to, part), y = ground_.at(glm::mix(line.a, line.b, t));
      const double rise = in_.standing.agent().stepHeight + line.changes * std::abs(t - 0.5) * glm::distance(line.a, line.b);
      return line.low < y + rise && line.high > y - rise;
    });
  }

  /// Triangles inside the border: pieces bounded by it are taken whole, by the centre of their largest triangle.
  void findInside() {
    if (in_.cells.isThin(sheet_)) return findWithin();
    markPieces(edge::border, inside_, [&](std::int32_t cell) { return in_.cells.storeyOf(cell, sheet_) >= 0; });
  }

  /// In a sheet of slivers no centre tells which cell it lies in: inside is what one must cross the border an odd number of times to get
  /// to.
  void findWithin() {
    const auto& triangles = plan_.triangles();
    inside_.assign(triangles.size(), 0);
    std::vector<char> seen(triangles.size(), 0);
    std::vector<std::size_t> queue;
    for (std::size_t t = 0; t < triangles.size(); ++t)
      if (std::ranges::count(triangles[t].n, Triangulation::kOutside) != 0) queue.push_back(t), seen[t] = 1;
    for (std::size_t head = 0; head < queue.size(); ++head)
      for (std::size_t e = 0; e < 3; ++e) {
        const std::int32_t n = triangles[queue[head]].n[e];
        if (n == Triangulation::kOutside || seen[static_cast<std::size_t>(n)]) continue;
        const bool crosses = (triangles[queue[head]].fixed[e] & edge::border) != 0;
        seen[static_cast<std::size_t>(n)] = 1;
        inside_[static_cast<std::size_t>(n)] = static_cast<char>(inside_[queue[head]] != 0) ^ static_cast<char>(crosses);
        queue.push_back(static_cast<std::size_t>(n));
      }
  }

  void findLow() {
    markPieces(edge::border | edge::low, mustCrouch_, [&](std::int32_t cell) {
      const std::int32_t storey = in_.cells.storeyOf(cell, sheet_);
      return storey >= 0 && in_.cells.storeys()[static_cast<std::size_t>(storey)].low;
    });
  }

  /// Marks whole pieces between edges of a mask, by what the cell at the centre of their largest triangle says.
  template <class Says>
  void markPieces(std::uint8_t mask, std::vector<char>& mark, Says&& says) {
    const auto& triangles = plan_.triangles();
    mark.assign(triangles.size(), 0);
    std::vector<char> seen(triangles.size(), 0);
    std::vector<std::size_t> piece;
    std::int32_t hint = 0;
    for (std::size_t first = 0; first < triangles.size(); ++first) {
      if (seen[first]) continue;
      piece.assign(1, first);
      seen[first] = 1;
      std::size_t largest = first;
      double most = 0;
      for (std::size_t head = 0; head < piece.size(); ++head) {
        const std::size_t t = piece[head];
        if (const double area = areaOf(t); area > most) most = area, largest = t;
        for (std::size_t e = 0; e < 3; ++e) {
          const std::int32_t n = triangles[t].n[e];
          if (n == Triangulation::kOutside || (triangles[t].fixed[e] & mask) || seen[static_cast<std::size_t>(n)]) continue;
          seen[static_cast<std::size_t>(n)] = 1;
          piece.push_back(static_cast<std::size_t>(n));
        }
      }
      const std::int32_t cell = ground_.cellAt(centre(largest), hint);
      if (cell >= 0 && says(cell))
        for (const std::size_t t : piece) mark[t] = 1;
    }
  }

  double areaOf(std::size_t t) const {
    const auto& v = plan_.triangles()[t].v;
    return cross(toPlan(plan_.points()[v[1]]) - toPlan(plan_.points()[v[0]]), toPlan(plan_.points()[v[2]]) - toPlan(plan_.points()[v[0]]));
  }
  Vec2 centre(std::size_t t) const {
    const auto& v = plan_.triangles()[t].v;
    return (toPlan(plan_.points()[v[0]]) + toPlan(plan_.points()[v[1]]) + toPlan(plan_.points()[v[2]])) / 3.0;
  }

  double vertexHeight(std::uint32_t v) {
    if (heights_.size() <= v) heights_.resize(plan_.points().size(), std::numeric_limits<double>::quiet_NaN());
    if (std::isnan(heights_[v])) heights_[v] = roundHeight(ground_.at(toPlan(plan_.points()[v])));
    return heights_[v];
  }

  /// A loop with more corners on its edges; `visit` finds those of one that begins at a corner.
  template <class Visit>
  static Loop withMore(const Loop& loop, Visit&& visit) {
    Loop fitted;
    std::vector<LatticePoint> more;
    for (std::size_t i = 0; i < loop.size(); ++i) {
      fitted.push_back(loop[i]);
      more.clear();
      const LatticePoint &a = loop[i].p, &b = loop[(i + 1) % loop.size()].p;
      visit(loop[i], b, more);
      std::sort(more.begin(), more.end(), [&](const LatticePoint& p, const LatticePoint& q) {
        return std::pair(glm::distance(toPlan(a), toPlan(p)), p) < std::pair(glm::distance(toPlan(a), toPlan(q)), q);
      });
      more.erase(std::unique(more.begin(), more.end()), more.end());
      for (const LatticePoint& p : more) fitted.push_back({p, loop[i].beyond});
    }
    return fitted;
  }

  /// Fits the edges to other sheets on their own, from what lies on them alone, so that the other sheet comes to the same corners.
  void fitCuts(Loop& loop) {
    loop = withMore(loop, [this](const SheetBorder::Corner& c, const LatticePoint& b, std::vector<LatticePoint>& more) {
      if (c.beyond < 0) return;
      // One direction and the heights of one of the two sheets for both.
      fitCut(std::min(c.p, b), std::max(c.p, b), std::min(sheet_, c.beyond), more);
      pinned_.insert(pinned_.end(), more.begin(), more.end());
    });
  }

  /// Fits the border where ground bends under it: a corner that is put in beside an edge later on does not part it.
  void fitBorder(Loop& loop) {
    loop = withMore(loop, [this](const SheetBorder::Corner& c, const LatticePoint& b, std::vector<LatticePoint>& more) {
      if (c.beyond < 0 && (in_.chunk.sidesAt(c.p) & in_.chunk.sidesAt(b)) == 0) profile_.edge(c.p, b, more);
    });
  }

  void fitCut(const LatticePoint& from, const LatticePoint& to, std::int32_t sheet, std::vector<LatticePoint>& more) {
    const Vec2 a = toPlan(from), b = toPlan(to);
    const double ya = ground_.at(a, sheet), yb = ground_.at(b, sheet);
    const double rise = 2 * in_.standing.agent().stepHeight + glm::distance(a, b) * steepest();
    crossCut(lines_, from, to, {std::min(ya, yb) - rise, std::max(ya, yb) + rise, 2 * steepest()}, more);
    profile_.side(from, to, sheet, more);
  }

  /// Fits the sides of the chunk on their own, from what lies on them alone, so that the chunk beyond comes to the same corners.
  /// Returns whether corners were added.
  bool fitSeams() {
    std::vector<LatticePoint> more;
    for (std::size_t t = 0; t < plan_.triangles().size(); ++t) {
      if (!inside_[t]) continue;
      for (int e = 0; e < 3; ++e) {
        const auto& triangle = plan_.triangles()[t];
        const LatticePoint &a = plan_.corner(static_cast<std::int32_t>(t), e), &b = plan_.corner(static_cast<std::int32_t>(t), e + 1);
        if ((triangle.fixed[static_cast<std::size_t>(e)] & edge::border) == 0 || (in_.chunk.sidesAt(a) & in_.chunk.sidesAt(b)) == 0)
          continue;
        profile_.side(std::min(a, b), std::max(a, b), sheet_, more);  // one direction for both chunks
      }
    }
    for (const LatticePoint& p : more) plan_.insert(p);
    return !more.empty();
  }

  static constexpr double kLeastFoot = 0.02;             // m from the ends of an edge to another corner on it
  static constexpr double kOffStrip = 2 * kLatticeStep;  // by which a strip may be wider or narrower
  static constexpr double kOnEdge = 1e-9;                // m
  struct Worst {
    double error = 0;
    LatticePoint at{};
  };

  /// Inserts, in every face, the place where it is farthest from the ground, until none is off by more than allowed.
  bool fitHeights() {
    std::vector<std::array<std::uint32_t, 3>> good;  // triangles that were found good, by number
    for (int round = 0; round < kMostRounds; ++round) {
      std::vector<LatticePoint> more;
      good.resize(plan_.triangles().size(), {0, 0, 0});
      for (std::size_t t = 0; t < plan_.triangles().size(); ++t) {
        if (!inside_[t] || good[t] == plan_.triangles()[t].v) continue;
        if (t % 64 == 0 && job_.cancelled()) return false;
        const Worst worst = worstIn(t);
        if (const auto foot = footInStrip(t))
          more.push_back(*foot);
        else if (worst.error > 0)
          more.push_back(worst.at);
        else
          good[t] = plan_.triangles()[t].v;
      }
      if (more.empty()) return true;
      for (const LatticePoint& p : more) plan_.insert(p);
      findInside();
    }
    return true;
  }

  /// Of a triangle in the strip over a step with one corner on the one side and two on the other: where on that edge a corner is missing
  /// across from the one. Without it a strip between stairs and a ramp beside them is a fan of triangles as long as the ramp, each of which
  /// begins in a ditch from the tread below.
  std::optional<LatticePoint> footInStrip(std::size_t t) const {
    const auto& v = plan_.triangles()[t].v;
    const std::array<Vec2, 3> c{toPlan(plan_.points()[v[0]]), toPlan(plan_.points()[v[1]]), toPlan(plan_.points()[v[2]])};
    for (std::size_t i = 0; i < 3; ++i) {
      const Vec2 &apex = c[i], &a = c[(i + 1) % 3], &b = c[(i + 2) % 3];
      if ((plan_.triangles()[t].fixed[(i + 1) % 3] & edge::step) == 0) continue;
      const Vec2 along = glm::normalize(b - a);
      const double at = glm::dot(apex - a, along), aside = cross(along, apex - a);
      if (at < kLeastFoot || at > glm::distance(a, b) - kLeastFoot || std::abs(std::abs(aside) - 2 * tuning::kStepStrip) > kOffStrip)
        continue;
      const LatticePoint foot = toLattice(a + along * at);
      if (std::abs(cross(along, toPlan(foot) - a)) < kOnEdge) return foot;
    }
    return std::nullopt;
  }

  Worst worstIn(std::size_t t) {
    const auto v = plan_.triangles()[t].v;
    std::array<Vec3, 3> c;
    Box2 box;
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (std::size_t i = 0; i < 3; ++i) {
      c[i] = lift(toPlan(plan_.points()[v[i]]), vertexHeight(v[i]));
      box.add(plan(c[i]));
      low = std::min(low, c[i].y), high = std::max(high, c[i].y);
    }
    const Vec3 normal = glm::cross(c[1] - c[0], c[2] - c[0]);
    auto faceHeight = [&](const Vec2& q) {
      const Vec3 d = lift(q, 0) - c[0];
      return c[0].y - (normal.x * d.x + normal.z * d.z) / normal.y;
    };
    Worst worst;
    const auto measure = [&](const Vec2& q) {
      const LatticePoint p = toLattice(q);
      if (nearCorner(c, q) || isCorner(t, p) || nearStep(q)) return;
      if (in_.chunk.sidesAt(toLattice(q)) != 0 || onCut(t, q)) return;  // those are fitted once, for both chunks or sheets
      const double real = std::abs(ground_.at(q) - faceHeight(q));
      if (real > std::max(worst.error + kEven, tuning::kFitError)) worst = {real, p};
    };
    const auto consider = [&](const Vec2& q, double y) {
      // Heights of other storeys come by here too; the ground of this sheet is asked before anything is believed.
      if (std::abs(y - faceHeight(q)) > std::max(worst.error, tuning::kFitError)) measure(q);
    };
    const double reach = in_.standing.agent().height + std::max({box.max.x - box.min.x, box.max.y - box.min.y}) * 2;
    in_.standing.soup().near(box, {low - reach, high + reach}, near_);
    for (const std::uint32_t i : near_) {
      const ground::Triangle& s = in_.standing.soup().triangles()[i];
      if (!in_.standing.walkable(s) || s.upright) continue;
      considerTriangle(c, s, low - reach, high + reach, consider);
    }
    eachOnCrease(c, box, consider);
    eachBesideStep(c, measure);
    return worst;
  }

  /// Where creases end in a face and where they leave it.
  template <class Consider>
  void eachOnCrease(const std::array<Vec3, 3>& face, const Box2& box, Consider&& considers) const {
    in_.creases.eachNear(box, [&](const Crease& crease) {
      Interval part{0, 1};
      for (std::size_t e = 0; e < 3; ++e) {
        const Vec2 a = plan(face[e]), side = plan(face[(e + 1) % 3]) - a;
        const double from = cross(side, crease.a - a), to = cross(side, crease.b - a);
        if (from < 0) part.from = std::max(part.from, to > from ? from / (from - to) : 2);
        if (to < 0) part.to = std::min(part.to, from > to ? from / (from - to) : -1);
      }
      if (part.to < part.from) return;
      for (const double t : {part.from, part.to}) considers(glm::mix(crease.a, crease.b, t), glm::mix(crease.ya, crease.yb, t));
    });
  }

  /// Places right behind a step at which a face has a corner: with one on a step of its own a face hangs over the level ground before it,
  /// and nothing of that ground begins there. Most steps have strips along them; very short ones, and ends of steps, have none.
  template <class Visit>
  void eachBesideStep(const std::array<Vec3, 3>& face, Visit&& visit) const {
    constexpr double kLongStep = 2;  // m: as far a face may lie beside the step at which it has a corner
    if (std::max({face[0].y, face[1].y, face[2].y}) - std::min({face[0].y, face[1].y, face[2].y}) < kSeamJump) return;
    for (std::size_t i = 0; i < 3; ++i) {
      const Vec2 c = plan(face[i]), a = plan(face[(i + 1) % 3]), b = plan(face[(i + 2) % 3]);
      if (in_.chunk.sidesAt(toLattice(c)) == 0 && !nearStep(c, 3 * tuning::kStepStrip)) continue;
      for (const Vec2& towards : {glm::mix(a, b, 0.15), glm::mix(a, b, 0.5), glm::mix(a, b, 0.85)}) {
        const double whole = glm::distance(c, towards);
        for (double far = 1.5 * tuning::kStepStrip; far + tuning::kStepStrip < whole && far < kLongStep; far *= 2)
          visit(glm::mix(c, towards, far / whole));
      }
      // A face that is narrower than that lies beside its corner in the middle of its width.
      const Vec2 foot = nearestOnSegment(a, b, c), along = glm::normalize(b - a);
      if (glm::distance(c, foot) > 6 * tuning::kStepStrip) continue;
      for (const double aside : {-6.0, -3.0, 3.0, 6.0})
        visit((c + nearestOnSegment(a, b, foot + along * (aside * tuning::kStepStrip))) * 0.5);
    }
  }

  /// Whether a triangle, or one beside it, has a corner there already: one more would change nothing.
  bool isCorner(std::size_t t, const LatticePoint& p) const {
    const std::int32_t in = plan_.locate(p, static_cast<std::int32_t>(t));
    return plan_.corner(in, 0) == p || plan_.corner(in, 1) == p || plan_.corner(in, 2) == p;
  }

  bool onCut(std::size_t t, const Vec2& q) const {
    const Triangulation::Triangle& triangle = plan_.triangles()[t];
    for (std::size_t e = 0; e < 3; ++e)
      if ((triangle.fixed[e] & edge::cut) != 0 &&
          distanceToSegment(toPlan(plan_.points()[triangle.v[e]]), toPlan(plan_.points()[triangle.v[(e + 1) % 3]]), q) < kLatticeStep)
        return true;
    return false;
  }

  /// The places where the ground may be farthest from a face: corners of triangles inside it, and edges that cross its edges.
  template <class Consider>
  static void considerTriangle(const std::array<Vec3, 3>& face, const ground::Triangle& s, double low, double high, Consider&& consider) {
    double side[3][3];  // of corner k seen from edge e of the face, positive inside
    for (std::size_t e = 0; e < 3; ++e) {
      const Vec2 a = plan(face[e]), edge = plan(face[(e + 1) % 3]) - a;
      for (std::size_t k = 0; k < 3; ++k) side[e][k] = cross(edge, s.q[k] - a);
      if (side[e][0] < 0 && side[e][1] < 0 && side[e][2] < 0) return;
    }
    for (std::size_t k = 0; k < 3; ++k) {
      if (s.p[k].y < low || s.p[k].y > high) continue;
      if (side[0][k] > 0 && side[1][k] > 0 && side[2][k] > 0) consider(s.q[k], s.p[k].y);
      const std::size_t next = (k + 1) % 3;
      for (std::size_t e = 0; e < 3; ++e) {
        if ((side[e][k] > 0) == (side[e][next] > 0)) continue;
        const Vec2 q = glm::mix(s.q[k], s.q[next], side[e][k] / (side[e][k] - side[e][next]));
        const Vec2 a = plan(face[e]), edge = plan(face[(e + 1) % 3]) - a;
        const double along = glm::dot(q - a, edge);
        if (along > 0 && along < glm::dot(edge, edge)) consider(q, s.heightAt(q));
      }
    }
  }

  static bool nearCorner(const std::array<Vec3, 3>& c, const Vec2& q) {
    return std::ranges::any_of(c, [&](const Vec3& p) { return glm::distance(plan(p), q) < tuning::kLeastApart; });
  }
  bool nearStep(const Vec2& q, double within = kBesideJump) const { return isNearStep(in_.steps, q, within); }

  /// Kind and tags, as labelOf().
  std::uint16_t areaAt(std::size_t t) {
    const auto& v = plan_.triangles()[t].v;
    const Vec3 at = lift(centre(t), (vertexHeight(v[0]) + vertexHeight(v[1]) + vertexHeight(v[2])) / 3);
    const level::World& world = in_.standing.world();
    const std::size_t kind = ground::kindAt(in_.standing, at).number;
    const std::uint8_t tags = world.tags.empty() ? std::uint8_t{0} : level::tagsAt(world.volumes, world.tags, at);
    return labelOf(mustCrouch_[t] && !world.kinds[kind].forbidden ? world.kinds.size() - 1 : kind, tags);
  }

  std::vector<SheetFace> faces() {
    findLow();
    std::vector<std::array<std::uint32_t, 3>> triangles;
    std::vector<std::uint16_t> area;
    for (std::size_t t = 0; t < plan_.triangles().size(); ++t)
      if (inside_[t]) triangles.push_back(plan_.triangles()[t].v), area.push_back(areaAt(t));
    for (const auto& t : triangles)
      for (const std::uint32_t v : t) vertexHeight(v);
    heights_.resize(plan_.points().size(), 0);
    for (double& y : heights_)
      if (std::isnan(y)) y = 0;  // corners outside the border, used by no face
    for (const LatticePoint& p : plan_.points())
      if (in_.chunk.sidesAt(p) != 0) pinned_.push_back(p);
    std::sort(pinned_.begin(), pinned_.end());
    Faces merged = mergeTriangles({plan_.points(), heights_, triangles, area, tuning::kFlat});
    mergeThroughReflex(merged, radians(tuning::kLeastAngle));
    dissolveStraightCorners(merged, pinned_);
    shortenFans(merged, radians(tuning::kLeastAngle));
    std::vector<SheetFace> result;
    for (std::size_t i = 0; i < merged.loops.size(); ++i) {
      if (merged.loops[i].size() < 3) continue;
      SheetFace& face = result.emplace_back(SheetFace{{}, {}, merged.area[i]});
      for (const std::uint32_t v : merged.loops[i]) face.corners.push_back(merged.points[v]), face.heights.push_back(merged.heights[v]);
    }
    return result;
  }

  const SheetInput& in_;
  std::int32_t sheet_;
  Job& job_;
  SheetHeights ground_;
  SheetProfile profile_;
  Triangulation plan_;
  Box2 box_;
  std::vector<LatticePoint> pinned_;
  std::vector<LowLine> lowLines_;
  std::vector<SheetLine> lines_;
  std::vector<char> inside_, mustCrouch_;
  std::vector<double> heights_;
  std::vector<std::uint32_t> near_;
};

}  // namespace

std::vector<SheetFace> meshSheet(const SheetInput& input, std::int32_t sheet, Job& job) { return SheetMesher(input, sheet, job).run(); }

}  // namespace dune::generate
