#pragma once
// What air costs: boxes in which a metre costs more or less than one, and that may cost something to enter.
//
// 1. Of boxes that overlap the later one counts. On a side the dearer of both counts.
// 2. What a way costs is the sum of what its stretches do: a place on a side is in one air for both stretches, so entering counts once.

#include <vector>

#include "core/flight/flyer.h"

namespace dune::flight {

struct AirZone {
  Box3 box;                ///< metres
  double cost = 1;         ///< a metre, above zero
  double entry = 0;        ///< to come into it from air of another kind, zero or more
  std::uint32_t kind = 0;  ///< zones of one kind are one; any number but kOpenAir
  bool operator==(const AirZone&) const = default;
};
bool makesSense(const AirZone& zone);
constexpr std::uint32_t kOpenAir = ~std::uint32_t{0};

class AirCosts {
 public:
  AirCosts() = default;
  AirCosts(std::vector<AirZone> zones, const Flyer& flyer);

  const std::vector<AirZone>& zones() const { return zones_; }
  bool any() const { return !zones_.empty(); }
  /// The least that a metre costs anywhere.
  double least() const { return least_; }
  /// What the straight way between two places of the stretched space costs; its true length where all air costs one. O(zones²).
  double along(const Vec3& a, const Vec3& b) const;
  /// Where on the way from a to b it comes into other air, as shares of it, ascending.
  std::vector<double> changes(const Vec3& a, const Vec3& b) const;
  /// Whether a box of the stretched space lies in air of several costs.
  bool isMixed(const Box3& box) const;

 private:
  struct Air {
    double cost, entry;
    std::uint32_t kind;
  };
  Air at(const Vec3& p) const;

  std::vector<AirZone> zones_;
  std::vector<Box3> boxes_;  // stretched
  double stretch_ = 1, least_ = 1;
};

}  // namespace dune::flight
