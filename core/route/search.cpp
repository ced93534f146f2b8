// Names: a node is a root (the last bend) and an interval of an edge that the root sees; expanding it goes on into the face
// behind the edge. What the root sees of the face's other edges keeps the root; what is hidden behind an end of the interval
// is reached by bending at that end, when the end is a corner at which a shortest path may bend at all.

#include "core/route/search.h"

#include <algorithm>
#include <limits>

#include "core/base/plan_geometry.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::kNoFace;
using nav::Place;

constexpr double kSame = 1e-9;   // metres, in plan: coordinates are multiples of 1/1024 or crossings of such lines
constexpr double kLeast = 1e-7;  // metres: shorter intervals see nothing

/// Whether both ends of an edge lie in one direction from a root that is not on the edge.
bool seesAlong(const Vec2& root, const Vec2& right, const Vec2& left) {
  const double dr = glm::distance(root, right), dl = glm::distance(root, left);
  return dr > kSame && dl > kSame && glm::dot(right - root, left - root) > 0 &&
         std::abs(cross(right - root, left - root)) <= kSame * std::max(dr, dl);
}

bool same(const Vec2& a, const Vec2& b) { return std::abs(a.x - b.x) <= kSame && std::abs(a.y - b.y) <= kSame; }

}  // namespace

std::vector<WayPoint> Search::find(const Place& start, const Place& goal) {
  lowerBound_ = std::numeric_limits<double>::infinity();
  if (!run(start, goal)) return {};
  std::vector<WayPoint> way = unwind(found_, start, goal);
  boundFrom(way);
  return way;
}

/// The search is exact in plan, and no way is shorter in space than in plan; only crossings between areas are rounded.
void Search::boundFrom(const std::vector<WayPoint>& way) {
  double slack = 0;
  for (std::size_t i = 1; i < way.size(); ++i)
    if (way[i - 1].link < 0 && field_.differ(way[i].face, way[i - 1].face))
      slack += field_.widestSpacing() / 2 * (perMetre(way[i].face) + perMetre(way[i - 1].face));
  slack += 2 * field_.widestSpacing() / 2 * (field_.mostCost() + 1);  // two crossings more; nothing where areas never meet
  const Vec2 from = plan(way.front().at);
  const double straight = leastCost(from, glm::distance(from, plan(way.back().at)));
  lowerBound_ = std::max(straight, nodes_[static_cast<std::size_t>(found_)].g - slack);
}

bool Search::run(const Place& start, const Place& goal) {
  goal_ = goal, found_ = -1;
  goalToCheap_ = field_.toCheap(plan(goal.position));
  nodes_.clear(), heap_.clear();
  ++generation_;
  const auto& mesh = field_.mesh();
  bestAtVertex_.resize(mesh.vertices.size());
  atMost_.resize(mesh.vertices.size());
  bestAtPoint_.resize(field_.allPoints());
  bestAtLink_.resize(mesh.links.size() * 2);
  if (!start.valid() || !goal.valid() || !field_.passable(start.face) || !field_.passable(goal.face)) return false;
  begin(plan(start.position), start.face, 0, -1, -1);
  while (!heap_.empty()) {
    std::pop_heap(heap_.begin(), heap_.end(), std::greater<>());
    const std::int32_t n = heap_.back().second;
    heap_.pop_back();
    if (nodes_[static_cast<std::size_t>(n)].last) {
      found_ = n;
      return true;
    }
    expand(n);
  }
  return false;
}

void Search::learn(std::uint32_t vertex, double g) {
  if (!field_.whole(vertex)) return;
  Best& b = atMost_[vertex];
  if (b.generation != generation_ || g < b.g) b = {generation_, g};
}

void Search::learnFrom(const Node& view) {
  const auto& mesh = field_.mesh();
  const auto corners = mesh.cornersOf(view.face);
  const std::uint32_t atLeft = corners[view.edge], atRight = corners[(view.edge + 1) % corners.size()];
  const double cost = perMetre(view.face);
  if (same(plan(mesh.vertices[atLeft]), view.left)) learn(atLeft, view.g + cost * glm::distance(view.root, view.left));
  if (same(plan(mesh.vertices[atRight]), view.right)) learn(atRight, view.g + cost * glm::distance(view.root, view.right));
}

/// Going away from an end of the edge, the way along the edge grows by what one goes, and the way from the root by no more: it is enough to
/// compare them at the far end of the view.
bool Search::isBeaten(const Node& view) const {
  constexpr double kMore = 1e-7;
  const auto& mesh = field_.mesh();
  const auto corners = mesh.cornersOf(view.face);
  const double cost = perMetre(view.face);
  const auto beats = [&](std::uint32_t vertex, const Vec2& far) {
    const Best& b = atMost_[vertex];
    return b.generation == generation_ &&
           view.g + cost * glm::distance(view.root, far) > b.g + cost * glm::distance(plan(mesh.vertices[vertex]), far) + kMore;
  };
  return beats(corners[view.edge], view.right) || beats(corners[(view.edge + 1) % corners.size()], view.left);
}

void Search::push(const Node& node) {
  if (node.edge != kStart && !node.last) {
    learnFrom(node);
    if (isBeaten(node)) return;
  }
  nodes_.push_back(node);
  heap_.emplace_back(node.f, static_cast<std::int32_t>(nodes_.size() - 1));
  std::push_heap(heap_.begin(), heap_.end(), std::greater<>());
}

void Search::begin(const Vec2& root, FaceId face, double g, std::int32_t parent, std::int32_t link, bool forward) {
  const auto& mesh = field_.mesh();
  const Node start{root, root, root, g, g + ahead(root, root, root), parent, face, kStart, link, kStart, false, forward};
  for (std::size_t c = 0; c < mesh.cornerCount(face); ++c)
    if (same(plan(mesh.cornerAt(face, c)), root)) return beginAround(start, c);
  push(start);
}

/// A start at a corner sees the faces around it. Each gets a start of its own that does not look over the edges at the corner: going from
/// face to face over these would lead around an inner corner for ever, for it never costs anything.
void Search::beginAround(const Node& first, std::size_t corner) {
  const auto& mesh = field_.mesh();
  const FaceId face = first.face;
  const std::uint32_t vertex = mesh.cornersOf(face)[corner];
  Node node = first;
  node.fan = true;
  const auto start = [&](FaceId f) { node.face = f, push(node); };
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
      if (next == kNoFace || !field_.passable(next) || meets(at, edge)) break;
      start(next), at = next;
    }
  }
}

/// At least this much is still to come: the straight way to the goal through the interval, at the least cost of any area.
double Search::ahead(const Vec2& root, const Vec2& left, const Vec2& right) const {
  Vec2 goal = plan(goal_.position);
  const Vec2 edge = left - right;
  const double length2 = glm::dot(edge, edge);
  if (length2 > 0) {
    const double sideGoal = cross(edge, goal - right), sideRoot = cross(edge, root - right);
    if (sideGoal * sideRoot > 0) goal -= leftOf(edge) * (2 * sideGoal / length2);  // behind the edge: mirrored
  }
  double distance;
  if (cross(left - root, goal - root) > 0 && !same(left, root))
    distance = glm::distance(root, left) + glm::distance(left, goal);
  else if (cross(right - root, goal - root) < 0 && !same(right, root))
    distance = glm::distance(root, right) + glm::distance(right, goal);
  else
    distance = glm::distance(root, goal);
  return leastCost(root, distance);
}

/// Of any way to the goal of this length at least. What is saved is saved on cheap ground: one has to get there, and from there to the
/// goal.
double Search::leastCost(const Vec2& from, double distance) const {
  const double least = field_.leastCostOver(distance);
  return least < distance ? std::max(least, std::min(distance, field_.toCheap(from) + goalToCheap_)) : distance;
}

/// Cost from the root to a point of the node's face, through the interval; `bend` is where the way bends, the root when nowhere.
double Search::costTo(const Node& node, const Vec2& p, Vec2* bend) const {
  *bend = node.root;
  if (node.edge != kStart) {
    if (cross(node.left - node.root, p - node.root) > kSame && !same(node.left, node.root))
      *bend = node.left;
    else if (cross(node.right - node.root, p - node.root) < -kSame && !same(node.right, node.root))
      *bend = node.right;
  }
  return (glm::distance(node.root, *bend) + glm::distance(*bend, p)) * perMetre(node.face);
}

/// Whether a way to a bend is worth following. `again`: also when it is only as good as the best so far, because it may see
/// other parts of the ground; a fresh start sees all, and is made once.
bool Search::better(std::vector<Best>& best, std::size_t key, double g, bool again) {
  Best& b = best[key];
  if (b.generation == generation_ && g > b.g + (again ? kSame : -kSame)) return false;
  b = {generation_, b.generation == generation_ ? std::min(g, b.g) : g};
  return true;
}

void Search::expand(std::int32_t n) {
  const Node node = nodes_[static_cast<std::size_t>(n)];
  const auto& mesh = field_.mesh();
  if (node.edge != kStart && isBeaten(node)) return;  // by what was learnt since
  reachPoints(n);
  const std::size_t count = mesh.cornerCount(node.face);
  if (node.edge == kStart) {
    for (std::size_t e = 0; e < count; ++e) {
      // Into dearer ground and straight back over the same edge is never cheaper than staying outside.
      const bool atCorner =
          same(plan(mesh.cornerAt(node.face, e)), node.root) || same(plan(mesh.cornerAt(node.face, (e + 1) % count)), node.root);
      if (node.fan && atCorner && !meets(node.face, e)) continue;
      if (e == node.via && perMetre(node.face) >= perMetre(mesh.acrossOf(node.face)[e])) continue;
      leave(n, e, node.root, node.g, plan(mesh.cornerAt(node.face, e)), plan(mesh.cornerAt(node.face, (e + 1) % count)));
    }
    return;
  }
  const double cost = perMetre(node.face);
  const std::uint32_t leftVertex = mesh.cornersOf(node.face)[node.edge], rightVertex = mesh.cornersOf(node.face)[(node.edge + 1) % count];
  const bool bendLeft = same(plan(mesh.vertices[leftVertex]), node.left) && field_.bends(leftVertex);
  const bool bendRight = same(plan(mesh.vertices[rightVertex]), node.right) && field_.bends(rightVertex);
  const double gLeft = node.g + cost * glm::distance(node.root, node.left), gRight = node.g + cost * glm::distance(node.root, node.right);
  const bool goLeft = bendLeft && better(bestAtVertex_, leftVertex, gLeft, true);
  const bool goRight = bendRight && better(bestAtVertex_, rightVertex, gRight, true);
  for (std::size_t k = 1; k < count; ++k) {
    const std::size_t e = (node.edge + k) % count;
    const Vec2 a = plan(mesh.cornerAt(node.face, e)), b = plan(mesh.cornerAt(node.face, (e + 1) % count));  // from right to left
    const double rightA = cross(node.right - node.root, a - node.root), rightB = cross(node.right - node.root, b - node.root);
    const double leftA = cross(node.left - node.root, a - node.root), leftB = cross(node.left - node.root, b - node.root);
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
    push({bend, bend, bend, g, g, n, node.face, kStart, -1, kStart, true});
  }
  for (const Field::LinkEnd end : field_.linksFrom(node.face)) {
    const nav::Link& link = field_.mesh().links[end.link];
    const FaceId to = end.forward ? link.toFace : link.fromFace;
    if (!field_.passable(to) || !field_.usable(link)) continue;
    const Vec3 &foot = end.forward ? link.from : link.to, &landing = end.forward ? link.to : link.from;
    const double g = arrive(plan(foot), &bend) + field_.costOf(link) + field_.entryCost(node.face, to);
    if (!better(bestAtLink_, end.link * 2 + (end.forward ? 0u : 1u), g, false)) continue;
    std::int32_t parent = n;
    if (bend != node.root) {
      nodes_.push_back({bend, bend, bend, node.g, 0, n, node.face, kStart, -1, kStart, false});
      parent = static_cast<std::int32_t>(nodes_.size() - 1);
    }
    begin(plan(landing), to, g, parent, static_cast<std::int32_t>(end.link), end.forward);
  }
}

/// The number, in the face beyond, of the edge it shares with this face.
std::uint32_t Search::edgeBack(FaceId face, std::size_t edge, FaceId beyond) const {
  const auto across = field_.mesh().acrossOf(beyond);
  const auto corners = field_.mesh().cornersOf(beyond);
  const std::uint32_t first = field_.mesh().cornersOf(face)[(edge + 1) % field_.mesh().cornerCount(face)];
  std::uint32_t back = 0;  // it begins at the corner where it ends here
  while (across[back] != face || corners[back] != first) ++back;
  return back;
}

/// Goes out of the node's face through an edge, seen from `root`, between right and left.
void Search::leave(std::int32_t n, std::size_t edge, const Vec2& root, double g, const Vec2& right, const Vec2& left) {
  const Node& node = nodes_[static_cast<std::size_t>(n)];
  const FaceId to = field_.mesh().acrossOf(node.face)[edge];
  if (to == kNoFace || !field_.passable(to) || glm::distance(right, left) < kLeast) return;
  if (meets(node.face, edge)) {
    crossInto(n, edge, to, root, g, right, left);
    return;
  }
  const std::uint32_t back = edgeBack(node.face, edge, to);
  if (!seesAlong(root, right, left)) {
    push({root, left, right, g, g + ahead(root, left, right), n, to, back, -1, kStart, false});
    return;
  }
  // From a place on the edge's own line its face is seen from the nearer end only, and only where a way may bend there: around any
  // other corner the ground is free, and the way goes on elsewhere. Taken as it is, the view would be empty, and ways that cross
  // such an edge to and fro would never end.
  const bool rightIsNear = glm::distance(root, right) < glm::distance(root, left);
  const Vec2 near = rightIsNear ? right : left;
  const auto corners = field_.mesh().cornersOf(node.face);
  const std::uint32_t vertex = corners[rightIsNear ? edge : (edge + 1) % corners.size()];
  const double there = g + glm::distance(root, near) * perMetre(node.face);
  if (!same(plan(field_.mesh().vertices[vertex]), near) || !field_.bends(vertex) || !better(bestAtVertex_, vertex, there, true)) return;
  push({near, left, right, there, there + ahead(near, left, right), n, to, back, -1, kStart, false});
}

/// Into an area of another kind: a new start at each point of the edge that is seen.
void Search::crossInto(std::int32_t n, std::size_t edge, FaceId to, const Vec2& root, double g, const Vec2& right, const Vec2& left) {
  const Node node = nodes_[static_cast<std::size_t>(n)];
  const auto& mesh = field_.mesh();
  const std::uint32_t corner = mesh.start[index(node.face)] + static_cast<std::uint32_t>(edge), count = field_.pointCount(corner);
  const Vec2 a = plan(mesh.cornerAt(node.face, edge)), b = plan(mesh.cornerAt(node.face, (edge + 1) % mesh.cornerCount(node.face)));
  const double length = glm::distance(a, b), spacing = length / (count - 1);
  const std::uint32_t back = edgeBack(node.face, edge, to);
  const double from = glm::distance(a, right), until = glm::distance(a, left), cost = perMetre(node.face);
  std::int32_t parent = n;
  auto add = [&](std::uint32_t i, double along) {
    const Vec2 p = glm::mix(a, b, along / length);
    const double total = g + cost * glm::distance(root, p) + field_.entryCost(node.face, to);
    if (!better(bestAtPoint_, field_.firstPoint(corner) + i, total, false)) return;
    if (root != node.root && parent == n) {  // the way bends at the end of the interval first
      nodes_.push_back({root, root, root, g, 0, n, node.face, kStart, -1, kStart, false});
      parent = static_cast<std::int32_t>(nodes_.size() - 1);
    }
    push({p, p, p, total, total + ahead(p, p, p), parent, to, kStart, -1, back, false});
  };
  bool any = false;
  for (std::uint32_t i = 0; i < count; ++i)
    if (const double along = spacing * i; along >= from - kSame && along <= until + kSame) add(i, along), any = true;
  if (!any)
    add(static_cast<std::uint32_t>(std::lround((from + until) / 2 / spacing)), (from + until) / 2);  // a narrow view between two points
}

std::vector<Search::Item> Search::itemsOf(std::int32_t last, const Place& start, const Place& goal) const {
  std::vector<const Node*> chain;
  for (std::int32_t n = last; n >= 0; n = nodes_[static_cast<std::size_t>(n)].parent) chain.push_back(&nodes_[static_cast<std::size_t>(n)]);
  std::reverse(chain.begin(), chain.end());
  const auto& mesh = field_.mesh();
  std::vector<Item> items{{{start.position, start.face, -1}}};
  Vec2 at = plan(start.position);
  auto bendAt = [&](const Vec2& p, FaceId face) {
    if (same(p, at)) {
      items.back().point.face = face;
      return;
    }
    items.push_back({{lift(p, nav::heightOn(mesh, face, p)), face, -1}});
    at = p;
  };
  for (std::size_t i = 1; i < chain.size(); ++i) {
    const Node& node = *chain[i];
    if (node.link >= 0) {
      const nav::Link& link = mesh.links[static_cast<std::size_t>(node.link)];
      const bool forward = node.forward;
      items.push_back({{forward ? link.from : link.to, forward ? link.fromFace : link.toFace, node.link}});
      items.push_back({{forward ? link.to : link.from, node.face, -1}});
      at = node.root;
    } else if (node.edge == kStart) {
      const std::size_t before = items.size();
      bendAt(node.root, node.face);
      if (node.via == kStart || items.size() == before) continue;
      items.back().slides = true;
      items.back().a = plan(mesh.cornerAt(node.face, node.via));
      items.back().b = plan(mesh.cornerAt(node.face, (node.via + 1) % mesh.cornerCount(node.face)));
    } else {
      bendAt(node.root, chain[i - 1]->face);
      items.push_back({{{}, node.face, -1}, &node});
    }
  }
  items.push_back({{goal.position, goal.face, -1}});
  return items;
}

/// Puts the crossings between two bends where the straight line meets their edges; gives the cost of that stretch.
double Search::place(std::vector<Item>& items, std::size_t from, std::size_t to) const {
  const Vec2 before = plan(items[from].point.at), after = plan(items[to].point.at);
  double cost = 0;
  for (std::size_t i = from + 1; i <= to; ++i) {
    Item& item = items[i];
    if (item.crossing) {
      const Vec2 &right = item.crossing->right, &left = item.crossing->left;
      const double top = cross(right - before, after - before), bottom = top - cross(left - before, after - before);
      // A way along the very edge enters it where it is nearest.
      const bool along = std::abs(bottom) <= kLeast * glm::distance(before, after) * kSame;
      const Vec2 at = along ? nearestOnSegment(right, left, before) : glm::mix(right, left, std::clamp(top / bottom, 0.0, 1.0));
      item.turns = !along && (top * bottom < 0 || std::abs(top) > std::abs(bottom));
      item.point.at = lift(at, item.point.at.y);
    }
    cost += glm::distance(plan(items[i - 1].point.at), plan(item.point.at)) * perMetre(items[i - 1].point.face);
  }
  return cost;
}

/// Bends between areas were tried at a few points of each edge only; now each one slides to where the way is cheapest.
/// In its channel the cost is convex in the place of a bend, so a few rounds of golden section settle it.
void Search::relax(std::vector<Item>& items) const {
  constexpr int kRounds = 4, kSteps = 28;
  constexpr double kGolden = 0.381966011250105;
  for (int round = 0; round < kRounds; ++round)
    for (std::size_t i = 1; i + 1 < items.size(); ++i) {
      if (!items[i].slides) continue;
      std::size_t from = i - 1, to = i + 1;
      while (items[from].crossing) --from;
      while (items[to].crossing) ++to;
      if (items[from].point.link >= 0) continue;
      const Vec2 a = items[i].a, b = items[i].b;
      auto costAt = [&](double t) {
        items[i].point.at = lift(glm::mix(a, b, t), items[i].point.at.y);
        const double first = place(items, from, i);
        return first + place(items, i, to);
      };
      const Vec3 old = items[i].point.at;
      const double now = glm::distance(a, plan(old)) / glm::distance(a, b), reach = field_.widestSpacing() / glm::distance(a, b);
      const double before = costAt(now);
      double low = std::max(0.0, now - reach), high = std::min(1.0, now + reach);
      for (int k = 0; k < kSteps; ++k) {
        const double x = low + (high - low) * kGolden, y = high - (high - low) * kGolden;
        if (costAt(x) < costAt(y))
          high = y;
        else
          low = x;
      }
      if (costAt((low + high) / 2) >= before) costAt(now);
    }
}

std::vector<WayPoint> Search::unwind(std::int32_t last, const Place& start, const Place& goal) const {
  std::vector<Item> items = itemsOf(last, start, goal);
  relax(items);
  for (std::size_t from = 0, to = 1; to < items.size(); ++to) {
    if (items[to].crossing) continue;
    place(items, from, to);
    from = to;
  }
  std::vector<WayPoint> way;
  for (Item& item : items) {
    if (item.crossing || item.slides) item.point.at.y = nav::heightOn(field_.mesh(), item.point.face, plan(item.point.at));
    way.push_back(item.point);
    way.back().bend = !item.crossing || item.turns;
  }
  return way;
}

}  // namespace dune::route
