#include "core/flight/path.h"

#include <algorithm>
#include <cmath>

#include "core/base/text.h"
#include "core/flight/around.h"
#include "core/flight/connect.h"
#include "core/flight/settle_costs.h"
#include "core/flight/tighten.h"
#include "core/flight/tuning.h"

// Some hundred to some ten thousand cells are looked at per query; each is swept once from the cell that its way comes straight from, when
// it is taken from the heap and not before (Nash, Koenig & Tovey, "Lazy Theta*: any-angle path planning and path length analysis in 3D",
// AAAI 2010). What it finds is then made taut against the triangles.

namespace dune::flight {

namespace {

constexpr NodeId kStart = kNoNode - 1;

}  // namespace

struct Searcher::State {
  explicit State(const Space& s) : space(s), m(s.measure()) {}

  struct Seen {
    double cost = 0;
    NodeId from = kNoNode;
    std::uint32_t round = 0;
    float bending = 0;  // what it costs to bend there, once it is closed
    bool closed = false;
    bool straight = false;  ///< its way from `from` has been swept, or follows a tie
  };
  struct Open {
    double total, cost;
    NodeId node;
    bool operator<(const Open& o) const { return total != o.total ? total > o.total : node > o.node; }
  };

  const Space& space;
  Measure m;
  std::vector<Seen> seen;
  std::uint32_t round = 0;
  std::vector<Open> heap;
  Vec3 to{};
  std::vector<Vec3> fromWay, toWay;  // from the ends to where the cells are entered
  std::vector<NodeId> fromDoors, toDoors;
  struct Elsewhere {
    std::vector<Vec3> shunned = {};                         // where bending costs something
    double most = std::numeric_limits<double>::infinity();  // that a way may cost
    std::size_t mostLooked = ~std::size_t{0};               // cells that may be looked at
  } elsewhere;                                              // while another way is looked for
  std::size_t looked = 0;

  Vec3 placeOf(NodeId n) const { return n == kStart ? fromWay.back() : space.at(n); }

  /// Where a way from `p` enters a cell, and from where on every place of the cell is reached straight.
  Vec3 doorOf(NodeId n, const Vec3& p) const {
    if (space.cell(n).kind != Cell::Kind::free) return space.at(n);
    const Box3 box = space.box(n);
    return glm::clamp(p, box.min, box.max);
  }

  std::vector<NodeId> around(const Vec3& p, int units) const {
    std::vector<NodeId> found;
    const double unit = m.unit();
    for (int x = -units; x <= units; ++x)
      for (int y = -units; y <= units; ++y)
        for (int z = -units; z <= units; ++z)
          if (const NodeId n = space.covering(p + Vec3(x, y, z) * unit); n != kNoNode) found.push_back(n);
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    std::stable_sort(found.begin(), found.end(), [&](NodeId a, NodeId b) {
      const Vec3 da = doorOf(a, p) - p, db = doorOf(b, p) - p;
      return glm::dot(da, da) < glm::dot(db, db);
    });
    return found;
  }

  /// The cells that one gets into from a place, and the way to where they are entered from. Empty where there are none.
  std::vector<NodeId> doors(const Vec3& p, std::vector<Vec3>& way) const {
    way.assign(1, p);
    if (const NodeId n = space.covering(p); n != kNoNode && space.cell(n).kind == Cell::Kind::free) return {n};
    for (int step = 0; step < 8; ++step) {
      for (const int units : {1, 3}) {
        std::vector<NodeId> open;
        for (const NodeId n : around(way.back(), units)) {
          if (!space.clear(way.back(), doorOf(n, way.back()))) continue;
          open.push_back(n);
          if (open.size() == 6) break;
        }
        if (!open.empty()) return open;
      }
      // Away from what is near: towards open space, or along the middle of a gap.
      const Obstacles::Near near = m.obstacles->nearest(way.back(), 4 * m.radius);
      if (near.barrier < 0 || near.distance <= 0) return {};
      const Vec3 next = space.volume().nearest(way.back() + (way.back() - near.on) / near.distance * m.radius);
      if (!space.clear(way.back(), next)) return {};
      way.push_back(next);
    }
    return {};
  }

  void begin() {
    if (seen.size() != space.size()) seen.assign(space.size(), {}), round = 0;
    ++round, heap.clear(), looked = 0;
  }

  void push(NodeId n, NodeId by, double cost, bool straight) {
    Seen& s = seen[n];
    if (by != kStart) cost += static_cast<double>(seen[by].bending);
    if (s.round == round && (s.closed || s.cost <= cost)) return;
    const double total = cost + space.airs().least() * space.length(space.at(n) - toWay.back());
    if (total > elsewhere.most) return;
    s = {cost, by, round, 0, false, straight};
    heap.push_back({total, cost, n});
    std::push_heap(heap.begin(), heap.end());
  }

  double costOf(NodeId n) const { return n == kStart ? 0 : seen[n].cost; }

  /// Far away only what lies in free cells counts as seen; near by everything that is.
  bool sees(NodeId by, NodeId n) const {
    const Vec3 a = placeOf(by), b = space.at(n), way = b - a;
    if (glm::dot(way, way) < tuning::kNear * tuning::kNear * m.unit() * m.unit()) return space.clear(a, b);
    return space.open(a, b);
  }

  /// Sweeps the way that was assumed to be straight; where it is not, the best of the neighbours that were reached is where it comes from.
  void settle(NodeId n) {
    Seen& s = seen[n];
    if (s.straight) return;
    s.straight = true;
    if (sees(s.from, n)) return;
    s.cost = std::numeric_limits<double>::infinity();
    for (const NodeId other : space.next(n)) {
      const Seen& o = seen[other];
      if (o.round != round || !o.closed) continue;
      const double cost = o.cost + space.airs().along(space.at(other), space.at(n)) + static_cast<double>(o.bending);
      if (cost < s.cost) s.cost = cost, s.from = other;
    }
    for (const NodeId door : fromDoors)
      if (door == n) {
        const double cost = space.airs().along(fromWay.back(), space.at(n));
        if (cost < s.cost) s.cost = cost, s.from = kStart;
      }
  }

  bool haveCommonPart() const {
    for (const NodeId a : fromDoors)
      for (const NodeId b : toDoors)
        if (space.part(a) != kNoNode && space.part(a) == space.part(b)) return true;
    return false;
  }

  /// The cell of the start's part that is nearest to the goal. O(cells).
  NodeId nearestOfPart() const {
    NodeId best = fromDoors[0];
    double least = std::numeric_limits<double>::infinity();
    for (NodeId n = 0; n < space.size(); ++n) {
      if (space.part(n) != space.part(fromDoors[0])) continue;
      const double far = space.length(doorOf(n, to) - to);
      if (far < least) least = far, best = n;
    }
    return best;
  }

  /// The last cell of the cheapest way to one of the goal's doors, of whose part one of the start's is; none where it costs too much.
  NodeId search() {
    begin();
    for (const NodeId n : fromDoors) push(n, kStart, space.airs().along(fromWay.back(), space.at(n)), true);
    while (!heap.empty()) {
      std::pop_heap(heap.begin(), heap.end());
      const Open open = heap.back();
      heap.pop_back();
      Seen& s = seen[open.node];
      if (s.closed || open.cost > s.cost) continue;
      settle(open.node);
      if (s.cost > open.cost * (1 + 1e-9) + 1e-9) {  // it was not straight: there may be a cheaper one first
        heap.push_back({s.cost + open.total - open.cost, s.cost, open.node});
        std::push_heap(heap.begin(), heap.end());
        continue;
      }
      s.closed = true, s.bending = bending(open.node);
      if (++looked > elsewhere.mostLooked) return kNoNode;
      if (std::find(toDoors.begin(), toDoors.end(), open.node) != toDoors.end()) return open.node;
      const Vec3 at = placeOf(s.from);
      for (const NodeId next : space.next(open.node)) {
        if (seen[next].round == round && seen[next].closed) continue;
        const Vec3 place = space.at(next);
        // Where air differs the straight way need not be the cheaper one.
        if (space.airs().any()) push(next, open.node, s.cost + space.airs().along(space.at(open.node), place), true);
        push(next, s.from, costOf(s.from) + space.airs().along(at, place), false);
      }
    }
    return kNoNode;
  }

  /// The places of the way to a cell; every stretch is clear.
  std::vector<Vec3> wayTo(NodeId last) const {
    std::vector<NodeId> cells;
    for (NodeId n = last; n != kStart; n = seen[n].from) cells.push_back(n);
    std::reverse(cells.begin(), cells.end());
    std::vector<Vec3> way = fromWay;
    // The first may be seen from the start, or it is entered by its door.
    if (!space.clear(way.back(), space.at(cells[0]))) add(way, doorOf(cells[0], way.back()));
    add(way, space.at(cells[0]));
    for (std::size_t i = 1; i < cells.size(); ++i) {
      if (!space.clear(way.back(), space.at(cells[i]))) follow(way, cells[i - 1], cells[i]);
      add(way, space.at(cells[i]));
    }
    return way;
  }

  static void add(std::vector<Vec3>& way, const Vec3& p) {
    if (way.back() != p) way.push_back(p);
  }

  /// The way between two cells that are tied.
  void follow(std::vector<Vec3>& way, NodeId a, NodeId b) const {
    const bool freeA = space.cell(a).kind == Cell::Kind::free, freeB = space.cell(b).kind == Cell::Kind::free;
    Vec3 middle;
    if (freeA && freeB) {
      if (commonSide(space.box(a), space.box(b), middle)) add(way, middle);
      return;
    }
    const Vec3 pa = space.at(a), pb = space.at(b);
    if (freeA) add(way, doorOf(a, pb));
    if (freeB) add(way, doorOf(b, pa));
  }

  std::vector<Vec3> whole(NodeId last) const {
    std::vector<Vec3> way = wayTo(last);
    add(way, doorOf(last, toWay.back()));
    for (auto p = toWay.rbegin(); p != toWay.rend(); ++p) add(way, *p);
    return way;
  }

  bool endFits(const Vec3& p, const char* which, Way& way) const {
    if (!space.volume().contains(p)) {
      way.why = std::string("The ") + which + " is outside of where it may fly.";
      return false;
    }
    const Obstacles::Near c = space.obstacles().nearest(p, m.swept(), Obstacles::Which::ofLevel);
    if (c.barrier >= 0) {
      way.barrier = c.barrier;
      way.why = std::string("The body does not fit at the ") + which + ": it would be " + text("%.2f m", m.radius - c.distance) +
                " deep in \"" + space.nameOf(c.barrier) + "\".";
      return false;
    }
    return true;
  }

  /// The cheapest of a way, of the taut one that it becomes and of the straight one where that is clear, each settled.
  std::vector<Vec3> cheapest(const std::vector<Vec3>& way) const {
    std::vector<std::vector<Vec3>> ways{way, way};
    tighten(space, ways[1]);
    if (space.clear(way.front(), way.back())) ways.push_back({way.front(), way.back()});
    for (auto& w : ways) settleCosts(space, w);
    return *std::ranges::min_element(ways, {}, [this](const auto& w) { return flight::costOf(space, w); });
  }

  /// The taut way between two places of the air, or as near to the second one as one gets; empty where there is none, with why.
  /// `otherSides`: tried where it is not nearly straight.
  std::vector<Vec3> between(const Vec3& from, const Vec3& goal, Way& way, bool otherSides = true) {
    const auto none = [&](const char* why) { return way.why = why, std::vector<Vec3>(); };
    to = goal;
    fromDoors = doors(from, fromWay);
    if (fromDoors.empty()) return none("The start is in a place without free space around it.");
    if (space.part(fromDoors[0]) == kNoNode) return none("The start is inside a solid.");
    if (!space.airs().any()) {
      if (space.clear(from, to)) return way.outcome = Way::Outcome::found, std::vector{from, to};
      if (std::vector<Vec3> around = aroundOne(space, from, to); !around.empty()) return way.outcome = Way::Outcome::found, around;
    }
    toDoors = doors(to, toWay);
    if (toDoors.empty()) return none("The goal is in a place without free space around it.");
    if (space.part(toDoors[0]) == kNoNode) return none("The goal is inside a solid.");
    way.outcome = Way::Outcome::found;
    if (!haveCommonPart()) {
      way.outcome = Way::Outcome::partial;
      way.why = "No way leads there: it is parted from the start by openings that are too narrow" +
                std::string(space.flyer().keepsHeight() ? ", or by air that is too low or too high for it" : "") +
                (space.boxes().size() > 1 ? ", or by where it may not fly." : ".");
      toDoors.assign(1, nearestOfPart());
      toWay.assign(1, doorOf(toDoors[0], to));
    }
    const NodeId last = search();
    std::vector<Vec3> best = whole(last == kNoNode ? fromDoors[0] : last);
    way.looked = looked;
    if (space.airs().any()) return cheapest(best);
    tighten(space, best);
    if (way.found() && otherSides) tryOtherSides(space, best), searchElsewhere(best);
    return best;
  }

  /// Looks for a shorter way that does not bend where this one does, where that takes little. Cells tell lengths a little too long.
  void searchElsewhere(std::vector<Vec3>& best) {
    if (looked > tuning::kFewCells || !isRoundabout(space, best)) return;
    elsewhere = {{best.begin() + 1, best.end() - 1}, tuning::kCellsLonger * lengthOf(space, best), tuning::kLookAgain * looked};
    const NodeId end = search();
    elsewhere = {};
    if (end == kNoNode) return;
    std::vector<Vec3> other = whole(end);
    tightenRoughly(space, other);
    if (lengthOf(space, other) > tuning::kRoughlyLonger * lengthOf(space, best)) return;
    tighten(space, other);
    if (lengthOf(space, other) < lengthOf(space, best)) best = std::move(other);
  }

  /// What it costs to bend at a place.
  float bending(NodeId n) const {
    if (elsewhere.shunned.empty()) return 0;
    const Vec3 p = space.at(n);
    const double near = tuning::kShunned * m.radius;
    for (const Vec3& q : elsewhere.shunned)
      if (const Vec3 off = p - q; glm::dot(off, off) < near * near) return static_cast<float>(tuning::kBendCosts * m.radius);
    return 0;
  }

  /// The search takes places of cells for where ways bend, which decides now and then on which side of a thing or a zone one goes; from the
  /// other end it decides anew.
  void tryBack(std::vector<Vec3>& way) {
    Way other;
    std::vector<Vec3> back = between(way.back(), way.front(), other, false);
    if (back.empty() || flight::costOf(space, back) >= flight::costOf(space, way)) return;
    std::ranges::reverse(back);
    way = std::move(back);
  }

  /// Where the way begins or ends in the air that it may fly in; `lifts`: that is not the end itself but straight over it. Nothing where
  /// there is no such place.
  std::optional<Vec3> inTheAir(const Vec3& p, const char* which, bool& lifts, Way& way) const {
    const std::string why = space.whyNotSoHigh(p);
    if (why.empty()) return p;
    const std::optional<Vec3> over = space.flyer().hovers() ? space.overLow(p) : std::nullopt;
    lifts = over.has_value();
    if (!lifts) way.why = std::string("The body may not be at the ") + which + ": " + why + ".";
    if (!lifts && !space.flyer().hovers()) way.why += " It must keep moving, so it does not take off or land straight up and down.";
    return over;
  }

  /// Whether it goes straight up or down from one place to another, both of which are too low: it is on its way to land.
  bool isLanding(const Vec3& from, const Vec3& goal) const {
    return std::hypot(from.x - goal.x, from.z - goal.z) <= m.radius && space.clear(from, goal, Obstacles::Which::ofLevel);
  }
};

Searcher::Searcher(const Space& space) : state_(std::make_unique<State>(space)) {}
Searcher::~Searcher() = default;

Way Searcher::find(const Query& query) {
  State& s = *state_;
  Way way;
  const Vec3 from = s.space.stretched(query.from), to = s.space.stretched(query.to);
  if (!s.endFits(from, "start", way) || !s.endFits(to, "goal", way)) return way;
  const auto begins = s.inTheAir(from, "start", way.lifts, way);
  if (!begins) return way;
  const auto ends = s.inTheAir(to, "goal", way.lands, way);
  if (!ends) return way;
  if (way.lifts && way.lands && s.isLanding(from, to)) {
    way.outcome = Way::Outcome::found, way.lifts = false;
    way.points = {query.from, query.to}, way.length = glm::distance(query.from, query.to);
    way.cost = s.space.airs().along(from, to);
    return way;
  }
  std::vector<Vec3> best = s.between(*begins, *ends, way);
  if (best.empty()) return way;
  const bool quick = way.looked < tuning::kFewCells && isRoundabout(s.space, best);
  if (way.found() && (quick || s.space.airs().any())) s.tryBack(best);
  if (way.outcome == Way::Outcome::partial) way.lands = false;
  if (way.lifts) best.insert(best.begin(), from);
  if (way.lands) best.push_back(to);
  way.length = lengthOf(s.space, best), way.cost = flight::costOf(s.space, best);
  for (const Vec3& p : best) way.points.push_back(s.space.real(p));
  way.points.front() = query.from;
  if (way.found()) way.points.back() = query.to;
  way.missing = glm::length(way.points.back() - query.to);
  return way;
}

}  // namespace dune::flight
