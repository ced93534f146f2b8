// From the simplified border of a sheet to convex faces. A second triangulation is made from the border alone, so that
// outlines of other storeys, which cut the cells, leave no trace in this sheet's faces.

#include "core/generate/sheet.h"

#include <algorithm>
#include <array>
#include <limits>
#include <queue>

#include "core/generate/fewer.h"
#include "core/generate/label.h"
#include "core/generate/merge.h"
#include "core/generate/needles.h"
#include "core/generate/sheet_lines.h"
#include "core/generate/straight_runs.h"
#include "core/generate/tuning.h"
#include "core/ground/ground_kind.h"
#include "core/ground/line_split.h"

namespace dune::generate {

namespace {

constexpr std::int64_t kMargin = 4096;  // lattice steps around the border
constexpr double kAround = 1;           // m: lines farther from the border than this are cut off
constexpr double kEven = 1e-6;          // m: of places as far off as each other the first is taken, wherever in the world they lie
constexpr double kSeamJump = 0.01;      // m: more than slopes explain is a step
constexpr int kMostRounds = 48;         // of inserting points for height; each halves the error or so

class SheetMesher {
 public:
  SheetMesher(const SheetInput& input, std::int32_t sheet, Job& job) : in_(input), sheet_(sheet), job_(job), plan_({0, 0}, {1, 1}) {}

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
    findHeightRange();
    lines_ = sheetLines(in_, steepest());
    for (auto& loop : border.loops) fitCuts(loop);
    if (!constrain(border.loops)) return {};
    findInside();
    if (fitSeams()) findInside();
    if (!fitHeights()) return {};
    return faces();
  }

 private:
  /// Heights that the sheet's ground may have: from the centre of a cell it climbs no more than the steepest slope lets it.
  void findHeightRange() {
    const nav::Agent& agent = in_.standing.agent();
    const double climb = steepest() + 1;  // and steps
    for (const std::int32_t k : in_.cells.sheet(sheet_)) {
      const Storey& s = in_.cells.storeys()[static_cast<std::size_t>(k)];
      const Vec2 centre = in_.cells.centre(s.cell);
      double rise = agent.height;
      for (const Vec2& corner : in_.cells.cornersOf(s.cell))
        rise = std::max(rise, agent.stepHeight + glm::distance(centre, corner) * climb);
      low_ = std::min(low_, s.ground.y - rise), high_ = std::max(high_, s.ground.y + rise);
    }
  }

  /// The rise of the steepest ground in one metre.
  double steepest() const { return ground::steepestRise(in_.standing.agent()); }

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
    if (line.low > high_ || line.high < low_) return false;
    const auto inside = clipToBox(line.a, line.b, box_);
    if (!inside) return false;
    if (in_.cells.sheetCount() == 1) return true;
    return std::ranges::any_of(std::array{1 / 6.0, 1 / 2.0, 5 / 6.0}, [&](double part) {
      const double t = glm::mix(inside->from, inside->to, part), y = heightAt(glm::mix(line.a, line.b, t));
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
      const std::int32_t cell = cellAt(centre(largest), hint);
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

  std::int32_t cellAt(const Vec2& q, std::int32_t& hint) const {
    const LatticePoint p = toLattice(q), min = in_.cells.plan().points()[0], max = in_.cells.plan().points()[2];
    if (p.u < min.u || p.v < min.v || p.u > max.u || p.v > max.v) return -1;
    return hint = in_.cells.plan().locate(p, hint);
  }

  /// Height of this sheet's ground over q: followed from the centre of the nearest cell that belongs to it. For a place
  /// inside the sheet that is the cell it lies in; corners on the border touch cells on both sides.
  double heightAt(const Vec2& q) { return heightAt(q, sheet_); }
  double heightAt(const Vec2& q, std::int32_t sheet) {
    const double y = followedTo(q, sheet);
    if (in_.chunk.sidesAt(toLattice(q)) == 0) return y;
    // A block may end just at the side. One chunk comes there over its top, the other over the floor before it, and both have to say the
    // same.
    in_.standing.standable(q, column_);
    double high = y;
    for (const ground::Surface& s : column_)
      if (s.y > high && s.y <= y + in_.standing.agent().stepHeight + kSeamJump) high = s.y;
    return high;
  }
  double followedTo(const Vec2& q, std::int32_t sheet) {
    const std::int32_t cell = cellAt(q, hint_);
    // Over most places there is one ground only, and no need to find the way to it. Where a cell has more, a place on a hairline gap of
    // this one may show another.
    if (cell < 0 || in_.cells.storeyCount(cell) < 2) {
      in_.standing.standable(q, column_);
      const bool only = cell < 0 || !in_.cells.hasStoreys();
      const std::int32_t own = only ? -1 : in_.cells.storeyOf(cell, sheet);
      // A corner of the border may lie on a cell of another sheet, whose ground it is then.
      if (column_.size() == 1 && (only || (own >= 0 && isOwn(q, column_[0].y, cell, own)))) return column_[0].y;
    }
    if (cell < 0) return (low_ + high_) / 2;
    const std::int32_t best = nearestStorey(cell, q, sheet);
    if (best < 0) return (low_ + high_) / 2;
    const Storey& s = in_.cells.storeys()[static_cast<std::size_t>(best)];
    return ground::follow(in_.standing, in_.cells.centre(s.cell), s.ground, q).y;
  }

  /// The storey of a sheet on the cell that lies nearest to a place, from the cell that it lies on; -1 when none is near. Nearest first:
  /// around a corner at which very many cells meet, all of them come before what lies beyond.
  std::int32_t nearestStorey(std::int32_t cell, const Vec2& q, std::int32_t sheet) const {
    constexpr std::size_t kMostCells = 96;
    using Far = std::pair<double, std::int32_t>;
    std::priority_queue<Far, std::vector<Far>, std::greater<>> next;
    std::vector<std::int32_t> seen{cell};
    next.push({0, cell});
    for (std::size_t looked = 0; !next.empty() && looked < kMostCells; ++looked) {
      const std::int32_t here = next.top().second;
      next.pop();
      if (const std::int32_t storey = in_.cells.storeyOf(here, sheet); storey >= 0) return storey;
      for (const std::int32_t n : in_.cells.plan().triangles()[static_cast<std::size_t>(here)].n)
        if (n != Triangulation::kOutside && !std::ranges::count(seen, n)) seen.push_back(n), next.push({distanceToCell(n, q), n});
    }
    return -1;
  }

  /// Whether the one ground over a place is that of a storey on the cell that it lies on: as near in height as ground can climb from the
  /// cell's centre, and no other storey that shows through a crack.
  bool isOwn(const Vec2& q, double found, std::int32_t cell, std::int32_t storey) const {
    const double known = in_.cells.storeys()[static_cast<std::size_t>(storey)].ground.y;
    const double climb = glm::distance(in_.cells.centre(cell), q) * std::max(1.0, steepest()) + in_.standing.agent().stepHeight + kSeamJump;
    return std::abs(found - known) <= climb && ground::isSameStorey(in_.standing, q, found, known);
  }

  double distanceToCell(std::int32_t cell, const Vec2& q) const { return glm::distance(nearestOnConvex(in_.cells.cornersOf(cell), q), q); }

  double vertexHeight(std::uint32_t v) {
    if (heights_.size() <= v) heights_.resize(plan_.points().size(), std::numeric_limits<double>::quiet_NaN());
    if (std::isnan(heights_[v])) heights_[v] = roundHeight(heightAt(toPlan(plan_.points()[v])));
    return heights_[v];
  }

  /// Fits the edges to other sheets on their own, from what lies on them alone, so that the other sheet comes to the same corners.
  void fitCuts(Loop& loop) {
    Loop fitted;
    for (std::size_t i = 0; i < loop.size(); ++i) {
      fitted.push_back(loop[i]);
      if (loop[i].beyond < 0) continue;
      const LatticePoint &a = loop[i].p, &b = loop[(i + 1) % loop.size()].p;
      std::vector<LatticePoint> more;
      // One direction and the heights of one of the two sheets for both.
      fitCut(std::min(a, b), std::max(a, b), std::min(sheet_, loop[i].beyond), more);
      std::sort(more.begin(), more.end(), [&](const LatticePoint& p, const LatticePoint& q) {
        return std::pair(glm::distance(toPlan(a), toPlan(p)), p) < std::pair(glm::distance(toPlan(a), toPlan(q)), q);
      });
      more.erase(std::unique(more.begin(), more.end()), more.end());
      for (const LatticePoint& p : more) fitted.push_back({p, loop[i].beyond}), pinned_.push_back(p);
    }
    loop = std::move(fitted);
  }

  void fitCut(const LatticePoint& from, const LatticePoint& to, std::int32_t sheet, std::vector<LatticePoint>& more) {
    const Vec2 a = toPlan(from), b = toPlan(to);
    const double ya = heightAt(a, sheet), yb = heightAt(b, sheet);
    const double rise = 2 * in_.standing.agent().stepHeight + glm::distance(a, b) * steepest();
    crossCut(lines_, from, to, {std::min(ya, yb) - rise, std::max(ya, yb) + rise, 2 * steepest()}, more);
    fitSeam(from, to, sheet, more);
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
        fitSeam(std::min(a, b), std::max(a, b), sheet_, more);  // one direction for both chunks
      }
    }
    for (const LatticePoint& p : more) plan_.insert(p);
    return !more.empty();
  }

  static constexpr double kBesideJump = 1.2 * tuning::kStepStrip, kLeastSplit = 0.01;
  struct SeamPoint {
    LatticePoint p;
    double y;
  };

  void fitSeam(const LatticePoint& from, const LatticePoint& to, std::int32_t sheet, std::vector<LatticePoint>& more) {
    const Vec2 a = toPlan(from), b = toPlan(to);
    std::vector<SeamPoint> points{{from, heightAt(a, sheet)}};
    const double rise = in_.standing.agent().height + glm::distance(a, b) * steepest();
    const auto splits = ground::splitParameters(in_.standing.soup(), a, b, 0, kLeastSplit, {points[0].y - rise, points[0].y + rise});
    const double aside = kBesideJump / glm::distance(a, b);
    const auto add = [&](double t) {
      if (t <= 0 || t >= 1) return;
      const LatticePoint p = toLattice(glm::mix(a, b, t));
      points.push_back({p, heightAt(toPlan(p), sheet)});
    };
    for (const double t : splits)
      if (!jumpsAt(toPlan(toLattice(glm::mix(a, b, t))), (b - a) / glm::distance(a, b), sheet))
        add(t);
      else
        add(t - aside), add(t + aside);
    for (const double t : {aside, 2 * aside}) add(t), add(1 - t);  // the side may end on a tip
    std::ranges::sort(points, {}, [&](const SeamPoint& p) { return glm::distance(a, toPlan(p.p)); });
    points.push_back({to, heightAt(b, sheet)});
    refine(points, 0, points.size() - 1, more);
  }

  /// Whether the ground along a side has two heights at a place, or at that place alone another one, as at the tip of a box: with a corner
  /// on it the whole side would rise to there. Asked of the side itself: a step that only ends there is known to one of the two chunks, and
  /// the other would come to other corners.
  bool jumpsAt(const Vec2& q, const Vec2& along, std::int32_t sheet) {
    const auto [low, high] =
        std::minmax({heightAt(q - along * kBesideJump, sheet), heightAt(q, sheet), heightAt(q + along * kBesideJump, sheet)});
    return high - low > 2 * kBesideJump * steepest() + kSeamJump;
  }

  /// Between two points of a profile: takes the one farthest from the straight line until none is off by more than allowed.
  void refine(const std::vector<SeamPoint>& points, std::size_t first, std::size_t last, std::vector<LatticePoint>& more) const {
    const Vec2 a = toPlan(points[first].p);
    const double whole = glm::distance(a, toPlan(points[last].p));
    double most = tuning::kFitError;
    std::size_t worst = first;
    for (std::size_t i = first + 1; i < last; ++i) {
      const double off = std::abs(points[i].y - glm::mix(points[first].y, points[last].y, glm::distance(a, toPlan(points[i].p)) / whole));
      if (off > most) most = off, worst = i;
    }
    if (worst == first) return;
    more.push_back(points[worst].p);
    refine(points, first, worst, more);
    refine(points, worst, last, more);
  }

  struct Worst {
    double error = 0;
    Vec2 at{};
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
        if (worst.error > 0)
          more.push_back(toLattice(worst.at));
        else
          good[t] = plan_.triangles()[t].v;
      }
      if (more.empty()) return true;
      for (const LatticePoint& p : more) plan_.insert(p);
      findInside();
    }
    return true;
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
      if (nearCorner(c, q) || nearStep(q) || !staysInside(c, q)) return;
      if (in_.chunk.sidesAt(toLattice(q)) != 0 || onCut(t, q)) return;  // those are fitted once, for both chunks or sheets
      const double real = std::abs(heightAt(q) - faceHeight(q));
      if (real > std::max(worst.error + kEven, tuning::kFitError)) worst = {real, q};
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
    eachBesideStep(c, measure);
    return worst;
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

  /// Whether a place of a face lies in it once it is rounded; put in beside it, it would change nothing.
  static bool staysInside(const std::array<Vec3, 3>& face, const Vec2& q) {
    const Vec2 p = toPlan(toLattice(q));
    for (std::size_t i = 0; i < 3; ++i)
      if (const Vec2 a = plan(face[i]); cross(plan(face[(i + 1) % 3]) - a, p - a) <= 0) return false;
    return true;
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
  bool nearStep(const Vec2& q, double within = kBesideJump) const {
    return std::ranges::any_of(in_.steps, [&](const ground::StepLine& s) { return distanceToSegment(s.a, s.b, q) < within; });
  }

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
  Triangulation plan_;
  Box2 box_;
  double low_ = std::numeric_limits<double>::infinity(), high_ = -std::numeric_limits<double>::infinity();
  std::vector<LatticePoint> pinned_;
  std::vector<LowLine> lowLines_;
  std::vector<SheetLine> lines_;
  std::vector<char> inside_, mustCrouch_;
  std::vector<double> heights_;
  std::int32_t hint_ = 0;
  std::vector<ground::Surface> column_;
  std::vector<std::uint32_t> near_;
};

}  // namespace

std::vector<SheetFace> meshSheet(const SheetInput& input, std::int32_t sheet, Job& job) { return SheetMesher(input, sheet, job).run(); }

}  // namespace dune::generate
