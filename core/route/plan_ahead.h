#pragma once
// How far it is at least from places to the goal of a way, from what a search in plan saw around the ways there: no way is shorter in
// space than in plan, and what it climbs comes on top of that.

#include <vector>

#include "core/route/field.h"
#include "core/route/seen_from.h"

namespace dune::route {

class Search;

class PlanAhead {
 public:
  /// Of ways between two places over ground of one cost that are shorter than `most` in plan, metres. Keeps a reference to the field.
  /// O(what a search for that long looks at).
  PlanAhead(const Field& field, Search& search, const nav::Place& start, const nav::Place& goal, double most);

  /// Whether the search's memory was enough; otherwise nothing is known.
  bool complete() const { return complete_; }
  /// How long the way is in space from a place to the goal at least, metres, over links that lead no more than so much up and down for each
  /// metre that they count; zero without links. Where all ways over it are longer than `most`, so much that they are. O(views of its face).
  double inSpace(const nav::Place& place, double up, double down) const;

 private:
  double inPlan(const nav::Place& place) const;

  const Field& field_;
  Vec3 start_, goal_;
  double most_, perMetre_;
  bool complete_;
  std::vector<SeenFrom> views_;  // by face
};

}  // namespace dune::route
