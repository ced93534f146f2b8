#pragma once
// Which way to turn where the straight one is full: the direction that brings a body nearest to its goal before it meets somebody.

#include "core/crowd/steering_model.h"

namespace dune::crowd {

/// Radians by which a body turns from what it wants, to its left above zero, looking `ahead` metres; `before` is what it chose the last
/// time.
///
/// Every direction in its field of view is free as far as it walks at its speed before it touches somebody who goes on as he does, or a
/// wall. It takes the one whose end lies nearest to the end of a free straight way. Lanes form by themselves, for behind one who goes the
/// same way is the farthest free way. Source: Moussaïd, Helbing & Theraulaz, "How simple rules determine pedestrian behavior and crowd
/// disasters", PNAS 108(17), 2011 (first rule). O(directions × bodies in sight).
double clearWay(const Situation& s, double ahead, double before);

}  // namespace dune::crowd
