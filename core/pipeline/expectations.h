#pragma once
// What is expected of a kept route, held against the answer of a ground.

#include "core/pipeline/kept_routes.h"
#include "core/route/path.h"

namespace dune::pipeline {

/// Something that was expected and does not hold.
struct Unmet {
  std::string sentence;  ///< "14.10 m long, at most 12.00 m expected"
  Vec3 at{};             ///< where to look
  double measured = 0, limit = 0;
};

/// Everything that does not hold, in the order in which it is expected. O(points × expectations).
std::vector<Unmet> unmetOf(const project::KeptRoute& route, const Ends& ends, const route::PathAnswer& answer, const nav::NavMesh& mesh);

/// The farthest that one of two ways is from the other, metres.
double waysApart(const std::vector<Vec3>& a, const std::vector<Vec3>& b);

}  // namespace dune::pipeline
