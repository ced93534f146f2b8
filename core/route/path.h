#pragma once
// Path queries as people ask them: from here to there, wherever exactly "here" is, with what the answer costs and why.

#include "core/nav/sight.h"
#include "core/route/opening.h"
#include "core/route/search.h"

namespace dune::route {

enum class PathStatus : std::uint8_t { complete, partial, none };

struct PathEnd {
  Vec3 asked{}, used{};
  double moved() const { return glm::distance(asked, used); }
};

struct LinkUse {
  int id;
  std::uint32_t enter, leave;  ///< index into points
};

/// What one kind of ground adds to a path.
struct AreaShare {
  std::uint16_t area;
  double length, cost;
};

/// A part of a path over one kind of ground, or a link.
struct Stretch {
  int link = -1;           ///< its id; below zero: ground
  std::uint16_t kind = 0;  ///< of ground
  Vec3 from{}, to{};
  std::size_t first = 0, last = 0;  ///< from the last of points at or before `from` to the first one at or after `to`
  double length = 0;                ///< metres; of a link through the air
  double cost = 0;                  ///< without what it costs to enter
  double entry = 0;                 ///< what it costs to enter the kind of ground, where the path does so here
};

struct PathAnswer {
  PathStatus status = PathStatus::none;
  std::vector<Vec3> points;        ///< from start.used to the last place reached
  std::vector<nav::FaceId> faces;  ///< crossed, in order
  std::vector<LinkUse> links;
  PathEnd start, goal;
  double length = 0;           ///< along the points, metres
  double cost = 0;             ///< with area, entry and link costs
  double optimalityBound = 1;  ///< the cost is at most this times the best possible; see Search for what it covers where areas differ
  double straight = 0;         ///< start to goal through the air, metres
  double narrowest = 0;        ///< least free width along the way, metres; infinite on links only
  Vec3 narrowestAt{};
  double sharpestTurn = 0;  ///< degrees
  Vec3 sharpestAt{};
  double steepest = 0;  ///< degrees along the way, up or down
  Vec3 steepestAt{};
  std::vector<Stretch> stretches;  ///< all of the way, in order; their costs come to `cost`
  std::vector<AreaShare> shares;   ///< by area, only those used
  double linkCost = 0;             ///< cost of the links, their flights included
  std::string note;                ///< what was moved, or why the goal is not reached; may be empty
  std::vector<Opening> openings;   ///< of a partial path: what findOpenings() found
};

struct PathOptions {
  double reach = 2;    ///< how far from ground start and goal may be, metres
  bool bound = true;   ///< work out optimalityBound
  bool widths = true;  ///< work out narrowest
  /// How much is looked at for the way that is the shortest in space, not in plan alone, see SpaceWay; 0: in plan, where who walks at a
  /// speed in plan is quicker.
  std::size_t slopeViews = kUsualSlopeViews;
};

/// The cheapest path. Never fails: a missing start gives status none, an unreachable goal the way to the reachable place nearest it.
PathAnswer findPath(const Field& field, Search& search, const Vec3& from, const Vec3& to, const PathOptions& options = {});
/// The same from a place on the mesh: where two grounds touch at a corner, on that of its face.
PathAnswer findPath(const Field& field, Search& search, const nav::Place& start, const Vec3& to, const PathOptions& options = {});

/// Finds out for a partial path to a goal on ground what the smallest change is that opens the way, and says so in its note. `reach` as it
/// was asked with. O(mesh); nothing where it is cancelled, or any other path.
void findOpenings(const Field& field, PathAnswer& answer, Job& job, double reach = PathOptions().reach);

/// A path through several places, in order, as one answer: complete where every part is, else as far as it goes. The best way between each
/// two of them; what is said of all of it holds for the parts one after the other.
PathAnswer findPathThrough(const Field& field, Search& search, const std::vector<Vec3>& places, const PathOptions& options = {});

/// What decides that one path is better than another, in one sentence: "The other way costs 31.20, 4.10 more: 2.1 m of brine at 5 and 4 to
/// enter.".
std::string whatDecides(const PathAnswer& found, const PathAnswer& other, const nav::NavMesh& mesh);

/// Free width across the direction of travel at a place on the mesh: ground that may be walked on to the left and to the right plus the
/// radius twice, metres.
double freeWidth(const Field& field, const nav::Place& at, const Vec2& direction);

const char* statusName(PathStatus status);

}  // namespace dune::route
