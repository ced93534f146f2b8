#pragma once
// How far everything is from a place, or to it, and which way it leads there.
//
// The search spreads out without a goal until nothing nearer is left ("continuous Dijkstra"; Mitchell, Mount & Papadimitriou, "The discrete
// geodesic problem", SIAM J. Comput. 1987). What it saw of each face is kept, and the distance of any place is the least of these.
//
// 1. Of one cost distances are exact in space (slope_search.h), as paths are.
// 2. Of several they are as near as paths are before their bends slide, and in plan; so they are where too much ground lies within them to
//    be looked at triangle by triangle.

#include <vector>

#include "core/base/job.h"
#include "core/route/field.h"
#include "core/route/heading.h"
#include "core/route/seen_from.h"

namespace dune::route {

class SlopeSearch;

class Distances {
 public:
  /// As far as `most`, in cost; one-way links and what it costs to enter count the way one goes. Keeps a reference to the field.
  Distances(const Field& field, const nav::Place& place, Heading heading, double most, Job& job);

  ~Distances();
  Distances(const Distances&) = delete;
  Distances& operator=(const Distances&) = delete;

  double most() const { return most_; }
  const Vec3& place() const { return place_; }
  /// Cost of the way; infinite where it is more than `most`, or there is none. O(views of its face).
  double at(const nav::Place& place) const;
  /// The same, and the direction in plan in which one leaves the place towards `to`, or comes to it; zero at the place itself.
  double at(const nav::Place& place, Vec2* direction) const;
  /// Beyond `most` as well where it was seen: never less than it is.
  double beyond(const nav::Place& place, Vec2* direction = nullptr) const;
  /// Whether anything within `most` was left out for want of memory, or it was cancelled.
  bool complete() const { return complete_; }

 private:
  void spreadInPlan(const nav::Place& place, Heading heading, Job& job);

  const Field& field_;
  Vec3 place_;
  double most_;
  bool complete_ = true;
  std::unique_ptr<const SlopeSearch> slopes_;  // what it found, where it is used
  std::vector<SeenFrom> views_;                // by face
  std::vector<std::uint32_t> start_;           // one a face of the simple ground
};

/// A line along which all is equally far, and the ground nearer than that.
struct Ring {
  double distance = 0;
  double area = 0;                            ///< of the ground within, in plan, m²
  std::vector<std::pair<Vec3, Vec3>> pieces;  ///< of the line, along the ground
};
/// Rings at multiples of `every` up to the distances' most, the last one at that. The ground is looked at every `fine` metres at least;
/// between these places distances are taken for straight. O(ground within most / fine²).
std::vector<Ring> ringsOf(const Field& field, const Distances& distances, double every, double fine, Job& job);

/// Places spread evenly by chance over the ground within the distances' most: the same for the same seed. Fewer than `count` only where
/// there is no ground. O(faces + count × views).
std::vector<nav::Place> randomPlaces(const Field& field, const Distances& distances, int count, std::uint64_t seed);

}  // namespace dune::route
