#pragma once
// The shortest way in space over ground of one cost: a way that is straight in plan goes over a hill or a ramp where one beside it, no
// longer in plan or a little, climbs less.
//
// 1. Views of edges are carried on from triangle to triangle, each folded flat into the plane of the one before, so that a way is straight
//    where it does not bend: "windows" (Mitchell, Mount & Papadimitriou, "The discrete geodesic problem", SIAM J. Comput. 1987; Chen & Han,
//    "Shortest paths on a polyhedron", SoCG 1990). Ways bend at corners of the border, and within the ground at saddles alone.
// 2. A view of which each place is reached sooner over an end of its edge is left out (Xin & Wang, ACM TOG 2009).
// 3. The most promising one is taken first: no way is shorter than what it is as the crow flies, nor than it is in plan (plan_ahead.h), and
//    what cannot be better than the way in plan is not looked at.
// 4. Where that would take too long it ends, and says what no way can be below.
// 5. Exact for the mesh as triangles (facets.h).

#include <limits>

#include "core/base/job.h"
#include "core/base/plan_geometry.h"
#include "core/route/link_feet.h"
#include "core/route/way_point.h"

namespace dune::route {

class Field;
class PlanAhead;

class SlopeSearch {
 public:
  explicit SlopeSearch(const Field& field, Heading heading = Heading::from);
  /// Bytes for each view that may be looked at, at most, besides four a corner of the mesh.
  static constexpr std::size_t kMemoryAView = 1024;

  struct Found {
    std::vector<WayPoint> way;  ///< empty: none is shorter
    double least;               ///< no way is shorter than this
    bool all;                   ///< whether it is the shortest, or none is shorter
  };
  /// The shortest way in space over ground of the start's class, where it is shorter than `length`, which some way is. Looks at `most`
  /// views at most, and then at as many more for the first one that is shorter, eager to get there (Pohl 1970). `ahead`: of these ways;
  /// without it what is to come is taken for as long as it is as the crow flies. `links`: over them too, which are to be plain().
  Found find(const nav::Place& start, const nav::Place& goal, double length, const PlanAhead* ahead, bool links, std::size_t most);
  /// The same of ways that do not bend, and not over links.
  Found findStraight(const nav::Place& start, const nav::Place& goal, double length);
  /// Looks at everything that is no farther from a place than `most` metres in space, links included, which are to be plain(), or with
  /// Heading::to from where the place is no farther. False where it was cancelled, or there is too much of it.
  bool spread(const nav::Place& place, double most, std::size_t mostViews, Job& job);
  /// How far a place is from the one that was spread out from, metres, and over which place on its triangle one comes to it, or goes.
  struct Reached {
    double length;
    Vec3 over;
  };
  /// Infinitely far where nothing was seen; beyond `most` never less than it is. O(views of its triangle).
  Reached reached(const nav::Place& place) const;
  const LinkFeet& links() const { return links_; }

  /// How many views the last search looked at.
  std::size_t viewsMade() const { return views_.size(); }
  /// What it takes now, bytes.
  std::size_t memory() const;

 private:
  enum class Sort : std::uint8_t { through, corner, landing, arrival };
  struct View {
    Vec2 root;        // seen from the edge: x along it from its first corner, y below it
    double from, to;  // the interval along the edge; of a corner: `from` is the angle from the triangle's edge there to where the way comes
    double g;         // length of the way to the root
    std::int32_t parent;
    Facet facet;        // to go on in
    std::uint8_t part;  // the edge of it that is looked through, or the corner
    Sort sort;
    std::uint32_t link = 0;  // number of the foot that is landed from
  };
  /// What is known of a spot, or of the landing of a link.
  struct Known {
    std::uint32_t spot = 0;
    std::uint32_t ties = 0;                                  // how many ways as short as `least` there are
    double ahead = -1;                                       // to the goal at least; below zero: not asked yet
    double least = std::numeric_limits<double>::infinity();  // the shortest way to it so far
    FacetPart from{};                                        // by which the last one came, and from which side
    double angle = 0;
  };

  /// The corner of a triangle that is on neither the edge that is come through nor the one that is left over.
  struct Third {
    Vec2 at{0};
    double least = std::numeric_limits<double>::infinity();  // the shortest way to it so far
    bool onLeft = false;
  };
  struct Seen;

  void clear();
  void step(std::int32_t n);
  void begin(const Facet& at, const Vec3& start, double g, std::int32_t parent);
  void lookThrough(std::int32_t n);
  void turnAt(std::int32_t n);
  void lookPast(std::int32_t n, const Facet& t, unsigned corner, double low, double high);
  void push(std::int32_t parent, double g, const Facet& t, unsigned edge, const Vec2& root, const Vec2& first, const Vec2& last,
            Interval part, const Third& third);
  void reach(const Facet& t, unsigned corner, double angle, double g, std::int32_t parent);
  template <class DistanceTo>
  void lookIn(const Facet& t, unsigned edge, double g, std::int32_t n, DistanceTo&& distanceTo);
  void arrive(double g, std::int32_t parent);
  void takeOff(std::size_t foot, double g, std::int32_t parent);
  double aheadFrom(const Facet& t, const Vec3& at) const;
  double aheadOf(const Facet& t, unsigned corner);
  Seen seenBy(const View& view, double length);
  static bool isBeaten(const View& view, const Seen& seen);
  double leastThrough(const View& view, const Seen& seen);
  Known& known(const Facet& t, unsigned corner);
  void add(const View& view, double f);
  void beEager();
  double keyOf(const View& view, double f) const { return view.g + eagerness_ * (f - view.g); }
  std::vector<WayPoint> wayTo(std::int32_t last) const;

  const Facets& facets_;
  const LinkFeet links_;
  const PlanAhead* ahead_ = nullptr;
  bool overLinks_ = false, spreads_ = false, bends_ = true;
  std::vector<Facet> around_;  // where it begins
  Vec3 startAt_{}, goalAt_{};  // on the triangles
  Facet startFacet_, goalFacet_;
  double best_ = 0, eagerness_ = 1;
  std::vector<View> views_;
  std::vector<std::pair<double, std::int32_t>> heap_;
  std::vector<std::uint32_t> slotOf_;    // one a spot: its number among the known ones, if it is that
  std::vector<Known> known_, landings_;  // landings: one a foot
  /// A triangle that was begun in, or that is seen.
  struct InFacet {
    Facet facet;
    std::int32_t view;  // or none: begun
    Vec3 begun;
    double g;
  };
  std::vector<InFacet> seen_;  // by triangle, once it has spread out
};

}  // namespace dune::route
