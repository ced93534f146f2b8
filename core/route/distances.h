#pragma once
// How far everything is from a place, or to it, and which way it leads there.
//
// The search spreads out without a goal until nothing nearer is left ("continuous Dijkstra"; Mitchell, Mount & Papadimitriou, "The discrete
// geodesic problem", SIAM J. Comput. 1987). What it saw of each face is kept, and the distance of any place is the least of these: with one
// cost exact in plan, with several as near as paths are before their bends slide.

#include <vector>

#include "core/base/job.h"
#include "core/route/field.h"
#include "core/route/seen_from.h"

namespace dune::route {

enum class Heading : std::uint8_t {
  from,  ///< the place is where all begin
  to     ///< the place is where all go
};

class Distances {
 public:
  /// As far as `most`, in cost; one-way links and what it costs to enter count the way one goes. Keeps a reference to the field.
  Distances(const Field& field, const nav::Place& place, Heading heading, double most, Job& job);

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
  const Field& field_;
  Vec3 place_;
  double most_;
  bool complete_ = true;
  std::vector<SeenFrom> views_;       // by face
  std::vector<std::uint32_t> start_;  // one a face of the simple ground
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
