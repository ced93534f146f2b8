#pragma once
// A way that is the shortest in plan made the shortest in space.
//
// 1. Over ground of one cost all of it is searched for again over the slopes (slope_search.h), links and all.
// 2. Where costs or links forbid that, each stretch between links and changes of ground is, from where it begins to where it ends.
// 3. Where that takes too long it ends with the first better way that is found when it is eager to arrive.
// 4. Long ones, and what is still as it was, are searched for piece by piece, and once more over the ends of the pieces, as long as that
//    saves anything: what a bump or a bank beside the way costs or saves is found, another way round the hill is not.
// 5. Never longer than the way that it is given.

#include "core/route/field.h"
#include "core/route/way_point.h"

namespace dune::route {

class Search;
class SlopeSearch;

/// Whether so little of a way is climbing that what could be saved is not worth looking for.
bool isAlmostLevel(const Field& field, const std::vector<WayPoint>& way);

class SpaceWay {
 public:
  /// Keeps references to all. `search` is used for looking ahead, and forgets what it found. `views`: looked at for all of a way that is to
  /// be the best, as many once more for one that is better at all, and as many for all pieces of a stretch.
  SpaceWay(const Field& field, Search& search, SlopeSearch& slopes, std::size_t views)
      : field_(field), search_(search), slopes_(slopes), views_(views) {}

  /// Replaces parts of a way that is the shortest in plan, or all of it, by shorter ones.
  void shorten(std::vector<WayPoint>& way);
  /// Metres that no way is below, where all of it was searched for; else 0.
  double least() const { return least_; }

 private:
  using Way = std::vector<WayPoint>;
  /// What was looked at of the pieces of a stretch.
  struct Pieces {
    std::size_t count = 0, views = 0;
    double length = 0, saved = 0;
    bool worthGoingOn(std::size_t most) const;
  };
  bool asOne(Way& way);
  void byStretches(Way& way);
  void stretch(Way& way, bool tried);
  void piecewise(Way& way, std::size_t offset);
  void shortenPiece(Way& part);
  bool isNewStretch(const WayPoint& before, const WayPoint& at) const;

  const Field& field_;
  Search& search_;
  SlopeSearch& slopes_;
  std::size_t views_;
  double least_ = 0;
  bool tried_ = false;  // whether all of it was searched for
  Pieces pieces_;
};

}  // namespace dune::route
