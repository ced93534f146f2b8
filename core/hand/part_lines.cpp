// A part is kept as the line that it was drawn along. A build with other limits puts its edges elsewhere, so the line cuts the faces that
// it meets; where it already is an edge, nothing is cut.

#include "core/hand/part_lines.h"

#include <algorithm>

#include "core/nav/line_in_face.h"
#include "core/nav/walk.h"

namespace dune::hand {

namespace {

using nav::FaceId;

constexpr double kOnPart = 3 * kLatticeStep;  // m from an edge to the part that it lies along
constexpr double kBetween = 0.01;             // m between two parts of which one goes on from the other
constexpr double kFarther = 1;                // m that a border may have moved away
constexpr double kBeside = 0.2;               // m from a part's end to ground, in height most of all
constexpr double kShortest = 0.01;            // m of a part within a face that it cuts

/// How far along a part the point nearest to a place is, from 0 to 1.
double along(const Part& part, const Vec2& p) {
  const Vec2 line = plan(part.to) - plan(part.from);
  return glm::dot(p - plan(part.from), line) / std::max(1e-12, glm::dot(line, line));
}
/// To the left of its line, metres.
double leftOf(const Part& part, const Vec2& p) {
  const Vec2 line = plan(part.to) - plan(part.from);
  return cross(line, p - plan(part.from)) / std::max(1e-9, glm::length(line));
}
double heightOf(const Part& part, const Vec2& p) { return glm::mix(part.from.y, part.to.y, std::clamp(along(part, p), 0.0, 1.0)); }

/// Which part of an edge lies along a part, from 0 to 1; nothing where it does not.
std::optional<Interval> coveredBy(const Part& part, const Vec3& a, const Vec3& b, double levels) {
  const Vec2 edge = plan(b) - plan(a);
  const double square = glm::dot(edge, edge);
  if (square == 0) return std::nullopt;
  const double p = glm::dot(plan(part.from) - plan(a), edge) / square, q = glm::dot(plan(part.to) - plan(a), edge) / square;
  const Interval in{std::max(0.0, std::min(p, q)), std::min(1.0, std::max(p, q))};
  if (in.from >= in.to) return std::nullopt;
  for (const double t : {in.from, in.to}) {
    const Vec3 at = glm::mix(a, b, t);
    if (std::abs(leftOf(part, plan(at))) > kOnPart || std::abs(heightOf(part, plan(at)) - at.y) > levels) return std::nullopt;
  }
  return in;
}

/// Of a face what lies on one side of a part's line, with `ends` of the part that lie within it on the edge between both.
SheetFace half(const SheetFace& face, const Part& part, bool left, const std::vector<LatticePoint>& ends) {
  std::vector<LatticePoint> loop;
  std::size_t leaves = 0;  // corners until where it goes over to the other side
  const auto side = [&](const LatticePoint& p) { return (left ? 1 : -1) * leftOf(part, toPlan(p)); };
  for (std::size_t i = 0, n = face.corners.size(); i < n; ++i) {
    const LatticePoint &a = face.corners[i], &b = face.corners[(i + 1) % n];
    const double da = side(a), db = side(b);
    if (da >= -kOnPart) loop.push_back(a);
    if (da > kOnPart && db < -kOnPart) loop.push_back(toLattice(glm::mix(toPlan(a), toPlan(b), da / (da - db))));
    if (da >= -kOnPart && db < -kOnPart) leaves = loop.size();
    if (da < -kOnPart && db > kOnPart) loop.push_back(toLattice(glm::mix(toPlan(a), toPlan(b), da / (da - db))));
  }
  loop.insert(loop.begin() + static_cast<std::ptrdiff_t>(leaves), ends.begin(), ends.end());
  SheetFace out;
  out.area = face.area, out.drawn = face.drawn;
  for (const LatticePoint& p : loop) {
    if (!out.corners.empty() && (out.corners.back() == p || out.corners.front() == p)) continue;
    out.corners.push_back(p), out.heights.push_back(face.heightAt(p));
  }
  return out;
}

std::optional<nav::Link> crossing(const nav::NavMesh& mesh, const OpenSide& side) {
  const Vec2 a = plan(side.a), b = plan(side.b), line = (b - a) / std::max(1e-9, glm::distance(a, b)), out{line.y, -line.x};
  const Vec2 middle = (a + b) * 0.5, half = (b - a) * 0.5, by = out * nav::kOverBorder;
  const Interval own = nav::lineIn(mesh, side.from, middle - by, half), other = nav::lineIn(mesh, side.into, middle + by, half);
  const double first = std::max({-1.0, own.from, other.from}), last = std::min({1.0, own.to, other.to});
  if (last - first <= 0) return std::nullopt;
  const auto at = [&](FaceId f, const Vec2& off, double t) {
    const Vec2 p = middle + off + half * t;
    return lift(p, nav::heightOn(mesh, f, p));
  };
  const Vec3 from[] = {at(side.from, -by, first), at(side.from, -by, last)}, to[] = {at(side.into, by, first), at(side.into, by, last)};
  nav::Link link;
  link.kind = nav::LinkKind::door, link.oneWay = true;
  link.from = (from[0] + from[1]) * 0.5, link.fromHalf = (from[1] - from[0]) * 0.5, link.fromFace = side.from;
  link.to = (to[0] + to[1]) * 0.5, link.toHalf = (to[1] - to[0]) * 0.5, link.toFace = side.into;
  link.area = mesh.area[index(side.from)], link.radius = mesh.agent.radius;
  return link;
}

/// Where the border is nearest to a place on the ground, if one sees it from there and does not stand on it already.
std::optional<Vec3> borderNear(const nav::NavMesh& mesh, const nav::Locator& locator, const nav::Border& border, const Vec3& at) {
  const nav::Place place = locator.nearest(at, kBeside);
  if (!place.valid() || glm::distance(plan(place.position), plan(at)) > kOnPart) return std::nullopt;  // it is beyond the border
  Box2 box;
  box.add(plan(at));
  double least = kFarther;
  std::optional<Vec3> best;
  for (const std::uint32_t e : border.within(box.grown(kFarther))) {
    const auto& [corner, face, a, b] = border.edges()[e];
    const Vec2 near = nearestOnSegment(plan(a), plan(b), plan(at));
    const double far = glm::distance(near, plan(at));
    if (far >= least) continue;
    const nav::Ray ray = nav::castRay(mesh, place, near);
    if (glm::distance(plan(ray.end.position), near) > kOnPart) continue;
    least = far, best = ray.end.position;
  }
  return least > kOnPart ? best : std::nullopt;
}

}  // namespace

bool liesOn(const Part& part, const Vec3& at, double levels) {
  return distanceToSegment(plan(part.from), plan(part.to), plan(at)) <= kOnPart && std::abs(heightOf(part, plan(at)) - at.y) <= levels;
}

void addToBorder(std::vector<Part>& parts, const Part& part, const nav::NavMesh& mesh, const nav::Locator& locator,
                 const nav::Border& border) {
  // Several that meet at one place of the border go on from there as one, which whoever closes it closes.
  const auto add = [&](const Part& one) {
    const auto same = std::ranges::find_if(
        parts, [&](const Part& p) { return (p.from == one.from && p.to == one.to) || (p.from == one.to && p.to == one.from); });
    if (same == parts.end())
      parts.push_back(one);
    else
      same->oneWay = same->oneWay && one.oneWay;
  };
  add(part);
  const auto goOn = [&](const Vec3& end) { return borderNear(mesh, locator, border, end); };
  if (const auto to = part.toBorder[0] ? goOn(part.from) : std::nullopt) add({part.agents, *to, part.from, part.oneWay, {}});
  if (const auto to = part.toBorder[1] ? goOn(part.to) : std::nullopt) add({part.agents, part.to, *to, part.oneWay, {}});
}

std::vector<SheetFace> halvesOf(const SheetFace& face, const Part& part, double levels) {
  double left = 0, right = 0;
  for (const LatticePoint& p : face.corners)
    left = std::max(left, leftOf(part, toPlan(p))), right = std::max(right, -leftOf(part, toPlan(p)));
  if (left <= kOnPart || right <= kOnPart) return {};
  const Vec2 a = plan(part.from), b = plan(part.to);
  const auto in = inConvex(a, b, face.outline());
  if (!in || (in->to - in->from) * glm::distance(a, b) < kShortest) return {};
  const LatticePoint middle = toLattice(glm::mix(a, b, (in->from + in->to) / 2));
  if (std::abs(heightOf(part, toPlan(middle)) - face.heightAt(middle)) > levels) return {};
  std::vector<LatticePoint> ends;  // along the part, as the half on its right goes by them
  if (in->from == 0) ends.push_back(toLattice(a));
  if (in->to == 1) ends.push_back(toLattice(b));
  std::vector<LatticePoint> back(ends.rbegin(), ends.rend());
  return {half(face, part, true, back), half(face, part, false, ends)};
}

std::vector<OpenSide> sever(nav::NavMesh& mesh, const std::vector<Part>& parts, double levels) {
  if (parts.empty()) return {};
  std::vector<Box2> boxes;
  for (const Part& part : parts) {
    Box2 box;
    box.add(plan(part.from)), box.add(plan(part.to));
    boxes.push_back(box.grown(kOnPart));
  }
  const PlanGrid grid(boxes, 1.0);
  std::vector<OpenSide> open;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::uint32_t i = 0, n = static_cast<std::uint32_t>(mesh.cornerCount(FaceId{f})); i < n; ++i) {
      FaceId& across = mesh.across[mesh.start[f] + i];
      if (across == nav::kNoFace) continue;
      const Vec3 &a = mesh.cornerAt(FaceId{f}, i), &b = mesh.cornerAt(FaceId{f}, (i + 1) % n);
      Box2 box;
      box.add(plan(a)), box.add(plan(b));
      std::vector<Interval> covered;  // by one part, or by several that follow each other
      bool closed = false, out = false;
      for (const std::uint32_t k : grid.collect(box)) {
        const auto in = coveredBy(parts[k], a, b, levels);
        if (!in) continue;
        covered.push_back(*in);
        if (!parts[k].oneWay) closed = true;
        if (glm::dot(plan(b) - plan(a), plan(parts[k].to) - plan(parts[k].from)) > 0) out = true;
      }
      if (covered.empty() || !complement(std::move(covered), kBetween / glm::distance(plan(a), plan(b))).empty()) continue;
      if (out && !closed) open.push_back({FaceId{f}, across, a, b});
      across = nav::kNoFace;
    }
  return open;
}

std::vector<nav::Link> crossings(const nav::NavMesh& mesh, const std::vector<OpenSide>& sides) {
  std::vector<nav::Link> links;
  for (const OpenSide& side : sides)
    if (const auto link = crossing(mesh, side)) links.push_back(*link);
  return links;
}

}  // namespace dune::hand
