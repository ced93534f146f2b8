#pragma once
// The any-angle search over edge intervals (Cui, Harabor & Grastien, "Compromise-free pathfinding on a navigation mesh",
// IJCAI 2017), with links, and with areas of different cost: where areas meet, paths may bend at points spread along the
// edge (Steiner points; Aleksandrov, Maheshwari & Sack 2005), so that inside one area the path stays exact.
//
// 1. With one cost the path is the shortest in plan.
// 2. With several, boundBelow() gives a cost that no way can be below, from a second search in which each point stands for all places of
//    its edge that are nearest to it. Where a best way bends, what it gains before the edge by bending a little beside it is lost behind
//    it (light), so only what is left of second order is taken off each straight stretch: length - sqrt(length² - loose²), where `loose`
//    is by how much both its ends may be off together.
//    A link as wide as a stretch of border is gone over as an edge is, shifted (gates.h): the way is straight but for the shift. Where it
//    is not along edges of one cost it is tried at lanes (link_lanes.h); then no path with as many such links as the found one is below.
// 3. Intervals that a way through an end of their edge serves better are left out: how far it is to the edge's ends at most is known, and
//    along the edge from there (Xin & Wang, "Improving Chen and Han's algorithm on the discrete geodesic problem", ACM TOG 2009). Without
//    that their number grows with the number of ways around every obstacle. Where areas meet, from each point only what is not better
//    reached over the next one (refraction.h), as far as the first face behind the edge: beyond it the next point may see less.
// 4. Ground that leads nowhere is not entered (dead_ends.h), and heights are not looked at until the way is known (simple_ground.h).
// 5. A Search keeps its memory between queries: no allocation once warm. One Search a thread; the Field is shared. Its memory is bounded:
//    intervals that came to nothing are used again, and where the bound is reached all the same the search begins once more, now eager to
//    get to the goal (weighted A*; Pohl 1970). Then lowerBound() is what was shown until then.
// 6. Asked for by Answers::prepared, over ground that is (prepared.h), nothing of this is done but where the preparation knows no way.

#include "core/base/job.h"
#include "core/route/field.h"
#include "core/route/prepared.h"
#include "core/route/refraction.h"
#include "core/route/search_ground.h"
#include "core/route/seen_from.h"
#include "core/route/settle_way.h"
#include "core/route/way_point.h"

namespace dune::route {

class SlopeSearch;

/// What is looked at for a way that is the shortest in space; some 10 ms at most.
constexpr std::size_t kUsualSlopeViews = 64'000;

/// What a search does over a field that is prepared.
enum class Answers : std::uint8_t {
  searched,  ///< searches all the same: the way is the same whenever it is asked for
  prepared   ///< looks it up: as short, but of two ways that are as short it may be the other one
};

class Search {
 public:
  static constexpr std::size_t kUsualMemory = std::size_t{64} << 20;
  /// `memory`: what it may take at most, bytes; at least what its tables take (20 bytes a corner of the simple ground) and a few hundred
  /// intervals.
  explicit Search(const Field& field, std::size_t memory = kUsualMemory);
  Search(const Field& field, Answers answers) : Search(field) { answers_ = answers; }
  ~Search();
  Search(Search&&) noexcept;

  /// The cheapest way between two places of the mesh, every crossed edge a point; empty when there is none.
  std::vector<WayPoint> find(const nav::Place& start, const nav::Place& goal);
  /// The same, then made the shortest in space as far as that is found with so many views looked at (SpaceWay).
  std::vector<WayPoint> findInSpace(const nav::Place& start, const nav::Place& goal, std::size_t slopeViews = kUsualSlopeViews);
  /// Everything that is seen of faces of the simple ground within a cost of a place, or with `towards` on the ways to it. False when
  /// the bound of the memory was reached before all was seen, or it was cancelled.
  /// With a place `between`: only what lies on ways between the two that cost no more.
  bool spread(const nav::Place& place, double most, bool towards, std::vector<SeenFrom>& seen, Job& job, const nav::Place& between = {});
  /// For the way found last: a cost that no way can be below (see 2.). Where costs meet only the straight way's, before boundBelow().
  double lowerBound() const { return lowerBound_; }
  /// The same, looked for once more where costs meet; `cost`: of the way found.
  double boundBelow(double cost);
  /// How many intervals the last search looked at, for its bound too.
  std::size_t nodesMade() const { return made_; }
  /// Whether the last search reached the bound of its memory: the way is not known to be the best, or, where there is none, was not found.
  bool reachedBound() const { return reachedBound_; }
  /// What it takes now, bytes.
  std::size_t memory() const;

 private:
  struct Node {
    Vec2 root, left, right;  // the interval is on an edge of `face`, seen from the root
    double g;                // cost to the root
    std::int32_t parent;
    nav::FaceId face;    // to go on in; for a last node the goal's
    std::uint32_t edge;  // local number of the edge in `face` that was come through; kStart for a fresh start
    std::int32_t link;   // taken to get to a fresh start, or -1
    std::uint32_t via;   // the edge of `face` that a fresh start between areas lies on, or kStart
    bool last;
    bool forward = true;      // the way that link was taken
    bool fan = false;         // a fresh start at a corner: the faces around it have starts of their own
    bool open = true;         // yet to be expanded
    Refraction refraction{};  // of a fresh start at a point between areas
    float loose = 0;          // m to both sides of the root that it stands for
    std::uint32_t children = 0;
  };
  /// What is known of a spot in this query.
  struct Known {
    double bend, atMost;  // the cost of the best way that bends there, and of any way to it
  };
  /// The cost of the best way to a bend so far in this query.
  struct Best {
    std::uint32_t generation = 0;
    double g = 0;
  };
  static constexpr std::uint32_t kStart = 0xffffffffu;

  /// An edge between two costs, as it is gone over from a root.
  struct Crossing {
    std::int32_t from;  // the node that is gone on from, or that of the bend at the root
    nav::FaceId to;
    std::uint32_t back;  // its number in that face
    Vec2 root;
    EdgeView view;
    std::uint32_t first = 0, count = 0;  // points
    Vec2 a{}, step{};                    // the rightmost point, and from each to the next
    double spacing = 0, rootLoose = 0;
    double perMetre = 1, atRoot = 0, g = 0;  // of the ground before it; cost to the root, and with entering
    bool isAlong = false, bent = false;
    double lengthTo(const Vec2& p, double loose) const;
  };

  void shortenInSpace(std::vector<WayPoint>& way, std::size_t slopeViews);
  std::vector<WayPoint> findPrepared(const Prepared& prepared, const nav::Place& start, const nav::Place& goal);
  double leastInPlan(const nav::Place& from, const nav::Place& to);
  std::vector<WayPoint> findPreparedInPlan(const Prepared& prepared, const nav::Place& from, const nav::Place& to, const nav::Place& goal);
  std::optional<BendTable::Between> overBendsInPlan(const Prepared& flat, const nav::Place& start, const nav::Place& goal);
  const Prepared* prepared(Measure measure) const { return answers_ == Answers::prepared ? field_.prepared(measure) : nullptr; }
  bool isStraight(const Prepared& prepared, const nav::Place& start, const nav::Place& goal);
  enum class Outcome { found, nothing, full };
  Outcome run(const nav::Place& start, const nav::Place& goal, double eagerness, double most = std::numeric_limits<double>::infinity());
  double leastOpen() const;
  void clear();
  std::size_t tables() const;
  std::int32_t add(const Node& node);
  void release(std::int32_t n);
  /// The link of the whole mesh that one of the simple ground is, or is a lane of.
  const nav::Link& wholeLink(std::int32_t link) const {
    return field_.mesh().links[ground_.simple().linkOf[static_cast<std::size_t>(link)]];
  }
  static double lengthFrom(const Node& node, const Vec2& to);
  double linkSlack(const WayStep& foot, const WayStep& landing) const;
  void begin(const Vec2& root, nav::FaceId face, double g, std::int32_t parent, std::int32_t link, bool forward = true);
  void beginAround(const Node& start, std::size_t corner);
  std::int32_t nextOpen(bool& isOld);
  void expand(std::int32_t n, bool isOld);
  void lookAround(std::int32_t n, const Node& node);
  void lookThrough(std::int32_t n, const Node& node);
  void leave(std::int32_t n, std::size_t edge, const Vec2& root, double g, const Vec2& right, const Vec2& left);
  bool refract(const Node& node, EdgeView& view) const;
  std::span<const Gate> gatesAt(nav::FaceId face, std::size_t edge) const;
  void passGates(std::int32_t n, std::size_t edge, const Vec2& root, double g, const Vec2& right, const Vec2& left);
  void crossInto(std::int32_t n, std::size_t edge, nav::FaceId to, const Vec2& root, double g, const EdgeView& view);
  void startAt(Crossing& crossing, std::uint32_t i);
  void startBetween(Crossing& crossing, double along, double loose);
  void goOver(Crossing& crossing, Node& start);
  std::int32_t bentAt(std::int32_t n, const Vec2& root, double g);
  std::uint32_t edgeBack(nav::FaceId face, std::size_t edge) const;
  void reachPoints(std::int32_t n);
  std::span<const SearchGround::LinkEnd> linksAt(nav::FaceId f) const { return towards_ ? ground_.linksInto(f) : ground_.linksFrom(f); }
  double costTo(const Node& node, const Vec2& p, Vec2* bend) const;
  bool better(std::vector<Best>& best, std::size_t key, double g);
  bool betterBend(nav::FaceId face, std::size_t corner, double g);
  Known& known(std::uint32_t corner);
  /// Whether all of a view is reached at less cost along its edge from one of the edge's ends. What the view itself says of how far these
  /// are is learnt first.
  bool isBeaten(const Node& view);
  void push(const Node& node, double f);
  void pushAhead(const Node& node);
  double ahead(const Vec2& root, const Vec2& left, const Vec2& right) const;
  double leastCost(const Vec2& from, double distance) const;
  double perMetre(nav::FaceId f) const { return ground_.perMetre(f); }
  /// Whether a way to the goal may go on in a face, or in none.
  bool mayGo(nav::FaceId from, nav::FaceId to) const { return to != nav::kNoFace && (seen_ || ground_.leadsTo(from, to, goal_.face)); }
  bool isGoalless() const { return seen_ && !between_.valid(); }
  /// Whether another cost begins behind an edge of a face.
  bool meets(nav::FaceId f, std::size_t edge) const {
    return ground_.meets(ground_.mesh().start[index(f)] + static_cast<std::uint32_t>(edge));
  }
  void letSlide(WayStep& foot, WayStep& landing, const Vec2& where, double reach) const;
  std::vector<WayStep> stepsTo(std::int32_t last, const nav::Place& start, const nav::Place& goal) const;

  /// What it costs to go on from one face to another, the way that is walked.
  double entryCost(nav::FaceId from, nav::FaceId to) const { return towards_ ? ground_.entryCost(to, from) : ground_.entryCost(from, to); }

  std::vector<SeenFrom>* seen_ = nullptr;  // while it spreads out
  bool towards_ = false;
  bool loosely_ = false;  // while it looks for a bound
  const Field& field_;
  const SearchGround& ground_;
  nav::Place start_, goal_, between_;  // between: whatever lies on ways to there is spread out over
  double lowerBound_ = 0, linksSlack_ = 0, goalToCheap_ = 0;
  std::vector<Node> nodes_;
  std::vector<std::int32_t> free_;  // nodes that came to nothing
  std::vector<std::pair<double, std::int32_t>> heap_;
  std::uint32_t generation_ = 0;
  std::vector<Known> known_;  // one a spot, as far as it is of this generation
  std::vector<std::uint32_t> knownIn_;
  std::vector<Best> bestAtPoint_, bestBetween_, bestAtLink_;  // between: of any place from a point of an edge to the next one
  std::unique_ptr<SlopeSearch> slopes_;                       // once it is needed
  Answers answers_ = Answers::searched;
  Prepared::Scratch scratch_;
  std::int32_t found_ = -1;
  std::size_t memory_, most_ = 0, made_ = 0;
  double reached_ = 0;                            // the cost of the best way to the goal so far
  double eagerness_ = 1, shown_ = 0;              // a cost that no way is below, from before the bound was reached
  bool reachedBound_ = false, unsorted_ = false;  // whether the last of the heap is not in its place yet
};

}  // namespace dune::route
