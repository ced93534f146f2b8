#include "core/route/gates.h"

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/nav/border.h"

namespace dune::route {

namespace {

using nav::index;

constexpr double kHeight = 0.3;       // m that it may lie over or under one
constexpr double kFacing = 0.7;       // cosine between the way over a link and straight out
constexpr double kSkew = 0.05;        // m by which a stretch may be longer than the other one and ways over it still be shifted
constexpr double kLeastPart = 0.002;  // of half a stretch

/// Where an edge of the border runs along a stretch, by the stretch's number from -1 to 1.
struct Along {
  const nav::Border::Edge* edge;
  double from, until;
};

class Gates {
 public:
  Gates(const nav::NavMesh& whole, SimpleGround& ground)
      : whole_(whole),
        ground_(ground),
        mesh_(ground.mesh),
        border_(ground.mesh),
        lanes_(static_cast<std::ptrdiff_t>(ground.linkOf.size())) {}

  void add(std::uint32_t number) {
    const nav::Link& link = whole_.links[number];
    const Vec2 way = plan(link.to) - plan(link.from);
    if (glm::length(way) == 0 || glm::length(plan(link.toHalf) - plan(link.fromHalf)) > kSkew) return;
    const Vec2 ahead = glm::normalize(way);
    const std::vector<Along> out = along(link.from, link.fromHalf, ahead), in = along(link.to, link.toHalf, -ahead);
    for (const Along& a : out)
      for (const Along& b : in) {
        const double from = std::max(a.from, b.from), until = std::min(a.until, b.until);
        if (until - from < kLeastPart || mesh_.area[index(a.edge->face)] != mesh_.area[index(b.edge->face)]) continue;
        addPair(number, a, b, from, until);
      }
  }

 private:
  std::vector<Along> along(const Vec3& middle, const Vec3& half, const Vec2& out) const {
    std::vector<Along> found;
    const Vec2 m = plan(middle), h = plan(half);
    const double length2 = glm::dot(h, h);
    Box2 box;
    box.add(m - h), box.add(m + h);
    for (const std::uint32_t e : border_.within(box.grown(kBesideStretch))) {
      const nav::Border::Edge& edge = border_.edges()[e];
      const Vec2 a = plan(edge.a), b = plan(edge.b);
      if (a == b || glm::dot(-leftOf(b - a) / glm::distance(a, b), out) < kFacing) continue;
      const double ta = glm::dot(a - m, h) / length2, tb = glm::dot(b - m, h) / length2;
      const double from = std::max(-1.0, std::min(ta, tb)), until = std::min(1.0, std::max(ta, tb));
      if (until - from < kLeastPart) continue;
      const auto off = [&](double t) {
        const Vec3 on = glm::mix(edge.a, edge.b, (t - ta) / (tb - ta)), d = on - (middle + half * t);
        return glm::length(plan(d)) > kBesideStretch || std::abs(d.y) > kHeight;
      };
      if (!off(from) && !off(until)) found.push_back({&edge, from, until});
    }
    return found;
  }

  /// A link in the middle of what two edges share stands for it, and says which ground leads to which.
  void addPair(std::uint32_t number, const Along& a, const Along& b, double from, double until) {
    const nav::Link& whole = whole_.links[number];
    nav::Link link = whole;
    const double t = (from + until) / 2;
    link.from += link.fromHalf * t, link.to += link.toHalf * t, link.fromHalf = link.toHalf = Vec3{0};
    link.fromFace = a.edge->face, link.toFace = b.edge->face;
    const auto lane = static_cast<std::uint32_t>(mesh_.links.size());
    ground_.mesh.links.push_back(link), ground_.linkOf.push_back(number), ground_.laneOf.push_back(t), ground_.gated.push_back(1);
    // Lanes stand first, in the order of their links.
    const auto [first, last] = std::equal_range(ground_.linkOf.begin(), ground_.linkOf.begin() + lanes_, number);
    for (auto at = first; at != last; ++at) {
      const auto i = static_cast<std::size_t>(at - ground_.linkOf.begin());
      const double along = ground_.laneOf[i];
      if (along > std::max(from, -1 + kLeastPart) && along < std::min(until, 1 - kLeastPart)) ground_.gated[i] = 1;
    }
    const Vec2 by = plan(link.to) - plan(link.from);
    const auto gate = [&](bool forward) {
      const nav::Border::Edge &out = forward ? *a.edge : *b.edge, &in = forward ? *b.edge : *a.edge;
      const Vec2 middle = plan(forward ? whole.from : whole.to), half = plan(forward ? whole.fromHalf : whole.toHalf);
      Vec2 right = nearestOnSegment(plan(out.a), plan(out.b), middle + half * from),
           left = nearestOnSegment(plan(out.a), plan(out.b), middle + half * until);  // an edge goes from right to left
      if (glm::dot(left - right, plan(out.b) - plan(out.a)) < 0) std::swap(right, left);
      ground_.gates.push_back({out.corner, in.corner, out.face, in.face, lane, forward, forward ? by : -by, right, left});
    };
    gate(true);
    if (!link.oneWay) gate(false);
  }

  const nav::NavMesh& whole_;
  SimpleGround& ground_;
  const nav::NavMesh& mesh_;
  nav::Border border_;
  std::ptrdiff_t lanes_;  // how many there were before
};

}  // namespace

void placeGates(const nav::NavMesh& whole, SimpleGround& ground) {
  ground.gated.assign(ground.mesh.links.size(), 0);
  if (std::ranges::none_of(whole.links, [](const nav::Link& l) { return l.width() > 0; })) return;
  Gates gates(whole, ground);
  for (std::uint32_t i = 0; i < whole.links.size(); ++i)
    if (whole.links[i].width() > 0) gates.add(i);
}

}  // namespace dune::route
