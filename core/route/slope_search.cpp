// A view is an edge, the part of it that is seen, and where it is seen from in the plane of the triangle behind it: x along the edge from
// its first corner as that triangle has it, the triangle above the edge, what lies before it below.

#include "core/route/slope_search.h"

#include <algorithm>
#include <limits>
#include <optional>

#include "core/route/field.h"
#include "core/route/plan_ahead.h"

namespace dune::route {

namespace {

constexpr double kSameSpot = 1e-9;      // metres
constexpr double kLeastSeen = 1e-7;     // metres: less of an edge sees nothing
constexpr double kBeatenBy = 1e-7;      // metres by which a view has to be beaten
constexpr double kBetterBy = 1e-7;      // of the length: a way that is better by less is none
constexpr double kEagerly = 1.05;       // weight of what is still to come once it takes long
constexpr double kSameSide = 1e-6;      // radians
constexpr std::uint32_t kMostTies = 8;  // ways to a corner that are as long
constexpr double kTurnRounded = 1e-9;   // radians: rounding of angles
constexpr double kAside = 4e-9;         // radians by which a corner may be out of sight: no way bends where less than that is hidden

/// Where a line from a root below an edge to a point above it crosses the edge.
double crossingTo(const Vec2& root, const Vec2& p) {
  const double rise = p.y - root.y;
  return rise > 0 ? root.x + (p.x - root.x) * -root.y / rise : p.x;
}

auto orderOf(const Facet& t) { return std::pair(index(t.face), t.fan); }

double angleBetween(const Vec2& a, const Vec2& b) { return std::atan2(std::abs(cross(a, b)), glm::dot(a, b)); }

}  // namespace

SlopeSearch::SlopeSearch(const Field& field, Heading heading)
    : facets_(field.facets()), links_(field, heading), slotOf_(facets_.spotCount(), 0) {}

std::size_t SlopeSearch::memory() const {
  return views_.capacity() * sizeof(View) + heap_.capacity() * sizeof(heap_[0]) +
         (known_.capacity() + landings_.capacity()) * sizeof(Known) + seen_.capacity() * sizeof(InFacet) +
         slotOf_.capacity() * sizeof(slotOf_[0]);
}

SlopeSearch::Found SlopeSearch::find(const nav::Place& start, const nav::Place& goal, double length, const PlanAhead* ahead, bool links,
                                     std::size_t most) {
  clear();
  ahead_ = ahead, overLinks_ = links && links_.any(), best_ = length * (1 - kBetterBy);
  startFacet_ = facets_.under(start), startAt_ = facets_.lifted(startFacet_, plan(start.position));
  goalFacet_ = facets_.under(goal), goalAt_ = facets_.lifted(goalFacet_, plan(goal.position));
  begin(startFacet_, startAt_, 0, -1);
  Found found{{}, length, true};
  while (!heap_.empty()) {
    if (views_.size() > most) {
      if (!found.all) return found;
      found.least = std::min(heap_.front().first, length), found.all = false;
      beEager(), most *= 2;
    }
    const std::int32_t n = heap_.front().second;
    const View view = views_[static_cast<std::size_t>(n)];
    if (view.sort == Sort::arrival) {
      found.way = wayTo(n);
      if (found.all) found.least = view.g;
      return found;
    }
    std::pop_heap(heap_.begin(), heap_.end(), std::greater<>());
    heap_.pop_back();
    step(n);
  }
  return found;
}

SlopeSearch::Found SlopeSearch::findStraight(const nav::Place& start, const nav::Place& goal, double length) {
  bends_ = false;
  Found found = find(start, goal, length, nullptr, false, std::numeric_limits<std::size_t>::max());
  bends_ = true;
  return found;
}

void SlopeSearch::step(std::int32_t n) {
  const View view = views_[static_cast<std::size_t>(n)];
  if (view.sort == Sort::corner)
    turnAt(n);
  else if (view.sort == Sort::through)
    lookThrough(n);
  else if (const LinkFoot& foot = links_.all()[view.link]; view.g <= landings_[view.link].least)
    begin(foot.landing, foot.to, view.g, n);
}

bool SlopeSearch::spread(const nav::Place& place, double most, std::size_t mostViews, Job& job) {
  clear();
  spreads_ = true, overLinks_ = links_.any(), best_ = most, goalFacet_ = {};
  startFacet_ = facets_.under(place), startAt_ = facets_.lifted(startFacet_, plan(place.position));
  begin(startFacet_, startAt_, 0, -1);
  bool all = true;
  for (std::size_t i = 0; !heap_.empty() && all; ++i) {
    const std::int32_t n = heap_.front().second;
    std::pop_heap(heap_.begin(), heap_.end(), std::greater<>());
    heap_.pop_back();
    step(n);
    all = views_.size() <= mostViews && (i % 1024 != 0 || !job.cancelled());
  }
  for (std::size_t n = 0; n < views_.size(); ++n)
    if (views_[n].sort == Sort::through) seen_.push_back({views_[n].facet, static_cast<std::int32_t>(n), {}, 0});
  std::ranges::stable_sort(seen_, {}, [](const InFacet& s) { return orderOf(s.facet); });
  return all;
}

SlopeSearch::Reached SlopeSearch::reached(const nav::Place& place) const {
  const Facet t = facets_.under(place);
  const Vec3 at = facets_.lifted(t, plan(place.position));
  Reached least{std::numeric_limits<double>::infinity(), at};
  const auto over = [&](double length, const Vec3& from) {
    if (length < least.length) least = {length, from};
  };
  for (unsigned c = 0; c < 3; ++c) {
    const std::uint32_t spot = facets_.spot(t, c), slot = slotOf_[spot];
    if (slot < known_.size() && known_[slot].spot == spot) over(known_[slot].least + glm::distance(facets_.at(t, c), at), facets_.at(t, c));
  }
  const auto [first, end] = std::ranges::equal_range(seen_, orderOf(t), {}, [](const InFacet& s) { return orderOf(s.facet); });
  for (auto seen = first; seen != end; ++seen) {
    if (seen->view < 0) {
      over(seen->g + glm::distance(seen->begun, at), seen->begun);
      continue;
    }
    const View& view = views_[static_cast<std::size_t>(seen->view)];
    const Vec2 p = facets_.flat(t, view.part, at);
    const double x = crossingTo(view.root, p);
    if (x < view.from - kSameSpot || x > view.to + kSameSpot) continue;
    const Vec3 &a = facets_.at(t, view.part), &b = facets_.at(t, view.part + 1u);
    over(view.g + glm::distance(view.root, p), glm::mix(a, b, x / glm::distance(a, b)));
  }
  return least;
}

/// From here on what is near the goal comes first.
void SlopeSearch::beEager() {
  eagerness_ = kEagerly;
  for (auto& [f, n] : heap_) f = keyOf(views_[static_cast<std::size_t>(n)], f);
  std::ranges::make_heap(heap_, std::greater<>());
}

void SlopeSearch::clear() {
  views_.clear(), heap_.clear(), known_.clear(), seen_.clear();
  spreads_ = false;
  landings_.assign(links_.all().size(), {});
  eagerness_ = 1;
}

SlopeSearch::Known& SlopeSearch::known(const Facet& t, unsigned corner) {
  const std::uint32_t spot = facets_.spot(t, corner);
  std::uint32_t& slot = slotOf_[spot];
  if (slot >= known_.size() || known_[slot].spot != spot) {
    slot = static_cast<std::uint32_t>(known_.size());
    known_.push_back({.spot = spot});
  }
  return known_[slot];
}

double SlopeSearch::aheadOf(const Facet& t, unsigned corner) {
  Known& k = known(t, corner);
  if (k.ahead < 0) k.ahead = aheadFrom(t, facets_.at(t, corner));
  return k.ahead;
}

/// Asked a little inside the triangle: at a corner itself the ground in plan has several faces, none of which need have been seen whole.
double SlopeSearch::aheadFrom(const Facet& t, const Vec3& at) const {
  if (spreads_) return 0;
  constexpr double kInside = 1e-3;  // of the way to the middle
  const double flown = glm::distance(at, goalAt_);
  if (!ahead_) return flown;
  const Vec3 in = glm::mix(at, (facets_.at(t, 0) + facets_.at(t, 1) + facets_.at(t, 2)) / 3.0, kInside);
  const double up = overLinks_ ? links_.steepestUp() : 0, down = overLinks_ ? links_.steepestDown() : 0;
  return std::max(flown, ahead_->inSpace({t.face, in}, up, down) - glm::distance(at, in));
}

/// What is known of a view: its edge's length, how long the way is to both its ends, and what is known of the ends of its edge.
struct SlopeSearch::Seen {
  double length, atFrom, atTo;
  double first, last;  // the shortest ways to them so far
};

SlopeSearch::Seen SlopeSearch::seenBy(const View& view, double length) {
  return {length, view.g + glm::distance(view.root, {view.from, 0}), view.g + glm::distance(view.root, {view.to, 0}),
          known(view.facet, view.part).least, known(view.facet, view.part + 1u).least};
}

/// Going away from an end of the edge the way along it grows by what one goes, the one from the root by no more: the far end decides.
bool SlopeSearch::isBeaten(const View& view, const Seen& seen) {
  return seen.atTo > seen.first + view.to + kBeatenBy || seen.atFrom > seen.last + seen.length - view.from + kBeatenBy;
}

/// How long a way through a view is at least. On an edge the way still to come changes by no more than one goes.
double SlopeSearch::leastThrough(const View& view, const Seen& seen) {
  if (spreads_) return view.root.x < view.from ? seen.atFrom : view.root.x > view.to ? seen.atTo : view.g - view.root.y;
  const double ends = std::max(seen.atTo + aheadOf(view.facet, view.part) - view.to,
                               seen.atFrom + aheadOf(view.facet, view.part + 1u) - (seen.length - view.from));
  if (ends >= best_) return ends;
  const Vec3& first = facets_.at(view.facet, view.part);
  const Vec3 along = (facets_.at(view.facet, view.part + 1u) - first) / seen.length, toGoal = goalAt_ - first;
  const double x = glm::dot(toGoal, along);
  const Vec2 goal{x, glm::length(toGoal - along * x)};
  const double over = crossingTo(view.root, goal);
  const double flown = over < view.from ? seen.atFrom + glm::distance({view.from, 0}, goal)
                       : over > view.to ? seen.atTo + glm::distance({view.to, 0}, goal)
                                        : view.g + glm::distance(view.root, goal);
  return std::max(flown, ends);
}

void SlopeSearch::add(const View& view, double f) {
  if (f >= best_) return;
  if (view.sort == Sort::arrival) best_ = f;
  views_.push_back(view);
  heap_.emplace_back(keyOf(view, f), static_cast<std::int32_t>(views_.size() - 1));
  std::push_heap(heap_.begin(), heap_.end(), std::greater<>());
}

/// The goal, and feet of links, in a triangle; `distanceTo` a place as it lies with an edge of it on the axis: nothing where it is not
/// seen.
template <class DistanceTo>
void SlopeSearch::lookIn(const Facet& t, unsigned edge, double g, std::int32_t n, DistanceTo&& distanceTo) {
  if (t == goalFacet_)
    if (const std::optional<double> far = distanceTo(facets_.flat(t, edge, goalAt_))) arrive(g + *far, n);
  if (!overLinks_) return;
  const auto [first, end] = links_.in(t);
  for (std::size_t i = first; i < end; ++i)
    if (const std::optional<double> far = distanceTo(facets_.flat(t, edge, links_.all()[i].at))) takeOff(i, g + *far, n);
}

void SlopeSearch::takeOff(std::size_t foot, double g, std::int32_t parent) {
  const LinkFoot& link = links_.all()[foot];
  Known& k = landings_[foot];
  if (k.ahead < 0) k.ahead = aheadFrom(link.landing, link.to);
  const double landed = g + link.length;
  if (landed > k.least - kSameSpot) return;
  k.least = landed;
  add({{}, 0, 0, landed, parent, link.landing, 0, Sort::landing, static_cast<std::uint32_t>(foot)}, landed + k.ahead);
}

void SlopeSearch::arrive(double g, std::int32_t parent) { add({{}, 0, 0, g, parent, goalFacet_, 0, Sort::arrival}, g); }

/// A way to a corner; `angle`: at the corner from the triangle's edge that begins there to where the way comes from.
void SlopeSearch::reach(const Facet& t, unsigned corner, double angle, double g, std::int32_t parent) {
  Known& k = known(t, corner);
  const FacetPart where{t, corner % 3};
  if (g > k.least + kSameSpot) return;
  if (g < k.least - kSameSpot) k.ties = 0;
  // Along a straight wall a corner is come to from each one before it, by ways as long and from the same side.
  const bool known = k.ties > 0 && k.from == where && std::abs(k.angle - angle) < kSameSide;
  if (k.ties == kMostTies || known) return;
  k.least = std::min(k.least, g), k.from = where, k.angle = angle, ++k.ties;
  if (bends_ && facets_.bends(facets_.spot(t, corner)) && g < best_)
    add({{}, angle, 0, g, parent, t, static_cast<std::uint8_t>(corner % 3), Sort::corner}, g + aheadOf(t, corner));
}

/// Over an edge of a triangle from `last` to `first`, as they lie in any plane with the root, as far as `part` of it is seen. All of the
/// view lies on one side of the triangle's third corner; towards the other side the way from there grows by more, so the far end decides
/// again.
void SlopeSearch::push(std::int32_t parent, double g, const Facet& t, unsigned edge, const Vec2& root, const Vec2& first, const Vec2& last,
                       Interval part, const Third& third) {
  const FacetPart over = facets_.over(t, edge % 3);
  const double length = glm::distance(first, last);
  if (!over.facet.valid() || (part.to - part.from) * length < kLeastSeen) return;
  const Vec2 along = (last - first) / length, from = root - first;
  const View view{{glm::dot(from, along), cross(along, from)}, part.from * length, part.to * length, g, parent, over.facet,
                  static_cast<std::uint8_t>(over.i),           Sort::through};
  if (view.root.y >= 0) return;
  const Seen seen = seenBy(view, length);
  if (third.least + glm::distance(third.at, glm::mix(first, last, third.onLeft ? part.to : part.from)) + kBeatenBy <
      (third.onLeft ? seen.atTo : seen.atFrom))
    return;
  if (!isBeaten(view, seen)) add(view, leastThrough(view, seen));
}

/// From every triangle that a place lies in, or on an edge or a corner of.
void SlopeSearch::begin(const Facet& in, const Vec3& start, double g, std::int32_t parent) {
  facets_.around(in, start, around_);
  for (const Facet& t : around_) {
    if (spreads_) seen_.push_back({t, -1, start, g});
    lookIn(t, 0, g, parent, [&, from = facets_.flat(t, 0, start)](const Vec2& p) { return std::optional(glm::distance(from, p)); });
    for (unsigned e = 0; e < 3; ++e) {
      const Vec2 at = facets_.flat(t, e, start);
      const auto [length, apex] = facets_.flat(t, e);
      const double toCorner = glm::length(at);
      if (toCorner > kSameSpot)
        reach(t, e, std::atan2(at.y, at.x), g + toCorner, parent);
      else
        known(t, e).least = std::min(known(t, e).least, g);
      if (at.y > kSameSpot) push(parent, g, t, e, at, {length, 0}, {0, 0}, {0, 1}, {});
    }
  }
}

void SlopeSearch::lookThrough(std::int32_t n) {
  const View view = views_[static_cast<std::size_t>(n)];
  const unsigned e = view.part;
  const auto [length, apex] = facets_.flat(view.facet, e);
  if (isBeaten(view, seenBy(view, length))) return;  // by what was learnt since
  lookIn(view.facet, e, view.g, n, [&](const Vec2& p) {
    const double over = crossingTo(view.root, p);
    const bool seen = over >= view.from - kSameSpot && over <= view.to + kSameSpot;
    return seen ? std::optional(glm::distance(view.root, p)) : std::nullopt;
  });
  const Vec2 first{0, 0}, last{length, 0}, right = Vec2{view.to, 0} - view.root, left = Vec2{view.from, 0} - view.root;
  const auto leftOfRight = [&](const Vec2& p) { return cross(right, p - view.root); };
  const auto leftOfLeft = [&](const Vec2& p) { return cross(left, p - view.root); };
  const double rightLast = std::min(0.0, leftOfRight(last)), rightApex = leftOfRight(apex), rightFirst = leftOfRight(first);
  const double leftLast = leftOfLeft(last), leftApex = leftOfLeft(apex), leftFirst = std::max(0.0, leftOfLeft(first));
  const double slack = kAside * glm::distance(apex, view.root);
  if (rightApex >= -slack && leftApex <= slack)
    reach(view.facet, e + 2, bends_ ? angleBetween(first - apex, view.root - apex) : 0, view.g + glm::distance(view.root, apex), n);
  // Each edge from its end as it is seen from behind: from the apex on the right, from the first corner on the left.
  if (rightApex > 0) {
    const double from = leftApex <= 0 ? 0 : leftApex / (leftApex - leftLast), to = rightApex / (rightApex - rightLast);
    push(n, view.g, view.facet, e + 1, view.root, apex, last, {from, to}, {first, known(view.facet, e).least, true});
  }
  if (leftApex < 0) {
    const double from = leftFirst / (leftFirst - leftApex), to = rightApex >= 0 ? 1 : rightFirst / (rightFirst - rightApex);
    push(n, view.g, view.facet, e + 2, view.root, first, apex, {from, to}, {last, known(view.facet, e + 1).least, false});
  }
}

/// On from a corner where a way bends: no less than half a turn from where it came, to both sides.
void SlopeSearch::turnAt(std::int32_t n) {
  const View view = views_[static_cast<std::size_t>(n)];
  if (view.g > known(view.facet, view.part).least + kSameSpot) return;
  const std::uint32_t spot = facets_.spot(view.facet, view.part);
  const bool border = facets_.isBorder(spot);
  const double most = border ? std::numeric_limits<double>::infinity() : facets_.around(spot) - kPi;
  // To the left, over the edge that ends at the corner.
  double turned = facets_.angleAt(view.facet, view.part) - view.from;
  for (FacetPart at = facets_.leftOf({view.facet, view.part}); at.facet.valid() && at.facet != view.facet && turned < most;
       at = facets_.leftOf(at)) {
    const double angle = facets_.angleAt(at.facet, at.i);
    if (turned + angle > kPi - kTurnRounded) lookPast(n, at.facet, at.i, kPi - turned, most - turned);
    turned += angle;
  }
  if (!border) return;
  // To the right, over the edge that begins there.
  turned = view.from;
  for (FacetPart at = facets_.rightOf({view.facet, view.part}); at.facet.valid() && at.facet != view.facet; at = facets_.rightOf(at)) {
    const double angle = facets_.angleAt(at.facet, at.i);
    if (turned + angle > kPi - kTurnRounded) lookPast(n, at.facet, at.i, 0, angle - (kPi - turned));
    turned += angle;
  }
}

/// Over the edge opposite of a corner, as far as it lies between two angles from the edge that begins at the corner.
void SlopeSearch::lookPast(std::int32_t n, const Facet& t, unsigned corner, double low, double high) {
  const double g = views_[static_cast<std::size_t>(n)].g;
  const auto [length, apex] = facets_.flat(t, corner);
  const Vec2 first{length, 0};
  const double whole = std::atan2(apex.y, apex.x);
  if (low > whole + kTurnRounded || high < -kTurnRounded) return;
  lookIn(t, corner, g, n, [&](const Vec2& p) {
    const double angle = std::atan2(p.y, p.x);
    const bool seen = angle >= low - kTurnRounded && angle <= high + kTurnRounded;
    return seen ? std::optional(glm::length(p)) : std::nullopt;
  });
  if (low <= kTurnRounded) reach(t, corner + 1, facets_.angleAt(t, corner + 1), g + length, n);
  if (high >= whole - kTurnRounded) reach(t, corner + 2, 0, g + glm::length(apex), n);
  const auto along = [&](double angle) {  // from the first end of the edge
    const Vec2 way{std::cos(angle), std::sin(angle)};
    return std::clamp(cross(way, first) / (cross(way, first) - cross(way, apex)), 0.0, 1.0);
  };
  push(n, g, t, corner + 1, {0, 0}, apex, first, {high >= whole ? 0 : 1 - along(high), low <= 0 ? 1 : 1 - along(low)}, {});
}

std::vector<WayPoint> SlopeSearch::wayTo(std::int32_t arrival) const {
  // From the goal back: each point with the triangle that the way to it is in.
  std::vector<WayPoint> back;
  Vec3 at = goalAt_;
  nav::FaceId face = goalFacet_.face;
  const auto add = [&](bool bend) { back.push_back({at, face, -1, bend}); };
  add(true);
  for (std::int32_t n = views_[static_cast<std::size_t>(arrival)].parent; n >= 0; n = views_[static_cast<std::size_t>(n)].parent) {
    const View& view = views_[static_cast<std::size_t>(n)];
    if (view.sort == Sort::corner) {
      at = facets_.at(view.facet, view.part);
      add(true);
      face = view.facet.face;
      continue;
    }
    if (view.sort == Sort::landing) {
      const LinkFoot& foot = links_.all()[view.link];
      at = foot.to;
      add(true);
      if (face != foot.landing.face) face = foot.landing.face, add(true);  // landed on an edge
      at = foot.at, face = foot.facet.face;
      add(true);
      back.back().link = static_cast<int>(foot.link);
      continue;
    }
    const Vec3 &first = facets_.at(view.facet, view.part), &last = facets_.at(view.facet, view.part + 1u);
    const double length = glm::distance(first, last);
    const double over = std::clamp(crossingTo(view.root, facets_.flat(view.facet, view.part, at)), view.from, view.to);
    at = glm::mix(first, last, over / length);
    add(false);
    face = facets_.over(view.facet, view.part).facet.face;
  }
  at = startAt_;
  add(true);
  if (face != startFacet_.face) face = startFacet_.face, add(true);
  std::ranges::reverse(back);
  return back;
}

}  // namespace dune::route
