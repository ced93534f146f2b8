#pragma once
// Routes that are kept, and what is expected of them: tests of the ground that are asked again after every build.

#include <optional>
#include <string>
#include <vector>

#include "core/base/bounds.h"

namespace dune::project {

/// What a route must go over or through, or must not.
struct Touch {
  enum class What : std::uint8_t { kind, link, box };
  What what = What::kind;
  bool must = false;   ///< else it must not
  std::string kind{};  ///< of ground, by name
  int link = 0;        ///< by id
  Box3 box{};
  bool operator==(const Touch& o) const {
    return what == o.what && must == o.must && kind == o.kind && link == o.link && box.min == o.box.min && box.max == o.box.max;
  }
};

/// Everything that is said must hold; what is not said may be as it likes.
struct Expected {
  enum class Outcome : std::uint8_t { complete, notComplete, any };
  Outcome outcome = Outcome::complete;
  std::optional<double> leastLength, mostLength;  ///< metres
  std::optional<double> leastCost, mostCost;
  std::optional<double> leastWidth;  ///< metres, at the narrowest place
  std::optional<double> mostLonger;  ///< percent by which it may be longer than the straight line
  std::vector<Touch> touches;
  std::vector<Vec3> sameWay;  ///< the bends of a way that it has to be, as it was when it was kept; none: any way
  bool operator==(const Expected&) const = default;
};

struct KeptRoute {
  int id = 0;
  std::string name;
  Vec3 from{}, to{};
  int agent = 0;                     ///< the kind of agent that is asked, by its id; 0: whichever is looked at
  std::string folder{};              ///< routes of one folder are listed together
  std::string fromName{}, toName{};  ///< a named place or an object of the level that the end is at; empty: at `from`, `to`
  Expected expected{};
  bool operator==(const KeptRoute&) const = default;
};

struct RoutesSection {
  std::vector<KeptRoute> routes;
  bool operator==(const RoutesSection&) const = default;
};

}  // namespace dune::project
