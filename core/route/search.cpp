// Names: a node is a root (the last bend) and an interval of an edge that the root sees; expanding it goes on into the face
// behind the edge. What the root sees of the face's other edges keeps the root; what is hidden behind an end of the interval
// is reached by bending at that end, when the end is a corner at which a shortest path may bend at all.

#include "core/route/search.h"

#include <algorithm>
#include <limits>

#include "core/base/plan_geometry.h"
#include "core/route/link_lanes.h"
#include "core/route/slope_search.h"
#include "core/route/space_way.h"
#include "core/route/trace_way.h"
#include "core/route/way_length.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::kNoFace;
using nav::Place;

constexpr double kSame = 1e-9;        // metres, in plan: coordinates are multiples of 1/1024 or crossings of such lines
constexpr double kShiftOff = 0.02;    // metres that the shift over a wide link may be off at its ends
constexpr double kBeforeEdge = 1e-3;  // metres before an edge that count as on it, where one leaves over a wide link
constexpr double kLeast = 1e-7;       // metres: shorter intervals see nothing
constexpr double kEager = 3;          // weight of what is still to come once memory is short
constexpr std::size_t kLeastNodes = 256;
constexpr std::size_t kFewViews = 500;  // fewer find no way over slopes

/// Whether both ends of an edge lie in one direction from a root that is not on the edge.
bool seesAlong(const Vec2& root, const Vec2& right, const Vec2& left) {
  const Vec2 r = right - root, l = left - root;
  const double area = cross(r, l), dr2 = glm::dot(r, r), dl2 = glm::dot(l, l);
  return area * area <= kSame * kSame * std::max(dr2, dl2) && dr2 > kSame * kSame && dl2 > kSame * kSame && glm::dot(r, l) > 0;
}

/// What a straight stretch counts at least whose ends stand for places up to `loose` m, together, beside them: with s to the place and d
/// from there, length - |s| - s·d/|s| is at most what is left off, and the rest comes to nothing where a best way bends.
double leastOf(double length, double loose) {
  if (loose == 0) return length;
  return length > loose ? std::sqrt(length * length - loose * loose) : 0;
}

/// By how much less a stretch of this length or more may count.
double mostLeftOff(double length, double loose) { return std::max(length, loose) - leastOf(std::max(length, loose), loose); }

}  // namespace

Search::Search(const Field& field, std::size_t memory) : field_(field), ground_(field.ground()), memory_(memory) {}
Search::~Search() = default;
Search::Search(Search&&) noexcept = default;

std::vector<WayPoint> Search::findInSpace(const Place& from, const Place& to, std::size_t slopeViews) {
  if (const Prepared* known = prepared(Measure::space); known && slopeViews > 0) return findPrepared(*known, from, to);
  std::vector<WayPoint> way = find(from, to);
  if (slopeViews == 0 || way.size() < 2) return way;
  if (!reachedBound_ && !isAlmostLevel(field_, way)) shortenInSpace(way, slopeViews);
  layOnGround(field_, way);
  return way;
}

void Search::shortenInSpace(std::vector<WayPoint>& way, std::size_t slopeViews) {
  const std::size_t used = memory(), left = memory_ > used ? memory_ - used : 0;
  slopeViews = std::min(slopeViews, left / SlopeSearch::kMemoryAView);
  if (slopeViews < kFewViews) return;
  if (!slopes_) slopes_ = std::make_unique<SlopeSearch>(field_);
  const Place start = start_, goal = goal_;
  SpaceWay inSpace(field_, *this, *slopes_, slopeViews);
  const double perMetre = field_.perMetre(way.front().face);
  inSpace.shorten(way);
  start_ = start, goal_ = goal;  // boundBelow() may be asked for yet
  lowerBound_ = std::max(lowerBound_, inSpace.least() * perMetre);
}

std::vector<WayPoint> Search::find(const Place& from, const Place& to) {
  lowerBound_ = std::numeric_limits<double>::infinity();
  reachedBound_ = false, shown_ = 0, made_ = 0;
  start_ = ground_.simple().at(field_.mesh(), from);
  const Place goal = ground_.simple().at(field_.mesh(), to);
  if (const Prepared* known = prepared(Measure::plan); known && start_.valid() && goal.valid())
    if (std::vector<WayPoint> way = findPreparedInPlan(*known, from, to, goal); !way.empty()) return way;
  Outcome outcome = run(start_, goal, 1);
  if (outcome == Outcome::full) {
    reachedBound_ = true, shown_ = leastOpen();
    outcome = run(start_, goal, kEager);
  }
  if (outcome != Outcome::found) return {};
  const std::vector<WayStep> way = settleWay(stepsTo(found_, start_, goal), ground_.widestSpacing());
  linksSlack_ = 0;
  for (std::size_t i = 0; i + 1 < way.size(); ++i) linksSlack_ += way[i].link < 0 ? 0 : linkSlack(way[i], way[i + 1]);
  const Vec2 start = plan(start_.position);
  // What cheap ground saves is known in plan alone.
  lowerBound_ = std::max(leastCost(start, glm::distance(start, plan(goal.position))),
                         ground_.leastCost() * glm::distance(start_.position, goal.position));
  if (ground_.widestSpacing() == 0)  // exact in plan, and no way is shorter in space than in plan
    lowerBound_ = std::max(lowerBound_, (reachedBound_ ? shown_ : nodes_[static_cast<std::size_t>(found_)].g) - linksSlack_);
  return traceWay(field_, way, from, to);
}

double Search::boundBelow(double cost) {
  if (ground_.widestSpacing() == 0 || lowerBound_ >= cost) return lowerBound_;
  loosely_ = true;
  const Outcome outcome = run(start_, goal_, 1, cost);
  loosely_ = false;
  const double least = outcome == Outcome::found  ? nodes_[static_cast<std::size_t>(found_)].g
                       : outcome == Outcome::full ? leastOpen()
                                                  : cost;
  lowerBound_ = std::max(lowerBound_, std::min(least, cost) - linksSlack_);
  return lowerBound_;
}

/// What every way costs at least that goes on from what is open yet.
double Search::leastOpen() const {
  double least = std::numeric_limits<double>::infinity();
  for (const auto& [f, n] : heap_) least = std::min(least, f);
  return least;
}

/// How far it is at least from the place that the root stands for.
double Search::lengthFrom(const Node& node, const Vec2& to) { return leastOf(glm::distance(node.root, to), node.loose); }

/// By how much a way over a wide link may be cheaper than was searched: it may be taken beside its lane, and a gate counts as its middle,
/// whose flight may be longer.
double Search::linkSlack(const WayStep& foot, const WayStep& landing) const {
  const nav::Link& link = wholeLink(foot.link);
  if (link.width() == 0) return 0;
  const bool gated = ground_.simple().gated[static_cast<std::size_t>(foot.link)] != 0;
  const double beside = gated ? kShiftOff : kLaneSpacing / 2, ofStretch = gated ? 1 : kLaneSpacing / link.width();
  return beside * (perMetre(foot.face) + perMetre(landing.face)) +
         glm::length(link.toHalf - link.fromHalf) * ofStretch * ground_.perMetre(link);
}

bool Search::spread(const Place& place, double most, bool towards, std::vector<SeenFrom>& seen, Job& job, const Place& between) {
  seen_ = &seen, towards_ = towards;
  goal_ = {}, goalToCheap_ = ground_.toCheap(plan(between.position)), eagerness_ = 1;
  between_ = ground_.simple().at(field_.mesh(), between);
  clear();
  reached_ = std::nextafter(most, std::numeric_limits<double>::infinity());
  const Place start = ground_.simple().at(field_.mesh(), place);
  if (start.valid()) begin(plan(start.position), start.face, 0, -1, -1);
  bool all = true;
  while (!heap_.empty() && (all = (nodes_.size() < most_ || !free_.empty()) && !job.cancelled())) {
    bool isOld = false;
    const std::int32_t n = nextOpen(isOld);
    expand(n, isOld);
    release(n);
  }
  seen_ = nullptr, towards_ = false, between_ = {};
  return all;
}

std::size_t Search::tables() const {
  return known_.capacity() * sizeof(Known) + knownIn_.capacity() * sizeof(std::uint32_t) +
         (bestAtPoint_.capacity() + bestBetween_.capacity() + bestAtLink_.capacity()) * sizeof(Best);
}

std::size_t Search::memory() const {
  return tables() + (slopes_ ? slopes_->memory() : 0) + nodes_.capacity() * sizeof(Node) + heap_.capacity() * sizeof(heap_[0]) +
         free_.capacity() * sizeof(free_[0]);
}

/// Everything of the query before.
void Search::clear() {
  found_ = -1;
  nodes_.clear(), heap_.clear(), free_.clear();
  reached_ = std::numeric_limits<double>::infinity();
  unsorted_ = false;
  if (++generation_ == 0) {  // after four thousand million queries what they left would seem to be of this one
    std::ranges::fill(knownIn_, 0), std::ranges::fill(bestAtPoint_, Best{}), std::ranges::fill(bestBetween_, Best{}),
        std::ranges::fill(bestAtLink_, Best{});
    generation_ = 1;
  }
  const auto& mesh = ground_.mesh();
  known_.resize(ground_.spotCount()), knownIn_.resize(ground_.spotCount());
  bestAtPoint_.resize(ground_.allPoints()), bestBetween_.resize(ground_.allPoints());
  bestAtLink_.resize(mesh.links.size() * 2);
  const std::size_t one = sizeof(Node) + sizeof(heap_[0]) + sizeof(free_[0]), tables = this->tables();
  most_ = std::max(kLeastNodes, (memory_ > tables ? memory_ - tables : 0) / one);
}

Search::Outcome Search::run(const Place& start, const Place& goal, double eagerness, double most) {
  goal_ = goal, eagerness_ = eagerness;
  goalToCheap_ = ground_.toCheap(plan(goal.position));
  clear();
  reached_ = most;
  if (!start.valid() || !goal.valid()) return Outcome::nothing;
  begin(plan(start.position), start.face, 0, -1, -1);
  while (!heap_.empty()) {
    if (nodes_.size() >= most_ && free_.empty()) return Outcome::full;
    bool isOld = false;
    const std::int32_t n = nextOpen(isOld);
    if (nodes_[static_cast<std::size_t>(n)].last) {
      found_ = n;
      return Outcome::found;
    }
    expand(n, isOld);
    release(n);
  }
  return Outcome::nothing;
}

/// Takes the most promising node. The one pushed last often is, as views that go on straight towards the goal do: then it is at the end of
/// the heap still, and nothing needs to be put in order. `isOld`: other nodes were expanded since it was pushed.
std::int32_t Search::nextOpen(bool& isOld) {
  if (unsorted_ && heap_.size() > 1 && heap_.back().first > heap_.front().first)
    std::push_heap(heap_.begin(), heap_.end(), std::greater<>());
  const bool atEnd = unsorted_ && (heap_.size() == 1 || heap_.back().first <= heap_.front().first);
  unsorted_ = false;
  isOld = !atEnd;
  if (!atEnd) std::pop_heap(heap_.begin(), heap_.end(), std::greater<>());
  const std::int32_t n = heap_.back().second;
  heap_.pop_back();
  return n;
}

/// Lists grow to double their size, and to no more than they may hold.
template <class List>
void makeRoom(List& list, std::size_t most) {
  if (list.size() < list.capacity()) return;
  constexpr std::size_t kFirst = 256;
  list.reserve(std::max(list.size() + kFirst, std::min(2 * list.size(), most)));
}

std::int32_t Search::add(const Node& node) {
  ++made_;
  if (node.parent >= 0) ++nodes_[static_cast<std::size_t>(node.parent)].children;
  if (!free_.empty()) {
    const std::int32_t n = free_.back();
    free_.pop_back();
    nodes_[static_cast<std::size_t>(n)] = node;
    return n;
  }
  makeRoom(nodes_, most_);
  nodes_.push_back(node);
  return static_cast<std::int32_t>(nodes_.size() - 1);
}

/// A node that was expanded and from which nothing goes on is of no more use, nor are those before it that led to it alone.
void Search::release(std::int32_t n) {
  nodes_[static_cast<std::size_t>(n)].open = false;
  while (n >= 0) {
    const Node& node = nodes_[static_cast<std::size_t>(n)];
    if (node.open || node.children > 0) return;
    makeRoom(free_, most_);
    free_.push_back(n);
    n = node.parent;
    if (n >= 0) --nodes_[static_cast<std::size_t>(n)].children;
  }
}

Search::Known& Search::known(std::uint32_t corner) {
  const std::uint32_t spot = ground_.spot(corner);
  Known& k = known_[spot];
  if (knownIn_[spot] != generation_) {
    knownIn_[spot] = generation_;
    k = {std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};
  }
  return k;
}

/// Going away from an end of the edge, the way along the edge grows by what one goes, and the way from the root by no more: it is enough to
/// compare them at the far end of the view.
bool Search::isBeaten(const Node& view) {
  constexpr double kRounded = 1e-7;
  const auto& mesh = ground_.mesh();
  const auto corners = mesh.cornersOf(view.face);
  const double cost = perMetre(view.face), left = view.g + cost * lengthFrom(view, view.left),
               right = view.g + cost * lengthFrom(view, view.right);
  // On the way to a place between the ends more may be left off.
  const double more = kRounded + (view.loose > 0 ? cost * mostLeftOff(distanceToSegment(view.right, view.left, view.root), view.loose) : 0);
  const std::size_t leftCorner = view.edge, rightCorner = view.edge + 1 == corners.size() ? 0 : view.edge + 1;
  const std::uint32_t leftVertex = corners[leftCorner], rightVertex = corners[rightCorner], first = mesh.start[index(view.face)];
  const Vec2 leftEnd = plan(mesh.vertices[leftVertex]), rightEnd = plan(mesh.vertices[rightVertex]);
  Known &atLeft = known(first + static_cast<std::uint32_t>(leftCorner)), &atRight = known(first + static_cast<std::uint32_t>(rightCorner));
  if (left < atLeft.atMost && isSamePoint(leftEnd, view.left) && ground_.whole(leftVertex)) atLeft.atMost = left;
  if (right < atRight.atMost && isSamePoint(rightEnd, view.right) && ground_.whole(rightVertex)) atRight.atMost = right;
  // How far it is along the edge is asked only where it may matter: it is at least nothing.
  return (right > atLeft.atMost + more && right > atLeft.atMost + cost * glm::distance(leftEnd, view.right) + more) ||
         (left > atRight.atMost + more && left > atRight.atMost + cost * glm::distance(rightEnd, view.left) + more);
}

void Search::push(const Node& node, double f) {
  if (f >= reached_ || (node.edge != kStart && !node.last && isBeaten(node))) return;
  if (node.last) reached_ = f;
  const std::int32_t n = add(node);
  makeRoom(heap_, most_ + kLeastNodes);
  if (unsorted_) std::push_heap(heap_.begin(), heap_.end(), std::greater<>());
  heap_.emplace_back(f, n);
  unsorted_ = true;
}

void Search::pushAhead(const Node& node) {
  const double ahead = this->ahead(node.root, node.left, node.right);
  const double off = node.loose * (1 + ground_.mostCost());  // how much less a way may cost so far that it bends elsewhere
  push(node, node.g - off + (isGoalless() ? ahead * perMetre(node.face) : eagerness_ * ahead));
}

void Search::begin(const Vec2& root, FaceId face, double g, std::int32_t parent, std::int32_t link, bool forward) {
  const auto& mesh = ground_.mesh();
  const Node start{root, root, root, g, parent, face, kStart, link, kStart, false, forward};
  for (std::size_t c = 0; c < mesh.cornerCount(face); ++c)
    if (isSamePoint(plan(mesh.cornerAt(face, c)), root)) return beginAround(start, c);
  pushAhead(start);
}

/// A start at a corner sees the faces around it. Each gets a start of its own that does not look over the edges at the corner: going from
/// face to face over these would lead around an inner corner for ever, for it never costs anything.
void Search::beginAround(const Node& first, std::size_t corner) {
  const auto& mesh = ground_.mesh();
  const FaceId face = first.face;
  const std::uint32_t vertex = mesh.cornersOf(face)[corner];
  Node node = first;
  node.fan = true;
  const auto start = [&](FaceId f) { node.face = f, pushAhead(node); };
  start(face);
  // To the left over the edge that ends at the corner, to the right over the one that begins there.
  for (const bool left : {true, false}) {
    FaceId at = face;
    while (true) {
      const auto corners = mesh.cornersOf(at);
      const auto c = static_cast<std::size_t>(std::ranges::find(corners, vertex) - corners.begin());
      const std::size_t edge = left ? (c + corners.size() - 1) % corners.size() : c;
      const FaceId next = mesh.acrossOf(at)[edge];
      if (next == face) return;  // all around
      if (next == kNoFace || meets(at, edge)) break;
      start(next), at = next;
    }
  }
}

/// At least this much is still to come: the straight way to the goal through the interval, at the least cost of any area.
double Search::ahead(const Vec2& root, const Vec2& left, const Vec2& right) const {
  if (isGoalless()) return distanceToSegment(right, left, root);  // anything behind the interval may be asked for
  Vec2 goal = plan(seen_ ? between_.position : goal_.position);
  const Vec2 edge = left - right;
  const double length2 = glm::dot(edge, edge);
  if (length2 > 0) {
    // The root is on the left of the edge from right to left, or on it; a goal there is behind the edge, and mirrored.
    if (const double side = cross(edge, goal - right); side > 0) goal -= leftOf(edge) * (2 * side / length2);
  }
  double distance;
  if (cross(left - root, goal - root) > 0 && !isSamePoint(left, root))
    distance = glm::distance(root, left) + glm::distance(left, goal);
  else if (cross(right - root, goal - root) < 0 && !isSamePoint(right, root))
    distance = glm::distance(root, right) + glm::distance(right, goal);
  else
    distance = glm::distance(root, goal);
  return leastCost(root, distance);
}

/// Of any way to the goal of this length at least. What is saved is saved on cheap ground: one has to get there, and from there to the
/// goal.
double Search::leastCost(const Vec2& from, double distance) const {
  const double least = ground_.leastCostOver(distance);
  return least < distance ? std::max(least, std::min(distance, ground_.toCheap(from) + goalToCheap_)) : distance;
}

/// Cost from the root to a point of the node's face, through the interval; `bend` is where the way bends, the root when nowhere.
double Search::costTo(const Node& node, const Vec2& p, Vec2* bend) const {
  *bend = bendTowards(node.root, node.right, node.left, p);
  const bool straight = *bend == node.root;
  return (straight ? lengthFrom(node, p) : lengthFrom(node, *bend) + glm::distance(*bend, p)) * perMetre(node.face);
}

/// Whether a fresh start is worth making; it sees all, and is made once.
bool Search::better(std::vector<Best>& best, std::size_t key, double g) {
  Best& b = best[key];
  if (b.generation == generation_ && g > b.g - kSame) return false;
  b = {generation_, g};
  return true;
}

/// Whether a way to a bend is worth following: also when it is only as good as the best so far, because it may see other parts of the
/// ground.
bool Search::betterBend(FaceId face, std::size_t corner, double g) {
  Known& k = known(ground_.mesh().start[index(face)] + static_cast<std::uint32_t>(corner));
  if (g > k.bend + kSame) return false;
  k.bend = std::min(g, k.bend);
  return true;
}

void Search::expand(std::int32_t n, bool isOld) {
  const Node node = nodes_[static_cast<std::size_t>(n)];
  if (isOld && node.edge != kStart && isBeaten(node)) return;  // by what was learnt since
  if (seen_) seen_->push_back({node.face, node.root, node.right, node.left, node.g});
  if (node.face == goal_.face || !linksAt(node.face).empty()) reachPoints(n);
  if (node.edge == kStart)
    lookAround(n, node);
  else
    lookThrough(n, node);
}

/// From a fresh start over every edge of its face.
void Search::lookAround(std::int32_t n, const Node& node) {
  const auto& mesh = ground_.mesh();
  const std::size_t count = mesh.cornerCount(node.face);
  for (std::size_t e = 0; e < count; ++e) {
    const FaceId beyond = mesh.acrossOf(node.face)[e];
    if (beyond == kNoFace ? gatesAt(node.face, e).empty() : !mayGo(node.face, beyond)) continue;
    const Vec2 a = plan(mesh.cornerAt(node.face, e)), b = plan(mesh.cornerAt(node.face, e + 1 == count ? 0 : e + 1));
    // Into dearer ground and straight back over the same edge is never cheaper than staying outside.
    const bool atCorner = isSamePoint(a, node.root) || isSamePoint(b, node.root);
    if (node.fan && atCorner && beyond != kNoFace && !meets(node.face, e)) continue;
    if (beyond != kNoFace && e == node.via && perMetre(node.face) >= perMetre(beyond)) continue;
    leave(n, e, node.root, node.g, a, b);
  }
}

/// From a root through an interval over the other edges of the face behind it.
void Search::lookThrough(std::int32_t n, const Node& node) {
  const auto& mesh = ground_.mesh();
  const auto corners = mesh.cornersOf(node.face);
  const auto across = mesh.acrossOf(node.face);
  const std::size_t count = corners.size();
  const auto after = [count](std::size_t e) { return e + 1 == count ? 0 : e + 1; };
  const double cost = perMetre(node.face);
  const std::uint32_t leftVertex = corners[node.edge], rightVertex = corners[after(node.edge)];
  const bool bendLeft = ground_.bends(leftVertex) && isSamePoint(plan(mesh.vertices[leftVertex]), node.left);
  const bool bendRight = ground_.bends(rightVertex) && isSamePoint(plan(mesh.vertices[rightVertex]), node.right);
  const double gLeft = bendLeft ? node.g + cost * lengthFrom(node, node.left) : 0,
               gRight = bendRight ? node.g + cost * lengthFrom(node, node.right) : 0;
  const bool goLeft = bendLeft && betterBend(node.face, node.edge, gLeft),
             goRight = bendRight && betterBend(node.face, after(node.edge), gRight);
  const Vec2 right = node.right - node.root, left = node.left - node.root;
  for (std::size_t e = after(node.edge); e != node.edge; e = after(e)) {
    if (across[e] == kNoFace ? gatesAt(node.face, e).empty() : !mayGo(node.face, across[e])) continue;
    const Vec2 a = plan(mesh.vertices[corners[e]]), b = plan(mesh.vertices[corners[after(e)]]);  // from right to left
    const Vec2 toA = a - node.root, toB = b - node.root;
    const double rightA = cross(right, toA), rightB = cross(right, toB), leftA = cross(left, toA), leftB = cross(left, toB);
    // The border of a convex face goes from the right end out of view, into view, out of view and back to the left end.
    const double from = rightB < 0 ? 1 : rightA >= 0 ? 0 : rightA / (rightA - rightB);
    const double to = leftA > 0 ? 0 : leftB <= 0 ? 1 : leftA / (leftA - leftB);
    const Vec2 p = from == 0 ? a : from == 1 ? b : glm::mix(a, b, from), q = to == 0 ? a : to == 1 ? b : glm::mix(a, b, to);
    if (from < to) leave(n, e, node.root, node.g, p, q);
    if (goRight && from > 0) leave(n, e, node.right, gRight, a, from < to || from < 1 ? p : b);
    if (goLeft && to < 1) leave(n, e, node.left, gLeft, q, b);
  }
}

/// Ends and links that lie in the node's face.
void Search::reachPoints(std::int32_t n) {
  const Node node = nodes_[static_cast<std::size_t>(n)];
  auto arrive = [&](const Vec2& p, Vec2* at) { return node.g + costTo(node, p, at); };
  Vec2 bend;
  if (node.face == goal_.face) {
    const double g = arrive(plan(goal_.position), &bend);
    push({bend, bend, bend, g, n, node.face, kStart, -1, kStart, true}, g);
  }
  for (const SearchGround::LinkEnd end : linksAt(node.face)) {
    const nav::Link& link = ground_.mesh().links[end.link];
    const bool forward = end.forward != towards_;  // from its foot to its landing, as this search goes
    const FaceId to = forward ? link.toFace : link.fromFace;
    if (ground_.simple().gated[end.link] || !ground_.usable(link) || !mayGo(node.face, to)) continue;
    const Vec3 &foot = forward ? link.from : link.to, &landing = forward ? link.to : link.from;
    const double g = arrive(plan(foot), &bend) + ground_.costOf(link) + entryCost(node.face, to);
    if (!better(bestAtLink_, end.link * 2 + (forward ? 0u : 1u), g)) continue;
    begin(plan(landing), to, g, bentAt(n, bend, node.g), static_cast<std::int32_t>(end.link), forward);
  }
}

/// The number, in the face beyond, of the edge it shares with this face.
std::uint32_t Search::edgeBack(FaceId face, std::size_t edge) const {
  return ground_.edgeBeyond(ground_.mesh().start[index(face)] + static_cast<std::uint32_t>(edge));
}

/// Cuts what of a view from the node's root is better seen from another point; false where all is.
bool Search::refract(const Node& node, EdgeView& view) const {
  const double more =
      loosely_ ? mostLeftOff(distanceToSegment(view.right, view.left, node.root), node.loose + ground_.widestSpacing() / 2) : 0;
  return node.refraction.cut(node.root, view, more);
}

/// Goes out of the node's face through an edge to where it may go, seen from `root`, between right and left.
void Search::leave(std::int32_t n, std::size_t edge, const Vec2& root, double g, const Vec2& right, const Vec2& left) {
  const Node& node = nodes_[static_cast<std::size_t>(n)];
  const FaceId to = ground_.mesh().acrossOf(node.face)[edge];
  if (to == kNoFace) return passGates(n, edge, root, g, right, left);
  EdgeView view{right, left};
  if (root == node.root && node.edge == kStart && node.refraction.any() && !refract(node, view)) return;
  if (const Vec2 wide = view.left - view.right; glm::dot(wide, wide) < kLeast * kLeast) return;
  if (meets(node.face, edge)) return crossInto(n, edge, to, root, g, view);
  const std::uint32_t back = edgeBack(node.face, edge);
  if (!seesAlong(root, view.right, view.left)) {
    Node through{root, view.left, view.right, g, n, to, back, -1, kStart, false};
    if (root == node.root) through.loose = node.loose;
    return pushAhead(through);
  }
  // From a place on the edge's own line its face is seen from the nearer end only, and only where a way may bend there: around any
  // other corner the ground is free, and the way goes on elsewhere. Taken as it is, the view would be empty, and ways that cross
  // such an edge to and fro would never end.
  const bool rightIsNear = glm::distance(root, right) < glm::distance(root, left);
  const Vec2 near = rightIsNear ? right : left;
  const auto corners = ground_.mesh().cornersOf(node.face);
  const std::size_t corner = rightIsNear ? edge : (edge + 1) % corners.size();
  const double there = g + (root == node.root ? lengthFrom(node, near) : glm::distance(root, near)) * perMetre(node.face);
  if (!isSamePoint(plan(ground_.mesh().vertices[corners[corner]]), near) || !ground_.bends(corners[corner]) ||
      !betterBend(node.face, corner, there))
    return;
  pushAhead({near, left, right, there, bentAt(n, root, g), to, back, -1, kStart, false});
}

std::span<const Gate> Search::gatesAt(FaceId face, std::size_t edge) const {
  return ground_.gates(ground_.mesh().start[index(face)] + static_cast<std::uint32_t>(edge), towards_);
}

/// Over wide links at an edge of the border, as far as they are seen: on behind them from where the root would lie without the gap.
void Search::passGates(std::int32_t n, std::size_t edge, const Vec2& root, double g, const Vec2& right, const Vec2& left) {
  const Node node = nodes_[static_cast<std::size_t>(n)];
  const auto& mesh = ground_.mesh();
  const auto sideOf = [&](FaceId face, std::size_t e) {
    return std::pair(plan(mesh.cornerAt(face, e)), plan(mesh.cornerAt(face, (e + 1) % mesh.cornerCount(face))));
  };
  const auto [a, b] = sideOf(node.face, edge);
  const auto along = [a = a, b = b](const Vec2& p) { return glm::dot(p - a, b - a); };
  for (const Gate& gate : gatesAt(node.face, edge)) {
    const nav::Link& link = mesh.links[gate.link];
    if (!ground_.usable(link) || !mayGo(node.face, gate.inFace)) continue;
    const Vec2 r = along(right) < along(gate.right) ? gate.right : right, l = along(left) > along(gate.left) ? gate.left : left;
    if (along(l) <= along(r)) continue;
    // On to the very edge there: what lay behind a view would be out of it on both sides.
    const std::uint32_t in = gate.in - mesh.start[index(gate.inFace)];
    const auto [c, d] = sideOf(gate.inFace, in);
    const Vec2 seenRight = nearestOnSegment(c, d, r + gate.by), seenLeft = nearestOnSegment(c, d, l + gate.by), shifted = root + gate.by;
    const double view = glm::distance(seenRight, seenLeft), total = g + ground_.costOf(link);
    if (view < kLeast) continue;
    const auto number = static_cast<std::int32_t>(gate.link);
    if (cross(seenRight - shifted, seenLeft - shifted) > kBeforeEdge * view) {
      Node through{shifted, seenLeft, seenRight, total, n, gate.inFace, in, number, kStart, false, gate.forward};
      if (root == node.root) through.loose = node.loose;
      pushAhead(through);
    } else if (along(root) >= along(r) - kSame && along(root) <= along(l) + kSame) {
      // On the edge itself there is but one place to leave from.
      begin(nearestOnSegment(c, d, shifted), gate.inFace, total, bentAt(n, root, g), number, gate.forward);
    }
  }
}

/// The node to come from after a bend at `root`, an end of the node's interval or its own root.
std::int32_t Search::bentAt(std::int32_t n, const Vec2& root, double g) {
  const Node& node = nodes_[static_cast<std::size_t>(n)];
  if (root == node.root) return n;
  const std::int32_t bend = add({root, root, root, g, n, node.face, kStart, -1, kStart, false});
  nodes_[static_cast<std::size_t>(bend)].open = false;
  return bend;
}

/// Into an area of another kind: a new start at each point of the edge that is seen.
void Search::crossInto(std::int32_t n, std::size_t edge, FaceId to, const Vec2& root, double g, const EdgeView& view) {
  const Node node = nodes_[static_cast<std::size_t>(n)];
  const auto& mesh = ground_.mesh();
  Crossing c{.from = n, .to = to, .back = edgeBack(node.face, edge), .root = root, .view = view};
  const std::uint32_t corner = mesh.start[index(node.face)] + static_cast<std::uint32_t>(edge);
  c.first = ground_.firstPoint(corner), c.count = ground_.pointCount(corner);
  c.a = plan(mesh.cornerAt(node.face, edge));
  const Vec2 whole = plan(mesh.cornerAt(node.face, (edge + 1) % mesh.cornerCount(node.face))) - c.a;
  c.step = whole / static_cast<double>(c.count - 1), c.spacing = glm::length(c.step);
  c.isAlong = std::abs(cross(whole, root - c.a)) <= kBeforeEdge * glm::length(whole);
  c.rootLoose = root == node.root ? node.loose : 0;
  c.perMetre = perMetre(node.face), c.atRoot = g, c.g = g + entryCost(node.face, to);
  const double right = glm::distance(c.a, view.right), left = glm::distance(c.a, view.left);
  bool any = false;
  for (std::uint32_t i = 0; i < c.count; ++i)
    if (const double along = c.spacing * i; along >= right - kSame && along <= left + kSame) startAt(c, i), any = true;
  // A narrow view between two points; not where both are better reached otherwise.
  if (!any && !(view.cutRight && view.cutLeft)) startBetween(c, (right + left) / 2, loosely_ ? (left - right) / 2 : 0);
}

/// From the root, which is as straight wherever along the edge where it lies on the edge's line.
double Search::Crossing::lengthTo(const Vec2& p, double loose) const {
  const double straight = glm::distance(root, p);
  return isAlong ? straight : leastOf(straight, loose + rootLoose);
}

/// At a point of the edge.
void Search::startAt(Crossing& c, std::uint32_t i) {
  const Vec2 p = c.a + c.step * static_cast<double>(i);
  const double loose = loosely_ ? c.spacing / 2 : 0, length = c.lengthTo(p, loose), g = c.g + c.perMetre * length;
  if (!better(bestAtPoint_, c.first + i, g)) return;
  Node start{p, p, p, g, c.from, c.to, kStart, -1, c.back, false};
  start.loose = static_cast<float>(loose), start.refraction.step = c.step;
  const double ratio = c.perMetre / perMetre(c.to);
  const auto seen = [&](const Vec2& q) {  // from right to left
    return glm::dot(q - c.view.right, c.step) >= -kSame * c.spacing && glm::dot(q - c.view.left, c.step) <= kSame * c.spacing;
  };
  if (i + 1 < c.count && (c.view.cutLeft || seen(p + c.step)))
    start.refraction.left = static_cast<float>(ratio * (c.lengthTo(p + c.step, loose) - length));
  if (i > 0 && (c.view.cutRight || seen(p - c.step)))
    start.refraction.right = static_cast<float>(ratio * (c.lengthTo(p - c.step, loose) - length));
  if (!start.refraction.isNever()) goOver(c, start);
}

/// Anywhere else, between two points. Who is there may go to it along the edge.
void Search::startBetween(Crossing& c, double along, double loose) {
  const Vec2 p = c.a + c.step * (along / c.spacing);
  const double g = c.g + c.perMetre * c.lengthTo(p, loose), perMetreAlong = perMetre(c.to);
  const auto i = std::min(c.count - 2, static_cast<std::uint32_t>(along / c.spacing));
  for (const std::uint32_t k : {i, i + 1})
    if (const Best& best = bestAtPoint_[c.first + k];
        best.generation == generation_ && g >= best.g + perMetreAlong * std::abs(along - c.spacing * k))
      return;
  Best& between = bestBetween_[c.first + i];
  if (between.generation == generation_ && g >= between.g + perMetreAlong * c.spacing) return;
  if (between.generation != generation_ || g < between.g) between = {generation_, g};
  Node start{p, p, p, g, c.from, c.to, kStart, -1, c.back, false};
  start.loose = static_cast<float>(loose);
  goOver(c, start);
}

void Search::goOver(Crossing& c, Node& start) {
  if (!std::exchange(c.bent, true)) c.from = bentAt(c.from, c.root, c.atRoot);
  start.parent = c.from;
  pushAhead(start);
}

}  // namespace dune::route
