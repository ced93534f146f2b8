#pragma once
// Bodies that stand inside each other.

#include <functional>

#include "core/review/body_review.h"

namespace dune::review {

/// What the bodies of a trace are like; bodies by their number in it. Asked on several threads at once.
struct BodyShapes {
  std::function<double(std::uint32_t body)> radius;  ///< in plan, metres
  /// How deep two are in each other at two places, metres; below zero where they are apart.
  std::function<double(std::uint32_t a, std::uint32_t b, const Vec3& atA, const Vec3& atB)> depth;
};

/// One finding a contact: two bodies that part and meet again have two. O(samples × neighbours). Fails only when cancelled.
Result<std::vector<Finding>> reviewContacts(const trace::Trace& trace, const BodyShapes& shapes, const MovementLimits& limits, Job& job);
/// Of bodies that walk.
Result<std::vector<Finding>> reviewContacts(const Recording& recording, Job& job);

}  // namespace dune::review
