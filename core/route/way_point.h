#pragma once
// A way as a search finds it.

#include "core/nav/navmesh.h"

namespace dune::route {

/// One bend or crossing of a found way.
struct WayPoint {
  Vec3 at;
  nav::FaceId face;   ///< that the way goes on in from here
  int link = -1;      ///< index into mesh().links when the way from here to the next point takes it
  bool bend = false;  ///< the way turns here around a corner or between costs; else it only crosses an edge
};

}  // namespace dune::route
