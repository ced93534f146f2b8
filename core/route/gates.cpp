#include "core/route/gates.h"

#include <algorithm>

#include "core/base/plan_grid.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;

constexpr double kOnLine = 0.02;      // m that an edge may lie beside a stretch and still be what it is along
constexpr double kHeight = 0.3;       // m likewise in height
constexpr double kFacing = 0.7;       // cosine between the way over a link and straight out
constexpr double kSkew = 0.05;        // m by which a stretch may be longer than the other one and ways over it still be shifted
constexpr double kLeastPart = 0.002;  // of half a stretch

/// Where an edge of the border runs along a stretch, by the stretch's number from -1 to 1.
struct Along {
  std::uint32_t corner;
  FaceId face;
  double from, until;
};

class Gates {
 public:
  Gates(const nav::NavMesh& whole, SimpleGround& ground)
      : whole_(whole), ground_(ground), mesh_(ground.mesh), lanes_(static_cast<std::ptrdiff_t>(ground.linkOf.size())) {
    std::vector<Box2> boxes;
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) {
        if (mesh_.across[c] != nav::kNoFace) continue;
        edges_.push_back({c, FaceId{f}});
        boxes.emplace_back().add(plan(at(c))), boxes.back().add(plan(at(after(c, FaceId{f}))));
      }
    grid_ = PlanGrid(boxes, 4.0);
  }

  void add(std::uint32_t number) {
    const nav::Link& link = whole_.links[number];
    const Vec2 way = plan(link.to) - plan(link.from);
    if (glm::length(way) == 0 || glm::length(plan(link.toHalf) - plan(link.fromHalf)) > kSkew) return;
    const Vec2 ahead = glm::normalize(way);
    const std::vector<Along> out = along(link.from, link.fromHalf, ahead), in = along(link.to, link.toHalf, -ahead);
    for (const Along& a : out)
      for (const Along& b : in) {
        const double from = std::max(a.from, b.from), until = std::min(a.until, b.until);
        if (until - from < kLeastPart || mesh_.area[index(a.face)] != mesh_.area[index(b.face)]) continue;
        addPair(number, a, b, from, until);
      }
  }

 private:
  struct Edge {
    std::uint32_t corner;
    FaceId face;
  };
  const Vec3& at(std::uint32_t corner) const { return mesh_.vertices[mesh_.corners[corner]]; }
  std::uint32_t after(std::uint32_t c, FaceId f) const { return c + 1 == mesh_.start[index(f) + 1] ? mesh_.start[index(f)] : c + 1; }

  std::vector<Along> along(const Vec3& middle, const Vec3& half, const Vec2& out) const {
    std::vector<Along> found;
    const Vec2 m = plan(middle), h = plan(half);
    const double length2 = glm::dot(h, h);
    Box2 box;
    box.add(m - h), box.add(m + h);
    for (const std::uint32_t e : grid_.collect(box.grown(kOnLine))) {
      const Vec3 &p = at(edges_[e].corner), &q = at(after(edges_[e].corner, edges_[e].face));
      const Vec2 a = plan(p), b = plan(q);
      if (a == b || glm::dot(-leftOf(b - a) / glm::distance(a, b), out) < kFacing) continue;
      const double ta = glm::dot(a - m, h) / length2, tb = glm::dot(b - m, h) / length2;
      const double from = std::max(-1.0, std::min(ta, tb)), until = std::min(1.0, std::max(ta, tb));
      if (until - from < kLeastPart) continue;
      const auto off = [&](double t) {
        const Vec3 on = glm::mix(p, q, (t - ta) / (tb - ta)), d = on - (middle + half * t);
        return glm::length(plan(d)) > kOnLine || std::abs(d.y) > kHeight;
      };
      if (!off(from) && !off(until)) found.push_back({edges_[e].corner, edges_[e].face, from, until});
    }
    return found;
  }

  /// A link in the middle of what two edges share stands for it, and says which ground leads to which.
  void addPair(std::uint32_t number, const Along& a, const Along& b, double from, double until) {
    nav::Link link = whole_.links[number];
    const double t = (from + until) / 2;
    link.from += link.fromHalf * t, link.to += link.toHalf * t;
    link.fromFace = a.face, link.toFace = b.face;
    const auto lane = static_cast<std::uint32_t>(mesh_.links.size());
    ground_.mesh.links.push_back(link), ground_.linkOf.push_back(number), ground_.laneOf.push_back(t), ground_.gated.push_back(1);
    // Lanes stand first, in the order of their links.
    const auto lanes = std::ranges::equal_range(ground_.linkOf.begin(), ground_.linkOf.begin() + lanes_, number);
    for (auto at = lanes.begin(); at != lanes.end(); ++at) {
      const auto i = static_cast<std::size_t>(at - ground_.linkOf.begin());
      const double along = ground_.laneOf[i];
      if (along > std::max(from, -1 + kLeastPart) && along < std::min(until, 1 - kLeastPart)) ground_.gated[i] = 1;
    }
    const nav::Link& whole = whole_.links[number];
    const Vec2 by = plan(link.to) - plan(link.from);
    addGate(lane, true, a, b.corner, by, plan(whole.from), plan(whole.fromHalf), from, until);
    if (!link.oneWay) addGate(lane, false, b, a.corner, -by, plan(whole.to), plan(whole.toHalf), from, until);
  }

  void addGate(std::uint32_t lane, bool forward, const Along& out, std::uint32_t in, const Vec2& by, const Vec2& m, const Vec2& h,
               double from, double until) {
    const Vec2 a = plan(at(out.corner)), b = plan(at(after(out.corner, out.face))), d = b - a;
    const auto on = [&](double t) { return a + d * std::clamp(glm::dot(m + h * t - a, d) / glm::dot(d, d), 0.0, 1.0); };
    Vec2 right = on(from), left = on(until);  // an edge goes from right to left
    if (glm::dot(left - right, d) < 0) std::swap(right, left);
    ground_.gates.push_back({out.corner, in, lane, forward, by, right, left});
  }

  const nav::NavMesh& whole_;
  SimpleGround& ground_;
  const nav::NavMesh& mesh_;
  std::ptrdiff_t lanes_;  // how many there were before
  std::vector<Edge> edges_;
  PlanGrid grid_;
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
