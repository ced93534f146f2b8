// On levels a bend sees ten to some hundred triangles, and a triangle is seen from as many bends. Hot are lookThrough and see, a few cross
// products each. Directions are kept as floats: a place beside a view by rounding is seen all the same, and the way to it goes by the edge
// of what is in between.

#include "core/route/bend_sight.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <limits>

#include "core/base/parallel.h"

namespace dune::route {

namespace {

constexpr double kAside = 1e-7;          // metres that a place may lie beside what is seen: rounding
constexpr double kAsideAMetre = 1.5e-7;  // and for each metre that it is away: rounding of directions
constexpr double kHidden = 1e-9;         // radians beyond half a turn, or a whole one, that hide less than that
constexpr double kNarrow = 1e-12;        // radians: a narrower view is rounding
constexpr double kTurnRounded = 1e-7;    // radians by which a way may fail to turn around the border
constexpr double kSameSpot = 1e-9;       // metres
constexpr double kBeatenBy = 1e-7;       // metres by which a view has to be

unsigned next(unsigned corner) { return (corner + 1) % 3; }

Vec2 directionTo(double angle) { return {std::cos(angle), std::sin(angle)}; }

}  // namespace

/// A triangle that is seen over one of its edges, which lies on the axis, or is that of the bend itself.
struct BendSight::View {
  Facet facet;
  std::uint32_t sight;  // its number in what was found
  std::uint8_t edge;
  Vec2 root, right, left;
};

/// What one bend sees; `before` counts within it.
struct BendSight::Found {
  Sight origin{};
  std::vector<Sight> sights;
  std::vector<Facet> of;
  std::vector<double> least;                  // one a spot: how far it is straight
  std::vector<std::pair<double, View>> next;  // a heap of those to go on through, by how far they are

  /// Keeps a triangle as it is seen, and gives the view of it.
  View add(const Facet& t, unsigned edge, std::uint32_t before, const Vec2& root, const Vec2& right, const Vec2& left) {
    const View view{t, static_cast<std::uint32_t>(sights.size()), static_cast<std::uint8_t>(edge), root, right, left};
    Sight sight = origin;
    sight.before = before, sight.edge = view.edge, sight.root = root, sight.right = right, sight.left = left;
    sights.push_back(sight), of.push_back(t);
    return view;
  }
  void reach(std::uint32_t spot, double length) { least[spot] = std::min(least[spot], length); }
  static bool isFarther(const std::pair<double, View>& a, const std::pair<double, View>& b) {
    return std::pair(a.first, a.second.sight) > std::pair(b.first, b.second.sight);
  }
};

BendSight::BendSight(const Facets& facets, std::span<const LinkFoot> links, std::size_t most, Job& job) : facets_(facets) {
  const nav::NavMesh& mesh = facets.mesh();
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::uint32_t fan = 0; fan + 2 < mesh.cornerCount(nav::FaceId{f}); ++fan) triangles_.push_back({nav::FaceId{f}, fan});
  findBends();
  for (const LinkFoot& link : links) bends_.push_back({{}, &link, link.at, link.to});
  if (bends_.size() > kMostBends) return;
  std::vector<Found> found(bends_.size());
  std::atomic<std::size_t> count{0};
  const bool done = parallelFor(job, bends_.size(), [&](std::size_t b) {
    if (count > most) return;
    look(static_cast<std::uint32_t>(b), most, found[b]);
    count += found[b].sights.size();
  });
  if (!done || count > most) return;
  gather(std::move(found), count);
  all_ = true;
}

std::size_t BendSight::memory() const {
  return bends_.capacity() * sizeof(Bend) + turned_.capacity() * sizeof(double) + triangles_.capacity() * sizeof(Facet) +
         first_.capacity() * sizeof(std::uint32_t) + sights_.capacity() * sizeof(Sight);
}

/// All sights by triangle.
void BendSight::gather(std::vector<Found> found, std::size_t count) {
  first_.assign(triangles_.size() + 1, 0);
  for (const Found& f : found)
    for (const Facet& t : f.of) ++first_[facets_.number(t) + 1];
  for (std::size_t t = 1; t < first_.size(); ++t) first_[t] += first_[t - 1];
  sights_.resize(count);
  std::vector<std::uint32_t> free(first_.begin(), first_.end() - 1), at;
  for (Found& f : found) {
    at.clear();
    for (std::size_t i = 0; i < f.sights.size(); ++i) {
      at.push_back(free[facets_.number(f.of[i])]++);
      Sight& sight = sights_[at.back()];
      sight = f.sights[i];
      if (sight.before != kNoSight) sight.before = at[sight.before];
    }
    f = {};  // or all would be there twice
  }
}

const Facet& BendSight::facetOf(std::uint32_t sight) const {
  return triangles_[static_cast<std::size_t>(std::ranges::upper_bound(first_, sight) - first_.begin()) - 1];
}

/// One a spot, and the angles around it.
void BendSight::findBends() {
  turned_.assign(3 * triangles_.size(), 0);
  std::vector<char> known(facets_.spotCount(), 0);
  for (const Facet& t : triangles_) {
    if (!facets_.allowed(t)) continue;
    for (unsigned i = 0; i < 3; ++i) {
      const std::uint32_t spot = facets_.spot(t, i);
      const double around = facets_.around(spot), least = facets_.isBorder(spot) ? kPi : 2 * kPi;
      if (around <= least + kHidden || std::exchange(known[spot], 1) != 0) continue;
      bends_.push_back({rightmost({t, i}), nullptr, facets_.at(t, i), facets_.at(t, i)});
      measureAround(bends_.back().corner);
    }
  }
}

/// The part of a corner's spot beside the border on its right; within the ground any.
FacetPart BendSight::rightmost(FacetPart corner) const {
  const Facet first = corner.facet;
  for (FacetPart to = facets_.rightOf(corner); to.facet.valid() && to.facet != first; to = facets_.rightOf(to)) corner = to;
  return corner;
}

void BendSight::measureAround(const FacetPart& corner) {
  double turned = 0;
  facets_.eachAround(corner, [&](const FacetPart& at) {
    turned_[3 * facets_.number(at.facet) + at.i] = turned;
    turned += facets_.angleAt(at.facet, at.i);
  });
}

void BendSight::look(std::uint32_t bend, std::size_t most, Found& found) const {
  found.least.assign(facets_.spotCount(), std::numeric_limits<double>::infinity());
  found.origin.bend = static_cast<std::uint16_t>(bend), found.origin.ofFoot = found.origin.ofLanding = true;
  const auto goOn = [&] {
    while (!found.next.empty() && found.sights.size() <= most) {
      const View view = found.next.front().second;
      std::ranges::pop_heap(found.next, Found::isFarther);
      found.next.pop_back();
      lookThrough(view, found);
    }
  };
  if (bends_[bend].link == nullptr)
    facets_.eachAround(bends_[bend].corner, [&](const FacetPart& at) { lookPast(at, found); }), goOn();
  else
    lookFrom(bend, false, found), goOn(), lookFrom(bend, true, found), goOn();
  found.least = {}, found.next = {};
}

/// From an end of a link.
void BendSight::lookFrom(std::uint32_t bend, bool landing, Found& found) const {
  const LinkFoot& link = *bends_[bend].link;
  const Vec3& at = landing ? link.to : link.at;
  found.origin.ofFoot = !landing, found.origin.ofLanding = landing;
  std::ranges::fill(found.least, std::numeric_limits<double>::infinity());
  std::vector<Facet> all;
  facets_.around(landing ? link.landing : link.facet, at, all);
  for (const Facet& t : all) {
    View view = found.add(t, 0, kNoSight, facets_.flat(t, 0, at), {}, {});
    for (unsigned e = 0; e < 3; ++e) found.reach(facets_.spot(t, e), glm::distance(facets_.at(t, e), at));
    for (unsigned e = 0; e < 3; ++e) {
      const Vec2 last{facets_.flat(t, e).length, 0};
      view.root = facets_.flat(t, e, at);
      if (view.root.y <= kSameSpot) continue;
      view.right = glm::normalize(-view.root), view.left = glm::normalize(last - view.root);
      pushOver(view, e, {0, 0}, last, found);
    }
  }
}

/// From a corner of a triangle over the edge opposite of it, as far as ways that come from there turn around the border.
void BendSight::lookPast(const FacetPart& corner, Found& found) const {
  const auto& [t, i] = corner;
  const double around = facets_.around(facets_.spot(t, i)), angle = facets_.angleAt(t, i), turned = turned_[3 * facets_.number(t) + i];
  const auto [length, apex] = facets_.flat(t, i);
  found.reach(facets_.spot(t, i + 1), length), found.reach(facets_.spot(t, i + 2), glm::length(apex));
  const auto between = [&, length = length, apex = apex, &t = t, i = i](double low, double high) {
    low = std::max(low - turned, 0.0), high = std::min(high - turned, angle);
    if (high < low - kTurnRounded) return;
    const View view = found.add(t, i, kNoSight, {0, 0}, directionTo(low), directionTo(std::max(low, high)));
    pushOver(view, next(i), {length, 0}, apex, found);
  };
  const double most = around - kPi;  // from the border on either side
  if (!facets_.isBorder(facets_.spot(t, i)) || most >= kPi) return between(0, around);
  between(0, most);
  between(kPi, around);
}

/// On over the two other edges of the triangle behind a view.
void BendSight::lookThrough(const View& view, Found& found) const {
  if (isBeaten(view, found)) return;  // by what was found since
  const auto [length, apex] = facets_.flat(view.facet, view.edge);
  const Vec2 toApex = apex - view.root;
  const double right = cross(view.right, toApex), left = cross(view.left, toApex);
  if (right >= 0 && left <= 0) found.reach(facets_.spot(view.facet, view.edge + 2u), glm::length(toApex));
  if (right > 0) {
    View through = view;
    if (left < 0) through.left = glm::normalize(toApex);
    pushOver(through, next(view.edge), {length, 0}, apex, found);
  }
  if (left < 0) {
    View through = view;
    if (right > 0) through.right = glm::normalize(toApex);
    pushOver(through, next(next(view.edge)), apex, {0, 0}, found);
  }
}

/// Over an edge of the triangle from `first` to `last`, as they lie in the plane of the view.
void BendSight::pushOver(const View& view, unsigned edge, const Vec2& first, const Vec2& last, Found& found) const {
  if (cross(view.right, view.left) < kNarrow) return;
  const FacetPart over = facets_.over(view.facet, edge);
  if (!over.facet.valid()) return;
  const Vec2 along = glm::normalize(first - last);
  const auto turned = [&](const Vec2& d) { return Vec2{glm::dot(d, along), cross(along, d)}; };
  Vec2 root = turned(view.root - last);
  root.y = std::min(root.y, 0.0);  // of a triangle without area it lies on the edge
  const View behind{over.facet, 0, static_cast<std::uint8_t>(over.i), root, turned(view.right), turned(view.left)};
  if (isBeaten(behind, found)) return;
  const double far = root.y < 0 ? -root.y / std::max(behind.right.y, behind.left.y) : 0;
  found.next.emplace_back(far, found.add(over.facet, over.i, view.sight, root, behind.right, behind.left));
  std::ranges::push_heap(found.next, Found::isFarther);
}

/// Going away from an end of the edge the way along it grows by what one goes, the one from the root by no more: the far end decides.
bool BendSight::isBeaten(const View& view, const Found& found) const {
  if (view.root.y > -kSameSpot) return false;
  const double length = glm::distance(facets_.at(view.facet, view.edge), facets_.at(view.facet, view.edge + 1u));
  const auto meets = [&](const Vec2& d) { return std::clamp(view.root.x - view.root.y * d.x / d.y, 0.0, length); };
  const double from = meets(view.left), to = meets(view.right);
  const double first = found.least[facets_.spot(view.facet, view.edge)], last = found.least[facets_.spot(view.facet, view.edge + 1u)];
  return glm::distance(view.root, {to, 0}) > first + to + kBeatenBy ||
         glm::distance(view.root, {from, 0}) > last + length - from + kBeatenBy;
}

void BendSight::see(const Facet& t, const Vec3& at, bool from, std::vector<SeenBend>& seen) const {
  const std::array<Vec2, 3> flat{facets_.flat(t, 0, at), facets_.flat(t, 1, at), facets_.flat(t, 2, at)};
  const std::uint32_t number = facets_.number(t);
  for (std::uint32_t i = first_[number]; i < first_[number + 1]; ++i) {
    const Sight& s = sights_[i];
    const Vec2 d = flat[s.edge] - s.root;
    const double aside = kAside + kAsideAMetre * (std::abs(d.x) + std::abs(d.y));
    if (cross(Vec2(s.right), d) < -aside || cross(Vec2(s.left), d) > aside || !(from ? s.ofLanding : s.ofFoot)) continue;
    seen.push_back({s.bend, i, glm::length(d), 0});
  }
}

bool BendSight::turns(std::uint32_t n, const FacetPart& corner) const {
  const Sight& sight = sights_[n];
  const Facet& t = corner.facet;
  const std::uint32_t spot = facets_.spot(t, corner.i);
  if (!facets_.isBorder(spot)) return true;
  const auto [length, apex] = facets_.flat(t, sight.edge);
  const auto at = [&, length = length, apex = apex](unsigned i) {
    return i % 3 == sight.edge ? Vec2{0, 0} : i % 3 == next(sight.edge) ? Vec2{length, 0} : apex;
  };
  const Vec2 along = at(corner.i + 1) - at(corner.i), from = sight.root - at(corner.i);
  const double angle = turned_[3 * facets_.number(t) + corner.i] + std::atan2(cross(along, from), glm::dot(along, from));
  return glm::length(from) < kSameSpot || angle <= facets_.around(spot) - kPi + kTurnRounded || angle >= kPi - kTurnRounded;
}

void BendSight::over(std::uint32_t n, const Vec3& place, std::vector<Over>& edges) const {
  Vec3 at = place;
  Facet t = facetOf(n);
  for (; sights_[n].before != kNoSight; n = sights_[n].before) {
    const Sight& s = sights_[n];
    const Vec3 &first = facets_.at(t, s.edge), &last = facets_.at(t, s.edge + 1u);
    const double length = glm::distance(first, last);
    const Vec2 p = facets_.flat(t, s.edge, at);
    const double x = p.y > 0 ? s.root.x + (p.x - s.root.x) * -s.root.y / (p.y - s.root.y) : p.x;
    at = glm::mix(first, last, std::clamp(x / length, 0.0, 1.0));
    const Facet into = facets_.over(t, s.edge).facet;
    edges.push_back({at, t, into});
    t = into;
  }
}

}  // namespace dune::route
