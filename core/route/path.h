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
  double sharpestTurn = 0;        ///< degrees
  std::vector<AreaShare> shares;  ///< by area, only those used
  double linkCost = 0;            ///< cost of the links, their flights included
  std::string note;               ///< what was moved, or why the goal is not reached; may be empty
  std::vector<Opening> openings;  ///< of a partial path to a goal on ground: the smallest change that opens the way, where one was found
};

struct PathOptions {
  double reach = 2;       ///< how far from ground start and goal may be, metres
  bool bound = true;      ///< work out optimalityBound
  bool widths = true;     ///< work out narrowest
  bool openings = false;  ///< work out openings: O(mesh) where there is no way
};

/// The cheapest path. Never fails: a missing start gives status none, an unreachable goal the way to the reachable place nearest it.
PathAnswer findPath(const Field& field, Search& search, const Vec3& from, const Vec3& to, const PathOptions& options = {});
/// The same from a place on the mesh: where two grounds touch at a corner, on that of its face.
PathAnswer findPath(const Field& field, Search& search, const nav::Place& start, const Vec3& to, const PathOptions& options = {});

/// Free width across the direction of travel at a place on the mesh: ground that may be walked on to the left and to the right plus the
/// radius twice, metres.
double freeWidth(const Field& field, const nav::Place& at, const Vec2& direction);

const char* statusName(PathStatus status);

}  // namespace dune::route
