#pragma once
// How far it is from each place where ways bend to each other one, and over which.
//
// Filled row by row (Dijkstra 1959), on all threads; six bytes a pair.

#include "core/route/bend_sight.h"

namespace dune::route {

class BendTable {
 public:
  static std::size_t bytes(std::size_t bends) { return bends * bends * (sizeof(float) + sizeof(std::uint16_t)); }

  /// Between all bends, but when the job was cancelled. O(bends · (bends + joins) · log bends).
  /// Keeps a reference to the bends. Without `fits`, or where not everything was looked at, nothing is filled.
  BendTable(const BendSight& sight, bool fits, Job& job);

  bool complete() const { return complete_; }
  std::size_t memory() const { return length_.capacity() * sizeof(float) + before_.capacity() * sizeof(std::uint16_t); }

  /// The best way that begins by one of these and ends by one of those.
  struct Between {
    double length;  ///< to the first, between both, and from the last; infinite where there is none
    SeenBend first, last;
  };
  /// Between two places that see these. Leaves out of the lists what is not on the best one. O(pairs), but for those that cannot be the
  /// best as the crow flies.
  Between best(const Vec3& start, std::vector<SeenBend>& first, const Vec3& goal, std::vector<SeenBend>& last) const;

  /// Which bends lead straight on to which: to whom, and by which sight that is seen.
  struct Join {
    std::uint32_t to, sight;
    double length;
  };
  std::span<const Join> joins() const { return joins_; }
  /// Of a bend: from the first number to before the second one.
  std::pair<std::uint32_t, std::uint32_t> joinsFrom(std::uint32_t bend) const { return {first_[bend], first_[bend + 1]}; }
  /// The joins of the way between two bends, in order: numbers.
  void between(std::uint32_t first, std::uint32_t last, std::vector<std::uint32_t>& joins) const;

 private:
  std::size_t at(std::size_t from, std::size_t to) const { return from * bends_.size() + to; }
  bool join(const BendSight& sight, Job& job);
  std::vector<SeenBend> comingTo(const BendSight& sight, std::uint32_t bend) const;
  void fillRow(std::uint32_t from, std::span<float> length, std::span<std::uint16_t> before) const;

  const std::vector<Bend>& bends_;
  std::vector<std::uint32_t> first_;  // one a bend: its first join
  std::vector<Join> joins_;
  bool complete_ = false;
  std::vector<float> length_;          // a row for each bend to begin with
  std::vector<std::uint16_t> before_;  // the bend before the last one
};

}  // namespace dune::route
